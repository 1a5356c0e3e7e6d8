"""Readings on a telephone, the live view, files of every kind, and comparing, each from an empty evaluation."""

import json
import re
from contextlib import contextmanager

import numpy as np
import pytest

from levelmoor.core.rf.reflection import gamma_from_impedance, swr_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.formats.touchstone_out import write_s1p
from levelmoor.instruments.driver import driver_text, shipped_drivers
from levelmoor.instruments.stand_ins.instruments import Fault, stand_ins
from levelmoor.instruments.stand_ins.server import running
from levelmoor.records import tables as t
from levelmoor.web.live.runs import VARIABLE
from tests.browser.steps import answered, begin_evaluation, carried, drop, go_to
from tests.conftest import sign_in
from tests.sweeps import rlc


@pytest.fixture
def case(page, maker, member):
    """An empty evaluation of one's own, with a claim on 40 m."""
    return begin_evaluation(page, maker, member, limit=2.0, windows="40m")


@contextmanager
def in_a_hand(browser, live, member, **more):
    context = browser.new_context(viewport={"width": 390, "height": 844}, base_url=live, has_touch=True, **more)
    page = context.new_page()
    page.set_default_timeout(30_000)
    sign_in(page, member)
    yield page
    context.close()


@pytest.fixture
def telephone(browser, live, member):
    """Another screen of the same team, in a hand."""
    with in_a_hand(browser, live, member) as page:
        yield page


@pytest.fixture
def telephone_without_worker(browser, live, member):
    """One whose requests can be stopped on their way: those of a service worker cannot."""
    with in_a_hand(browser, live, member, service_workers="block") as page:
        yield page


def wire(f0, q=14.0, r=50.0):
    f = np.linspace(6.6e6, 7.7e6, 301)
    return Sweep(f, gamma_from_impedance(rlc(f, f0, q, r), 50.0))


def touchstone(sweep):
    return write_s1p(sweep)


def drop_all(page, files):
    transfer = page.evaluate_handle(
        """(files) => { const t = new DataTransfer();
        for (const [name, content] of files) t.items.add(new File([content], name, {lastModified: 1788600000000}));
        return t; }""",
        files,
    )
    with answered(page, "**/sweeps"):
        page.dispatch_event("body", "drop", {"dataTransfer": transfer})


def pick(page, label, option):
    with answered(page, "**/cell/**"):
        page.get_by_label(label, exact=True).select_option(option)


# -- Readings ------------------------------------------------------------------------------------------------------


def type_reading(page, mhz, swr):
    page.get_by_label("MHz", exact=True).click()
    for key in (*mhz, "Next field", *swr):
        page.get_by_role("group", name="Keys").get_by_role("button", name=key, exact=True).click()
    page.get_by_role("button", name="Save").click()


def test_readings_typed_by_thumb_survive_a_lost_connection_and_are_kept_once(case, telephone, maker):
    page = telephone
    page.goto(case.url.split("?")[0] + "/readings")
    assert page.get_by_label("MHz", exact=True).input_value() == "7.000"
    type_reading(page, "7.000", "1.8")
    page.locator(".reading-lines li").first.wait_for()
    assert page.get_by_label("MHz", exact=True).input_value() == "7.020"
    page.context.set_offline(True)
    type_reading(page, "7.020", "1.6")
    page.get_by_text("entry waits to be sent").wait_for()
    assert page.locator("#waiting p").count() == 1
    page.context.set_offline(False)
    page.locator(".reading-lines li").nth(1).wait_for()
    page.get_by_text("Everything is saved.").wait_for()
    assert page.locator("#waiting p").count() == 0
    with maker() as session:
        sheet = session.query(t.ReadingSheet).filter_by(evaluation_id=int(case.url.split("/e/")[1].split("?")[0])).one()
        assert [r.typed["swr"] for r in sheet.readings] == ["1.8", "1.6"]


