"""Verdicts on what is read off a sweep: a resonance inside a window, and a bandwidth at an SWR.

References
----------
.. [1] JCGM 100:2008, 5.1, propagation of uncertainty through X(gamma) and through the edges (memory).
"""

import numpy as np

from levelmoor.core.decision import Rule, Verdict, guard_band
from levelmoor.core.dips import Width, dip_of_window
from levelmoor.core.frequency import format_mhz, format_step
from levelmoor.core.reflection import gamma_from_swr, impedance_from_gamma
from levelmoor.core.resonances import Resonance
from levelmoor.core.sweep_reading import SweepReading
from levelmoor.core.uncertainty import BenchFigures, standard_uncertainty
from levelmoor.core.windows import Window


def resonance_uncertainty(reading: SweepReading, resonance: Resonance, figures: BenchFigures) -> float:
    """Standard uncertainty in Hz of where X = 0: u(X) over the slope of X, u(X) = 2 Z0 u(gamma)/|1 - gamma|^2 [1]_."""
    sweep, f0 = reading.sweep, resonance.frequency_hz
    u_gamma = float(standard_uncertainty(abs(resonance.gamma), figures, 0.0, f0))
    u_x = 2 * sweep.z0_ohm * u_gamma / max(abs(1 - resonance.gamma) ** 2, 1e-9)
    i = int(np.clip(np.searchsorted(sweep.frequency_hz, f0), 1, sweep.points - 1))
    x = impedance_from_gamma(sweep.gamma[i - 1 : i + 1], sweep.z0_ohm).imag
    slope = abs(x[1] - x[0]) / (sweep.frequency_hz[i] - sweep.frequency_hz[i - 1])
    return float(u_x / slope) if slope > 0 else float("inf")


def judge_resonance(reading: SweepReading, window: Window, figures: BenchFigures, rule: Rule) -> tuple[Verdict, str]:
    """Verdict on `X = 0 inside the window`; the sweep is taken to qualify for the window already."""
    if reading.sweep.scalar:
        return Verdict.NOT_SHOWN, "A sweep of SWR alone does not show where X is zero; sweep with R and X."
    found = reading.resonances
    sure = [(r, guard_band(resonance_uncertainty(reading, r, figures), rule)) for r in found]
    inside = [(r, g) for r, g in sure if window.low_hz <= r.frequency_hz <= window.high_hz]
    well_inside = [r for r, g in inside if window.low_hz + g <= r.frequency_hz <= window.high_hz - g]
    if well_inside:
        r = well_inside[0]
        return Verdict.PASS, f"X is zero at {format_mhz(round(r.frequency_hz, -3))} MHz ({r.kind}), inside the window."
    if inside or any(window.low_hz - g <= r.frequency_hz <= window.high_hz + g for r, g in sure):
        return Verdict.TOO_CLOSE, "X is zero so near to the window's edge that the uncertainty leaves it open."
    if not found:
        return Verdict.FAIL, "X is nowhere zero in the sweep, which covers the window."
    nearest = min((r.frequency_hz for r in found), key=lambda f: max(window.low_hz - f, f - window.high_hz))
    return Verdict.FAIL, f"X is zero at {format_mhz(round(nearest, -3))} MHz, outside the window."


def judge_bandwidth(
    reading: SweepReading, window: Window, swr_at: float, claimed_hz: float, figures: BenchFigures, rule: Rule
) -> tuple[Verdict, str]:
    """Verdict on `at least claimed_hz wide at swr_at around the window's dip`.

    Width at the level less the guard band is surely there; width at the level and the guard band surely all there is.
    """
    level = float(gamma_from_swr(swr_at))
    dip = dip_of_window(reading.dips, window.low_hz, window.high_hz)
    if dip is None:
        return Verdict.NOT_SHOWN, "The sweep has no dip to measure a width around."
    guard = guard_band(float(standard_uncertainty(level, figures, 0.0, dip.frequency_hz)), rule)
    sure, read, most = (reading.width(dip, at) for at in (level - guard, level, min(level + guard, 0.999)))
    said = f"{_width(read)} wide at {swr_at:g}:1 around {format_mhz(round(dip.frequency_hz, -3))} MHz"
    if sure is not None and sure.width_hz >= claimed_hz:
        return Verdict.PASS, f"{said}, at least the {format_step(claimed_hz)} claimed."
    if most is not None and (most.low_open or most.high_open):
        return Verdict.NOT_SHOWN, f"{said}, with an edge beyond the sweep; sweep with more room on both sides."
    if most is None or most.width_hz < claimed_hz:
        return Verdict.FAIL, f"{said}, less than the {format_step(claimed_hz)} claimed."
    return Verdict.TOO_CLOSE, f"{said}; the {format_step(claimed_hz)} claimed lie within the uncertainty."


def _width(width: Width | None) -> str:
    if width is None:
        return "Nothing"
    return ("At least " if width.low_open or width.high_open else "") + format_step(width.width_hz)
