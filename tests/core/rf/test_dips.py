import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.rf.dips import (
    dip_near_window,
    dip_of_window,
    dip_outside_words,
    find_dips,
    find_peaks,
)
from levelmoor.core.rf.resonances import find_resonances
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.windows import Window
from tests.sweeps import flat, rlc_sweep, with_noise


def widths(sweep):
    """Widths of a window about the first dip."""
    analysis = analyse_sweep(sweep, 50)
    at = analysis.dips[0].frequency_hz
    return analysis.widths(Window(at * 0.999, at * 1.001))


@pytest.mark.parametrize(("swr", "width_khz"), [(1.5, 115.943), (2, 200.818), (3, 327.935)])
def test_width_of_a_series_rlc(swr, width_khz):
    # f0/Q (s-1)/sqrt(s), exact for R = Z0; compare Yaghjian and Best, IEEE Trans. AP 53(4), 2005 (memory).
    sweep = rlc_sweep(13e6, 15.4e6, 24001)
    width = next(w for w in widths(sweep) if w.swr == swr)
    assert width.width_hz / 1e3 == pytest.approx(width_khz, abs=0.002)
    assert not (width.low_open or width.high_open)


@given(st.floats(5, 80), st.floats(13.9e6, 14.6e6))
def test_dip_and_resonance_of_a_series_rlc_are_at_f0(q, f0):
    sweep = rlc_sweep(13e6, 15.5e6, 5001, f0, q)
    (dip,), (resonance,) = find_dips(sweep), find_resonances(sweep)
    assert dip.frequency_hz == pytest.approx(f0, rel=1e-6)
    assert resonance.frequency_hz == pytest.approx(f0, rel=1e-6)
    assert (resonance.kind, dip.at_edge) == ("series", False)


@given(st.floats(2e-4, 0.01), st.integers(0, 1000))
def test_noise_makes_no_dip_and_no_resonance(sigma, seed):
    assert find_dips(with_noise(flat(0.02), sigma, seed)) == []
    assert find_resonances(with_noise(flat(0.02), sigma, seed)) == []


@given(st.floats(2e-4, 0.01), st.integers(0, 1000))
def test_noise_leaves_one_dip_of_one(sigma, seed):
    assert len(find_dips(with_noise(rlc_sweep(13e6, 15.4e6, 1001), sigma, seed))) == 1


def test_dip_beyond_the_end_is_flagged():
    (dip,) = find_dips(rlc_sweep(14.25e6, 15e6, 301))
    assert (dip.frequency_hz, dip.at_edge) == (14.25e6, True)


def test_open_edge_stands_at_the_sweeps_end():
    sweep = rlc_sweep(14.15e6, 15e6, 401)
    two = next(w for w in widths(sweep) if w.swr == 2)
    assert (two.low_open, two.low_hz, two.high_open) == (True, 14.15e6, False)


def test_level_the_dip_does_not_reach_is_left_out():
    sweep = rlc_sweep(13e6, 15.4e6, 4001, r=85)
    assert [w.swr for w in widths(sweep)] == [2.0, 3.0]


def test_rounded_swr_makes_no_dip_of_a_flat_line():
    f = np.linspace(14e6, 14.35e6, 50)
    swr = np.where(np.arange(50) % 7 == 0, 1.2, 1.3)
    gamma = (swr - 1) / (swr + 1)
    half = np.full(50, 0.0190)  # half of 0.1 in SWR near 1.25, as |gamma|
    assert find_dips(Sweep(f, gamma.astype(complex), scalar=True, half_step_gamma=half)) == []


def test_deepest_dip_inside_else_the_nearest():
    f = np.linspace(1e6, 60e6, 6001)
    gamma = 1 - 0.5 * np.exp(-(((f - 10e6) / 1e6) ** 2)) - 0.8 * np.exp(-(((f - 20e6) / 1e6) ** 2))
    dips = find_dips(Sweep(f, gamma.astype(complex)))
    assert dip_of_window(dips, 5e6, 30e6).frequency_hz == pytest.approx(20e6, rel=1e-3)
    assert dip_of_window(dips, 11.5e6, 12e6) is None
    assert dip_near_window(dips, 11.5e6, 12e6).frequency_hz == pytest.approx(10e6, rel=1e-3)
    assert dip_outside_words(dips, 11.5e6, 12e6).startswith("the nearest dip is at 9.998 MHz, 1.502 MHz (13.1 %) below")


def test_a_peak_is_told_as_a_dip_turned_over():
    f = np.linspace(10e6, 20e6, 1001)
    gamma = 0.1 + 0.4 / np.sqrt(1 + ((f - 14e6) / 0.1e6) ** 2)
    (peak,) = find_peaks(Sweep(f, gamma.astype(complex)), 0.0)
    assert (peak.frequency_hz, peak.magnitude) == (pytest.approx(14e6), pytest.approx(0.5))
    # Half of the height: 0.3 = 0.1 + 0.4/sqrt(1 + x^2), x = sqrt 3, a little more since the ends stand above 0.1.
    assert peak.high_hz - peak.low_hz == pytest.approx(2 * np.sqrt(3) * 0.1e6, rel=0.1)


def test_only_stretches_that_reach_into_a_window_belong_to_it():
    analysis = analyse_sweep(rlc_sweep(13e6, 15.4e6, 2401), 50)
    inside = analysis.widest_in(Window(14.25e6, 14.4e6), 1 / 3)
    assert inside.width_hz == pytest.approx(200.818e3, rel=1e-3)
    assert analysis.widest_in(Window(14.4e6, 14.5e6), 1 / 3) is None


def test_edges_of_an_80_m_curve():
    # Common practice, no source: 2:1 at 3.650 and 3.808, 1.5:1 at 3.679, best at 3.731 MHz.
    f = np.array([3.60, 3.650, 3.679, 3.731, 3.808, 3.85]) * 1e6
    swr = np.array([2.6, 2, 1.5, 1.1, 2, 2.5])
    sweep = Sweep(f, ((swr - 1) / (swr + 1)).astype(complex), scalar=True)
    found = {w.swr: w for w in widths(sweep)}
    assert found[2.0].width_hz == pytest.approx(158e3, abs=1)
    assert found[1.5].low_hz == pytest.approx(3.679e6, abs=1)
