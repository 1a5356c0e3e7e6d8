"""Adjusting in the browser: the simulated vertical is tuned on the live view by following the proposals alone, and what
was not done is struck out."""

import math
from types import SimpleNamespace

import pytest
from sqlalchemy import select

from levelmoor.core.rf.window_text import parse_windows
from levelmoor.formats.touchstone_out import write_s1p
from levelmoor.instruments.stand_ins.instruments import AntennaAnalyzer, StandingAntenna
from levelmoor.instruments.stand_ins.physics import LIGHT_M_PER_S
from levelmoor.instruments.stand_ins.server import running
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.article_state import windows_row
from levelmoor.records.sweeps import add_sweep
from levelmoor.services.list_card import refresh_card
from levelmoor.web.live.runs import VARIABLE
from tests.browser.steps import answered, steady, swept_anew
from tests.conftest import sign_in
from tests.sweeps import rlc_sweep

MOST_TRIPS = 6


@pytest.fixture
def vertical(monkeypatch, maker, member, page):
    """A wire that is 12 % off its band, swept live; an evaluation that says what of it is moved."""
    length = 0.955 * LIGHT_M_PER_S / (2 * 145e6)
    antenna = StandingAntenna(length_m=1.12 * length)
    with running(AntennaAnalyzer("one-port analyzer", (100e3, 1e9), 1001, 2e-4, antenna)) as server:
        monkeypatch.setenv(VARIABLE, server.address)
        with maker.begin() as session:
            team = session.get(t.Team, member.team_id)
            instrument = t.Instrument(
                team_id=team.id, name="Stand-in", description="one port", address=server.address,
                driver="Generic one-port analyzer", directivity_db=46.0, tracking=0.003, source_match_db=40.0,
            )  # fmt: skip
            session.add(instrument)
            session.flush()
            row = store.open_evaluation(session, team, "Yard vertical")
            row.bench_instrument_id, row.bench_calibration = instrument.id, "at_plane"
            row.claims.append(t.Claim(quantity="swr", limit=1.8, windows=windows_row(parse_windows("2m", 1))))
            row.elements.append(
                t.ArticleElement(name="Whip", kind="whip", unit="cm", at=50.0, low=30.0, high=60.0, bands=["2m"])
            )
            refresh_card(row)
            session.flush()
            case = row.id
        sign_in(page, member, f"/e/{case}/live")
        yield SimpleNamespace(page=page, antenna=antenna, case=case)


def keep(page):
    """Keep the sweep that is shown once it is steady; the next move is then told anew."""
    steady(page)
    with answered(page, "**/adjust/next"):
        page.get_by_role("button", name="Keep").click()
    page.locator("#next-live .move-card").wait_for()


def test_the_vertical_is_tuned_on_the_live_view_by_the_proposals_alone(vertical):
    page, antenna = vertical.page, vertical.antenna
    page.locator(".live-figure .only-wide svg").wait_for()  # the run is made by the stream
    page.get_by_label("From, MHz").fill("110")
    page.get_by_label("To, MHz").fill("170")
    page.get_by_label("Points").fill("601")
    page.get_by_role("button", name="Sweep this").click()
    page.locator("#said-live", has_text="from the next sweep on").wait_for()
    whip = 50.0
    for _trip in range(MOST_TRIPS):
        swept_anew(page)
        keep(page)
        card = page.locator("#next-live .move-card")
        if card.get_by_text("stop here").count():
            break
        by = float(card.locator("input[name^=by-]").input_value())
        antenna.length_m *= (whip + by) / whip
        whip += by
        with answered(page, "**/adjust/moves"):
            card.get_by_role("button", name="Done: new round").click()
        page.locator("#next-live", has_text="Sweep round").wait_for()
    assert page.locator("#next-live .move-card.done", has_text="stop here").count() == 1
    assert abs(math.log(whip * 1.12 / 50.0)) < 0.03


def test_what_was_not_done_is_struck_out_and_had_back(vertical, maker):
    page = vertical.page
    page.goto(f"/e/{vertical.case}/adjust")
    with answered(page, "**/adjust/moves"):
        page.get_by_role("button", name="Whip: 2 cm shorter").click()
    with answered(page, "**/adjust/moves"):
        page.get_by_role("button", name="Whip: 1 cm longer").click()
    page.locator(".mover", has_text="49 cm").wait_for()
    with answered(page, "**/undone"):
        page.get_by_role("button", name="Cancel round").first.click()
    page.locator(".mover", has_text="51 cm").wait_for()
    page.get_by_role("button", name="Undo").click()
    page.locator(".mover", has_text="49 cm").wait_for()


def test_a_part_goes_no_farther_than_it_can(vertical):
    page = vertical.page
    page.goto(f"/e/{vertical.case}/adjust")
    page.get_by_label("Whip, moved to").fill("61")
    page.get_by_role("button", name="Moved").click()
    page.get_by_text("Whip is at 50 cm and cannot go beyond 60.").wait_for()
    assert page.get_by_label("Whip, moved to").input_value() == "61"


def test_a_starting_length_is_said_while_it_is_typed_and_a_wrong_one_is_asked_about(vertical):
    page = vertical.page
    page.goto(f"/e/{vertical.case}/adjust")
    page.locator("#fold-length summary").click()
    form = page.locator("form.lengths")
    form.get_by_label("Target, MHz").fill("148")
    page.get_by_text("A quarter wave for 148 MHz is 48.2 cm.").wait_for()
    form.get_by_label("Length").fill("58 cm")
    page.get_by_text("58 cm is a quarter wave at 122.9 MHz; 48.2 cm would be 148.").wait_for()


def test_two_who_both_say_that_it_is_done_have_made_one_trip(vertical, maker):
    page = vertical.page
    with maker.begin() as session:
        row = session.get(t.Evaluation, vertical.case)
        add_sweep(session, row, "one.s1p", write_s1p(rlc_sweep(110e6, 180e6, 701, f0=131e6, q=9.0), "").encode())
    page.goto(f"/e/{vertical.case}/adjust")
    other = page.context.new_page()
    other.goto(page.url)
    for one in (page, other):
        with answered(one, "**/adjust/moves"):
            one.get_by_role("button", name="Done: new round").click()
    with maker() as session:
        trips = session.scalars(select(t.Adjustment).where(t.Adjustment.evaluation_id == vertical.case)).all()
    assert len(trips) == 1