def test_what_waits_outlives_the_page_and_comes_once(case, telephone_without_worker):
    page = telephone_without_worker
    page.goto(case.url.split("?")[0] + "/readings")
    page.route("**/changes", lambda route: route.abort())
    type_reading(page, "7.000", "1.8")
    page.get_by_text("entry waits to be sent").wait_for()
    page.unroute("**/changes")
    page.reload()
    page.locator(".reading-lines li").wait_for()
    page.reload()
    page.locator(".reading-lines li").wait_for()
    assert page.locator(".reading-lines li").count() == 1


def test_the_page_opens_again_without_a_signal(case, telephone):
    page = telephone
    page.goto(case.url.split("?")[0] + "/readings")
    carried(page)
    page.context.set_offline(True)
    page.reload()
    type_reading(page, "7.000", "1.8")
    page.get_by_text("entry waits to be sent").wait_for()
    page.context.set_offline(False)
    page.get_by_text("Everything is saved.").wait_for()


def test_a_slip_is_asked_in_place_and_its_answer_is_kept(case, telephone):
    page = telephone
    page.goto(case.url.split("?")[0] + "/readings")
    for mhz, swr in (("7.000", "1.4"), ("7.020", "1.3"), ("71.40", "1.3")):
        type_reading(page, mhz, swr)
        page.locator(".reading-lines li", has_text=mhz.rstrip("0")).first.wait_for()
    page.locator("#lines", has_text="did you mean 7.14 MHz?").wait_for()
    page.get_by_text("2 readings count, 1 waits for an answer").wait_for()
    page.get_by_role("button", name="Change it to 7.14 MHz").click()
    page.get_by_text("typed first: frequency 71.40").wait_for()
    page.get_by_text("3 readings count").wait_for()


def test_a_doubt_is_shown_while_it_is_typed(case, telephone):
    page = telephone
    page.goto(case.url.split("?")[0] + "/readings")
    page.get_by_label("MHz", exact=True).fill("710")
    page.get_by_label("SWR", exact=True).fill("1.5")
    page.locator("#doubt", has_text="did you mean 7.1 MHz?").wait_for()


def test_a_pasted_table_joins_into_a_sweep_that_shows_a_spot_and_not_a_window(case):
    page = case
    write = page.get_by_label("New claim", exact=True)
    write.fill("SWR < 2 7.1 MHz")
    page.get_by_label("Source of the new claim").fill("box")
    page.get_by_role("button", name="Add claim", exact=True).click()
    page.locator("tbody.claim").nth(1).wait_for()
    home = page.url.split("?")[0]
    page.goto(home + "/readings")
    page.locator("summary", has_text="Type or paste a table").click()
    page.get_by_label("One reading per line").fill("7.000 1.8\n7.100 x\n7.200 1.9")
    page.get_by_role("button", name="Add the table").click()
    page.get_by_text("Line 2, column 7").wait_for()
    page.get_by_label("One reading per line").fill("7.000 1.8\n7.05 1.3\n7.100 1.2\n7.15 1.4\n7.200 1.9")
    page.get_by_role("button", name="Add the table").click()
    page.get_by_text("5 readings count").wait_for()
    page.get_by_role("button", name="Join the readings into a sweep").click()
    page.get_by_role("link", name="See what it shows").click()
    verdicts = page.locator(".marks b")
    pick(page, "Calibration of the sweep", "at_plane")
    page.locator("#slip", has_text="readings").wait_for()
    page.reload()
    assert [v.inner_text().strip() for v in verdicts.all()] == ["Not shown", "Pass"]
    page.locator("#usability, .uses", has_text="Within 2:1 at 5 of 5 readings").first.wait_for()


# -- Live ----------------------------------------------------------------------------------------------------------


