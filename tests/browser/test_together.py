"""Several people in one evaluation at the same time: each has a bench of one's own in hand."""

import re

import pytest
from playwright.sync_api import expect
from sqlalchemy import select

from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member
from levelmoor.records.roles import MemberRole
from tests.browser.steps import begin_evaluation, cell, drop, file_dialog, unfold
from tests.browser.test_main_path import touchstone
from tests.conftest import PASSWORD, sign_in


@pytest.fixture
def two(page, browser, live, maker, member):
    """Two people of a team, each with the evaluation open: it has two samples."""
    begin_evaluation(page, maker, member, limit=1.5, calibrated=True)
    with page.expect_response("**/add/sample"):
        page.get_by_role("button", name="Add a sample").click()
    page.get_by_label("Name of the sample").nth(1).wait_for()
    with page.expect_response("**/cell/hand/*/sample_id"):
        page.get_by_label("Sample on the bench").select_option(label="Sample 1")
    with maker.begin() as session:
        add_member(session, member.team, f"other-{member.email}", "Other", PASSWORD, role=MemberRole.MEMBER)
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=live)
    other = context.new_page()
    sign_in(other, type("Person", (), {"email": f"other-{member.email}"}), page.url)
    yield page, other
    context.close()


def samples_of(maker, page):
    """What each sweep of the evaluation was filed under."""
    with maker() as session:
        evaluation = int(page.url.split("/e/")[1].split("?")[0])
        query = select(t.Sample.label).join(t.Sweep, t.Sweep.sample_id == t.Sample.id)
        return session.scalars(query.where(t.Sweep.evaluation_id == evaluation).order_by(t.Sweep.id)).all()


def test_a_file_is_filed_under_what_its_own_screen_shows(two, maker):
    page, other = two
    with other.expect_response("**/cell/hand/*/sample_id"):
        other.get_by_label("Sample on the bench").select_option(label="Sample 2")
    drop(page, "yard.s1p", touchstone())
    page.locator(".sweeps a[aria-current]").wait_for()
    assert page.get_by_label("Sample on the bench").locator("option:checked").inner_text() == "Sample 1"
    drop(other, "moor.s1p", touchstone().replace("my own", "another"))
    other.locator(".sweeps a", has_text="moor").wait_for()
    assert samples_of(maker, page) == ["Sample 1", "Sample 2"]


def test_two_pages_of_one_device_each_file_under_what_they_show(two, maker):
    page, _ = two
    second = page.context.new_page()
    second.goto(page.url)
    with second.expect_response("**/cell/hand/*/sample_id"):
        second.get_by_label("Sample on the bench").select_option(label="Sample 2")
    drop(page, "yard.s1p", touchstone())
    page.locator(".sweeps a[aria-current]").wait_for()
    assert samples_of(maker, page) == ["Sample 1"]


def test_adjusted_by_one_is_another_round_for_everybody(two, maker):
    page, other = two
    drop(page, "yard.s1p", touchstone())
    page.locator(".sweeps a[aria-current]").wait_for()
    with page.expect_response("**/adjusted"):
        page.get_by_role("button", name="I adjusted it").click()
    other.reload()
    with other.expect_response("**/cell/hand/*/sample_id"):
        other.get_by_label("Sample on the bench").select_option(label="Sample 1")
    drop(other, "moor.s1p", touchstone().replace("my own", "another"))
    other.locator(".sweeps a", has_text="moor").wait_for()
    other.locator(".sweeps a", has_text="round 2").wait_for()


def limit_of(page):
    return cell(page, "Limit")


def change(page, field, text):
    """Type into a cell and leave it; the status of the answer."""
    with page.expect_response("**/cell/**") as answer:
        field.fill(text)
        field.press("Tab")
    return answer.value.status


def test_what_one_changes_the_other_sees_within_seconds_and_who_is_here(two):
    page, other = two
    limit_of(page).wait_for()
    assert page.locator("#here abbr", has_text="O").get_attribute("title") == "Other is here"
    assert change(other, limit_of(other), "1.8") == 200
    expect(limit_of(page)).to_have_value("1.8")


def test_what_another_changes_while_a_file_is_chosen_does_not_take_its_field_away(two, maker):
    page, other = two
    with file_dialog(page) as dialog:
        page.keyboard.press("f")
    assert change(other, limit_of(other), "1.8") == 200
    expect(limit_of(page)).to_have_value("1.8")
    dialog.value.set_files({"name": "yard.s1p", "mimeType": "text/plain", "buffer": touchstone().encode()})
    page.locator(".sweeps a", has_text="yard").wait_for()
    expect(page.locator("#files")).to_have_value("")
    drop(page, "moor.s1p", touchstone().replace("my own", "another"))
    page.locator(".sweeps a", has_text="moor").wait_for()
    assert len(samples_of(maker, page)) == 2


