"""Nothing typed is lost: slips, answers on their way, pages that are left."""

import pytest
from playwright.sync_api import expect

from levelmoor.web import waiting
from tests.browser.steps import answered, cell, drop, hold_back, judged_by
from tests.browser.test_main_path import touchstone

AT_ONCE = """(changes) => { for (const [label, value] of changes) {
    const cell = document.querySelector(`[aria-label="${label}"]`);
    cell.value = value;
    cell.dispatchEvent(new Event("change", { bubbles: true })); } }"""


def test_of_cells_changed_at_once_each_is_kept_though_the_first_answer_replaces_the_second(bench):
    changes = {"Evidence needs": "proven", "Calibration of new sweeps": "unstated"}
    with answered(bench, "**/cell/hand/*/calibration"):
        bench.evaluate(AT_ONCE, list(changes.items()))
    bench.reload()
    assert {label: bench.get_by_label(label).input_value() for label in changes} == changes


def test_what_is_being_typed_stays_while_an_answer_arrives(bench):
    drop(bench, "yard.s1p", touchstone())
    name = bench.get_by_label("Name of the sweep")
    name.press_sequentially("at dusk")
    bench.evaluate(AT_ONCE, [["Evidence needs", "proven"]])
    bench.locator("#figure", has_text="The bench is not proven yet").wait_for()
    assert name.input_value() == "at duskyard"
    bench.keyboard.type(", late ")
    with answered(bench, "**/cell/sweep/**"):
        bench.keyboard.press("Tab")
    bench.reload()
    assert name.input_value() == "at dusk, late yard"


def test_who_leaves_while_a_change_is_on_its_way_leaves_once_it_is_kept(bench):
    go_on = hold_back(bench, "**/cell/**")
    judged_by(bench, "Evidence needs").select_option("proven")
    home = bench.url
    bench.get_by_role("link", name="Equipment").click()
    go_on()
    bench.get_by_role("heading", name="What the team owns").wait_for()
    bench.goto(home)
    assert judged_by(bench, "Evidence needs").input_value() == "proven"


def test_who_leaves_while_a_change_is_refused_stays_with_it(bench):
    go_on = hold_back(bench, "**/cell/**")
    limit = cell(bench, "Limit")
    limit.fill("one and a half")
    bench.get_by_role("link", name="Equipment").click()
    go_on()
    bench.get_by_role("alert").filter(has_text="is not a number").wait_for()
    assert limit.input_value() == "one and a half"


def test_what_is_changed_and_sent_before_the_scripts_are_there_goes_out_once_they_are(bench):
    go_on = hold_back(bench, "**/htmx.min.js*")
    bench.goto(bench.url, wait_until="commit")
    judged_by(bench, "Evidence needs").select_option("proven")
    bench.get_by_label("New claim", exact=True).fill("SWR < 2 40m")
    bench.get_by_role("button", name="Add claim", exact=True).click(no_wait_after=True)
    with bench.expect_response("**/cell/**"), bench.expect_response("**/claims"):
        go_on()
    cell(bench, "Windows", 1).wait_for()
    assert judged_by(bench, "Evidence needs").input_value() == "proven"


def test_a_button_pressed_before_the_scripts_are_there_does_its_work_once_they_are(bench):
    go_on = hold_back(bench, "**/htmx.min.js*")
    bench.goto(bench.url, wait_until="commit")
    bench.locator(".ledger .opens").first.click(no_wait_after=True)
    go_on()
    bench.locator("tr.opened").wait_for()


def test_a_claim_typed_while_the_last_one_is_on_its_way_stays(bench):
    line, source = bench.get_by_label("New claim", exact=True), bench.get_by_label("Source of the new claim")
    go_on = hold_back(bench, "**/claims")
    line.fill("SWR < 2 40m")
    bench.get_by_role("button", name="Add claim", exact=True).click()
    line.fill("SWR < 3 80m")
    source.fill("page")
    go_on()
    cell(bench, "Windows", 1).wait_for()
    assert (line.input_value(), source.input_value()) == ("SWR < 3 80m", "page")


