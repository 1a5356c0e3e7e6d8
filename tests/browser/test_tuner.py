"""A tuner in the browser: trials in the field without a signal, the grid and its verdict, dials that match a load."""

import pytest

from levelmoor.core.rf.window_text import parse_windows
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.article_state import windows_row
from tests.conftest import sign_in


@pytest.fixture
def tuner(page, maker, member):
    """A signed-in member with a tuner to be tried, its range claimed on one band."""
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), "Hill tuner")
        windows = windows_row(parse_windows("20m", 1))
        row.claims.append(
            t.Claim(quantity="tuner_range", limit=1.5, windows=windows, stated="16 to 150 Ω", source="box")
        )
        session.flush()
        case = row.id
    sign_in(page, member, f"/e/{case}/trials")
    return case


def try_one(page, outcome="Matched", after="1.2"):
    page.get_by_label("SWR after").fill(after)
    page.get_by_role("button", name="Transmit: start").click()
    page.get_by_role("button", name=outcome).click()


def test_trials_are_proposed_kept_without_a_signal_and_decide_the_claim(page, tuner):
    assert (
        page.get_by_label("Frequency in MHz").input_value(),
        page.get_by_label("Load", exact=True).input_value(),
    ) == ("14.174", "16")
    page.context.set_offline(True)
    try_one(page)
    page.get_by_text("16: waiting to be sent").or_(page.get_by_text("into 16: waits")).wait_for()
    assert page.get_by_label("Load", exact=True).input_value() == "49"  # the next one
    page.context.set_offline(False)
    page.evaluate("() => { dispatchEvent(new Event('online')) }")
    page.locator("#trial-lines li", has_text="16 Ω").wait_for()
    for load in ("49 Ω", "150 Ω"):
        try_one(page)
        page.locator("#trial-lines li", has_text=load).wait_for()
    page.goto(f"/e/{tuner}/tuner")
    assert "3 trials" in page.locator("#steps").inner_text()
    assert page.get_by_role("region", name="Bands by loads").locator("tbody td", has_text="1.2:1").count() == 3
    page.goto(f"/e/{tuner}")
    assert "Pass" in page.locator("#claims").inner_text()


def test_what_cannot_be_read_comes_back_with_why(page, tuner):
    page.get_by_label("Frequency in MHz").fill("14.2.5")
    try_one(page)
    page.locator("#refused p", has_text="is unclear").wait_for()
    page.get_by_text("Not everything was accepted").wait_for()
    page.get_by_role("button", name="Correct it").click()
    page.get_by_label("Frequency in MHz").fill("14.25")
    try_one(page)
    page.locator("#trial-lines li", has_text="14.250").wait_for()
    assert page.locator("#refused p").count() == 0


def test_a_match_without_its_swr_is_asked_for_at_once(page, tuner):
    page.get_by_role("button", name="Matched").click()
    assert "Read the SWR after the match" in page.locator("#doubt").inner_text()


def test_a_pasted_table_is_taken_whole_or_not_at_all(page, tuner):
    page.goto(f"/e/{tuner}/tuner")
    page.locator("#fold-trials summary").first.click()
    table = page.get_by_label("Paste a table")
    table.fill("Frequency MHz; Load; SWR after\n14.2; 16; 1.2\n14.2; 150; 0.7")
    page.get_by_role("button", name="Add them").click()
    page.get_by_text("line 3, column 3").wait_for()
    assert table.input_value().endswith("0.7")
    table.fill("Frequency MHz; Load; SWR after\n14.2; 16; 1.2\n14.2; 150; 1.7")
    page.get_by_role("button", name="Add them").click()
    page.get_by_role("region", name="Trials, latest first").wait_for()
    assert page.locator(".trials tbody tr").count() == 2


def test_dials_are_written_down_and_the_settings_of_a_load_computed(page, tuner):
    page.goto(f"/e/{tuner}/tuner")
    page.locator("#fold-network summary").first.click()
    page.get_by_label("Kind of the network").select_option("t")
    page.get_by_role("button", name="Add network").click()
    for knob, table in (("transmitter", "0 10; 100 250"), ("coil", "0 0.2; 100 28"), ("antenna", "0 10; 100 250")):
        cell = page.get_by_label(f"Table of {knob} in")
        cell.fill(table)
        with page.expect_response("**/knobs/**"):
            cell.blur()
    page.get_by_label("Match at, MHz").fill("7.1")
    page.locator("form.live-span").get_by_label("Load", exact=True).fill("25 - j100")
    page.get_by_role("button", name="Compute the dials").click()
    settings = page.get_by_role("region", name="Settings that match")
    settings.wait_for()
    assert settings.locator("tbody tr").count() >= 3
    assert "A match is not radiation." in page.locator("[id^=match-said]").inner_text()
    page.get_by_label("Table of coil in").fill("0 5; 100 4; 200 9")
    page.get_by_label("Table of coil in").blur()
    page.get_by_text("must rise all the way, or fall all the way on an inverted dial").wait_for()


