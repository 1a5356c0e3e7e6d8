"""The demo shows every verdict, on files in the dialects that instruments write."""

import json
from collections import Counter

import pytest
from sqlalchemy import select

from levelmoor.core.words.said import codes_of
from levelmoor.demo import scenario
from levelmoor.demo.load import load_demo
from levelmoor.formats.bundle import verify_bundle
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.mapping import evaluation_of
from levelmoor.services.findings import findings_of
from levelmoor.services.list_card import refresh_card
from levelmoor.services.shelving import shelf_figures


@pytest.fixture(scope="module")
def cases(maker, demo_loaded):
    with maker() as session:
        team = session.scalar(select(t.Team).where(t.Team.name == scenario.TEAM))
        rows = [store.evaluation(session, team.id, e.id) for e in store.evaluations(session, team.id).rows]
        reports = list(session.scalars(select(t.Report).where(t.Report.team_id == team.id)))
        yield rows, [r.revisions for r in reports]


def test_every_verdict_at_least_twice(cases):
    counts = Counter(f.verdict for row in cases[0] for f in findings_of(evaluation_of(row)).claims)
    assert min(counts[v] for v in ("pass", "fail", "too_close", "not_shown", "outside")) >= 2, counts


@pytest.mark.parametrize("code", ["coarse.points", "setting.none", "setup.with_tuner", "clash.figures"])
def test_the_ways_of_showing_nothing(cases, code):
    reasons = [codes_of(f.reason) for row in cases[0] for f in findings_of(evaluation_of(row)).claims]
    assert f'"{code}"' in json.dumps(reasons)


def test_one_report_with_two_revisions_that_can_be_computed_again(cases):
    ((first, second),) = [revisions for revisions in cases[1] if len(revisions) > 1]
    assert "misread" in second.reason
    assert verify_bundle(first.bundle).same
    assert verify_bundle(second.bundle).same


def test_loading_twice_loads_once(maker, cases):
    assert "already" in load_demo(maker, refresh_card, shelf_figures)
