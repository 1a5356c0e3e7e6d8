"""From a claim to a published report on a handheld: path, capture, overload test, filter, rule sets."""

import json
import re

import numpy as np
import pytest

from levelmoor.instruments.stand_ins.instruments import stand_ins
from levelmoor.instruments.stand_ins.server import running
from levelmoor.records import tables as t
from levelmoor.web.live.runs import VARIABLE
from tests.browser.steps import answered, begin_evaluation, hold_back
from tests.conftest import sign_in

PEAKS = "146 MHz -3.3; 292 MHz -28.11; 438 MHz -53.5; 584 MHz -80; 730 MHz -85"
OFFSET = "100 MHz 40; 800 MHz 40"


@pytest.fixture
def radio(page, member, maker):
    """An empty evaluation of a handheld, with a spectrum analyzer whose input and noise are written down."""
    with maker.begin() as session:
        session.add(
            t.Instrument(
                team_id=member.team_id, name="Spectrum", instrument_class="spectrum", max_input_dbm=20, noise_dbm=-110,
                noise_rbw_hz=1e4, second_intercept_dbm=60, third_intercept_dbm=40,
            )
        )  # fmt: skip
    begin_evaluation(page, maker, member, "Handheld")
    page.get_by_label("New claim", exact=True).fill("harmonics 60 dB 2m 5 W FM")
    page.get_by_label("Source of the new claim").fill("leaflet")
    page.get_by_role("button", name="Add claim", exact=True).click()
    page.locator("tbody.claim").first.wait_for()
    page.goto(page.url.split("?")[0] + "/emissions")
    choose_rules(page, "us-97.307")
    return page


def choose_rules(page, *wanted):
    for rule in ("us-97.307", "itu-amateur-a"):
        box = page.locator(f"input[name=rules][value='{rule}']")
        if box.is_checked() != (rule in wanted):
            with answered(page, "**/rules"):
                page.locator("label.pickable", has_text=rule).click()


def capture_levels(page, levels=PEAKS, offset=OFFSET, carrier="146 MHz"):
    page.locator("[name=carrier]").fill(carrier)
    page.locator("[name=offset]").fill(offset)
    page.locator("[name=instrument]").select_option(label="Spectrum")
    page.get_by_label("or type the levels as the analyzer shows them, dBm").fill(levels)
    with answered(page, "**/captures"):
        page.get_by_role("button", name="Add").click()


def test_typed_levels_of_a_radio_that_fails_to_the_published_report(radio):
    page = radio
    capture_levels(page)
    part = page.get_by_label("us-97.307 at 146.000 MHz")
    part.get_by_text("Smallest margin −27.9 dB at harmonic 2").wait_for()
    second = part.locator("tbody tr").first
    assert "Fail" in second.inner_text()
    assert "11.9" in second.inner_text()
    here = page.get_by_role("navigation", name="Order of work").locator("[aria-current=page]")
    assert re.search("Emissions\\s+(One|1) capture, Fail", here.inner_text())
    assert page.get_by_label("Instrument on the bench").locator(":checked").inner_text() == "Spectrum"
    page.goto(page.url.replace("/emissions", "/report"))
    page.get_by_role("heading", name="Emissions").wait_for()
    page.get_by_text("Whoever transmits with it is responsible").first.wait_for()
    page.get_by_role("button", name="Publish").click()
    page.get_by_text("Revision 1").first.wait_for()


def test_a_radio_that_passes_and_a_rule_set_without_a_figure(radio):
    page = radio
    capture_levels(page, "146 MHz -2; 292 MHz -67.8; 438 MHz -80; 584 MHz -85; 730 MHz -90")
    page.get_by_label("us-97.307 at 146.000 MHz").locator(".verdict-line", has_text="Pass").wait_for()
    capture_levels(page, "446 MHz -3; 892 MHz -80; 1338 MHz -85", "400 MHz 40; 2300 MHz 40", "446 MHz")
    page.get_by_label("us-97.307 at 446.000 MHz").get_by_text("good engineering practice").first.wait_for()
    choose_rules(page, "us-97.307", "itu-amateur-a")
    page.get_by_label("itu-amateur-a at 446.000 MHz").wait_for()


