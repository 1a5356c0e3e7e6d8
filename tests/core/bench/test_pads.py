"""The pad before a spectrum analyzer: the rule at its limits, and figures of the trade."""

import math

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from levelmoor.core.bench.pads import PadTask, noise_in_bandwidth_dbm, plan_pad
from levelmoor.core.model.equipment import Pad
from levelmoor.core.rf.levels import dbm_of_watts, harmonics_hz, mismatch_error_db, watts_of_dbm
from levelmoor.core.rf.reflection import gamma_from_swr

FIVE_WATTS = PadTask(146e6, 5.0, -23.0)


@pytest.mark.parametrize(("watts", "dbm"), [(5, 36.99), (25e-6, -16.02), (10e-6, -20.0), (1e-3, 0.0)])
def test_watts_and_dbm(watts, dbm):
    """Common practice, no source."""
    assert float(dbm_of_watts(watts)) == pytest.approx(dbm, abs=0.01)
    assert float(watts_of_dbm(dbm)) == pytest.approx(watts, rel=0.01)


def test_37_7_dbm_is_5_9_watts():
    """Common practice, no source."""
    assert float(watts_of_dbm(37.7)) == pytest.approx(5.9, abs=0.05)


def test_mismatch_of_1_5_against_2():
    up, down = mismatch_error_db(float(gamma_from_swr(1.5)), float(gamma_from_swr(2.0)))
    assert (up, down) == pytest.approx((0.56, -0.60), abs=0.005)


def test_harmonics_to_the_fifth_at_least():
    assert harmonics_hz(146e6) == (292e6, 438e6, 584e6, 730e6)
    assert harmonics_hz(146e6, 1.1e9)[-1] == 7 * 146e6


def test_noise_grows_with_the_bandwidth():
    assert noise_in_bandwidth_dbm(-100, 10e3, 100e3) == pytest.approx(-90)


def test_least_attenuation_by_hand():
    """5 W is +37 dBm; 10 dB under +20 dBm leaves 27 dB; under +10 dBm, 37 dB."""
    for maximum, least in ((20.0, 26.99), (10.0, 36.99)):
        plan = plan_pad(FIVE_WATTS, maximum, -110.0, ())
        assert plan.least_db == pytest.approx(least, abs=0.01)
        assert "no pad of the team" in plan.problem


def test_forty_db_pad_that_stands_it_is_taken():
    pads = (Pad("1", "small", 40, 2), Pad("2", "large", 40, 25))
    plan = plan_pad(FIVE_WATTS, 20.0, -110.0, pads)
    assert [p.name for p in plan.pads] == ["large"]
    assert "measure it first" in plan.warning


def test_two_in_a_row_the_strong_one_first():
    pads = (Pad("1", "weak 20", 20, 0.5), Pad("2", "strong 10", 10, 10))
    plan = plan_pad(FIVE_WATTS, 20.0, -110.0, pads)
    assert [p.name for p in plan.pads] == ["strong 10", "weak 20"]


@pytest.mark.parametrize(
    ("pads", "noise", "words"),
    [
        ((Pad("1", "p", 40, 2),), -110.0, "cannot withstand 5 W"),
        ((Pad("1", "p", 40, 25, high_hz=500e6),), -110.0, "fifth harmonic at 730 MHz"),
        ((Pad("1", "p", 60, 25),), -90.0, "has the right attenuation"),
        ((Pad("1", "p", 40, 25),), -50.0, "Narrow the resolution bandwidth"),
    ],
)
def test_what_to_change_is_said(pads, noise, words):
    assert words in plan_pad(FIVE_WATTS, 20.0, noise, pads).problem


def test_narrower_bandwidth_that_is_asked_for_does():
    plan = plan_pad(FIVE_WATTS, 20.0, -50.0, ())
    factor = float(plan.problem.split("factor of ")[1].split(",")[0])
    again = plan_pad(FIVE_WATTS, 20.0, noise_in_bandwidth_dbm(-50.0, 10e3, 10e3 / (1.1 * factor)), ())
    assert "Narrow" not in again.problem


@given(
    st.floats(0.01, 100),
    st.floats(-60, 30),
    st.floats(-30, 30),
    st.floats(-140, -60),
    st.lists(st.tuples(st.floats(1, 60), st.floats(0.1, 200)), max_size=5),
)
def test_pads_that_are_chosen_keep_the_rule(watts, limit, maximum, noise, owned):
    pads = tuple(Pad(str(i), f"p{i}", db, w) for i, (db, w) in enumerate(owned))
    plan = plan_pad(PadTask(146e6, watts, limit), maximum, noise, pads)
    assume(not plan.problem)
    total = plan.attenuation_db(146e6)
    assert float(dbm_of_watts(watts)) - total <= maximum - 10 + 1e-9
    assert limit - total >= noise + 10 - 1e-9 or not plan.pads
    reaching = watts
    for pad in plan.pads:
        assert reaching <= pad.power_w
        reaching *= 10 ** (-pad.nominal_db / 10)


@given(st.floats(0.5, 50), st.floats(-10, 25))
def test_pad_of_exactly_the_least_attenuation_is_enough_and_a_little_less_is_not(watts, maximum):
    least = float(dbm_of_watts(watts)) - (maximum - 10)
    assume(least > 0.2)
    question = PadTask(146e6, watts, 0.0)
    assert plan_pad(question, maximum, None, (Pad("1", "p", least, 100),)).pads
    assert plan_pad(question, maximum, None, (Pad("1", "p", least - 0.1, 100),)).problem
    assert math.isinf(plan_pad(question, maximum, None, ()).most_db)
