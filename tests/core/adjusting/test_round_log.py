"""The log of rounds: which dip is which band's, what moved and whether it helped, what claims want."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.adjusting.round_log import RoundLog, State, aims_of, assigned, states_of
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.adjusting import Adjustment, Element, ElementKind, Move
from levelmoor.core.model.claims import Claim, Tuner
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.rf.window_text import parse_windows
from levelmoor.core.rf.windows import Window
from tests.sweeps import rlc_sweep

STATE = State("s1", "u1")


def swept(ident, f0, round_, **more):
    sweep = rlc_sweep(0.8 * 145e6, 1.2 * 145e6, 801, f0=f0, q=12.0, r=48.0)
    return Evidence(ident, ident, "s1", "u1", "i1", Calibration.AT_PLANE, sweep, round=round_, **more)


def case(*sweeps, adjustments=(), **more):
    claim = Claim("c1", Quantity.SWR, parse_windows("2m", 1), 1.5)
    return Evaluation(
        "Yard whip", Product("Yard whip"), samples=(Sample("s1", "Unit 1"),), setups=(Setup("u1", "yard"),),
        instruments=(Instrument("i1", "analyzer"),), claims=(claim,), sweeps=sweeps, adjustments=adjustments,
        elements=(Element("w", "Whip", ElementKind.WHIP, "cm", 50.0),), **more,
    )  # fmt: skip


def log_of(evaluation):
    return RoundLog(evaluation, Dossier(evaluation), STATE)


TRIP = Adjustment("a1", "s1", "u1", round=2, moves=(Move("w", -4.0),))


def test_a_round_is_moves_and_the_dip_that_came_of_them():
    log = log_of(case(swept("one", 130e6, 1), swept("two", 140e6, 2), adjustments=(TRIP,)))
    first, second = log.rounds
    assert (first.at, second.at) == ({"w": 50.0}, {"w": 46.0})
    assert second.bands[0].dip_hz == pytest.approx(140e6, rel=1e-3)
    shift = log.shift(0, second, first)
    assert shift.hz == pytest.approx(10e6, rel=1e-2) and shift.helped is True and shift.known


def test_a_move_the_wrong_way_did_not_help():
    log = log_of(
        case(swept("one", 140e6, 1), swept("two", 130e6, 2), adjustments=(replace(TRIP, moves=(Move("w", 4.0),)),))
    )
    assert log.shift(0, log.rounds[1], log.rounds[0]).helped is False


def test_the_dip_is_held_against_where_it_was_foreseen():
    log = log_of(case(swept("one", 130e6, 1), swept("two", 140e6, 2), adjustments=(TRIP,)))
    assert log.foreseen(log.rounds[0]) == (None,)
    (foreseen,) = log.foreseen(log.rounds[1])
    assert foreseen.holds(log.rounds[1].bands[0].dip_hz)


def test_the_same_instrument_s_common_error_cancels_in_a_shift():
    coarse = Instrument("i1", "analyzer", figures=Residuals(directivity_db=25.0))
    evaluation = case(swept("one", 130e6, 1), swept("two", 140e6, 2), adjustments=(TRIP,))
    log = log_of(replace(evaluation, instruments=(coarse,)))
    assert log.shift(0, log.rounds[1], log.rounds[0]).u_hz < 20e3


def test_what_is_within_its_limit_is_said_to_be_done():
    log = log_of(case(swept("one", 145e6, 1)))
    assert log.rounds[0].bands[0].judged is Verdict.PASS
    assert log.advice.done


def test_a_trip_that_was_not_swept_since_is_swept_first():
    log = log_of(case(swept("one", 130e6, 1), adjustments=(TRIP,)))
    assert log.advice.words == ("Sweep round 2 to see what your move did.",)


def test_what_is_set_aside_tells_nothing():
    log = log_of(case(swept("one", 130e6, 1), swept("bad", 100e6, 1, set_aside="a hand was at it")))
    assert log.rounds[0].bands[0].sweep_id == "one"


def test_states_come_in_the_order_of_what_came_first():
    evaluation = case(swept("one", 130e6, 1), replace(swept("two", 130e6, 1), setup_id="u2"), adjustments=(TRIP,))
    assert states_of(evaluation) == (STATE, State("s1", "u2"))


WANTED = (50.5e6, 70.25e6, 145e6)


@given(shift=st.floats(-0.14, 0.14), own=st.tuples(*(st.floats(-0.02, 0.02) for _ in WANTED)), more=st.booleans())
def test_bands_that_are_off_together_keep_their_dips(shift, own, more):
    dips = [f * (1 + shift + o) for f, o in zip(WANTED, own, strict=True)]
    found = assigned([*dips, *([230e6] if more else [])], WANTED)
    assert found == (0, 1, 2)


def test_a_band_without_a_dip_takes_none_of_another():
    assert assigned([51e6, 146e6], WANTED) == (0, None, 1)


def test_aims_are_the_strictest_limits_and_what_was_said_to_be_wanted():
    more = (
        Claim("c2", Quantity.SWR, parse_windows("2m", 1), 2.0),
        Claim("c3", Quantity.SWR, parse_windows("4m", 1), 3.0, tuner=Tuner.WITH),
        Claim("c4", Quantity.SWR, (Window(40e6, 160e6),), 3.0),
        Claim("c5", Quantity.SWR, parse_windows("6m", 1), 2.0),
    )
    evaluation = case(swept("one", 130e6, 1), wanted_hz=(144.3e6, 70.2e6))
    aims = aims_of(replace(evaluation, claims=(*evaluation.claims, *more)))
    assert [(a.window.name, a.wanted_hz, a.limit_swr) for a in aims] == [
        ("6m", 51e6, 2.0),
        ("4m", 70.2e6, evaluation.profile.limit_swr),
        ("2m", 144.3e6, 1.5),
    ]