def test_the_path_says_what_is_wrong_before_anything_is_keyed(radio):
    page = radio
    problems = page.locator(".path-problems")
    problems.get_by_text("straight into the analyzer").wait_for()
    page.locator("[name=offset]").fill("100 MHz 20; 800 MHz 20")
    page.get_by_label("Power, W").fill("50")
    page.get_by_label("Duty cycle, %").fill("30")
    problems.get_by_text("more pad").wait_for()
    page.locator("[name=offset]").fill("100 MHz 42; 800 MHz 42")
    page.get_by_label("Power, W").fill("5")
    page.get_by_label("Mode").fill("FM")
    page.locator(".path-good").wait_for()


@pytest.mark.parametrize(
    ("carrier", "levels", "words"),
    [
        ("x", PEAKS, "is not a frequency"),
        ("146 MHz", "292 MHz", "is not a frequency with a figure"),
        ("200 MHz", PEAKS, "no fundamental within"),
    ],
)
def test_what_is_typed_wrong_is_said_and_stays(radio, carrier, levels, words):
    page = radio
    capture_levels(page, levels, carrier=carrier)
    page.get_by_role("alert").get_by_text(re.compile(words, re.IGNORECASE)).first.wait_for()
    if carrier != "200 MHz":  # what was refused is where it is seen
        assert 0 <= page.locator("#emissions-work > [role=alert]").bounding_box()["y"] < page.viewport_size["height"]
        assert page.locator("[name=carrier]").input_value() == carrier
        assert page.get_by_label("or type the levels as the analyzer shows them, dBm").input_value() == levels


def test_what_is_typed_while_another_answer_is_on_its_way_stays_and_is_shown(radio):
    page = radio
    go_on = hold_back(page, "**/rules")
    page.locator("label.pickable", has_text="itu-amateur-a").click()
    page.locator("[name=carrier]").fill("nowhere")
    go_on()
    page.locator("input[name=rules][value='itu-amateur-a'][checked]").wait_for(state="attached")
    page.locator("#path-look").get_by_text("is not a frequency").wait_for()
    assert page.locator("[name=carrier]").input_value() == "nowhere"


def spectrum(down=(24.8, 50.2, 70, 80), pad=40.0, near=False):
    f = np.linspace(144.5e6, 147.5e6, 601) if near else np.linspace(70e6, 790e6, 1441)
    level = np.full(f.size, -105.0) + np.random.default_rng(3).standard_normal(f.size)
    for at, dbm in [(146e6, 36.7)] + [(n * 146e6, 36.7 - d) for n, d in enumerate(() if near else down, 2)]:
        level[np.argmin(np.abs(f - at))] = dbm - pad
    return "\n".join(("kanal;stufe", *(f"{x / 1e6:.3f};{v:.2f}" for x, v in zip(f, level, strict=True))))


