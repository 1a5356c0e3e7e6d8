"""A signal can go without the browser noticing: a stream then stays open and brings nothing."""

import pytest
from playwright.sync_api import expect

from tests.browser.test_sweep_and_compare import analyzer  # noqa: F401  the fixture
from tests.browser.test_together import change, limit_of, two  # noqa: F401  the fixture

SILENT = """(() => {
    const { CONNECTING, OPEN, CLOSED } = EventSource;
    window.streams = 0;
    window.EventSource = class extends EventTarget {
        static CONNECTING = CONNECTING; static OPEN = OPEN; static CLOSED = CLOSED;
        readyState = OPEN;
        constructor() { super(); window.streams += 1; }
        close() { this.readyState = CLOSED; }
    };
})()"""


@pytest.fixture
def silent(two, analyzer):  # noqa: F811
    page, other = two
    page.add_init_script(SILENT)
    page.clock.install()
    return page, other


def test_the_live_view_says_that_nothing_comes_and_asks_again(silent):
    page, _ = silent
    page.goto(page.url.split("?")[0] + "/live")
    status = page.locator("#status")
    status.get_by_text("Asking").wait_for()
    before = page.evaluate("streams")
    page.clock.fast_forward(16_000)
    status.get_by_text("No connection to the server; trying again.").wait_for()
    assert page.evaluate("streams") == before + 1


def test_what_another_changes_is_seen_though_the_stream_is_silent(silent):
    page, other = silent
    page.reload()
    limit_of(page).wait_for()
    assert change(other, limit_of(other), "1.8") == 200
    page.clock.fast_forward(45_000)
    expect(limit_of(page)).to_have_value("1.8")
