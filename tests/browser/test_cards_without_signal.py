"""The cards that are carried out of doors open without a signal."""

import pytest

from tests.browser.steps import carried
from tests.conftest import sign_in


@pytest.mark.parametrize(
    ("product", "card", "shows"), [("Slidewhip 40/20/15", "card", "7.099"), ("Beckstone Pi", "tuner/card", "53.5")]
)
def test_a_card_that_was_opened_opens_again_without_a_signal(page_to_carry, demo, product, card, shows):
    page = page_to_carry
    sign_in(page, demo, f"{demo.cases[product]}/{card}")
    carried(page)
    page.context.set_offline(True)
    page.reload()
    page.get_by_text(shows).first.wait_for()
    page.context.set_offline(False)
