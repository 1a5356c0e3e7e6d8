"""Plan, run sheet and bench in the browser, from an empty evaluation to what a team takes to the field."""

import json
import re

import numpy as np
import pytest

from levelmoor.core.rf.feedline import move_plane
from levelmoor.core.rf.line_types import find_line_type
from levelmoor.core.rf.reflection import LIGHT_M_PER_S
from levelmoor.core.rf.sweep import Sweep
from levelmoor.formats.touchstone_out import write_s1p
from levelmoor.records import tables as t
from tests.browser.steps import (
    answered,
    begin_evaluation,
    drop,
    go_to,
    judged_by,
    piece,
    unfold,
    verdict_line,
    write_claim,
)
from tests.browser.test_main_path import touchstone
from tests.sweeps import flat


@pytest.fixture
def proven(page, member, maker):
    """A team that asks for a proven bench, with an empty evaluation open."""
    with maker.begin() as session:
        session.get(t.Team, member.team_id).bench_rule = "proven"
    return begin_evaluation(page, maker, member)


def step(page, name):
    go_to(page, name)


def file(name, sweep):
    return {"name": name, "mimeType": "text/plain", "buffer": write_s1p(sweep).encode()}


def own_loads(page):
    """Two loads, so that one can prove what the other calibrated."""
    page.get_by_role("link", name="Equipment").click()
    for name in ("Good load", "Kit load"):
        with answered(page, "**/equipment/load/add"):
            page.get_by_role("button", name="Add a load").click()
        put(page, "Own return loss, dB of Another load", "45")
        put(page, "Name of Another load", name)


def record_calibration(page, low="13 MHz", high="15.5 MHz", done="2026-05-31T10:00", load=None):
    unfold(page, "Record a calibration")
    form = page.locator("#calibrations form")
    if load:
        form.locator("[name=load_id]").select_option(label=load)
    form.locator("[name=low]").fill(low)
    form.locator("[name=high]").fill(high)
    form.get_by_label("Done").fill(done)
    page.get_by_role("button", name="Save the calibration").click()
    page.locator("#calibrations").get_by_text("on the bench").wait_for()


def take_out(page):
    """The one check that is there."""
    with answered(page, "**/remove"):
        page.locator("#checks").get_by_role("button", name="Remove").click()
    page.get_by_text("No check yet").wait_for()


def add_check(page, kind, sweep, name="load.s1p", done="2026-05-31T10:05", item=None):
    unfold(page, "Add a check")
    form = page.locator("#new-check")
    form.get_by_label("What").select_option(kind)
    if item:
        form.locator(f"[data-for={kind}] [name=item_id]").select_option(label=item)
    form.get_by_label("Done").fill(done)
    form.locator("#check-files").set_input_files(file(name, sweep))
    with answered(page, "**/checks"):
        form.get_by_role("button", name="Save the check").click()


def put(page, label, value):
    """Type into a cell and wait until it is kept."""
    with answered(page, lambda r: "/cell/" in r.url or "/equipment/" in r.url):
        page.get_by_label(label, exact=True).fill(value)
        page.get_by_label(label, exact=True).press("Tab")


def pick(page, label, value):
    """Choose in a cell and wait until it is kept: a file dropped at once would else be read without it."""
    with answered(page, lambda r: "/cell/" in r.url):
        page.get_by_label(label).select_option(value)


# -- From nothing to a printed run sheet -----------------------------------------------------------------------------