@pytest.fixture
def analyzer(monkeypatch, maker, member):
    """A stand-in that answers, allowed by the installation, on the team's instrument."""
    with running(stand_ins()[0]) as server:
        monkeypatch.setenv(VARIABLE, server.address)
        with maker.begin() as session:
            session.add(
                t.Instrument(
                    team_id=member.team_id,
                    name="Stand-in",
                    points=401,
                    address=server.address,
                    driver="Generic one-port analyzer",
                )
            )
        yield server.stand_in


@pytest.fixture
def two_metres(page, maker, member, analyzer):
    return begin_evaluation(page, maker, member, limit=2.0, windows="2m")


def test_the_live_view_follows_on_two_screens_and_keeps_what_is_shown(two_metres, telephone):
    page, other = two_metres, telephone
    home = page.url.split("?")[0]
    page.goto(home + "/live")
    page.locator(".live-status", has_text="Sweeping").wait_for()
    page.locator(".live-figure .only-wide svg").wait_for()
    other.goto(home + "/live")
    other.locator(".live-figure .only-narrow svg").wait_for()
    assert re.match(r"\d\.\d\d", other.locator("[data-n=best]").inner_text())
    other.get_by_role("button", name="Keep").click()
    other.get_by_role("link", name="See what it shows").click()
    other.locator("#slip", has_text="live-").wait_for()
    page.get_by_role("button", name="Hold").click()
    page.get_by_text("Held at").wait_for()
    page.get_by_role("button", name="Mark").click()
    page.locator(".live-figure .ghost").first.wait_for(state="attached")


def test_an_instrument_that_fails_says_so_and_is_tried_again(two_metres, analyzer):
    page = two_metres
    page.goto(page.url.split("?")[0] + "/live")
    page.locator(".live-status", has_text="Sweeping").wait_for()
    analyzer.fault, analyzer.times = Fault.GARBAGE, 3
    page.locator(".live-status.wrong", has_text="Trying again").wait_for()
    page.locator(".live-status", has_text="Sweeping").wait_for()


def test_a_run_of_the_plan_sets_the_span_and_its_sweep_lands_in_its_place(two_metres):
    page = two_metres
    home = page.url.split("?")[0]
    page.goto(home)
    pick(page, "Instrument on the bench", "Stand-in")
    pick(page, "Calibration of new sweeps", "at_plane")
    page.goto(home + "/live?run=next")
    low = page.get_by_label("From, MHz").input_value()
    page.locator(".live-figure .only-wide svg").wait_for()
    page.wait_for_function(
        "low => Math.abs(document.querySelector('.live-figure svg')?.dataset.low / 1e6 - low) < 1e-3", arg=float(low)
    )
    page.get_by_role("button", name="Keep").click()
    page.get_by_role("link", name=re.compile("next")).wait_for()
    page.get_by_role("link", name="See what it shows").click()
    page.locator("#slip", has_text="live-").wait_for()


def test_calibrating_from_the_live_view_goes_on_record(two_metres):
    page = two_metres
    home = page.url.split("?")[0]
    page.goto(home + "/live")
    page.locator(".live-status", has_text="Sweeping").wait_for()
    page.locator("summary", has_text="Instrument, calibration").click()
    for key, said in (("Open", "Open measured"), ("Short", "Short measured"), ("Load", "Load measured")):
        page.get_by_role("button", name=key, exact=True).click()
        page.get_by_text(said).first.wait_for()
    page.get_by_role("button", name="Compute and record").click()
    page.get_by_text("It is on record").wait_for()
    page.goto(home + "/bench")
    page.locator("#calibrations", has_text="on the instrument, from the live view").wait_for()


