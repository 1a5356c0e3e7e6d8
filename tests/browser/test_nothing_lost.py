"""What somebody has typed stays theirs: over Back, a reload, another look, an ended sign-in, and without a signal."""

import pytest
from playwright.sync_api import expect
from sqlalchemy import select

from levelmoor.records import sign_ins
from levelmoor.records import tables as t
from tests.browser.steps import begin_evaluation, cell, unfold
from tests.conftest import PASSWORD


@pytest.fixture
def bench(page, maker, member):
    return begin_evaluation(page, maker, member, limit=1.5)


def type_half(page):
    """Half a claim, and half a comment."""
    page.get_by_label("New claim", exact=True).press_sequentially("SWR < 2 4")
    unfold(page, "Comments")
    page.get_by_label("Comment").press_sequentially("The choke")


def half(page):
    return page.get_by_label("New claim", exact=True).input_value(), page.locator("#comments textarea").input_value()


@pytest.mark.parametrize("way", ["reload", "back", "look"])
def test_what_is_half_written_is_there_again(bench, way):
    type_half(bench)
    if way == "reload":
        bench.reload()
    elif way == "back":
        bench.get_by_role("link", name="Reports", exact=True).first.click()
        bench.get_by_role("heading", name="Published reports").wait_for()
        bench.go_back()
    else:
        bench.get_by_label("Look").select_option("night")
        bench.locator("html[data-look=night]").wait_for()
    expect(bench.locator("#quick-text")).not_to_have_value("")
    assert half(bench) == ("SWR < 2 4", "The choke")


def test_a_half_typed_cell_outlives_the_tab_and_looks_unsent(bench):
    cell(bench, "Limit").fill("")
    cell(bench, "Limit").press_sequentially("1.7")
    again = bench.context.new_page()
    bench.close()
    again.goto(bench.url)
    limit = again.locator('tr.opened [aria-label^="Limit of"]').first
    expect(limit).to_have_value("1.7")
    assert limit.get_attribute("data-half") is not None
    limit.focus()
    with again.expect_response("**/cell/claim/**"):
        limit.press("Tab")
    expect(limit).not_to_have_attribute("data-half", "")


def test_escape_in_a_long_text_can_be_undone(bench):
    condition = cell(bench, "Other condition")
    condition.press_sequentially("on a mast of six metres, in the open")
    condition.press("Escape")
    assert condition.input_value() == ""
    bench.locator("#removed", has_text="What you typed was dropped").get_by_role("button", name="Undo").click()
    assert condition.input_value() == "on a mast of six metres, in the open"


def test_a_half_written_note_of_the_run_sheet_is_there_again(page, maker, member):
    begin_evaluation(page, maker, member, limit=1.5, calibrated=True)
    address = f"{page.url}/plan/sheet"
    page.goto(address)
    note = page.get_by_label("Note on run 1")
    note.press_sequentially("gusts from")
    page.reload()
    assert note.input_value() == "gusts from"
    note.focus()
    note.press("Tab")
    page.get_by_text("Everything is saved.").wait_for()
    page.reload()
    expect(note).to_have_value("gusts from")
    assert note.get_attribute("data-half") is None


def end_sign_ins(maker, member):
    with maker.begin() as session:
        user = session.scalar(select(t.User).where(t.User.email == member.email))
        sign_ins.end(session, user.id)


def test_who_was_signed_out_signs_in_in_place_and_the_change_is_sent(bench, maker, member):
    limit = cell(bench, "Limit")
    end_sign_ins(maker, member)
    limit.fill("1.8")
    limit.press("Tab")
    dialog = bench.locator("dialog[open]")
    dialog.get_by_label("Password").fill("not the right one")
    dialog.get_by_role("button", name="Sign in").click()
    dialog.get_by_text("Wrong email address or password").wait_for()
    dialog.get_by_label("Password").fill(PASSWORD)
    with bench.expect_response("**/cell/claim/**") as answer:
        dialog.get_by_role("button", name="Sign in").click()
    assert (answer.value.status, limit.input_value()) == (200, "1.8")
    bench.get_by_label("New claim", exact=True).fill("SWR < 2 40m")
    bench.get_by_role("button", name="Add claim", exact=True).click()
    bench.locator(".ledger .opens").nth(1).wait_for()


def test_escape_takes_back_what_is_being_typed_and_sends_nothing(bench, maker):
    limit = cell(bench, "Limit")
    sent = []
    bench.on("request", lambda request: sent.append(request.url) if "/cell/" in request.url else None)
    limit.fill("9")
    limit.press("Escape")
    bench.wait_for_timeout(300)
    assert (limit.input_value(), sent) == ("1.5", [])


def test_readings_go_on_without_a_signal_and_can_be_put_right(page, maker, member):
    begin_evaluation(page, maker, member, limit=2, windows="40m")
    page.goto(f"{page.url}/readings")
    proposed = [page.locator("[name=frequency]").input_value()]
    page.context.set_offline(True)
    for swr in ("1.8", "1.4"):
        page.locator("[name=swr]").fill(swr)
        page.get_by_role("button", name="Save").click()
        proposed.append(page.locator("[name=frequency]").input_value())
    assert proposed == ["7.000", "7.020", "7.040"]
    page.get_by_text("2 entries wait to be sent").wait_for()
    page.locator("#waiting p", has_text="1.4").get_by_role("button", name="Correct it").click()
    assert page.locator("[name=swr]").input_value() == "1.4"
    page.locator("[name=swr]").fill("1.5")
    page.get_by_role("button", name="Save").click()
    page.context.set_offline(False)
    page.evaluate("dispatchEvent(new Event('online'))")
    page.get_by_text("Everything is saved").wait_for()
    lines = page.locator(".reading-lines .read")
    assert [line.locator("b").nth(1).inner_text() for line in lines.all()] == ["1.5", "1.8"]
    lines.first.get_by_role("button", name="Remove this reading").click()
    page.locator("#removed", has_text="The reading 7.020 MHz 1.5 SWR was removed").wait_for()
    page.get_by_role("button", name="Undo").click()
    lines.nth(1).wait_for()


def test_what_is_half_written_in_a_folded_claim_is_there_again_with_its_line_open(bench):
    cell(bench, "Other condition").press_sequentially("on a mast of")
    bench.reload()
    bench.locator("tr.opened textarea").first.wait_for()
    assert bench.locator("tr.opened:not([hidden]) textarea").first.input_value() == "on a mast of"
