"""What several browser tests start from."""

import pytest

from tests.browser.steps import begin_evaluation


@pytest.fixture
def bench(page, maker, member):
    """An evaluation of one's own with a claim."""
    return begin_evaluation(page, maker, member, limit=1.5, calibrated=True)