def test_a_file_whose_columns_are_not_named_and_a_filter_that_is_foreseen(radio):
    page = radio
    page.locator("[name=carrier]").fill("146 MHz")
    page.locator("[name=offset]").fill(OFFSET)
    page.locator("[name=instrument]").select_option(label="Spectrum")
    file = {"name": "scan.csv", "mimeType": "text/csv", "buffer": spectrum().encode()}
    page.locator("#files").set_input_files(file)
    page.get_by_role("button", name="Add").click()
    page.locator("[name=level_column]").select_option(label="stufe")
    page.get_by_role("button", name="Add").click()  # the file is still chosen
    page.get_by_label("us-97.307 at 146.000 MHz").locator(".verdict-line", has_text="Fail").wait_for()
    page.locator("#files").set_input_files({**file, "name": "again.csv"})
    page.get_by_role("button", name="Add").click()  # and the columns are known
    page.get_by_label("Name of again").wait_for()
    beside = {**file, "name": "beside.csv", "buffer": spectrum(near=True).encode()}
    page.locator("[name=rbw]").fill("1")
    page.locator("#files").set_input_files(beside)
    page.get_by_role("button", name="Add").click()  # the carrier alone, resolved
    page.get_by_label("Name of beside").wait_for()
    f = np.linspace(50, 800, 76)
    loss = 0.3 + 10 * np.log10(1 + (f / 180) ** 14)
    rows = [f"{x:.1f} 0 0 {10 ** (-d / 20):.6e} 0 {10 ** (-d / 20):.6e} 0 0 0" for x, d in zip(f, loss, strict=True)]
    text = "\n".join(("# MHz S MA R 50", *rows, "")).encode()
    page.get_by_label("Preview a filter").set_input_files(
        {"name": "low-pass.s2p", "mimeType": "text/plain", "buffer": text}
    )
    page.get_by_text("as expected with low-pass").first.wait_for()
    page.locator(".verdict-line", has_text="as expected").get_by_text("Pass, expected").wait_for()


def test_a_unit_of_level_that_nothing_names_is_asked_before_publishing(radio):
    page = radio
    home = page.url.removesuffix("/emissions")
    text = "MHz;Level\n146;-33\n292;-100\n438;-110\n584;-110\n730;-110\n"
    page.locator("[name=carrier]").fill("146 MHz")
    page.locator("[name=offset]").fill(OFFSET)
    page.locator("#files").set_input_files({"name": "peaks.csv", "mimeType": "text/csv", "buffer": text.encode()})
    page.get_by_role("button", name="Add").click()
    page.get_by_text("does not name the unit of its levels; dBm is assumed").wait_for()
    page.goto(f"{home}/report")
    page.get_by_text("Choose the unit of the levels in peaks.csv.").wait_for()
    page.goto(f"{home}/emissions")
    page.locator("label.asked select").select_option("dBW")
    page.locator(".verdict-line", has_text="37.0 dBm at the radio").first.wait_for()
    assert page.locator("label.asked").count() == 0


@pytest.fixture
def live_radio(page, member, maker, monkeypatch):
    """A keyed stand-in behind the team's live spectrum analyzer, and an evaluation opened for it."""
    with running(stand_ins()[2]) as server:
        monkeypatch.setenv(VARIABLE, server.address)
        with maker.begin() as session:
            session.add(
                t.Instrument(
                    team_id=member.team_id, name="Stand-in", instrument_class="spectrum", max_input_dbm=20, high_hz=1e9,
                    address=server.address, driver="Generic spectrum analyzer",
                )
            )  # fmt: skip
        begin_evaluation(page, maker, member, "Handheld")
        server.stand_in.radio.carrier_hz = 146e6
        yield server.stand_in


def test_live_from_the_stand_in_with_the_overload_test(page, live_radio):
    page.goto(page.url.split("?")[0] + "/emissions")
    choose_rules(page, "us-97.307")
    page.locator("[name=carrier]").fill("146 MHz")
    page.locator("[name=rbw]").fill("100")
    for pad in (40, 50):
        live_radio.input.pad_db = float(pad)
        page.locator("[name=offset]").fill(f"70 MHz {pad}; 800 MHz {pad}")
        with answered(page, "**/live"):
            page.get_by_role("button", name="Capture from the analyzer now").click()
    part = page.get_by_label(re.compile("us-97.307 at 146"))
    part.get_by_text("it comes from the radio").first.wait_for()
    assert "Fail" in part.locator("tbody tr").first.inner_text()


