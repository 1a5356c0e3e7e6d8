"""The first hour: a try without an account that is kept, and a first report by somebody who reads only the screen."""

import re

import pytest
from playwright.sync_api import expect

from levelmoor.records import tables as t
from levelmoor.web.guide.glossary import OWN
from tests.browser.steps import sign_in_at
from tests.browser.test_main_path import touchstone

YARD = {"name": "yard.s1p", "mimeType": "text/plain", "buffer": touchstone().encode()}
MOST_ACTS, MOST_WORDS = 8, 8


class Acts:
    """Counts what a person does, and which of our own words the screen shows meanwhile."""

    def __init__(self, page):
        self.page, self.count, self.words = page, 0, set()

    def do(self, act):
        self.count += 1
        act()
        self.page.wait_for_load_state("networkidle")
        shown = self.page.locator("body").inner_text().lower()
        self.words |= {word for word in OWN if re.search(rf"\b{word.lower()}s?\b", shown)}


@pytest.mark.parametrize(("rule", "accept"), [("stated", None), ("proven", "Accept this sweep without a record")])
def test_a_first_report_takes_eight_acts_and_eight_words(page, member, maker, rule, accept):
    with maker.begin() as session:
        session.get(t.Team, member.team_id).bench_rule = rule
    sign_in_at(page, "/", member.email)
    acts = Acts(page)
    acts.do(lambda: page.get_by_label("Product", exact=True).fill("Yard dipole"))
    acts.do(lambda: page.get_by_label("A claim").fill("SWR < 1.5 20m"))
    acts.do(lambda: page.get_by_label("A sweep").set_input_files(YARD))
    acts.do(lambda: page.get_by_role("button", name="Open an evaluation").click())
    acts.do(lambda: page.get_by_role("button", name="Yes, at the plane").click())
    if accept:
        acts.do(lambda: page.get_by_role("button", name=accept).click())
    expect(page.locator(".verdict-line")).to_contain_text("Pass")
    acts.do(lambda: page.locator("#steps").get_by_role("link", name="Report").click())
    acts.do(lambda: page.get_by_role("button", name="Publish", exact=True).click())
    page.wait_for_url("**/r/**")
    expect(page.locator(".report-head")).to_contain_text("not on record")
    assert acts.count <= MOST_ACTS
    assert len(acts.words) <= MOST_WORDS, acts.words


def test_a_try_without_an_account_is_judged_and_goes_along(page, member):
    page.goto("/sign-in")
    page.get_by_label("A claim, as printed").fill("SWR < 1.5 20m")
    page.get_by_label("A sweep (Touchstone or CSV)").set_input_files(YARD)
    page.get_by_role("button", name="Judge it").click()
    expect(page.locator("#tried .verdict-line")).to_contain_text("Pass")
    expect(page.locator("#tried")).to_contain_text("What would make it sure")
    page.get_by_role("button", name="Keep this").click()
    page.wait_for_url(re.compile("next="))
    page.locator("#email").fill(member.email)
    page.locator("#password").fill(member.password)
    page.locator("form.stack").get_by_role("button", name="Sign in").click()
    page.get_by_text("that you tried are filled in").wait_for()
    page.get_by_label("Product", exact=True).fill("Yard dipole")
    page.get_by_role("button", name="Open an evaluation").click()
    expect(page.locator(".verdict-line")).to_contain_text("Pass")
    page.goto("/")
    expect(page.get_by_text("that you tried are filled in")).to_be_hidden()


def test_a_reader_lays_an_own_sweep_over_a_report(page, demo):
    page.goto(demo.report)
    page.get_by_label("A sweep (Touchstone or CSV)").set_input_files("levelmoor/demo/files/rollaway-b-survey.csv")
    page.get_by_role("button", name="Judge it").click()
    expect(page.locator("#tried .verdict-line")).to_contain_text("Not shown")
    expect(page.locator("#tried svg.several").first).to_be_visible()


def test_a_claim_that_is_not_understood_stands_in_its_line_with_what_it_asks(page, member):
    sign_in_at(page, "/", member.email)
    page.get_by_label("Product", exact=True).fill("Yard dipole")
    page.get_by_label("A claim").fill("SWR < 1.5 on the nice band")
    page.get_by_role("button", name="Open an evaluation").click()
    expect(page.get_by_label("New claim", exact=True)).to_have_value("SWR < 1.5 on the nice band")
    expect(page.locator("#understood")).to_contain_text("Not understood: nice")
