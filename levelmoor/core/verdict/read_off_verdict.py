"""Verdicts on what is read off a sweep: a resonance inside a window, and a bandwidth at an SWR.

References
----------
.. [1] JCGM 100:2008, 5.1, propagation of uncertainty through X(gamma) and through the edges (memory).
"""

from dataclasses import replace

import numpy as np

from levelmoor.core.metrology.decision import DecisionRule, Verdict, guard_band
from levelmoor.core.metrology.uncertainty import Residuals, residual_bound, standard_uncertainty
from levelmoor.core.metrology.window_guard import largest_of
from levelmoor.core.rf.dips import Width, dip_outside_words
from levelmoor.core.rf.frequency import format_mhz, format_range, format_step
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.resonances import Resonance
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.rf.windows import Window

FIT_HEIGHT = 0.15
"""The points around a zero of X whose Im(gamma) is no larger than this tell where it is, being nearly straight;"""
FIT_NOISES = 6.0
"""where the noise is more, those no larger than this many of its standard deviations."""
CURVED = 9
"""From so many points on the fit is a parabola, else a straight line."""


def resonance_fit(
    analysis: SweepAnalysis, resonance: Resonance, figures: Residuals, noise: float | None = None
) -> tuple[float, float]:
    """Where X = 0 and its standard uncertainty, both in Hz: a fit to Im(gamma) over the points around it [1]_.

    X and Im(gamma) are zero together. Two neighbouring points would give noise for the slope; the fit takes as many as
    the noise asks for. What the bench leaves uncorrected moves the zero by u(gamma) over the slope.
    """
    sweep, f0 = analysis.sweep, resonance.frequency_hz
    sigma = analysis.noise if noise is None else noise
    y, f = sweep.gamma.imag, sweep.frequency_hz
    low = np.abs(y) <= max(FIT_HEIGHT, FIT_NOISES * sigma)
    i = int(np.clip(np.searchsorted(f, f0), 1, sweep.points - 1))
    first, last = i - 1, i
    while first > 0 and low[first - 1] and not sweep.gaps[first - 1]:
        first -= 1
    while last < sweep.points - 1 and low[last + 1] and not sweep.gaps[last]:
        last += 1
    x, part = f[first : last + 1] - f0, y[first : last + 1]
    scale = max(float(np.max(np.abs(x))), 1e-9)
    power = np.vander(x / scale, 3 if x.size >= CURVED else 2)
    fit, *_ = np.linalg.lstsq(power, part, rcond=None)
    slope, at_zero = float(fit[-2]), float(fit[-1])
    if slope == 0:
        return f0, float("inf")
    moved = -at_zero / slope if x.size > 2 else 0.0
    where = float(np.clip(moved, -1.0, 1.0)) * scale
    u_fit = sigma * float(np.sqrt(np.linalg.pinv(power.T @ power)[-1, -1]))
    quiet = replace(figures, noise=0.0)
    u_bench = float(standard_uncertainty(abs(resonance.gamma), quiet, 0.0, f0))
    return f0 + where, float(np.hypot(u_bench, u_fit)) / abs(slope) * scale


def judge_resonance(
    analysis: SweepAnalysis, window: Window, figures: Residuals, rule: DecisionRule
) -> tuple[Verdict, str]:
    """Verdict on `X = 0 inside the window`; the sweep is taken to qualify for the window already."""
    sweep = analysis.sweep
    if sweep.scalar:
        return Verdict.NOT_SHOWN, "A sweep of SWR alone does not show where X is zero; sweep with R and X."
    if window.spot:
        return Verdict.NOT_SHOWN, (
            f"No X is zero at one frequency exactly; write how near to {window.name} it is claimed to be, such as "
            f"{window.name} ±1 %."
        )
    sure = [(f, guard_band(u, rule)) for f, u in (resonance_fit(analysis, r, figures) for r in analysis.resonances)]
    well_inside = [f for f, g in sure if window.low_hz + g <= f <= window.high_hz - g]
    if well_inside:
        kind = min(analysis.resonances, key=lambda r: abs(r.frequency_hz - well_inside[0])).kind
        return Verdict.PASS, f"X is zero at {format_mhz(round(well_inside[0], -3))} MHz ({kind}), inside the window."
    part = sweep.cut(window.low_hz, window.high_hz)
    assert part is not None
    y = np.abs(part.gamma.imag)
    bound = residual_bound(part.magnitude, figures, 0.0, part.frequency_hz) + largest_of(part.points) * analysis.noise
    crossed = bool(np.any(np.diff(np.sign(part.gamma.imag)) != 0))
    if crossed or (rule is DecisionRule.GUARDED and bool(np.any(y <= bound))):
        return Verdict.TOO_CLOSE, "X is zero so near to the window's edge, or so nearly, that it is left open."
    if not sure:
        return Verdict.FAIL, "X is nowhere zero in the sweep, which covers the window."
    nearest = min((f for f, _ in sure), key=lambda f: max(window.low_hz - f, f - window.high_hz))
    return Verdict.FAIL, f"X is zero at {format_mhz(round(nearest, -3))} MHz, outside the window."


def judge_bandwidth(
    analysis: SweepAnalysis, window: Window, swr_at: float, claimed_hz: float, figures: Residuals, rule: DecisionRule
) -> tuple[Verdict, str]:
    """Verdict on `at least claimed_hz wide at swr_at` in the window.

    Only a stretch that lies in the window or reaches into it counts. Its width at the level less the guard band is
    surely there; at the level and the guard band it is surely all there is.
    """
    level = float(gamma_from_swr(swr_at))
    middle = (window.low_hz + window.high_hz) / 2
    noisy = replace(figures, noise=max(figures.noise, analysis.noise))
    guard = guard_band(float(standard_uncertainty(level, noisy, 0.0, middle)), rule)
    sure, read, most = (
        analysis.widest_in(window, at) for at in (max(level - guard, 1e-6), level, min(level + guard, 0.999))
    )
    if read is None:
        outside = dip_outside_words(analysis.dips, window.low_hz, window.high_hz)
        said = f"Nothing in the window is within {swr_at:g}:1" + (f"; {outside}" if outside else "")
    else:
        said = f"{_width(read)} wide at {swr_at:g}:1, {format_range(read.low_hz, read.high_hz)}"
    if sure is not None and sure.width_hz >= claimed_hz:
        return Verdict.PASS, f"{said}, at least the {format_step(claimed_hz)} claimed."
    if most is not None and (most.low_open or most.high_open):
        return Verdict.NOT_SHOWN, f"{said}, with an edge beyond the sweep; sweep with more room on both sides."
    if most is None or most.width_hz < claimed_hz:
        return Verdict.FAIL, f"{said}; less than the {format_step(claimed_hz)} claimed."
    return Verdict.TOO_CLOSE, f"{said}; the {format_step(claimed_hz)} claimed lie within the uncertainty."


def _width(width: Width) -> str:
    return ("At least " if width.low_open or width.high_open else "") + format_step(width.width_hz)
