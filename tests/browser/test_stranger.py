"""A stranger on a telephone whose browser runs no scripts: finds a report, reads it, checks it, sets it beside another,
disputes it; and a member of a team begins to outdo it."""

import re

import pytest
from playwright.sync_api import expect
from sqlalchemy import select

from levelmoor.formats.bundle import verify_bundle
from levelmoor.records import tables as t
from tests.conftest import sign_in

ROLLAWAY, BATCH = "Rollaway 2/70", "Rollaway 2/70, three units of one batch"


@pytest.fixture
def bare(browser, live, demo_loaded):
    """A telephone without scripts, on the public list."""
    context = browser.new_context(
        viewport={"width": 390, "height": 844}, base_url=live, java_script_enabled=False, accept_downloads=True
    )
    opened = context.new_page()
    opened.set_default_timeout(30_000)
    opened.goto("/reports")
    yield opened
    context.close()


def searched(page, words):
    page.get_by_label("Search the reports").fill(words)
    page.get_by_role("button", name="Search").click()


def test_a_report_is_found_by_words_and_narrowed(bare):
    searched(bare, "roll-away")
    bare.get_by_text("Narrow the list").click()
    bare.get_by_role("link", name=re.compile("^Upper Thrale Portable Society 1$")).click()
    expect(bare.get_by_role("link", name=BATCH)).to_have_count(1)
    expect(bare.get_by_role("link", name=ROLLAWAY, exact=True)).to_have_count(0)


def test_it_is_read_and_computed_again(bare, maker):
    searched(bare, "rollaway harrowmere")
    bare.get_by_role("link", name=ROLLAWAY, exact=True).click()
    expect(bare.get_by_text("It meets these claims with room to spare")).to_be_visible()
    with bare.expect_download() as coming:
        bare.get_by_role("link", name="Download the bundle").click()
    assert verify_bundle(coming.value.path().read_bytes()).same


def test_two_are_set_beside_each_other(bare):
    searched(bare, "rollaway")
    bare.get_by_label(f"Tick {ROLLAWAY}, by Harrowmere Fell Radio Club").check()
    bare.get_by_label(f"Tick {BATCH}, by Upper Thrale Portable Society").check()
    bare.get_by_role("button", name="See the ticked reports side by side").click()
    expect(bare.get_by_text("They differ by more than both uncertainties")).to_be_visible()
    assert bare.evaluate("document.documentElement.scrollWidth") <= 390


def test_it_is_disputed_and_the_answer_stands_beside_it(bare, page, maker):
    searched(bare, "ringstone")
    bare.get_by_role("link", name="Ringstone Choke", exact=True).click()
    bare.get_by_role("link", name="Answer this report").click()
    bare.get_by_label("Your name").fill("A reader")
    bare.get_by_label("You speak for", exact=True).select_option("reader")
    bare.get_by_label("Email address").fill("reader@somewhere.example")
    bare.get_by_label("Answer", exact=True).fill("Mine has eleven turns.")
    bare.get_by_role("button", name="Send the answer").click()
    expect(bare.get_by_text("A link to confirm the answer is on its way")).to_be_visible()
    with maker() as session:
        letter = session.scalar(select(t.Mail.words).where(t.Mail.to_address == "reader@somewhere.example"))
    bare.goto(re.search(r"/answers/\S+", letter)[0])
    bare.get_by_role("button", name="Yes, this is my answer").click()
    expect(bare.get_by_text("Confirmed.")).to_be_visible()
    with maker() as session:
        case = session.scalar(select(t.Report.evaluation_id).join(t.Answer).where(t.Answer.name == "A reader"))
        maud = session.scalar(select(t.User).where(t.User.name == "Maud Ferrow"))
        sign_in(page, maud, f"/e/{case}/report")
    page.get_by_role("button", name="Show it beside the report").click()
    expect(page.get_by_role("status").filter(has_text="is shown beside the report")).to_be_visible()
    bare.goto("/reports?words=ringstone")
    bare.get_by_role("link", name="Ringstone Choke", exact=True).click()
    expect(bare.get_by_text("Mine has eleven turns.")).to_be_visible()


def test_it_is_tested_again_with_the_same_plan(page, member, demo_loaded):
    sign_in(page, member, "/reports?words=ringstone")
    page.get_by_role("link", name="Ringstone Choke", exact=True).click()
    page.get_by_role("link", name="Test it yourselves with the same plan").click()
    page.get_by_role("button", name="Begin the evaluation").click()
    expect(page.locator(".ledger .claim-line")).to_have_count(4)