def test_settings_refuse_other_hosts_and_take_a_driver(two_metres):
    page = two_metres
    page.goto("/equipment/live")
    page.get_by_label("Address of Stand-in").fill("8.8.8.8:80")
    page.locator("form", has=page.get_by_label("Address of Stand-in")).get_by_role("button").click()
    page.get_by_role("alert").get_by_text("neither a loopback nor a private address").wait_for()
    own = driver_text(shipped_drivers()["Generic one-port analyzer"]).replace("Generic one-port", "Our own")
    page.get_by_label("Add a driver").fill(own.replace("INIT:IMM", "INIT:IMM\\n"))
    page.get_by_role("button", name="Add the driver").click()
    page.get_by_role("alert").get_by_text("a command must be one line").wait_for()
    page.get_by_label("Add a driver").fill(own)
    page.get_by_role("button", name="Add the driver").click()
    page.get_by_text("Our own analyzer was added").wait_for()
    assert "Our own analyzer" in page.get_by_label("Driver of Stand-in").inner_text()


# -- Files ---------------------------------------------------------------------------------------------------------


def test_several_files_at_once_say_what_each_was_taken_for_and_repeats_are_recognised(case):
    page = case
    files = [[f"wind-{n}.s1p", touchstone(wire(7.1e6 + 2e3 * n))] for n in range(3)]
    drop_all(page, [*files, ["same.s1p", files[0][1]]])
    table = page.get_by_label("How the files were read")
    page.get_by_text("is identical to wind-0").wait_for()
    assert table.locator("tbody").count() == 3
    assert table.get_by_text("one of 3 repeats").count() == 3
    with answered(page, "**/cell/**"):
        table.get_by_label("Calibration of wind-1.s1p").select_option("at_plane")
    page.locator("#slip", has_text="one of 3").wait_for()


def test_columns_that_are_not_named_are_said_once_and_remembered(case):
    page = case
    f = np.linspace(6.6e6, 7.7e6, 101)
    swr = swr_from_gamma(wire(7.1e6).gamma_at(f))
    rows = "\n".join(f"{i};{x / 1e6:.4f};{s:.3f};21" for i, (x, s) in enumerate(zip(f, swr, strict=True)))
    drop(page, "logger.csv", f"no;kanal;vsr;temp\n{rows}\n")
    waiting = page.locator(".waiting-file", has_text="logger.csv")
    waiting.wait_for()
    waiting.get_by_role("button", name="Read it this way").click()
    waiting.get_by_text("choose the frequency column").wait_for()
    waiting.get_by_label("What kanal is").select_option("frequency")
    waiting.get_by_label("What vsr is").select_option("swr")
    waiting.get_by_role("button", name="Read it this way").click()
    page.locator("#slip", has_text="logger").wait_for()
    drop(page, "another.csv", f"no;kanal;vsr;temp\n{rows}\n1000;9.0;1.5;20\n")
    page.locator("#slip", has_text="another").wait_for()
    assert page.locator(".waiting-file").count() == 0


def test_a_sweep_goes_out_as_touchstone_and_csv_and_comes_in_the_same(case):
    page = case
    drop(page, "wire.s1p", touchstone(wire(7.1e6)))
    page.locator("#slip", has_text="wire").wait_for()
    for name in ("Touchstone", "CSV"):
        with page.expect_download() as download:
            page.locator("#slip").get_by_role("link", name=name).click()
        text = download.value.path().read_text()
        assert len(text.splitlines()) > 301
    with answered(page, "**/sweeps"):
        drop(page, "out.csv", text)
    page.locator("#slip", has_text="out").wait_for()
    assert page.locator(".waiting-file, [role=alert]").count() == 0


def test_the_column_that_is_asked_about_is_in_sight_on_a_telephone(case, telephone):
    drop(case, "tenfold.csv", "MHz;SWR x10\n14.0;15\n14.1;16\n14.2;17\n")
    case.locator(".waiting-file").wait_for()
    telephone.goto(case.url)
    doubtful = telephone.locator(".waiting-file td select").last
    doubtful.wait_for()
    box = doubtful.bounding_box()
    assert box["x"] + box["width"] <= telephone.viewport_size["width"]


# -- Comparing -----------------------------------------------------------------------------------------------------


