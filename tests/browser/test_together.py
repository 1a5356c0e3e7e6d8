"""Several people in one evaluation at the same time: each has a bench of one's own in hand."""

import pytest
from sqlalchemy import select

from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member
from tests.browser.steps import begin_evaluation, drop
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
        add_member(session, member.team, f"other-{member.email}", "Other", PASSWORD, editor=False)
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
        page.get_by_role("button", name="Adjusted").click()
    other.reload()
    with other.expect_response("**/cell/hand/*/sample_id"):
        other.get_by_label("Sample on the bench").select_option(label="Sample 1")
    drop(other, "moor.s1p", touchstone().replace("my own", "another"))
    other.locator(".sweeps a", has_text="moor").wait_for()
    other.locator(".sweeps a", has_text="round 2").wait_for()


def test_the_page_stays_where_it_was_when_a_claim_is_removed(page, maker, member):
    begin_evaluation(page, maker, member, limit=1.5)
    drop(page, "yard.s1p", touchstone())
    page.locator(".sweeps a[aria-current]").wait_for()
    button = page.get_by_role("button", name="Remove this claim")
    button.scroll_into_view_if_needed()
    before = page.evaluate("scrollY")
    assert before > 100
    button.click()
    page.locator("#removed .said").wait_for()
    page.locator("#numbers").wait_for()
    assert page.evaluate("scrollY") == pytest.approx(before, abs=5)


def test_a_claim_and_a_whole_evaluation_are_had_back_at_once(two):
    page, _ = two
    page.get_by_role("button", name="Remove this claim").click()
    said = page.locator("#removed", has_text="A claim of Yard dipole was removed: SWR at most 1.5:1 on 20m")
    said.wait_for()
    with page.expect_navigation():
        said.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Remove this claim").wait_for()
    address = page.url
    page.get_by_role("button", name="Remove this evaluation").click()
    said = page.locator(".said", has_text="The evaluation of Yard dipole was removed")
    with page.expect_navigation():
        said.get_by_role("button", name="Undo").click()
    page.get_by_role("link", name="Yard dipole").click()
    page.wait_for_url(f"{address.split('?')[0]}*")