def by_meter(page, reads, coil):
    """Key, read, unkey, with the coil where it stands."""
    dial = page.locator("[aria-label='Dial coil now']:visible")
    dial.fill(coil)
    page.get_by_role("button", name="Key", exact=True).click()
    assert dial.is_disabled()  # no knob moves while it is keyed
    page.get_by_role("button", name="Unkey").click()
    page.get_by_label("SWR read").fill(reads)
    page.get_by_label("SWR read").press("Enter")


@pytest.fixture
def by_hand(page, tuner):
    """The trials page of a tuner whose network is written down, matching by hand unfolded."""
    page.goto(f"/e/{tuner}/tuner")
    page.locator("#fold-network summary").first.click()
    for kind in ("t", "pi"):
        page.get_by_label("Kind of the network").select_option(kind)
        with page.expect_response("**/tuner/networks"):
            page.get_by_role("button", name="Add network").click()
    page.goto(f"/e/{tuner}/trials")
    page.locator("#by-meter summary").click()
    return page


def test_a_match_by_the_meter_tells_better_from_worse_and_becomes_a_trial(by_hand):
    way = by_hand.locator("#by-meter [data-way]")
    for reads, coil, words in (("2.4", "40", ""), ("1,4", "45", "better"), ("1.8", "50", "worse: back")):
        by_meter(by_hand, reads, coil)
        assert way.inner_text() == words
    by_meter(by_hand, "0.4", "52")
    by_hand.get_by_text("An SWR must be at least 1").wait_for()
    by_hand.get_by_role("button", name="Use the best").click()
    by_hand.get_by_role("button", name="Matched").click()
    line = by_hand.locator("#trial-lines li", has_text="1.4").first
    line.wait_for()
    text = by_hand.request.get(by_hand.url.replace("/trials", "/tuner/trials.csv")).text()
    assert "coil 45" in text and ";10;" in text


def reads(page, figure):
    """Key, unkey and the figure, with the dials left as they are."""
    carrier = page.locator("#by-meter [data-carrier]")
    carrier.click()
    carrier.click()
    page.locator("#by-meter [data-read]").fill(figure)
    page.locator("#by-meter [data-read]").press("Enter")


def test_a_better_reading_after_a_move_without_a_word_has_no_marks_until_they_are_written(by_hand):
    best = by_hand.locator("#by-meter [data-best]")
    coil = by_hand.get_by_label("Dial coil now").first
    by_meter(by_hand, "2.4", "40")
    assert "coil 40" in best.inner_text()
    reads(by_hand, "1.36")  # the knob was turned, its mark is not written yet
    assert "coil" not in best.inner_text() and "marks not noted" in best.inner_text()
    coil.fill("45")
    coil.blur()
    assert "SWR 1.36 with coil 45" in best.inner_text()
    by_meter(by_hand, "1.9", "50")
    assert "SWR 1.36 with coil 45" in best.inner_text()


HEARS = """window.SpeechRecognition = class extends EventTarget {
    start() {
        const result = new Event("result");
        result.results = [[{ transcript: window.spoken }]];
        this.dispatchEvent(result);
        this.dispatchEvent(new Event("end"));
    }
};"""


@pytest.mark.parametrize(
    ("spoken", "coil", "said"),
    [
        ("coil forty two point five SWR 1.4", "42.5", "SWR 1.40 with coil 42.5"),
        ("the coil is at SWR 1.4", "", "marks not noted"),
    ],
)
def test_marks_and_reading_may_be_spoken(by_hand, spoken, coil, said):
    by_hand.add_init_script(HEARS)
    by_hand.reload()
    by_hand.locator("#by-meter summary").click()
    by_hand.evaluate("words => (window.spoken = words)", spoken)
    by_hand.locator("#by-meter").get_by_role("button", name="Say the marks").click()
    assert by_hand.get_by_label("Dial coil now").first.input_value() == coil
    assert said in by_hand.locator("#by-meter [data-best]").inner_text()


def test_marks_that_are_written_once_the_best_has_been_left_are_asked_about(by_hand):
    best, whose = by_hand.locator("#by-meter [data-best]"), by_hand.locator("#by-meter [data-whose]")
    by_meter(by_hand, "2.4", "40")
    for figure in ("1.4", "1.9"):
        reads(by_hand, figure)
    coil = by_hand.get_by_label("Dial coil now").first
    coil.fill("45")
    coil.blur()
    assert whose.is_visible()
    whose.get_by_role("button", name="Of the best").click()
    assert "SWR 1.40 with coil 45" in best.inner_text() and not whose.is_visible()


def test_the_carrier_is_to_be_ended_when_its_time_is_over(by_hand):
    by_hand.get_by_label("Unkey after, s").fill("0,2")
    by_hand.get_by_role("button", name="Key", exact=True).click()
    by_hand.get_by_text("Unkey now").wait_for()


def test_the_dials_of_the_network_that_is_chosen_are_shown(by_hand):
    box = by_hand.locator("#by-meter")
    box.get_by_label("Network").select_option(index=1)
    assert box.locator("ol:visible").count() == 1
    assert box.locator("[data-of]:visible").first.get_attribute("data-of") == box.get_by_label("Network").input_value()