def test_from_an_empty_evaluation_to_a_printed_run_sheet(proven):
    page = proven
    home = page.url
    step(page, "Plan")
    page.get_by_text("Nothing to plan yet. Type a claim").wait_for()
    page.goto(home)
    write_claim(page, "1.5", "2m 70cm")
    put(page, "Connector of the sample: Sample 1", "BNC female")

    page.get_by_role("link", name="Equipment").click()
    piece(page, "Analyzer")
    put(page, "Connector of Analyzer", "N female")
    put(page, "Points per sweep of Analyzer", "101")
    page.goto(f"{home}/plan")
    page.get_by_text("Still without evidence:", exact=True).wait_for()
    assert "an adapter from BNC male to N male is missing" in page.locator("#plan-work").inner_text()
    page.get_by_role("button", name="Save this plan").click()
    page.get_by_role("button", name="Save this plan").wait_for(state="hidden")

    page.get_by_role("link", name="Equipment").click()
    page.get_by_role("button", name="Add an adapter").click()
    page.get_by_label("One end of Another adapter").wait_for()
    put(page, "One end of Another adapter", "BNC male")
    put(page, "Other end of Another adapter", "N male")
    put(page, "Name of Another adapter", "The lead")
    page.goto(f"{home}/plan")
    plan = page.locator("#plan-work")
    plan.get_by_text("since the plan was last saved").wait_for()
    assert "Has evidence again: SWR at most 1.5:1 on 2m, 70cm" in plan.inner_text()
    plan.get_by_role("button", name="Saved").click()
    plan.get_by_text("since the plan was last saved").wait_for(state="hidden")
    assert plan.locator("tr", has_text="70cm").locator("td", has_text="The lead").is_visible()
    assert page.get_by_role("img", name=re.compile("1 rebuild, 3 calibrations, 3 sweeps")).is_visible()
    assert page.get_by_role("img", name=re.compile("2m: Analyzer, 1 run")).is_visible()

    plan.get_by_role("button", name="Leave out: 70cm").click()
    plan.get_by_text("Left out by you").wait_for()
    assert "its run was removed from the plan" in plan.inner_text()
    plan.get_by_role("button", name="Restore: 70cm").click()
    plan.get_by_role("button", name="Earlier: 70cm").click()
    plan.get_by_role("button", name="Discard your order").wait_for()
    rows = plan.locator("table.runs tbody th").all_inner_texts()
    assert [r.split("\n")[0] for r in rows] == ["Survey", "70cm", "2m"]

    plan.get_by_label("A rebuild takes").fill("half an hour")
    plan.get_by_label("A rebuild takes").press("Tab")
    plan.get_by_text("is not a number").wait_for()
    pdf = page.request.get(f"{home}/plan/sheet.pdf")
    assert pdf.headers["content-type"] == "application/pdf"
    assert pdf.body().startswith(b"%PDF")


def test_own_run_is_added_and_a_slip_is_said_in_place(proven):
    page = proven
    home = page.url
    write_claim(page)
    page.goto(f"{home}/plan")
    page.get_by_label("From", exact=True).fill("13")
    page.get_by_label("To", exact=True).fill("12")
    page.get_by_role("button", name="Add run").click()
    page.get_by_text("must be above its lower end").wait_for()
    assert page.get_by_label("From", exact=True).input_value() == "13"
    page.get_by_label("To", exact=True).fill("13.5")
    page.get_by_role("button", name="Add run").click()
    page.locator("table.runs", has_text="your own run").wait_for()


def test_run_sheet_is_ticked_off_without_a_signal_and_nothing_is_lost(proven):
    page = proven
    home = page.url
    write_claim(page)
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{home}/plan/sheet")
    page.get_by_text("Everything is saved.").wait_for()
    page.context.set_offline(True)
    first, second = page.locator("[data-tick]").all()
    assert first.bounding_box()["height"] >= 48
    first.click()
    second.click()
    page.get_by_label("Note on run 2").fill("gusts")
    page.get_by_label("Note on run 2").press("Tab")
    page.get_by_text("3 entries wait to be sent").wait_for()
    page.context.set_offline(False)
    with page.expect_request(
        lambda request: request.url.endswith("/ticks") and "gusts" in (request.post_data or "")
    ) as sent:
        page.evaluate("window.dispatchEvent(new Event('online'))")
    page.get_by_text("Everything is saved.").wait_for()

    # The telephone sends the same again, as it does when the answer was lost.
    token = json.loads(page.locator("body").get_attribute("hx-headers"))
    again = page.request.post(
        f"{home}/plan/ticks", data=sent.value.post_data,
        headers={"Content-Type": "application/json", **token},
    )  # fmt: skip
    assert again.status == 200
    page.reload()
    assert page.get_by_role("button", name="Done", exact=True).count() == 2
    assert page.get_by_label("Note on run 2").input_value() == "gusts"
    bad = page.request.post(
        f"{home}/plan/ticks", data=json.dumps({"entries": [{"id": "x"}]}),
        headers={"Content-Type": "application/json", **token},
    )  # fmt: skip
    assert bad.status == 422


# -- The bench -------------------------------------------------------------------------------------------------------


def test_verdict_changes_with_the_gates_of_the_bench(proven):
    page = proven
    home = page.url
    write_claim(page)
    own_loads(page)
    page.goto(home)
    step(page, "Bench")
    record_calibration(page, load="Kit load")
    page.goto(home)
    drop(page, "yard.s1p", touchstone())
    put(page, "Day and time the sweep was taken", "2026-05-31 11:00")
    verdict_line(page, "no known load was swept")

    step(page, "Bench")
    add_check(page, "load", flat(0.2, 13e6, 15.5e6))
    page.locator(".check-words", has_text="The load does not match 50 Ω").wait_for()
    page.goto(home)
    verdict_line(page, "load does not match 50 Ω")

    step(page, "Bench")
    take_out(page)
    add_check(page, "load", flat(0.004, 13e6, 15.5e6), item="Kit load")
    card = page.locator("article.check")
    card.locator(".check-words", has_text="the load that was used to calibrate").wait_for()
    take_out(page)
    add_check(page, "load", flat(0.004, 13e6, 15.5e6), item="Good load")
    card.locator(".check-words", has_text="The load matches 50 Ω").wait_for()
    page.locator("#steps [aria-current=page]", has_text="Proven").wait_for()
    assert "yard" in card.get_by_role("definition").filter(has_text="yard").inner_text()
    assert page.get_by_role("img", name=re.compile("The load matches 50 Ω")).is_visible()
    page.goto(home)
    verdict_line(page, "Pass")
    slip = page.locator("#slip").inner_text()
    assert "Calibration passed" in slip
    assert "Known load passed" in slip