def test_claims_sent_while_the_last_one_is_on_its_way_are_taken_after_it_each_once(bench):
    line = bench.get_by_label("New claim", exact=True)
    go_on = hold_back(bench, "**/claims")
    for claim in ("SWR < 2 40m", "SWR < 3 80m", "SWR < 2.5 10m"):
        line.fill(claim)
        for _ in range(2):  # a hand that presses twice
            line.press("Enter")
    line.fill("SWR < 4 15m")  # and goes on typing
    for claim in (1, 2, 3):
        go_on()
        cell(bench, "Windows", claim).wait_for()
    assert line.input_value() == "SWR < 4 15m"
    bench.reload()
    assert [cell(bench, "Windows", n).input_value() for n in range(4)] == ["20m", "40m", "80m", "10m"]
    assert bench.locator(".ledger .opens").count() == 4


@pytest.mark.parametrize(
    ("label", "typed", "words"),
    [
        ("Limit", "one and a half", "is not a number"),
        ("Windows", "7.129,5 to 8", "is unclear"),
        ("Windows", "99m", 'no band "99m"'),
        ("Limit", "0.8", "above 1"),
    ],
)
def test_slip_of_the_pen_is_said_in_place_and_nothing_typed_is_lost(bench, label, typed, words):
    cell(bench, label).fill(typed)
    cell(bench, label).press("Tab")
    bench.get_by_role("alert").filter(has_text=words).wait_for()
    assert cell(bench, label).input_value() == typed
    bench.reload()
    assert cell(bench, label).input_value() == {"Limit": "1.5", "Windows": "20m"}[label]


def test_slip_in_a_new_claim_leaves_the_line_as_typed(bench):
    line = bench.get_by_label("New claim", exact=True)
    line.fill("SWR < 1.5 the two metre band")
    bench.get_by_role("button", name="Add claim", exact=True).click()
    bench.get_by_role("alert").filter(has_text='"two metre" is not understood').wait_for()
    with bench.expect_response("**/understood**") as late:
        line.dispatch_event("kept")
    assert late.value.status == 204, "a late word on how it is understood takes the place of the refusal"
    assert line.input_value() == "SWR < 1.5 the two metre band"
    line.fill("SWR < 1.5 2")
    bench.get_by_text('Does "2" mean').wait_for()
    bench.get_by_role("button", name="the 2 m band").click()
    bench.get_by_text("Understood: SWR at most 1.5:1 on 2m, without tuner").wait_for()
    line.press("Enter")
    cell(bench, "Windows", 1).wait_for()
    assert cell(bench, "Windows", 1).input_value() == "2m"


def test_what_many_change_at_once_is_kept_and_sent_again(bench, monkeypatch):
    monkeypatch.setattr(waiting, "MOST", 0)
    with bench.expect_response("**/cell/**") as refused:
        judged_by(bench, "Evidence needs").select_option("proven")
    assert refused.value.status == 503
    bench.get_by_text("sent again by itself").wait_for()
    monkeypatch.undo()
    with bench.expect_response(lambda answer: "/cell/" in answer.url and answer.ok):
        pass
    bench.reload()
    assert judged_by(bench, "Evidence needs").input_value() == "proven"


def test_a_claim_sent_while_many_change_the_same_is_taken_in_the_end(bench, monkeypatch):
    monkeypatch.setattr(waiting, "MOST", 0)
    line = bench.get_by_label("New claim", exact=True)
    line.fill("SWR < 2 40m")
    line.press("Enter")
    bench.get_by_text("sent again by itself").wait_for()
    bench.locator("#outbox", has_text="1 waiting").wait_for()
    monkeypatch.undo()
    cell(bench, "Windows", 1).wait_for()
    assert line.input_value() == ""


def test_a_cell_whose_answer_brings_it_anew_shows_what_was_kept(bench):
    """The server writes it as it is kept, not as it was typed."""
    bench.goto(f"{bench.url.split('?')[0]}/tuner")
    bench.locator("#fold-network > summary").click()
    bench.get_by_role("button", name="Add network").click()
    table = bench.get_by_label("Table of coil")
    table.fill("50: 9.0;0: 1.50 ;100 20")
    table.press("Tab")
    expect(table).to_have_value("0 1.5; 50 9; 100 20")
    bench.wait_for_timeout(300)
    assert table.input_value() == "0 1.5; 50 9; 100 20"
