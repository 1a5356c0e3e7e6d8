"""Resonance and bandwidth read off a sweep, segments joined, repeats and margins.

Widths of a series RLC are exact: f0/Q (s - 1)/sqrt(s), compare Yaghjian and Best, IEEE Trans. AP 53(4), 2005 (memory).
"""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.metrology.decidable import decidable
from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.metrology.repeats import repeats_needed
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.metrology.window_guard import decide_window
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.segments import join_segments
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.read_off_verdict import judge_bandwidth, judge_resonance, resonance_fit
from tests.sweeps import flat, rlc_sweep

READING = analyse_sweep(rlc_sweep(13.8e6, 14.6e6, 801), 50.0)
SURE = Residuals(60.0, 0.0, 60.0)
TWENTY = Window(14e6, 14.35e6, "20m")


@pytest.mark.parametrize(
    ("claimed", "verdict"), [(150e3, "pass"), (199e3, "too_close"), (202e3, "too_close"), (260e3, "fail")]
)
def test_width_against_the_exact_one(claimed, verdict):
    """200.818 kHz at 2:1; with 40 dB of directivity some kilohertz stay open."""
    assert judge_bandwidth(READING, TWENTY, 2.0, claimed, Residuals(), DecisionRule.GUARDED)[0] == verdict


@pytest.mark.parametrize(("claimed", "verdict"), [(200.7e3, "pass"), (200.9e3, "fail")])
def test_without_guard_the_width_itself_decides(claimed, verdict):
    assert judge_bandwidth(READING, TWENTY, 2.0, claimed, SURE, DecisionRule.SIMPLE)[0] == verdict


def test_width_with_an_edge_beyond_the_sweep_is_not_shown():
    analysis = analyse_sweep(rlc_sweep(14.0e6, 14.24e6, 301), 50.0)
    verdict, reason = judge_bandwidth(analysis, TWENTY, 3.0, 400e3, SURE, DecisionRule.GUARDED)
    assert verdict is Verdict.NOT_SHOWN
    assert "more room" in reason


@pytest.mark.parametrize(
    ("window", "verdict"),
    [
        (Window(14.1e6, 14.3e6), "pass"),
        (Window(14.3e6, 14.5e6), "fail"),
        (Window(14.2003e6, 14.4e6), "too_close"),
        (Window(14.1997e6, 14.4e6), "too_close"),
    ],
)
def test_resonance_against_the_exact_one(window, verdict):
    """X = 0 at 14.2 MHz; u = 2 Z0 u(gamma) / (2 pi f0 L derivative): 50 x 2 x 100/14.2e6 ohm/Hz."""
    assert judge_resonance(READING, window, Residuals(), DecisionRule.GUARDED)[0] == verdict


def test_uncertainty_of_a_resonance_by_hand():
    """dX/df = 2 R Q/f0 = 5000/14.2e6 ohm/Hz; u(gamma) = 0.01/sqrt 2; u(X) = 2 x 50 x 0.00707: u(f) = 2.0 kHz."""
    (resonance,) = READING.resonances
    f0, u = resonance_fit(READING, resonance, Residuals(40.0, 0.0, 80.0))
    assert f0 == pytest.approx(14.2e6, abs=100)
    assert u == pytest.approx(0.7071 / (5000 / 14.2e6), rel=0.02)


def test_no_resonance_and_no_phase():
    reactive = Sweep(flat(0.3).frequency_hz, np.full(301, 0.3j))
    analysis = analyse_sweep(reactive, 50.0)
    assert judge_resonance(analysis, TWENTY, SURE, DecisionRule.GUARDED)[0] is Verdict.FAIL
    scalar = analyse_sweep(Sweep(analysis.sweep.frequency_hz, np.full(301, 0.3 + 0j), scalar=True), 50.0)
    assert judge_resonance(scalar, TWENTY, SURE, DecisionRule.GUARDED)[0] is Verdict.NOT_SHOWN


# -- Segments --------------------------------------------------------------------------------------------------------


@given(st.lists(st.integers(5, 60), min_size=1, max_size=4), st.randoms())
def test_segments_put_together_are_the_sweep(counts, random):
    """Neighbours that share their end give back exactly what one sweep would have had there."""
    ends = np.linspace(14e6, 14.4e6, len(counts) + 1)
    parts = [rlc_sweep(float(a), float(b), n) for a, b, n in zip(ends, ends[1:], counts, strict=False)]
    random.shuffle(parts)
    joined = join_segments(tuple(parts))
    assert joined.points == sum(counts) - len(counts) + 1
    assert (joined.low_hz, joined.high_hz) == (14e6, 14.4e6)


def test_overlap_is_split_in_its_middle():
    low, high = flat(0.1, 14e6, 14.2e6, 101), flat(0.2, 14.1e6, 14.3e6, 101)
    joined = join_segments((high, low))
    assert joined.magnitude[joined.frequency_hz < 14.149e6] == pytest.approx(0.1)
    assert joined.magnitude[joined.frequency_hz > 14.151e6] == pytest.approx(0.2)


@pytest.mark.parametrize(
    ("other", "words"),
    [
        (flat(0.1, 14.3e6, 14.4e6), "nothing was swept"),
        (Sweep(np.array([14.2e6, 14.3e6]), np.array([0.1 + 0j, 0.1]), 75.0), "reference impedance"),
    ],
)
def test_segments_that_do_not_belong_together(other, words):
    with pytest.raises(ValueError, match=words):
        join_segments((flat(0.1, 14e6, 14.2e6), other))


# -- Repeats and margins ---------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("shift", "spread", "repeats"),
    [
        (20e3, 5e3, 3),  # t(4) = 2.776: 2.776 x 5 x sqrt(2/3) = 11.3 kHz
        (5e3, 5e3, 9),  # t(16) = 2.120: 2.120 x 5 x sqrt(2/9) = 4.997; with 8, t(14) = 2.145, 5.36
        (20e3, 0.0, 3),
        (0.1e3, 5e3, None),
    ],
)
def test_repeats_by_the_tables_of_t(shift, spread, repeats):
    """Student's t, 95 % two-sided, as any table has it (memory)."""
    assert repeats_needed(shift, spread) == repeats


@given(
    st.floats(1.05, 8), st.floats(20, 60), st.floats(0, 0.05), st.floats(20, 50), st.sampled_from(list(DecisionRule))
)
def test_margins_are_where_the_judge_turns(limit, directivity, tracking, match, rule):
    bench = Residuals(directivity, tracking, match)
    found = decidable(limit, bench, rule)
    level = float(gamma_from_swr(limit))

    def verdict(swr):
        sweep = flat(float(gamma_from_swr(swr)), points=30)
        return decide_window(sweep, sweep, Window(14e6, 14.35e6), level, bench, rule).verdict

    if found.passes_swr is None:
        assert verdict(1.0) is not Verdict.PASS
    else:
        assert verdict(1 + (found.passes_swr - 1) * 0.999) is Verdict.PASS
        if found.passes_swr < limit * 0.999:
            assert verdict(found.passes_swr * 1.001) is not Verdict.PASS
    if np.isfinite(found.fails_swr):
        assert verdict(found.fails_swr * 1.001) is Verdict.FAIL
        assert verdict(max(found.fails_swr * 0.998, 1.0)) is not Verdict.FAIL or rule is DecisionRule.SIMPLE
