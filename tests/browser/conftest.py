"""What several browser tests start from."""

from types import SimpleNamespace

import pytest

from levelmoor.demo import scenario
from levelmoor.records import store
from levelmoor.records.accounts import find_team
from tests.browser.steps import begin_evaluation


@pytest.fixture
def bench(page, maker, member):
    """An evaluation of one's own with a claim."""
    return begin_evaluation(page, maker, member, limit=1.5, calibrated=True)


@pytest.fixture(scope="session")
def demo(maker, demo_loaded):
    """The demo's first person, and where its evaluations and published reports are, by product."""
    with maker() as session:
        rows = store.evaluations(session, find_team(session, scenario.TEAM).id).rows
        cases = {r.product.name: f"/e/{r.id}" for r in rows}
        report = store.report_of(session, next(r.id for r in rows if r.product.name == "Rollaway 2/70"))
        return SimpleNamespace(email=scenario.PEOPLE[0][0], cases=cases, report=f"/r/{report.slug}")
