"""Which sweep decides, said on the page in one or two taps: role, setting, round, adjusted or not, set aside."""

import numpy as np
import pytest

from levelmoor.core.rf.reflection import gamma_from_impedance
from tests.browser.steps import ANALYZER_TEXT, answered, begin_evaluation, cell, drop, go_to, unfold, verdict_line
from tests.sweeps import rlc


def whip(f0, q=12.0, r=50.0, low=6.5e6, high=7.8e6):
    """A whip as its analyzer writes it."""
    f = np.linspace(low, high, 401)
    gamma = gamma_from_impedance(rlc(f, f0=f0, q=q, r=r), 50)
    rows = (f"{x / 1e6:.5f}\t{g.real:.7f}\t{g.imag:.7f}" for x, g in zip(f, gamma, strict=True))
    return ANALYZER_TEXT + "\r\n".join(rows)


GOOD, BAD = whip(7.1e6), whip(7.1e6, r=140)


@pytest.fixture
def case(page, maker, member):
    """An evaluation with a claim of SWR 2 on 40 m, its new sweeps calibrated."""
    return begin_evaluation(page, maker, member, limit=2.0, windows="40m", calibrated=True)


def claims(page, words):
    cell(page, "Limit")
    page.locator("#claims .verdicts", has_text=words).first.wait_for()


def test_what_was_added_stands_beside_the_verdict(case):
    page = case
    drop(page, "bare.s1p", BAD)
    verdict_line(page, "Fail")
    form = page.locator("form.same-but").first
    form.get_by_label("What is different from").select_option(label="accessory")
    form.get_by_label("New value in").fill("hat")
    assert form.get_by_label("counts as").input_value() == "added"
    with answered(page, "**/copy"):
        form.get_by_role("button", name="Copy with this change").click()
    drop(page, "hat.s1p", GOOD)
    page.locator("#slip", has_text="hat").wait_for()
    claims(page, "hat (added): 1.40 at worst on 40m, pass by itself")
    claims(page, "Fail")
    # The line over the figure is the claim's verdict; what the sweep in hand shows stands under it.
    verdict_line(page, "Fail")
    page.locator(".standing", has_text="hat by itself: Pass.").wait_for()
    assert "is an addition" in page.locator(".standing").inner_text()


def test_a_place_that_is_noted_is_proposed_as_a_comparison(case):
    form = case.locator("form.same-but").first
    form.get_by_label("What is different from").select_option(label="surroundings")
    assert form.get_by_label("counts as").input_value() == "comparison"


def test_settings_are_pasted_and_a_file_named_after_one_is_taken_in_it(case):
    page = case
    unfold(page, "Settings of an adjustable product")
    page.get_by_label("Settings, one per line").fill("mark 2; 40m\nmark 6; 20m")
    page.get_by_role("button", name="Save these settings").click()
    page.get_by_label("Bands of mark 6").wait_for()
    drop(page, "whip-mark-6.s1p", BAD)
    page.locator("#slip", has_text="whip-mark-6").wait_for()
    claims(page, "mark 2 is the setting for 40m, and no sweep was made in it")
    drop(page, "whip-mark-2.s1p", GOOD)
    claims(page, "Pass")
    claims(page, "setting mark 2")


def test_after_adjusting_the_latest_round_decides(case):
    page = case
    drop(page, "first.s1p", BAD)
    verdict_line(page, "Fail")
    with answered(page, "**/adjusted"):
        page.get_by_role("button", name="I adjusted it", exact=True).click()
    drop(page, "again.s1p", GOOD)
    verdict_line(page, "Pass")
    claims(page, "round 2")
    unfold(page, "of earlier rounds")
    page.locator("#slip").get_by_role("link", name="first").click()
    page.locator(".standing", has_text="the product was adjusted since; round 2 decides").wait_for()


@pytest.mark.parametrize(
    ("answer", "verdict"), [("Yes, adjusted", "Pass"), ("No, nothing was adjusted", "Too close to call")]
)
def test_sweeps_that_clearly_differ_are_asked_about(case, answer, verdict):
    page = case
    drop(page, "first.s1p", whip(7.1e6, r=115))
    verdict_line(page, "Fail")
    drop(page, "second.s1p", whip(7.1e6, r=60))
    claims(page, "The figures contradict each other")
    with answered(page, "**/adjusted"):
        page.locator(".said.ask", has_text="was the product adjusted between them").get_by_text(answer).click()
    claims(page, verdict)


def test_a_sweep_is_set_aside_with_a_reason_that_the_report_prints(case):
    page = case
    drop(page, "first.s1p", GOOD)
    verdict_line(page, "Pass")
    drop(page, "loose.s1p", BAD)
    claims(page, "The figures contradict each other")
    with answered(page, "**/set_aside"):
        page.get_by_label("Why the sweep is left out of the verdict").fill("the plug was loose")
        page.get_by_label("Why the sweep is left out of the verdict").press("Tab")
    claims(page, "loose was left out of the verdict: the plug was loose")
    claims(page, "Pass")
    go_to(page, "Report")
    page.locator(".looked-at", has_text="the plug was loose; by itself it would be Fail").wait_for()


def test_a_control_is_shown_and_not_counted(case):
    page = case
    drop(page, "first.s1p", BAD)
    verdict_line(page, "Fail")
    with answered(page, "**/control"):
        page.get_by_label("Whether the sample is a control").select_option("yes")
    claims(page, "Shown, but not counted")


def test_another_region_asks_once_what_its_bands_are(case):
    page = case
    drop(page, "good.s1p", whip(7.1e6, q=4.0))
    verdict_line(page, "Pass")
    page.locator("#judged-by summary").click()
    region = page.get_by_label("ITU region")
    was = region.input_value()
    to = "2" if was == "1" else "1"
    region.select_option(to)
    asked = page.get_by_text(f"Region {to} has different bands.")
    asked.wait_for()
    with answered(page, "**/region"):
        page.get_by_role("button", name=f"Use the bands of region {to}").click()
    asked.wait_for(state="detached")
    page.locator("#judged-by summary", has_text=f"region {to}").wait_for()


def test_a_mounting_that_is_none_is_refused_and_stays_as_typed(case):
    page = case
    drop(page, "good.s1p", GOOD)
    page.locator("#slip", has_text="good").wait_for()
    mounting = page.get_by_label("Number of the mounting, from 1")
    mounting.fill("0")
    mounting.press("Tab")
    page.get_by_text("0 is out of range; the mounting, counted from 1").wait_for()
    assert mounting.input_value() == "0"