def test_calibration_is_recorded_for_the_sweep_that_asks_for_it(proven):
    page = proven
    home = page.url
    write_claim(page)
    drop(page, "yard.s1p", touchstone())
    page.get_by_role("button", name="Yes, at the plane").click()
    verdict_line(page, "not on record")
    put(page, "Day and time the sweep was taken", "2026-05-31 11:00")
    page.get_by_role("link", name="Record a calibration").click()
    form = page.locator("#calibrations form")
    assert form.locator("[name=low]").input_value() == "13.2 MHz"
    form.get_by_label("Done").fill("2026-05-31T10:00")
    form.get_by_role("button", name="Save the calibration").click()
    page.locator("#calibrations").get_by_role("cell", name="yard").wait_for()
    page.goto(home)
    verdict_line(page, "no known load was swept")


def test_calibration_of_the_wrong_span_and_a_stale_one_are_caught(proven):
    page = proven
    home = page.url
    write_claim(page)
    step(page, "Bench")
    page.get_by_label("From", exact=True).fill("15")
    page.get_by_label("To", exact=True).fill("14")
    page.get_by_role("button", name="Save the calibration").click()
    page.get_by_role("alert").filter(has_text="must be above its lower end").wait_for()
    assert page.get_by_label("From", exact=True).input_value() == "15"
    record_calibration(page, "14.1 MHz", "15 MHz")
    page.goto(home)
    drop(page, "yard.s1p", touchstone())
    verdict_line(page, "calibrate over the whole")
    assert "Calibration failed" in page.locator("#slip").inner_text()

    step(page, "Bench")
    record_calibration(page, done="2026-05-29T10:00")
    page.goto(home)
    put(page, "Day and time the sweep was taken", "2026-05-31 11:00")
    page.locator("#slip").get_by_label("Calibration of the sweep").select_option(index=0)
    verdict_line(page, "2 days old when the sweep was made")


def open_line(length, loss=1.0):
    line = find_line_type("RG-213")
    f = np.linspace(1e6, 100e6, 401)
    delay = length / (LIGHT_M_PER_S * line.velocity)
    return Sweep(f, move_plane(np.ones(f.size, dtype=complex), f, -loss * line.loss_db(f, length), -delay))


def test_bad_cable_is_caught_and_its_sweep_shows_nothing(proven):
    page = proven
    home = page.url
    write_claim(page)
    page.get_by_role("link", name="Equipment").click()
    page.get_by_role("button", name="Add a feed line").click()
    page.get_by_label("Type of Another feed line").wait_for()
    put(page, "Type of Another feed line", "RG-213")
    put(page, "Length, m of Another feed line", "20")
    put(page, "Name of Another feed line", "Old line")
    page.goto(home)
    with answered(page, "**/plane"):
        page.locator("#case").get_by_label("Reference plane").select_option("shack")
    pick(page, "Feed line of the setup", "Old line")
    judged_by(page, "Evidence needs")
    pick(page, "Evidence needs", "stated")
    pick(page, "Calibration of new sweeps", "at_plane")
    drop(page, "yard.s1p", touchstone())
    verdict_line(page, "Loss in the feed line lowers the SWR")

    step(page, "Bench")
    add_check(page, "cable", open_line(20, loss=2.5), "line.s1p")
    page.locator(".check-words", has_text="Bad: it loses").wait_for()
    assert page.locator("article.check.bad").count() == 1
    page.goto(home)
    verdict_line(page, "Old line is bad")

    step(page, "Bench")
    take_out(page)
    add_check(page, "cable", open_line(20), "line.s1p")
    page.locator(".check-words", has_text="No fault found: 20.0 m").wait_for()
    page.goto(home)
    page.locator("#slip", has_text="referred to the connector through 20.0 m of line").wait_for()


