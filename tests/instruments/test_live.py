"""A live run: seen by several screens, kept for a while, and going on after what goes wrong."""

import queue
import time

import pytest

from levelmoor.core.model.instrument_address import parse_address
from levelmoor.core.rf.live_numbers import live_numbers
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.through.choking import series_impedance
from levelmoor.instruments.analyzer import Span
from levelmoor.instruments.driver import shipped_drivers
from levelmoor.instruments.live import LiveRun
from levelmoor.instruments.problem import InstrumentProblem, Trouble
from levelmoor.instruments.screens import MOST_SCREENS, TooManyScreens
from levelmoor.instruments.stand_ins.instruments import Fault, stand_ins
from levelmoor.instruments.stand_ins.physics import RingChoke
from levelmoor.instruments.stand_ins.server import running
from tests.sweeps import rlc_sweep

ONE = shipped_drivers()["Generic one-port analyzer"]
TWO = shipped_drivers()["Generic two-port analyzer"]


@pytest.fixture
def run():
    with running(stand_ins()[0]) as server:
        made = LiveRun(ONE, parse_address(server.address), Span(140e6, 150e6, 101), timeout_s=0.5)
        made.stand_in = server.stand_in
        yield made


def sweeps_of(run, screen):
    """What comes by, one after the other."""
    while True:
        yield run.taken(wait_for(screen, "sweep").data["number"])