def test_the_live_view_of_a_spectrum_follows_the_key_and_leads_to_the_capture(page, live_radio):
    page.goto(page.url.split("?")[0] + "/live")
    page.locator("[data-n=where]", has_text="146.000 MHz, at the analyzer").wait_for()
    page.locator("[data-n=n2_at]", has_text="at 292.000 MHz").wait_for()
    assert float(page.locator("[data-n=n2]").inner_text().split()[0].replace("−", "-")) < -20
    live_radio.radio.keyed = False
    page.locator("[data-n=where]", has_text="no radio is keyed").wait_for()
    page.get_by_role("link", name="Capture it with its path").click()
    page.get_by_role("button", name="Capture from the analyzer now").wait_for()


def test_the_keying_timer_is_short_on_and_long_off(radio):
    page = radio
    page.locator("[data-on]").fill("1")
    page.get_by_label("Duty cycle, %").fill("25")
    page.get_by_role("button", name="Start").click()
    page.locator("[data-timer][data-state=on]", has_text="Key now").wait_for()
    page.locator("[data-timer][data-state=off]", has_text="Let it cool").wait_for()
    page.get_by_role("button", name="Stop").click()
    page.locator("[data-face]", has_text="Ready").wait_for()


def test_a_rule_set_of_the_teams_own_is_drawn_while_it_is_edited(radio, tmp_path):
    page = radio
    home = page.url
    page.goto("/team/rules")
    drawn = page.locator("#preview")
    drawn.locator("tr", has_text="5 W").get_by_text("−16.0 dBm").first.wait_for()
    page.get_by_label("Terms of row 1", exact=True).fill("2.5 µW; 60 dB")
    drawn.locator("tr", has_text="5 W").get_by_text("never required to be below 10 µW").first.wait_for()
    page.get_by_label("Carriers from of row 1", exact=True).fill("430 MHz to")
    drawn.get_by_role("alert").get_by_text("Row 1, Carriers from").wait_for()
    page.get_by_role("button", name="Save the rule set").click()
    page.get_by_role("alert").get_by_text("Id is empty").wait_for()
    assert page.get_by_label("Terms of row 1", exact=True).input_value() == "2.5 µW; 60 dB"
    page.get_by_label("Carriers from of row 1", exact=True).fill("144 MHz")
    page.get_by_label("Id", exact=True).fill("our-own")
    page.get_by_label("Title").fill("Stricter")
    page.get_by_role("button", name="Save the rule set").click()
    page.get_by_text("our-own is saved").wait_for()
    with page.expect_download() as given:
        page.locator("tr", has_text="our-own").get_by_role("link", name="JSON").click()
    rules = json.loads(given.value.path().read_text("utf-8"))
    other = tmp_path / "other.json"
    other.write_text(json.dumps({**rules, "id": "another"}))
    page.get_by_label("Import a JSON file").set_input_files(other)
    page.get_by_text("another is saved").wait_for()
    page.goto(home)
    with answered(page, "**/rules"):
        page.locator("label.pickable", has_text="our-own").click()
    capture_levels(page)
    page.get_by_label("our-own at 146.000 MHz").wait_for()


def test_what_comes_along_is_a_start_and_stays_as_it_is(radio):
    page = radio
    page.goto("/team/rules")
    page.locator("tr", has_text="us-97.307").get_by_role("link", name="Start from it").click()
    assert page.get_by_label("Terms of row 2", exact=True).input_value() == "25 µW; 40 dB"
    page.get_by_label("Id", exact=True).fill("us-97.307")
    page.get_by_role("button", name="Save the rule set").click()
    page.get_by_role("alert").get_by_text("is built in and cannot be changed").wait_for()


def test_both_demo_handhelds_and_a_second_screen(page, demo):
    sign_in(page, demo)
    for product, verdict in (("Carrick Five", "Fail"), ("Fellside Two", "Pass")):
        page.goto("/")
        page.get_by_role("link", name=product).click()
        page.get_by_role("heading", name=product).first.wait_for()
        page.goto(page.url.split("?")[0] + "/emissions")
        page.locator(".carrier-part .verdict-line").first.get_by_text(verdict, exact=True).wait_for()
