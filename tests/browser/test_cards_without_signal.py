"""The cards that are carried out of doors open without a signal."""

import pytest

from tests.conftest import sign_in


@pytest.mark.parametrize(
    ("product", "card", "shows"), [("Slidewhip 40/20/15", "card", "7.099"), ("Beckstone Pi", "tuner/card", "53.5")]
)
def test_a_card_that_was_opened_opens_again_without_a_signal(page, demo, product, card, shows):
    sign_in(page, demo, f"{demo.cases[product]}/{card}")
    page.evaluate("navigator.serviceWorker.ready")
    page.wait_for_function("caches.match(location.href).then((kept) => !!kept)")
    page.context.set_offline(True)
    page.reload()
    page.get_by_text(shows).first.wait_for()
    page.context.set_offline(False)
