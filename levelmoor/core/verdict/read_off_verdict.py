"""Verdicts on what is read off a sweep: a resonance inside a window, and a bandwidth at an SWR.

References
----------
.. [1] JCGM 100:2008, 5.1, propagation of uncertainty through X(gamma) and through the edges (memory).
"""

from dataclasses import replace

import numpy as np

from levelmoor.core.metrology.decision import DecisionRule, Verdict, guard_band
from levelmoor.core.metrology.quantiles import largest_of
from levelmoor.core.metrology.uncertainty import Residuals, residual_bound, standard_uncertainty
from levelmoor.core.rf.dips import Width, dip_outside_words
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.resonances import Resonance
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.rf.windows import EDGE_TOLERANCE, Window
from levelmoor.core.words.said import said

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
        return Verdict.NOT_SHOWN, said("resonance.scalar")
    if window.spot:
        return Verdict.NOT_SHOWN, said("resonance.spot", name=window.name)
    sure = [(f, guard_band(u, rule)) for f, u in (resonance_fit(analysis, r, figures) for r in analysis.resonances)]
    well_inside = [f for f, g in sure if window.low_hz + g <= f <= window.high_hz - g]
    if well_inside:
        kind = min(analysis.resonances, key=lambda r: abs(r.frequency_hz - well_inside[0])).kind
        return Verdict.PASS, said("resonance.pass", at=well_inside[0], kind=str(kind))
    part = sweep.cut(window.low_hz, window.high_hz)
    assert part is not None
    y = np.abs(part.gamma.imag)
    bound = residual_bound(part.magnitude, figures, 0.0, part.frequency_hz) + largest_of(part.points) * analysis.noise
    crossed = bool(np.any(np.diff(np.sign(part.gamma.imag)) != 0))
    if crossed or (rule is DecisionRule.GUARDED and bool(np.any(y <= bound))):
        return Verdict.TOO_CLOSE, said("resonance.open")
    if not sure:
        return Verdict.FAIL, said("resonance.none")
    nearest = min((f for f, _ in sure), key=lambda f: max(window.low_hz - f, f - window.high_hz))
    return Verdict.FAIL, said("resonance.outside", at=nearest)


def judge_bandwidth(
    analysis: SweepAnalysis, window: Window, swr_at: float, claimed_hz: float, figures: Residuals, rule: DecisionRule
) -> tuple[Verdict, str]:
    """Verdict on `at least claimed_hz wide at swr_at` in the window.

    Only a stretch that lies in the window or reaches into it counts, and of that what lies inside, unless more is
    claimed than the window is wide. Its width at the level less the guard band is surely there; at the level and the
    guard band it is surely all there is.
    """
    level = float(gamma_from_swr(swr_at))
    middle = (window.low_hz + window.high_hz) / 2
    noisy = replace(figures, noise=max(figures.noise, analysis.noise))
    guard = guard_band(float(standard_uncertainty(level, noisy, 0.0, middle)), rule)
    inside = claimed_hz <= (window.high_hz - window.low_hz) * (1 + EDGE_TOLERANCE)
    sure, read, most = (
        analysis.widest_in(window, at, inside) for at in (max(level - guard, 1e-6), level, min(level + guard, 0.999))
    )
    if read is None:
        outside = dip_outside_words(analysis.dips, window.low_hz, window.high_hz)
        found: str = said("width.nothing", swr=swr_at, outside=outside)
    else:
        of_it = min(read.high_hz, window.high_hz) - max(read.low_hz, window.low_hz)
        cut = inside and of_it < read.width_hz
        found = said(
            "width.read",
            least=read.low_open or read.high_open,
            width=read.width_hz,
            swr=swr_at,
            span=(read.low_hz, read.high_hz),
            inside=said("width.inside", width=of_it, window=window.name) if cut else "",
        )
    widths = [_counted(w, window, inside) for w in (sure, most)]
    if sure is not None and widths[0] >= claimed_hz * (1 - EDGE_TOLERANCE):
        return Verdict.PASS, said("width.pass", found=found, claimed=claimed_hz)
    if most is not None and _open(most, window, inside):
        return Verdict.NOT_SHOWN, said("width.open", found=found)
    if most is None or widths[1] < claimed_hz:
        return Verdict.FAIL, said("width.fail", found=found, claimed=claimed_hz)
    return Verdict.TOO_CLOSE, said("width.too_close", found=found, claimed=claimed_hz)


def _counted(width: Width | None, window: Window, inside: bool) -> float:
    """What of a width counts, in Hz."""
    if width is None:
        return 0.0
    return min(width.high_hz, window.high_hz) - max(width.low_hz, window.low_hz) if inside else width.width_hz


def _open(width: Width, window: Window, inside: bool) -> bool:
    """Whether an edge that counts lies beyond the sweep."""
    low, high = width.low_open, width.high_open
    return (low and not (inside and width.low_hz <= window.low_hz)) or (
        high and not (inside and width.high_hz >= window.high_hz)
    )