def test_a_file_that_is_chosen_and_not_sent_yet_outlives_another_act_on_its_page(two):
    page, _ = two
    page.goto(f"{page.url.split('?')[0]}/tuner")
    field = page.locator("form[hx-post$='/trials'] input[type=file]")
    field.set_input_files({"name": "trials.csv", "mimeType": "text/csv", "buffer": b"MHz,SWR after"})
    unfold(page, "What is inside")
    with page.expect_response("**/networks"):
        page.get_by_role("button", name="Add network").click()
    page.locator("#fold-network article").first.wait_for()
    expect(field).to_have_value(re.compile("trials.csv$"))


def test_a_cell_that_another_changed_is_not_written_over(two):
    page, other = two
    mine = limit_of(page)
    mine.focus()
    mine.press_sequentially("9")  # typing has begun before the other's change
    assert change(other, limit_of(other), "1.8") == 200
    assert change(page, mine, "2.5") == 422
    said = page.locator(".conflict")
    assert "Other changed this" in said.inner_text()
    assert [v.inner_text() for v in said.locator(".value").all()] == ["1.8", "2.5"]
    with page.expect_response("**/cell/**") as answer:
        said.get_by_role("button", name="Keep mine").click()
    assert answer.value.status == 200
    expect(limit_of(other)).to_have_value("2.5")


def test_theirs_is_taken_without_another_change(two, maker):
    page, other = two
    notes = page.get_by_label("Notes for the report")
    notes.focus()
    notes.press_sequentially("a")
    change(other, other.get_by_label("Notes for the report"), "Wind from the west.")
    assert change(page, notes, "Rain.") == 422
    assert "Wind from the west." in page.locator(".conflict").inner_text()
    page.get_by_role("button", name="Keep theirs").click()
    assert notes.input_value() == "Wind from the west."
    page.wait_for_timeout(1500)
    with maker() as session:
        kept = session.scalars(select(t.Evaluation.notes).order_by(t.Evaluation.id.desc())).first()
    assert (kept, notes.input_value()) == ("Wind from the west.", "Wind from the west.")


def test_what_somebody_types_stays_under_the_cursor_while_another_works(two):
    page, other = two
    quick = page.locator("#quick-text")
    quick.focus()
    quick.press_sequentially("SWR < 2 4")
    with other.expect_response("**/add/sample"):
        other.get_by_role("button", name="Add a sample").click()
    page.wait_for_timeout(2500)
    quick.press_sequentially("0m")
    assert quick.input_value() == "SWR < 2 40m"
    page.locator("h2", has_text="Product").click()
    page.get_by_label("Name of the sample").nth(2).wait_for(state="attached")
    assert page.locator("#quick-text").input_value() == "SWR < 2 40m"


def test_history_tells_old_and_new_and_puts_back(two):
    page, other = two
    change(other, limit_of(other), "1.8")
    page.goto(page.url.split("?")[0] + "/history")
    entry = page.locator(".past li", has_text="limit")
    assert "Other" in entry.inner_text() and [entry.locator(x).inner_text() for x in ("del", "ins")] == ["1.5", "1.8"]
    entry.get_by_role("button", name="Put back").click()
    page.locator(".said", has_text="is restored to what it was before Other changed it").wait_for()
    page.wait_for_timeout(600)  # whatever the page does after its own change is done by then
    expect(page.locator("#said")).not_to_contain_text("Somebody else")
    page.get_by_label("Who", exact=True).select_option(label="Other")
    page.wait_for_url("**who=Other**")
    assert {b.inner_text() for b in page.locator(".past-head b").all()} == {"Other"}
    expect(limit_of(other)).to_have_value("1.5")


def test_a_sample_on_which_something_rests_is_set_aside_and_judged_no_more(two, maker):
    page, _ = two
    drop(page, "yard.s1p", touchstone())
    page.locator(".sweeps a[aria-current]").wait_for()
    page.get_by_role("button", name="Remove Sample 1").click()
    page.get_by_text("rests on it, so it cannot be removed").wait_for()
    change(page, page.get_by_label("Why Sample 1 is left out"), "Its plug is loose.")
    page.reload()
    assert "Sample 1" not in page.locator("#claims").inner_text()
    page.get_by_role("button", name="Remove Sample 2").click()
    page.locator("#removed", has_text="A sample of Yard dipole was removed: Sample 2").wait_for()