def test_pad_is_measured_from_typed_figures_and_differs_from_its_label(proven):
    page = proven
    home = page.url
    page.get_by_role("link", name="Equipment").click()
    page.get_by_role("button", name="Add a pad").click()
    page.get_by_label("Label, dB of Another pad").wait_for()
    put(page, "Label, dB of Another pad", "40")
    page.goto(f"{home}/bench")
    form = page.locator("#new-check")
    form.get_by_label("What").select_option("pad")
    form.get_by_label("Fundamental").fill("146 MHz")
    form.get_by_label("Or type the levels without and with the pad").fill("146 MHz -10 -51; 730 MHz low -52.5")
    form.get_by_role("button", name="Save the check").click()
    form.get_by_role("alert").filter(has_text="is not a frequency and two levels").wait_for()
    form.get_by_label("Or type the levels without and with the pad").fill("146 MHz -10 -51; 730 MHz -10.5 -52.5")
    form.get_by_role("button", name="Save the check").click()
    page.locator(".check-words", has_text="41.00 dB at 146 MHz").wait_for()
    assert "1.0 dB off: use the measured figures" in page.locator(".check-words").inner_text()


def test_evaluation_goes_out_and_comes_in_again(proven, tmp_path):
    page = proven
    write_claim(page)
    drop(page, "yard.s1p", touchstone())
    page.get_by_text("Was the analyzer calibrated").wait_for()
    with page.expect_download() as download:
        page.get_by_role("link", name="Export this evaluation").click()
    path = tmp_path / "case.zip"
    download.value.save_as(path)
    page.goto("/")
    page.get_by_label("Import an evaluation").set_input_files(path)
    page.wait_for_url("**/e/*")
    page.locator("#slip", has_text="yard.s1p").wait_for()
    path.write_bytes(path.read_bytes()[:200])
    page.goto("/")
    page.get_by_label("Import an evaluation").set_input_files(path)
    page.get_by_role("heading", name="case.zip was rejected").wait_for()


def test_wrong_file_for_a_check_is_refused_with_everything_typed_still_there(proven):
    page = proven
    step(page, "Bench")
    record_calibration(page)
    form = page.locator("#new-check")
    form.get_by_label("Note").fill("by the window")
    form.locator("#check-files").set_input_files(
        {"name": "photo.s1p", "mimeType": "text/plain", "buffer": b"# MHz S RI R 50\n1 x 0\n"}
    )
    form.get_by_role("button", name="Save the check").click()
    page.get_by_role("alert").filter(has_text="line 2, column 3").wait_for()
    assert form.get_by_label("Note").input_value() == "by the window"


# -- Claims and case -------------------------------------------------------------------------------------------------


def test_leaflet_against_box_is_pointed_out_and_gain_is_outside_this_bench(proven):
    page = proven
    write_claim(page, "1.5", "20m", "box")
    for text, source in (("SWR < 2 20m", "leaflet"), ("choke 5000 ohm 40m", "box"), ("gain 2 dBi", "box")):
        page.get_by_label("New claim", exact=True).fill(text)
        page.get_by_label("Source of the new claim").fill(source)
        with answered(page, "**/claims"):
            page.get_by_role("button", name="Add claim", exact=True).click()
    page.get_by_text("box says 1.5:1, leaflet says 2:1 on 20m").wait_for()
    ledger = page.locator("#claims").inner_text()
    assert "Outside this bench" in ledger


def test_photograph_goes_into_the_report_without_its_position(proven, browser):
    from tests.formats.test_equipment_and_traces import photograph

    page = proven
    home = page.url
    write_claim(page)
    judged_by(page, "Evidence needs")
    pick(page, "Evidence needs", "stated")
    pick(page, "Calibration of new sweeps", "at_plane")
    page.locator("#case form.add-picture input[type=file]").set_input_files(
        [
            {"name": "box.jpg", "mimeType": "image/jpeg", "buffer": photograph(size=(2000, 1000))},
            {"name": "not.jpg", "mimeType": "image/jpeg", "buffer": b"GIF89a"},
        ]
    )
    page.get_by_role("alert").filter(has_text="not.jpg was rejected").wait_for()
    put(page, "Caption of the picture", "What was in the box")
    put(page, "Price, if paid: Sample 1", "34")
    pick(page, "How the sample was obtained", "bought")
    drop(page, "yard.s1p", touchstone())
    verdict_line(page, "Pass")
    page.goto(f"{home}/report")
    page.get_by_role("button", name="Publish").click()
    page.wait_for_url("**/r/*")
    stranger = browser.new_context()
    other = stranger.new_page()
    other.goto(page.url)
    image = other.get_by_role("img", name="What was in the box")
    image.scroll_into_view_if_needed()
    assert image.evaluate("async (i) => { await i.decode(); return i.naturalWidth; }") == 1600
    assert "bought by the team, for 34" in other.content()
    assert "word was enough that the analyzer was calibrated" in other.content()
    stranger.close()
