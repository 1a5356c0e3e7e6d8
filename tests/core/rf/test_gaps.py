"""What a sweep can show: nothing is read across a gap, narrow things are seen or asked for, points are facts."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.rf.gaps import gaps_between
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.segments import side_by_side
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.read_off_verdict import judge_bandwidth, judge_resonance, resonance_fit
from levelmoor.core.verdict.window_verdict import judge_window
from levelmoor.figures.landscape import landscape
from tests.codes import codes
from tests.sweeps import flat, rlc_sweep, with_noise

FIGURES = Residuals()
TWENTY, TWO = Window(14e6, 14.35e6, "20m"), Window(144e6, 147e6, "2m")


def judged(sweep, limit=2.0, window=TWENTY):
    return judge_window(analyse_sweep(sweep, 50.0), window, limit, FIGURES, DecisionRule.GUARDED)


def two_files():
    """One CSV with 6.95 to 7.35 and 13.9 to 14.45 MHz, both flat."""
    return side_by_side([flat(0.1, 6.95e6, 7.35e6, 81), flat(0.1, 13.9e6, 14.45e6, 111)])


def test_two_files_joined_have_a_gap_and_no_width_across_it():
    analysis = analyse_sweep(Sweep(two_files().frequency_hz, two_files().gamma), 50.0)
    assert analysis.sweep.gap_in(7e6, 14e6) == (7.35e6, 13.9e6)
    verdict, reason = judge_bandwidth(analysis, Window(7e6, 7.2e6, "40m"), 2.0, 1e6, FIGURES, DecisionRule.GUARDED)
    assert (verdict, "At least 400 kHz wide" in reason) == (Verdict.NOT_SHOWN, True)


def test_a_window_with_a_gap_in_it_is_not_shown():
    f = np.append(np.linspace(143.5e6, 144.24e6, 75), 147.3e6)
    found = judged(Sweep(f, np.full(76, 0.1 + 0j)), window=TWO)
    assert (found.verdict, "nothing was measured between 144.24 and 147.3" in found.reason.lower()) == (
        Verdict.NOT_SHOWN,
        True,
    )


def test_edge_readings_of_several_bands_give_no_width():
    f = np.array([3.5, 3.65, 3.8, 7.0, 7.1, 7.2, 14.0, 14.175, 14.35, 21.0, 21.2, 21.45]) * 1e6
    sweep = Sweep(f, np.full(f.size, 0.1 + 0j), scalar=True)
    assert [p.points for p in sweep.stretches] == [3, 3, 3, 3]
    widths = analyse_sweep(sweep, 50.0).widths(TWENTY)
    assert all(w.width_hz <= 0.35e6 + 1 for w in widths)


def test_no_share_and_no_line_across_a_gap():
    f = np.concatenate((np.linspace(14e6, 14.1e6, 41), np.linspace(14.3e6, 14.35e6, 21)))
    sweep = Sweep(f, np.where(f < 14.2e6, 0.1, 0.6).astype(complex))
    assert sweep.share_within(1 / 3) == pytest.approx(2 / 3, rel=1e-6)  # of the 150 kHz that were measured
    figure = landscape(analyse_sweep(sweep, 50.0), [], FIGURES)
    assert figure.count('class="skyline"') == 2


@given(st.lists(st.floats(0.5, 1.5), min_size=5, max_size=200), st.floats(1e6, 1e9))
def test_steps_that_differ_a_little_are_no_gaps(steps, start):
    f = start + np.cumsum(steps) * start * 1e-4
    assert not np.any(gaps_between(f))


def test_a_lone_point_hit_by_a_signal_does_not_fail_a_window():
    sweep = flat(float(gamma_from_swr(1.2)))
    gamma = sweep.gamma.copy()
    gamma[150] = 0.45
    found = judged(Sweep(sweep.frequency_hz, gamma), limit=1.5)
    assert (found.verdict, "a single point" in found.reason.lower() or "steps wide" in found.reason) == (
        Verdict.NOT_SHOWN,
        True,
    )


def test_measured_points_fail_a_window_however_coarse_the_sweep():
    found = judged(flat(0.6, 13.5e6, 15e6, 16))
    assert (found.verdict, found.points_inside < 21) == (Verdict.FAIL, True)
    assert "window.coarse_fail" in codes(found.reason)


def test_what_lies_between_two_points_does_not_fail_a_coarse_sweep():
    """Two points far outside the window, with a straight line through it that is beyond the limit."""
    found = judged(Sweep(np.array([13.2e6, 14.4e6, 15.0e6]), np.array([0.9 + 0j, 0.9, 0.9])))
    assert found.verdict is Verdict.NOT_SHOWN


def parasite(f, f0, q, size):
    return 0.15 + size / (1 + 1j * q * (f / f0 - f0 / f))


@pytest.mark.parametrize("window", [Window(3.5e6, 54e6), Window(1.8e6, 30e6), Window(25e6, 1300e6)])
def test_a_wide_window_asks_for_a_step_that_hides_no_resonance(window):
    f = np.linspace(window.low_hz, window.high_hz, 60)
    found = judged(Sweep(f, np.full(60, 0.1 + 0j)), window=window)
    assert found.verdict is Verdict.NOT_SHOWN
    assert found.step_needed_hz <= window.low_hz / 140


def test_a_plain_band_is_asked_for_no_more_than_before():
    for low, high in ((3.5e6, 4.0e6), (7e6, 7.2e6), (28e6, 29.7e6), (144e6, 146e6), (430e6, 440e6)):
        f = np.linspace(low - (high - low) / 20, high + (high - low) / 20, 23)
        assert judged(Sweep(f, np.full(23, 0.1 + 0j)), window=Window(low, high)).verdict is Verdict.PASS


def test_a_spot_is_read_between_points_only_where_nothing_narrow_fits():
    """A small loop, 5 kHz wide, between two points 20 kHz apart: its dip is at the spot, and neither point shows it."""
    f = np.arange(7.0e6, 7.2e6, 20e3)
    sweep = Sweep(f, 1 - 0.95 / (1 + 1j * 2800 * (f / 7.11e6 - 7.11e6 / f)))
    found = judged(sweep, window=Window(7.11e6, 7.11e6))
    assert (found.verdict, "coarse.spot" in codes(found.reason)) == (Verdict.NOT_SHOWN, True)


def test_a_dip_outside_the_window_is_named_and_gives_no_bandwidth():
    analysis = analyse_sweep(rlc_sweep(13e6, 17e6, 2001, f0=15.4e6, q=30), 50.0)
    verdict, reason = judge_bandwidth(analysis, TWENTY, 2.0, 200e3, FIGURES, DecisionRule.GUARDED)
    assert verdict is Verdict.FAIL
    assert "the nearest dip is at 15.4 MHz, 1.05 MHz (7.3 %) above the window, as if the element were short" in reason


# -- Resonance -------------------------------------------------------------------------------------------------------


def test_noise_does_not_make_a_resonance_sure():
    """2,001 points with noise of 0.0005: with the zero of X at the window's very edge hardly any verdict is sure."""
    edge = Window(14.2e6, 14.4e6)
    found = []
    for seed in range(60):
        analysis = analyse_sweep(with_noise(rlc_sweep(13.8e6, 14.6e6, 2001), 5e-4, seed), 50.0)
        found.append(judge_resonance(analysis, edge, Residuals(80, 0, 80), DecisionRule.GUARDED)[0])
    assert max(found.count(Verdict.PASS), found.count(Verdict.FAIL)) <= 4


