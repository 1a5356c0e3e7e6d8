"""The cards that are carried out of doors open without a signal."""

import json
import re

import pytest
from playwright.sync_api import expect

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


TAKEN = {
    "live": re.compile("No signal. Live sweeping needs the server|No connection to the server"),  # as the browser knows
    "adjust": "Dip by round",
    "trials": "Transmit: start",
    "readings": "Next field",
    "plan/sheet": "Tick it off",
}


ALL_TAKEN = re.compile(r"^(\d+) of \1 pages taken along$")
"""Fewer would mean that the answer to something else was told, or that a page did not come."""


def test_what_is_taken_along_opens_without_a_signal(page_to_carry, demo):
    page = page_to_carry
    sign_in(page, demo, demo.cases["Linkline 60/40/30"])
    home = page.url.split("?")[0]
    carried(page)
    page.locator(".steps .more summary").click()
    page.locator(".steps .more [data-take-along]").click()
    page.get_by_role("button", name=ALL_TAKEN).wait_for()
    page.context.set_offline(True)
    for place, does in TAKEN.items():
        page.goto(f"{home}/{place}")
        expect(page.locator("main")).to_contain_text(does)
    page.context.set_offline(False)


def test_a_page_is_not_taken_along_without_what_it_runs_on(page_to_carry, demo):
    """The server is busy once when it is asked for a script, and never has another."""
    page, refused = page_to_carry, []

    def busy(route):
        refused.append(route.request.url)
        route.fulfill(status=503)

    page.context.route("**/static/trials.js*", busy, times=1)
    page.context.route("**/static/live.js*", lambda route: route.fulfill(status=500))
    sign_in(page, demo, demo.cases["Linkline 60/40/30"])
    carried(page)
    page.locator(".steps .more summary").click()
    taken = page.locator(".steps .more [data-take-along]")
    wanted = len(json.loads(taken.get_attribute("data-take-along")))
    taken.click()
    page.get_by_role("button", name=f"{wanted - 1} of {wanted} pages taken along").wait_for()
    assert len(refused) == 1
