"""The figures of one sweep in one window that comparisons rest on, each with its instrument's uncertainty.

References
----------
.. [1] JCGM 100:2008, 5.1, propagation of uncertainty (memory).
"""

import math
from dataclasses import dataclass, replace

import numpy as np

from levelmoor.core.metrology.uncertainty import Residuals, standard_uncertainty
from levelmoor.core.rf.dips import Dip, dip_near_window
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import WIDTH_SWRS, SweepAnalysis
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.read_off_verdict import resonance_fit

NEAR = 0.05
"""How far outside a window, as a share of the frequency, a dip still belongs to it."""
BEST_HZ, ZERO_HZ, BEST, WORST, SHARE = "best_hz", "zero_hz", "best", "worst", "share"


def width_key(swr: float) -> str:
    return f"width_{swr:g}"


def edge_key(swr: float, upper: bool) -> str:
    return f"{'upper' if upper else 'lower'}_{swr:g}"


def spot_key(frequency_hz: float) -> str:
    return f"spot_{frequency_hz:.0f}"


@dataclass(frozen=True)
class Feature:
    """A figure with its standard uncertainty: Hz, |gamma| or a share. `open_` where an edge lies outside the sweep."""

    value: float
    u: float
    open_: bool = False


def features(
    analysis: SweepAnalysis,
    figures: Residuals,
    window: Window,
    limit_swr: float,
    spots_hz: tuple[float, ...] = (),
) -> dict[str, Feature]:
    """What a sweep shows in a window; what it does not show is not there. The repeats' spread is left out of u."""
    alone = replace(figures, repeat=None, repeat_u=0.0)
    sweep = analysis.sweep
    found: dict[str, Feature] = {}
    dip = dip_near_window(analysis.dips, window.low_hz, window.high_hz)
    if dip is not None and not (window.low_hz * (1 - NEAR) <= dip.frequency_hz <= window.high_hz * (1 + NEAR)):
        dip = None  # the dip of another band says nothing of this one
    if dip is not None and not dip.at_edge:
        found[BEST_HZ] = Feature(dip.frequency_hz, dip_uncertainty(analysis, dip, alone))
        found[BEST] = _level(sweep, alone, dip.frequency_hz, dip.magnitude)
        for swr in WIDTH_SWRS:
            found |= _width(analysis, dip, alone, swr)
    zeros = [r for r in analysis.resonances if window.low_hz <= r.frequency_hz <= window.high_hz]
    if not zeros and dip is not None:
        zeros = [r for r in analysis.resonances if abs(r.frequency_hz - dip.frequency_hz) < NEAR * dip.frequency_hz]
    if zeros:
        middle = dip.frequency_hz if dip else (window.low_hz + window.high_hz) / 2
        zero = min(zeros, key=lambda r: abs(r.frequency_hz - middle))
        found[ZERO_HZ] = Feature(*resonance_fit(analysis, zero, alone))
    part = sweep.cut(window.low_hz, window.high_hz)
    if part is not None and sweep.covers(window.low_hz, window.high_hz):
        worst_hz, worst = part.worst()
        found[WORST] = _level(sweep, alone, worst_hz, worst)
        found[SHARE] = _share(part, alone, float(gamma_from_swr(limit_swr)))
    for f in spots_hz:
        if sweep.covers(f, f):
            found[spot_key(f)] = _level(sweep, alone, f, float(abs(sweep.gamma_at(f))))
    return found


def _level(sweep: Sweep, figures: Residuals, f: float, size: float) -> Feature:
    return Feature(size, float(standard_uncertainty(size, figures, sweep.half_step_at(f), f)))


def dip_uncertainty(analysis: SweepAnalysis, dip: Dip, figures: Residuals) -> float:
    """Standard uncertainty in Hz of a dip's frequency: u(gamma) over |d gamma/df| at the dip [1]_.

    Near the dip |gamma|^2 = m^2 + (s (f - f0))^2; the slope s comes from the width a little above it, which noise does
    not disturb. Between the points of a scalar sweep the path is not known, which adds half a step.
    """
    sweep = analysis.sweep
    for rise in (0.1, 0.05, 0.02):
        level = dip.magnitude + rise
        width = analysis.width(dip, level)
        if width is not None and not width.low_open and not width.high_open and width.width_hz > 0:
            slope = math.sqrt(level**2 - dip.magnitude**2) / (width.width_hz / 2)
            u = float(
                standard_uncertainty(dip.magnitude, figures, sweep.half_step_at(dip.frequency_hz), dip.frequency_hz)
            )
            between = _step_at(sweep, dip.frequency_hz) / 2 / math.sqrt(3) if sweep.scalar else 0.0
            return math.hypot(u / slope, between)
    return math.inf


def _step_at(sweep: Sweep, f: float) -> float:
    i = int(np.clip(np.searchsorted(sweep.frequency_hz, f), 1, sweep.points - 1))
    return float(sweep.frequency_hz[i] - sweep.frequency_hz[i - 1])


def _width(analysis: SweepAnalysis, dip: Dip, figures: Residuals, swr: float) -> dict[str, Feature]:
    """The width around a dip and its edges; an edge's u is u(|gamma|) over the slope of |gamma| there [1]_."""
    level = float(gamma_from_swr(swr))
    width = analysis.width(dip, level)
    if width is None:
        return {}
    sweep = analysis.sweep
    u_level = float(standard_uncertainty(level, figures, sweep.half_step_at(dip.frequency_hz), dip.frequency_hz))
    u = [
        0.0 if is_open else _edge_uncertainty(sweep, f, u_level, width.width_hz)
        for f, is_open in ((width.low_hz, width.low_open), (width.high_hz, width.high_open))
    ]
    return {
        edge_key(swr, False): Feature(width.low_hz, u[0], width.low_open),
        edge_key(swr, True): Feature(width.high_hz, u[1], width.high_open),
        width_key(swr): Feature(width.width_hz, math.hypot(*u), width.low_open or width.high_open),
    }


def _edge_uncertainty(sweep: Sweep, f: float, u_level: float, width_hz: float) -> float:
    reach = max(width_hz / 20, _step_at(sweep, f))
    ends = np.array([max(f - reach, sweep.low_hz), min(f + reach, sweep.high_hz)])
    sizes = np.abs(sweep.gamma_at(ends))
    slope = abs(sizes[1] - sizes[0]) / (ends[1] - ends[0])
    return float(u_level / slope) if slope > 0 else math.inf


def _share(part: Sweep, figures: Residuals, level: float) -> Feature:
    """Share within the level; its u from the shares at the level more and less u."""
    u = float(standard_uncertainty(level, figures, part.half_step_at(part.low_hz), (part.low_hz + part.high_hz) / 2))
    shares = [part.share_within(max(at, 0.0)) for at in (level - u, level, level + u)]
    return Feature(shares[1], (shares[2] - shares[0]) / 2)