def same_but(page, setup, fact, value):
    form = page.locator("form.same-but", has=page.get_by_label(f"What is different from {setup}", exact=True))
    form.get_by_label("What is different").select_option(fact)
    form.get_by_label("New value in").fill(value)
    with answered(page, "**/copy"):
        form.get_by_role("button", name="Copy with this change").click()


def test_three_setups_from_drop_to_sentence(case):
    page = case
    page.get_by_label("Calibration of new sweeps").select_option("at_plane")
    drop_all(page, [[f"bare-{n}.s1p", touchstone(wire(7.1e6 + 800 * n))] for n in range(3)])
    page.locator("#slip", has_text="bare-2").wait_for()
    same_but(page, "As the maker says", "accessory", "choke")
    page.get_by_text("The same, but with choke.").wait_for()
    drop_all(page, [[f"choke-{n}.s1p", touchstone(wire(7.14e6 + 800 * n, q=20))] for n in range(3)])
    page.locator("#slip", has_text="choke-2").wait_for()
    same_but(page, "As the maker says", "height", "3 m")
    drop_all(page, [["low.s1p", touchstone(wire(7.1035e6))]])
    page.locator("#slip", has_text="low").wait_for()
    go_to(page, "Compare")
    answer = page.get_by_label("Answer")
    answer.get_by_text(re.compile("B against A: dip 40 kHz higher .* real for this mounting")).wait_for()
    answer.get_by_text("A choke that narrows the curve").wait_for()
    answer.get_by_text(re.compile("C against A: dip .* measurement error")).wait_for()
    answer.get_by_text("B against A: The same, but with choke.").wait_for()
    assert page.locator(".several-panel .only-wide path.curve").count() == 3
    read = page.locator("[data-curve=B] [data-read=swr]")
    before = read.inner_text()
    page.locator(".several-panel").focus()
    for _ in range(5):
        page.keyboard.press("PageUp")
    assert read.inner_text() != before


def test_figures_questions_and_zoom_are_one_gesture_each(case):
    page = case
    page.get_by_label("Calibration of new sweeps").select_option("at_plane")
    drop_all(page, [["one.s1p", touchstone(wire(7.1e6))], ["two.s1p", touchstone(wire(7.2e6))]])
    page.locator("#slip", has_text="two").wait_for()
    page.goto(page.url.split("?")[0] + "/compare")
    for figure, kind in (("Smith chart", "smith"), ("R and X", "rx"), ("Return loss", "loss")):
        page.locator("label.pickable", has_text=figure).click()
        page.locator(f".several-panel .only-wide svg[data-kind={kind}]").wait_for()
    page.get_by_text("Before and after", exact=True).click()
    page.locator("[data-curve=B]").wait_for()
    box = page.locator(".several-panel").bounding_box()
    page.mouse.move(box["x"] + 150, box["y"] + 150)
    page.mouse.down()
    page.mouse.move(box["x"] + 300, box["y"] + 150)
    page.mouse.up()
    page.wait_for_url(re.compile("low="))
    span = page.locator(".several-panel .only-wide svg")
    assert float(span.get_attribute("data-high")) - float(span.get_attribute("data-low")) < 0.5e6


def test_read_off_values_are_those_of_the_sweep(case):
    page = case
    drop_all(page, [["one.s1p", touchstone(wire(7.1e6))], ["two.s1p", touchstone(wire(7.2e6, r=80))]])
    page.locator("#slip", has_text="two").wait_for()
    page.goto(page.url.split("?")[0] + "/compare?q=times&view=whole")
    page.locator(".several-panel").focus()
    page.keyboard.press("Home")
    data = json.loads(page.locator(".several-panel").get_attribute("data-several"))
    assert len(data) == 2
    shown = float(page.locator("[data-curve=A] [data-read=swr]").inner_text())
    assert shown == pytest.approx(float(swr_from_gamma(wire(7.1e6).gamma[0])), rel=0.01)