def test_a_fit_finds_the_zero_of_x_better_than_the_noise_of_two_points():
    places = []
    for seed in range(40):
        analysis = analyse_sweep(with_noise(rlc_sweep(13.8e6, 14.6e6, 2001), 2e-3, seed), 50.0)
        f0, u = resonance_fit(analysis, analysis.resonances[0], Residuals(200, 0, 200))
        places.append((f0 - 14.2e6) / u)
    assert np.std(places) == pytest.approx(1.0, abs=0.4)


def test_x_that_is_nearly_zero_throughout_is_too_close():
    f = np.linspace(13.9e6, 14.5e6, 301)
    sweep = Sweep(f, 0.2 + 0.004j * np.ones(301))
    assert judge_resonance(analyse_sweep(sweep, 50.0), TWENTY, FIGURES, DecisionRule.GUARDED)[0] is Verdict.TOO_CLOSE


def test_a_resonance_at_one_frequency_is_asked_for_its_tolerance():
    analysis = analyse_sweep(rlc_sweep(13.8e6, 14.6e6, 801), 50.0)
    verdict, reason = judge_resonance(analysis, Window(14.2e6, 14.2e6), FIGURES, DecisionRule.GUARDED)
    assert (verdict, "±1 %" in reason) == (Verdict.NOT_SHOWN, True)