def wait_for(screen, kind, seconds=15.0, **wanted):
    """The next event of a kind with these data; fails where none comes."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        try:
            event = screen.get(timeout=0.5)
        except queue.Empty:
            continue
        if event.kind == kind and all(event.data.get(k) == v for k, v in wanted.items()):
            return event
    pytest.fail(f"no {kind} with {wanted} within {seconds} s")


def test_what_goes_from_port_to_port_comes_in_turn_with_the_reflection():
    with running(stand_ins()[3]) as server:
        run = LiveRun(TWO, parse_address(server.address), Span(3.5e6, 30e6, 51), timeout_s=0.5)
        screen = run.follow()
        run.change_ports(True)
        between = next(t for t in sweeps_of(run, screen) if t.through is not None)
        assert series_impedance(between.through.s21, 50.0) == pytest.approx(
            RingChoke().impedance(between.through.frequency_hz), rel=0.03
        )
        run.change_ports(False)
        assert next(t for t in sweeps_of(run, screen) if t.sweep is not None).through is None
        run.change_ports(True)
        run.leave(screen)
        run._thread.join()
        assert not run.between_ports  # whoever comes next sees the reflection


def test_one_port_has_nothing_between(run):
    with pytest.raises(ValueError, match="no commands to sweep from port to port"):
        run.change_ports(True)


def test_every_screen_gets_every_sweep_and_one_that_comes_late_the_latest(run):
    first = run.follow()
    number = wait_for(first, "sweep").data["number"]
    late = run.follow()
    assert wait_for(late, "sweep").data["number"] >= number
    next_one = wait_for(first, "sweep").data["number"]
    assert run.taken(next_one).sweep.points == 101
    for screen in (first, late):
        run.leave(screen)


@pytest.mark.parametrize(
    ("fault", "trouble"),
    [(Fault.TIMEOUT, Trouble.TIMEOUT), (Fault.GARBAGE, Trouble.GARBAGE), (Fault.DISCONNECT, Trouble.DISCONNECTED)],
)
def test_trouble_is_told_tried_again_and_nothing_swept_is_lost(run, fault, trouble):
    screen = run.follow()
    before = wait_for(screen, "sweep").data["number"]
    run.stand_in.fault, run.stand_in.times = fault, 1
    told = wait_for(screen, "status", state="trouble")
    assert told.data["trouble"] == trouble
    assert "Trying again in" in told.data["words"]
    assert wait_for(screen, "sweep").data["number"] > before
    assert run.taken(before) is not None
    run.leave(screen)


def test_pauses_grow_while_nothing_answers():
    with running(stand_ins()[0]) as server:
        address = parse_address(server.address)
    run = LiveRun(ONE, address, Span(140e6, 150e6, 101), timeout_s=0.3)
    screen = run.follow()
    pauses = [wait_for(screen, "status", state="trouble").data["pause_s"] for _ in range(3)]
    assert pauses == [0.5, 1.0, 2.0]
    run.leave(screen)


def test_another_span_is_swept_from_the_next_sweep_on(run):
    screen = run.follow()
    wait_for(screen, "sweep")
    run.change(Span(143e6, 147e6, 51))
    for _ in range(6):
        taken = run.taken(wait_for(screen, "sweep").data["number"])
        if taken.sweep.points == 51:
            break
    assert (taken.sweep.low_hz, taken.sweep.high_hz) == (143e6, 147e6)
    run.leave(screen)


def test_sweep_says_of_its_correction_what_the_instrument_says(run):
    """Switched off at the instrument, not here: the sweeps from then on are kept as raw ones."""
    screen = run.follow()
    assert run.taken(wait_for(screen, "sweep").data["number"]).corrected is True
    run.stand_in.correction = False
    assert "switched off at the instrument" in wait_for(screen, "said").data["words"]
    assert run.taken(wait_for(screen, "sweep").data["number"]).corrected is False
    run.leave(screen)


def test_sweep_during_which_the_span_was_changed_at_the_instrument_is_left_out(run):
    screen = run.follow()
    wait_for(screen, "sweep")
    run.stand_in.high_hz = 149e6
    assert "is left out" in wait_for(screen, "status", state="trouble").data["words"]
    assert all(taken.span.high_hz == 150e6 for taken in run._taken.values())
    wait_for(screen, "sweep")
    run.leave(screen)


def test_driver_that_cannot_ask_does_not_claim_a_correction():
    mute = ONE.model_copy(update={"correction": ONE.correction.model_copy(update={"ask": None})})
    with running(stand_ins()[0]) as server:
        run = LiveRun(mute, parse_address(server.address), Span(140e6, 150e6, 101), timeout_s=0.5)
        screen = run.follow()
        assert run.taken(wait_for(screen, "sweep").data["number"]).corrected is None
        run.leave(screen)


def test_what_is_asked_is_done_between_sweeps_or_refused(run):
    screen = run.follow()
    wait_for(screen, "sweep")
    assert "simulated" in run.ask(lambda analyzer: analyzer.identify())
    with pytest.raises(InstrumentProblem):
        run.ask(lambda analyzer: str(analyzer.peak()))
    wait_for(screen, "sweep")
    run.leave(screen)


def test_the_instrument_is_left_alone_once_nobody_looks(run):
    screen = run.follow()
    wait_for(screen, "sweep")
    run.leave(screen)
    run._thread.join(5)
    assert not run._thread.is_alive()


def test_a_screen_too_many_is_refused(run):
    screens = [run.follow() for _ in range(MOST_SCREENS)]
    with pytest.raises(TooManyScreens):
        run.follow()
    for screen in screens:
        run.leave(screen)


@pytest.mark.parametrize(("wanted", "off"), [(14.0e6, "short"), (14.6e6, "long"), (14.2e6, "")])
def test_numbers_tell_which_way_the_element_is_off(wanted, off):
    # Common practice, no source: dip below the wanted frequency, the element is too long.
    found = live_numbers(analyse_sweep(rlc_sweep(13e6, 15.5e6, 401, f0=14.2e6), 50), wanted)
    assert found.best_hz == pytest.approx(14.2e6, abs=2e3)
    assert found.zero_hz == pytest.approx(14.2e6, abs=2e3)
    assert (off in found.way) if off else found.way == ""


def test_numbers_without_a_wanted_frequency_or_beyond_the_sweep():
    analysis = analyse_sweep(rlc_sweep(13e6, 15.5e6, 401), 50)
    for wanted in (None, 50e6):
        found = live_numbers(analysis, wanted)
        assert (found.wanted_swr, found.wanted_ohm) == (None, None)