def test_a_comment_is_a_task_for_somebody_until_it_is_done(two):
    page, other = two
    page.reload()
    unfold(page, "Comments")
    page.get_by_label("Comment").fill("Sweep it once more with the choke on")
    page.get_by_label("For", exact=True).select_option(label="Other")
    page.get_by_role("button", name="Add comment").click()
    page.locator(".comments .to-do").wait_for()
    other.locator("#steps", has_text="1 to do").wait_for()
    unfold(other, "Comments")
    other.locator(".comments .to-do", has_text="To do for Other").wait_for()
    other.get_by_role("button", name="Done: Sweep it").click()
    other.locator(".comments .done", has_text="Done by Other").wait_for()


def test_the_page_stays_where_it_was_when_a_claim_is_removed(page, maker, member):
    begin_evaluation(page, maker, member, limit=1.5)
    drop(page, "yard.s1p", touchstone())
    page.locator(".sweeps a[aria-current]").wait_for()
    page.set_viewport_size({"width": 1280, "height": 400})
    cell(page, "Limit")
    page.mouse.wheel(0, 150)
    button = page.get_by_role("button", name="Remove the claim")
    button.hover()  # what a click scrolls to is there
    before = page.evaluate("scrollY")
    assert before > 100
    button.click()
    page.locator("#removed .said").wait_for()
    page.locator("#numbers").wait_for()
    assert page.evaluate("scrollY") == pytest.approx(before, abs=5)


def test_a_claim_and_a_whole_evaluation_are_had_back_at_once(two):
    page, _ = two
    cell(page, "Limit")
    page.get_by_role("button", name="Remove the claim").click()
    said = page.locator("#removed", has_text="A claim of Yard dipole was removed: SWR at most 1.5:1 on 20m")
    said.wait_for()
    said.get_by_role("button", name="Undo").click()
    page.locator(".ledger .opens").wait_for()
    address = page.url
    page.get_by_role("button", name="Remove this evaluation").click()
    said = page.locator(".said", has_text="The evaluation of Yard dipole was removed")
    said.get_by_role("button", name="Undo").click()
    page.get_by_role("link", name="Yard dipole").click()
    page.wait_for_url(f"{address.split('?')[0]}*")


def test_the_title_follows_the_name(two):
    page, _ = two
    unfold(page, "2 samples, 1 setup")
    assert change(page, page.get_by_label("Product", exact=True), "Moor dipole") == 200
    expect(page).to_have_title(re.compile("^Moor dipole"))


def test_who_opens_and_closes_pages_is_refused_no_stream(two):
    """A page that was left makes room within a second or two: the stream of the next one is not turned away."""
    page, _ = two
    refused = []
    page.on("response", lambda answer: refused.append(answer.url) if answer.status == 503 else None)
    for _ in range(6):
        with page.expect_request("**/changes"):
            page.reload()
        page.wait_for_timeout(1500)
    assert refused == []


def test_two_people_do_it_all_at_the_same_time(two, maker):
    """Each files under what the own screen shows, neither writes over the other, both see and undo what was done."""
    page, other = two
    with other.expect_response("**/cell/hand/*/sample_id"):
        other.get_by_label("Sample on the bench").select_option(label="Sample 2")
    # What the screen shows is what is filed, though both drop at once.
    drop(page, "yard.s1p", touchstone())
    drop(other, "moor.s1p", touchstone().replace("my own", "another"))
    for screen in two:
        for name in ("yard", "moor"):
            screen.locator(".sweeps a", has_text=name).wait_for()
    with maker() as session:
        evaluation = int(page.url.split("/e/")[1].split("?")[0])
        query = select(t.Sweep.name, t.Sample.label).join(t.Sample, t.Sample.id == t.Sweep.sample_id)
        filed = session.execute(query.where(t.Sweep.evaluation_id == evaluation)).all()
    assert {tuple(f) for f in filed} == {("yard", "Sample 1"), ("moor", "Sample 2")}
    # Both change the same cell, and what is typed elsewhere meanwhile stays.
    page.locator("#quick-text").press_sequentially("SWR < 2 4")
    mine = limit_of(page)
    mine.focus()
    mine.press_sequentially("9")
    assert change(other, limit_of(other), "1.8") == 200
    assert change(page, mine, "2.5") == 422
    with page.expect_response("**/cell/claim/**"):
        page.get_by_role("button", name="Keep mine").click()
    expect(limit_of(other)).to_have_value("2.5")
    # One removes what the other has open: it goes there too, and comes back for both.
    other.get_by_role("button", name="Remove the claim").click()
    page.locator(".ledger").wait_for(state="detached")
    assert page.locator("#quick-text").input_value() == "SWR < 2 4"
    other.locator("#removed").get_by_role("button", name="Undo").click()
    page.locator(".ledger .opens").wait_for()
    # The history has it all, by both.
    page.goto(page.url.split("?")[0] + "/history")
    told = page.locator(".past").inner_text()
    assert all(word in told for word in ("Other", "Removed", "Restored", "1.8", "2.5", "sweep yard", "sweep moor"))
