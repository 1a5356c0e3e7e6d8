"""A live instrument followed from several servers: one sweeps it, and another goes on where that has fallen silent."""

import threading
import time

import pytest

from levelmoor.core.model.instrument_address import parse_address
from levelmoor.instruments.analyzer import Span
from levelmoor.instruments.driver import shipped_drivers
from levelmoor.instruments.problem import InstrumentProblem
from levelmoor.instruments.stand_ins.instruments import stand_ins
from levelmoor.instruments.stand_ins.server import running
from levelmoor.records import live_board
from levelmoor.records import tables as t
from levelmoor.services import live_commands, live_holding
from levelmoor.services.live_runs import SharedRun
from tests.instruments.test_live import wait_for

DRIVER = shipped_drivers()["Generic two-port analyzer"]
SPAN = Span(140e6, 150e6, 101)


@pytest.fixture
def at(maker, monkeypatch):
    """Makes the run as a server of that name knows it."""
    monkeypatch.setattr(live_board, "LINGER_S", 3.0)
    with running(stand_ins()[3]) as server:
        made = []

        def run(name, team_id=1, driver=DRIVER):
            one = SharedRun(maker, driver, parse_address(server.address), team_id, name)
            made.append(one)
            return one

        run.stand_in = server.stand_in
        yield run
        for one in made:
            one._screens.clear()
        for thread in threading.enumerate():
            if thread.name.startswith(("holding", "live ")):
                thread.join(10)


def holders(run):
    return run.stands().holder


def test_one_server_sweeps_and_both_see_the_same(at):
    here, there = at("first"), at("second")
    wait_for(here.follow(SPAN), "sweep")
    number = wait_for(there.follow(SPAN), "sweep").data["number"]
    one, other = here.taken(number), there.taken(number)
    assert (one.sweep.gamma == other.sweep.gamma).all()
    assert holders(here) == "first"


def test_settings_and_wishes_from_a_server_that_does_not_sweep(at):
    here, there = at("first"), at("second")
    screen = here.follow(SPAN)
    wait_for(screen, "sweep")
    there.change(Span(143e6, 147e6, 51))
    until = time.monotonic() + 15
    while (taken := there.taken(wait_for(screen, "sweep").data["number"])).sweep.points != 51:
        assert time.monotonic() < until
    assert there.ask(live_commands.correct(False)) == "Raw data: the instrument's correction is off."
    assert wait_for(screen, "said").data["words"].startswith("Raw data")
    span, _identity, found = there.ask(live_commands.through(), live_commands.THROUGH_S)
    assert (span, len(found["s21"])) == (taken.span, 51)


def test_where_the_server_that_swept_falls_silent_another_goes_on(at, monkeypatch):
    monkeypatch.setattr(live_board, "HELD_S", 1.0)
    here, there = at("first"), at("second")
    wait_for(here.follow(SPAN), "sweep")
    screen = there.follow(SPAN)
    before = wait_for(screen, "sweep").data["number"]
    # As kill -9 leaves it: no word more, nothing let go.
    here._screens.clear()
    monkeypatch.setattr(live_holding.Holding, "_goes_on", lambda *_: False)
    monkeypatch.setattr(live_board.LiveBoard, "release", lambda *_: None)
    here._holding.join(10)
    monkeypatch.undo()
    monkeypatch.setattr(live_board, "HELD_S", 1.0)
    until = time.monotonic() + 15
    while holders(there) != "second":
        assert time.monotonic() < until
        time.sleep(0.1)
    assert wait_for(screen, "sweep").data["number"] > before, "the numbers go on"


def test_the_instrument_is_left_alone_once_no_server_has_a_screen(at):
    here, there = at("first"), at("second")
    wait_for(mine := here.follow(SPAN), "sweep")
    theirs = there.follow(SPAN)
    here.leave(mine)
    time.sleep(4)
    wait_for(theirs, "sweep")
    there.leave(theirs)
    until = time.monotonic() + 30
    while here.stands().held:
        assert time.monotonic() < until
        time.sleep(0.2)


def test_another_team_that_has_the_instrument_sees_none_of_the_sweeps(at):
    ours = at("first")
    number = wait_for(ours.follow(SPAN), "sweep").data["number"]
    other = at("second", team_id=2)
    other.follow(SPAN)
    assert other.taken(number) is None
    assert ours.stands() is None


def test_what_was_asked_before_or_by_another_team_is_not_done(at, maker):
    ours, theirs = at("first"), at("second", team_id=2)
    ours.follow(SPAN)
    theirs._board.wish(live_commands.correct(False))
    old = ours._board.wish(live_commands.correct(False))
    with maker.begin() as session:
        session.get(t.LiveWish, old).made_at -= 60
    assert ours._board.wishes() == []


def test_what_is_not_answered_in_time_is_not_done_later(at):
    run = at("first")
    run._board.open({"low_hz": 1e6, "high_hz": 2e6})
    with pytest.raises(InstrumentProblem, match="in time"):
        run.ask(live_commands.correct(False), 0.4)
    assert run._board.wishes() == []
