"""The log of rounds: which dip is which band's, what moved and whether it helped, what claims want."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.adjusting.dip_names import assigned
from levelmoor.core.adjusting.round_log import RoundLog, State, states_of
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.adjusting import Adjustment, Element, ElementKind, Move
from levelmoor.core.model.claims import Claim, Tuner
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.window_text import parse_windows
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.targets import SaidBy, aims_of
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


# -- One target for each band --------------------------------------------------------------------------------------

SPOT = Claim("c2", Quantity.SWR, (Window(147e6, 147e6),), 1.4)
OWN = (Window(145.5e6, 145.5e6, "2 m calling"),)


@pytest.mark.parametrize(
    ("more", "hz", "by"),
    [
        ({}, 146e6, SaidBy.MIDDLE),
        ({"spots": OWN}, 145.5e6, SaidBy.SPOT),
        ({"own_bands": OWN}, 145.5e6, SaidBy.SPOT),
        ({"spots": OWN, "claimed": True}, 147e6, SaidBy.CLAIM),
        ({"spots": OWN, "claimed": True, "wanted_hz": (144.3e6,)}, 144.3e6, SaidBy.ADJUST),
    ],
)
def test_a_target_is_what_adjust_says_then_a_claim_then_the_team_then_the_middle(more, hz, by):
    claims = (Claim("c1", Quantity.SWR, parse_windows("2m", 2), 1.5), *((SPOT,) if more.pop("claimed", None) else ()))
    (aim,) = aims_of(replace(case(), claims=claims, region=2, **more))
    assert (aim.window.name, aim.wanted_hz, aim.said_by) == ("2m", hz, by)


def test_parts_of_a_band_have_one_target_and_each_its_own_limit():
    claims = tuple(
        Claim(str(n), Quantity.SWR, parse_windows(text, 1), limit)
        for n, (text, limit) in enumerate([("14.0 to 14.07", 1.5), ("14.1 to 14.35", 2.0)])
    )
    (aim,) = aims_of(replace(case(), claims=claims))
    assert (aim.window.ends, [limit for _, limit in aim.judged]) == ((14.0e6, 14.35e6), [1.5, 2.0])


@pytest.mark.parametrize(
    ("texts", "hz"), [((("136 to 174", 2.0), ("2m", 1.5)), 145e6), ((("2m", 2.0), ("144.6 to 145.6", 1.3)), 145.1e6)]
)
def test_inside_a_wider_claim_the_stricter_one_has_its_middle(texts, hz):
    claims = tuple(Claim(str(n), Quantity.SWR, parse_windows(t, 1), limit) for n, (t, limit) in enumerate(texts))
    (aim,) = aims_of(replace(case(), claims=claims))
    assert (aim.wanted_hz, aim.limit_swr) == (hz, texts[1][1])


# -- Dips by physics, and by the person ----------------------------------------------------------------------------

WHIP = Element("w", "Whip", ElementKind.WHIP, "cm", 17.0, low=17.0, high=52.0)
SEVENTY = Claim("c7", Quantity.SWR, parse_windows("70cm", 2), 2.0)


def seen_at(length_cm, low=50e6, high=900e6, **more):
    """A whip of a quarter wave over ground, which shows three quarters too: dips where a line of that length has them.

    The line is open at its end, of 250 ohm, with 36 ohm at its first resonance (a made-up article)."""
    f = np.linspace(low, high, 1701)
    first = 410e6 * 17.0 / length_cm
    x = np.minimum(np.abs(f / first - 1), np.abs(f / first / 3 - 1) * 3)
    z = 45 + 1j * 9 * 50 * x
    sweep = Sweep(f, (z - 50) / (z + 50))
    one = Evidence("one", "one", "s1", "u1", "i1", Calibration.AT_PLANE, sweep, **more)
    claim = Claim("c1", Quantity.SWR, parse_windows("2m", 2), 2.0)
    return replace(
        case(one), claims=(claim,), region=2, elements=(replace(WHIP, at=float(length_cm)),), wanted_hz=(146e6,)
    )


def test_a_whip_at_its_shortest_is_lengthened_by_the_ratio():
    """17 cm gives 410 MHz; f L is constant: 48 cm for 146 MHz (common practice, no source)."""
    log = log_of(seen_at(17))
    assert log.rounds[0].bands[0].dip_hz == pytest.approx(410e6, rel=2e-3)
    (move,) = log.advice.moves
    assert 17 + move.by == pytest.approx(48, abs=0.6)


def test_of_two_bands_the_lower_has_the_quarter_wave_and_the_other_is_looked_for_where_it_was_not_swept():
    evaluation = seen_at(17)
    log = log_of(replace(evaluation, claims=(*evaluation.claims, SEVENTY)))
    two, seventy = log.rounds[0].bands
    assert two.dip_hz == pytest.approx(410e6, rel=2e-3) and seventy.dip_hz is None
    ((low, high),) = seventy.look
    assert low >= 900e6 and low < 1230e6 < high
    (move,) = log.advice.moves
    assert 17 + move.by == pytest.approx(48, abs=0.6)


def test_at_its_length_both_bands_have_their_dips():
    evaluation = seen_at(48)
    log = log_of(replace(evaluation, claims=(*evaluation.claims, SEVENTY)))
    assert [b.dip_hz for b in log.rounds[0].bands] == pytest.approx([145.2e6, 435.6e6], rel=2e-3)


def test_what_the_person_says_of_a_dip_holds():
    """A loaded whip, so that its length tells nothing; the dip at 100 MHz is far from the band."""
    loaded = (Element("w", "Whip", ElementKind.COIL_WHIP, "cm", 70.0),)
    silent = replace(seen_at(70, 50e6, 200e6), elements=loaded)
    (sweep,) = silent.sweeps
    named = replace(silent, sweeps=(replace(sweep, dips="2m 99.6"),))
    assert log_of(silent).rounds[0].bands[0].dip_hz is None
    band = log_of(named).rounds[0].bands[0]
    assert band.said and band.dip_hz == pytest.approx(99.57e6, rel=2e-3)


@pytest.mark.parametrize(("low", "high", "above"), [(100e6, 136e6, True), (152e6, 200e6, False)])
def test_a_curve_that_falls_to_an_end_is_followed_there(low, high, above):
    """The dip is at 145.2 MHz; nothing says yet on which side of the target."""
    band = log_of(seen_at(48, low, high)).rounds[0].bands[0]
    assert (band.dip_hz, band.beyond_hz) == (None, None)
    ((from_hz, to_hz),) = band.look
    assert from_hz < 145.2e6 < to_hz and (from_hz >= high if above else to_hz <= low)


def test_two_rounds_that_led_away_lead_back_to_the_best():
    """The part does the opposite of what it is told to do."""
    trips = tuple(Adjustment(f"a{n}", "s1", "u1", round=n, moves=(Move("w", by),)) for n, by in ((2, 2.0), (3, 2.0)))
    dips = ((150e6, 1), (153e6, 2), (157e6, 3))
    log = log_of(case(*(swept(f"s{n}", f, n) for f, n in dips), adjustments=trips))
    (move,) = log.advice.moves
    assert move.by == -4.0
    assert "round 1" in log.advice.words[0]


def test_what_is_within_its_limit_is_not_led_back():
    trips = tuple(Adjustment(f"a{n}", "s1", "u1", round=n, moves=(Move("w", by),)) for n, by in ((2, 2.0), (3, 2.0)))
    dips = ((145e6, 1), (145.1e6, 2), (145.2e6, 3))
    assert log_of(case(*(swept(f"s{n}", f, n) for f, n in dips), adjustments=trips)).advice.done
