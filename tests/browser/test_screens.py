"""The screens as their users meet them: keys, slips of the pen, odd files, a telephone, and accessibility."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.steps import answered, cell, drop, judged_by, open_evaluation, piece, verdict_line
from tests.browser.test_each_screen import violations
from tests.browser.test_main_path import touchstone
from tests.conftest import sign_in


@pytest.fixture
def rollaway(page, demo):
    sign_in(page, demo, demo.cases["Rollaway 2/70"])
    verdict_line(page).wait_for()
    return page


def test_look_is_chosen_and_kept(page, demo):
    sign_in(page, demo)
    page.get_by_label("Look").select_option("night")
    page.locator("html[data-look=night]").wait_for()
    page.goto("/help")
    assert page.locator("html").get_attribute("data-look") == "night"


def test_sign_in_page_is_accessible_and_says_what_is_wrong(page):
    page.goto("/sign-in")
    page.get_by_label("Email address").fill("a@b.example")
    page.get_by_label("Password").fill("wrong")
    page.locator("form.stack").get_by_role("button", name="Sign in").click()
    assert page.get_by_role("alert").inner_text() == "Wrong email address or password."
    assert page.get_by_label("Email address").input_value() == "a@b.example"
    assert violations(page) == []


def test_list_is_searched_as_one_types(page, demo):
    sign_in(page, demo)
    page.keyboard.press("/")
    page.keyboard.type("osmondrigg")
    page.get_by_role("link", name="Linkline 60/40/30").wait_for(state="detached")
    assert sorted(page.locator("tbody th a").all_inner_texts()) == ["Fourstay 70", "Rectangle Six"]
    page.get_by_label("Worst verdict").select_option("pass")
    page.get_by_role("link", name="Fourstay 70").wait_for(state="detached")
    page.get_by_label("Worst verdict").select_option("fail")
    page.get_by_role("link", name="Rectangle Six").wait_for()


def test_reading_off_by_pointer_and_keys(rollaway):
    panel = rollaway.locator(".panel").first
    panel.focus()
    rollaway.keyboard.press("End")
    last = rollaway.locator('[data-read="f"]').inner_text()
    rollaway.keyboard.press("ArrowLeft")
    before = rollaway.locator('[data-read="f"]').inner_text()
    assert (last, before) == ("146.500 MHz", "146.450 MHz")
    box = panel.bounding_box()
    rollaway.mouse.move(box["x"] + box["width"] / 2, box["y"] + 100)
    middle = float(rollaway.locator('[data-read="f"]').inner_text().split()[0])
    assert middle == pytest.approx(145.0, abs=0.1)
    assert rollaway.locator('[data-read="swr"]').inner_text().startswith("1.2")


def test_views_and_sweeps_by_key(rollaway):
    rollaway.keyboard.press("0")
    rollaway.locator(".chip[aria-current]", has_text="Whole sweep").wait_for()
    rollaway.keyboard.press("1")
    rollaway.locator(".chip[aria-current]", has_text=re.compile("^2m$")).wait_for()
    rollaway.keyboard.press("]")
    rollaway.locator(".sweeps a[aria-current]", has_text="rollaway-a-70cm").wait_for()
    rollaway.keyboard.press("s")
    assert rollaway.evaluate("document.activeElement.getAttribute('aria-label')") == "Sample on the bench"
    rollaway.keyboard.press("Escape")
    rollaway.keyboard.press("?")
    rollaway.get_by_role("heading", name="What do you want to know?").wait_for()


def test_usability_is_not_called_a_verdict(rollaway):
    rollaway.locator(".turns").get_by_role("link", name="Usability radio-safe 2:1").click()
    rollaway.locator("#numbers", has_text="against the profile radio-safe 2:1").wait_for()
    assert rollaway.locator("#numbers .verdict").all_inner_texts() == ["Usable"]


def test_turning_to_a_claim_brings_the_sweep_that_it_rests_on(rollaway):
    rollaway.locator(".ledger").get_by_role("link", name="SWR at most 1.5:1 on 70cm", exact=True).click()
    rollaway.locator(".sweeps a[aria-current]", has_text="rollaway-a-70cm").wait_for()
    assert "Fail" in verdict_line(rollaway).inner_text()


def test_change_of_claim_rule_and_profile_shows_at_once(bench):
    drop(bench, "yard.s1p", touchstone())
    verdict_line(bench, "Pass")
    bench.evaluate("window.stays = true")
    cell(bench, "Limit").fill("1.42")
    cell(bench, "Limit").press("Tab")
    verdict_line(bench, "Too close to call")
    judged_by(bench, "Decision rule").select_option("simple")
    verdict_line(bench, "Pass")
    cell(bench, "Windows").fill("14.1 to 14.2")
    cell(bench, "Windows").press("Tab")
    bench.locator(".lm-fig .name", has_text="14.100–14.200 MHz").first.wait_for()
    bench.get_by_label("Usability profile").select_option("exacting")
    bench.get_by_text("Exacting 1.3:1: for teams").wait_for()
    assert bench.evaluate("window.stays") is True  # no reload


@pytest.mark.parametrize(
    ("name", "content", "words"),
    [
        ("bad.s1p", "# MHz S RI R 50\n14 0.1 0\n14.1 NaN 0\n", 'Line 3, column 6: "NaN", which is not a number'),
        ("photo.s1p", "\x89PNG not text", "was rejected"),
        ("empty.csv", "", "the file is empty"),
    ],
)
def test_wrong_file_is_named_with_its_place(bench, name, content, words):
    drop(bench, name, content)
    said = bench.get_by_role("alert").filter(has_text=words)
    said.wait_for()
    assert name in said.inner_text()
    expect(said).to_be_in_viewport()


def test_guessed_units_are_shown_and_confirmed(bench):
    drop(bench, "bare.csv", "\n".join(f"{13900 + 10 * i};1,{20 + i % 5}" for i in range(60)))
    bench.get_by_text("bare.csv does not say everything").wait_for()
    assert bench.get_by_label("Frequencies in").input_value() == "kHz"
    bench.get_by_role("button", name="Confirm").click()
    bench.get_by_text("bare.csv does not say everything").wait_for(state="detached")
    assert "Pass" in verdict_line(bench).inner_text()


def test_port_of_a_two_port_file_is_chosen(page, demo):
    sign_in(page, demo)
    page.get_by_role("link", name="Fourstay 70").click()
    page.locator(".sweeps a", has_text="fourstay-wide").click()
    port = page.get_by_label("Port of the file")
    port.wait_for()
    assert port.input_value() == "2"
    port.select_option("1")
    page.locator(".numbers b", has_text=re.compile(r"^1\.0\d$")).first.wait_for()  # the load on port 1
    page.get_by_label("Port of the file").select_option("2")
    page.locator(".numbers b", has_text="1.47").first.wait_for()  # the antenna on port 2


def test_sample_and_sweep_are_added_and_taken_out(bench):
    bench.get_by_role("button", name="Add a sample").click()
    bench.get_by_label("Name of the sample").nth(1).wait_for()
    drop(bench, "yard.s1p", touchstone())
    bench.locator(".sweeps a[aria-current]").wait_for()
    assert bench.get_by_label("Sample of the sweep").locator("option:checked").inner_text() == "Sample 2"
    bench.get_by_role("button", name="Remove this sweep").click()
    bench.get_by_text("Your first verdict").wait_for()


def test_decision_figures_of_an_instrument_reach_the_verdict(bench):
    drop(bench, "yard.s1p", touchstone())
    verdict_line(bench, "Pass")
    here = bench.url
    bench.get_by_role("link", name="Equipment").click()
    piece(bench, "Analyzer")
    cell = bench.get_by_label("Directivity, dB of Analyzer")
    cell.fill("25")
    with answered(bench, "**/directivity_db"):
        cell.press("Tab")
    bench.goto(here)
    verdict_line(bench, "Too close to call")
    assert "directivity 25 dB" in bench.locator("#slip").inner_text()


def test_plane_and_tuner_of_a_setup_reach_the_verdict(bench):
    drop(bench, "yard.s1p", touchstone())
    verdict_line(bench, "Pass")
    bench.locator("#case").get_by_label("Reference plane").select_option("shack")
    verdict_line(bench, "Loss in the feed line lowers the SWR")
    assert "the shack end of the feed line" in bench.locator("#head").inner_text()
    bench.locator("#case").get_by_label("Reference plane").select_option("connector")
    bench.get_by_label("Tuner in line").select_option("yes")
    verdict_line(bench, "the claim is without a tuner".capitalize())
    bench.locator("#slip", has_text="A match is not radiation").wait_for()


def test_steps_say_what_is_missing(bench):
    steps = bench.locator("#steps")
    assert "Say how Sample 1 was obtained" in steps.inner_text()
    assert "Drop a file in" in steps.inner_text()
    bench.get_by_label("How the sample was obtained").select_option("lent")
    steps.get_by_text("1 sample").wait_for()


def test_team_settings_are_kept_and_shape_new_evaluations(page, member):
    sign_in(page, member)
    page.goto("/team")
    page.get_by_label("ITU region").select_option("2")
    judged_by(page, "Decision rule").select_option("simple")
    page.get_by_label("Usability profile").select_option("own")
    page.get_by_label("Own limit, SWR").fill("two")
    page.get_by_role("button", name="Save settings").click()
    assert '"two" is not a number' in page.get_by_role("alert").inner_text()
    assert page.get_by_label("Own limit, SWR").input_value() == "two"
    page.get_by_label("Own limit, SWR").fill("2,5")
    page.get_by_role("button", name="Save settings").click()
    page.get_by_text("New evaluations start with these").wait_for()
    page.goto("/")
    open_evaluation(page)
    assert page.get_by_label("ITU region").input_value() == "2"
    assert judged_by(page, "Decision rule").input_value() == "simple"
    page.get_by_text("Own limit 2.5:1").wait_for(state="attached")  # shown once something is swept


def test_person_is_invited_opens_an_account_and_joins_by_own_choice(page, member):
    sign_in(page, member)
    page.goto("/team")
    email = f"new-{member.email}"
    page.get_by_label("Email address").fill(email)
    page.get_by_role("button", name="Invite", exact=True).click()
    link = page.get_by_label("The link").input_value()
    page.get_by_role("button", name="Sign out").click()
    page.get_by_role("heading", name="Sign in").wait_for()

    page.goto(link)
    page.get_by_label("Your name").fill("Newcomer")
    page.get_by_label("Password, at least").fill("short")
    page.get_by_label("Repeat the password").fill("short")
    page.get_by_role("button", name="Create an account").click()
    assert "at least 12 characters" in page.get_by_role("alert").inner_text()
    for field in ("Password, at least", "Repeat the password"):
        page.get_by_label(field).fill(member.password)
    page.get_by_role("button", name="Create an account").click()
    page.get_by_role("heading", name="Sign in").wait_for()
    page.get_by_label("Email address").fill(email)
    page.get_by_label("Password").fill(member.password)
    page.locator("form.stack").get_by_role("button", name="Sign in").click()
    page.get_by_role("button", name=f"Join {member.team}").click()
    page.get_by_text(f"You are now a member of {member.team}").wait_for()
    page.goto("/team")
    assert page.get_by_text("Only editors of the team can change these.").is_visible()


def test_evaluation_is_removed_from_the_list(bench):
    bench.get_by_role("button", name="Remove this evaluation").click()
    bench.get_by_text("Your first verdict").wait_for()


def test_what_is_missing_keeps_a_report_from_being_published(bench):
    bench.get_by_role("link", name="Report Not published yet").click()
    bench.get_by_text("Add at least one sweep, capture, trial").wait_for()
    assert bench.get_by_role("button", name="Publish").count() == 0


def test_unlisted_report_is_found_by_its_link_alone(bench, browser, live):
    drop(bench, "yard.s1p", touchstone())
    verdict_line(bench, "Pass")
    bench.get_by_label("Product", exact=True).fill("Hidden dipole")
    bench.get_by_label("Product", exact=True).press("Tab")
    bench.locator("#head h1", has_text="Hidden dipole").wait_for()
    bench.get_by_role("link", name="Report Not published yet").click()
    bench.get_by_label("List it among the public reports").uncheck()
    bench.get_by_role("button", name="Publish").click()
    bench.wait_for_url("**/r/*")
    context = browser.new_context(base_url=live)
    stranger = context.new_page()
    stranger.goto("/reports")
    assert stranger.get_by_text("Hidden dipole").count() == 0
    stranger.goto(bench.url)
    assert stranger.get_by_role("heading", name="Hidden dipole").is_visible()
    context.close()


def test_server_that_fails_leaves_the_page_and_says_so(bench):
    bench.route("**/cell/**", lambda route: route.abort())
    cell(bench, "Limit").fill("3")
    cell(bench, "Limit").press("Tab")
    bench.get_by_text("The server does not answer").wait_for()
    assert cell(bench, "Limit").input_value() == "3"


def test_page_of_another_team_is_answered_in_words(page, member):
    sign_in(page, member)
    page.goto("/e/999999")
    assert page.get_by_role("heading", name="There is nothing at this address").is_visible()


@pytest.mark.fonts
def test_a_full_evaluation_fits_two_screens_and_four_of_a_telephone(page, demo):
    """Six claims and seventeen sweeps; the first screen of a telephone holds the first verdict."""
    height = "document.documentElement.scrollHeight"
    sign_in(page, demo, demo.cases["Linkline 60/40/30"])
    assert page.locator(".ledger .opens").count() == 6 and page.locator(".sweeps a").count() == 17
    assert page.evaluate(height) <= 2 * 800
    page.set_viewport_size({"width": 390, "height": 844})
    page.reload()
    assert page.evaluate(height) <= 4 * 844
    assert page.locator(".marks b").first.bounding_box()["y"] < 844


def test_on_a_telephone_each_verdict_names_its_unit(page, demo):
    page.set_viewport_size({"width": 390, "height": 844})
    sign_in(page, demo, demo.cases["Rollaway 2/70"])
    named = (
        page.locator("tr.claim-line")
        .first.locator("td")
        .evaluate_all("all => all.map((one) => getComputedStyle(one, '::before').content)")
    )
    assert [one for one in named if "Unit" in one] == ['"Unit A"', '"Unit B"']
