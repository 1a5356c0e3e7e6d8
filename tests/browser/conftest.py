"""What several browser tests start from."""

import pytest

from tests.browser.steps import open_evaluation, write_claim
from tests.conftest import sign_in


@pytest.fixture
def bench(page, member):
    """An evaluation of one's own with a claim."""
    sign_in(page, member)
    open_evaluation(page)
    page.get_by_label("Calibration of new sweeps").select_option("at_plane")
    write_claim(page)
    return page
