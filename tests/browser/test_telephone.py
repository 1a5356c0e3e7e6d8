"""On a telephone every step is in reach, and a report is read without moving it sideways; letters lead through the lists."""

import pytest
from playwright.sync_api import expect

from tests.conftest import sign_in

NARROW = {"width": 390, "height": 844}


@pytest.mark.fonts
def test_each_page_of_an_evaluation_is_two_taps_away(page, demo):
    page.set_viewport_size(NARROW)
    home = demo.cases["Linkline 60/40/30"]
    sign_in(page, demo, home)
    more = page.locator(".steps .more")
    more.locator("summary").click()
    links = more.locator("a:visible").all()
    assert min(link.bounding_box()["height"] for link in links) >= 44
    reached = {link.inner_text(): link.get_attribute("href") for link in links}
    for words, address in reached.items():
        page.goto(address)
        assert page.evaluate("document.documentElement.scrollWidth") <= 390, words
    assert {"Readings", "Live", "Trials", "Accessories", "Spectra", "Tuner", "Run sheet", "History"} <= set(reached)
    page.goto(home)
    page.locator("form.who a").click()
    page.wait_for_url("**/account")


@pytest.mark.fonts
def test_nothing_of_a_report_is_cut_off_sideways(page, demo):
    page.set_viewport_size(NARROW)
    page.goto("/reports?words=rollaway+harrowmere")  # others publish meanwhile
    page.get_by_role("link", name="Rollaway 2/70", exact=True).click()
    cells = page.locator(".matrix tr.claim-line").first.locator("td")
    expect(cells).to_have_count(2)
    assert [cell.evaluate("e => getComputedStyle(e, '::before').content") for cell in cells.all()] == [
        '"Unit A"',
        '"Unit B"',
    ]
    wider = "[...document.querySelectorAll('.report .scroll')].filter((e) => e.scrollWidth > e.clientWidth + 2).map((e) => e.ariaLabel)"
    assert page.evaluate(wider) == []
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


@pytest.mark.parametrize(("first", "second"), [("u", "c"), ("s", "i")])
def test_a_letter_in_a_list_of_the_bench_goes_on_and_chooses_nothing(page, demo, first, second):
    sign_in(page, demo, demo.cases["Rollaway 2/70" if first == "s" else "Linkline 60/40/30"])
    lists = {key: page.locator(f'select[data-hotkey="{key}"]') for key in (first, second)}
    before = lists[first].input_value()
    page.keyboard.press(first)
    expect(lists[first]).to_be_focused()
    page.keyboard.press(second)
    expect(lists[second]).to_be_focused()
    assert lists[first].input_value() == before
