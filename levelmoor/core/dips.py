"""Dips: the local minima of |gamma| that noise does not make."""

from dataclasses import dataclass

import numpy as np
from scipy.signal import find_peaks

from levelmoor.core.noise import noise_of_magnitude
from levelmoor.core.reflection import gamma_from_swr, swr_from_gamma
from levelmoor.core.sweep import Sweep

SMALLEST_DEPTH = 0.01
"""Depth in |gamma| under which a hollow is not called a dip."""
NOISE_DEPTHS = 10.0
"""Depth in standard deviations of the noise; 10,001 points of noise alone span about 8."""


@dataclass(frozen=True)
class Dip:
    """A local minimum of |gamma|.

    `depth` is its prominence in |gamma|: the height of the lower pass out of it, what lies outside the sweep
    taken as high ground. At the edge means that it falls right up to the sweep's end: the dip may lie outside.
    """

    frequency_hz: float
    gamma: complex
    depth: float
    at_edge: bool

    @property
    def magnitude(self) -> float:
        return abs(self.gamma)


def find_dips(sweep: Sweep) -> list[Dip]:
    """All dips of a sweep by rising frequency; an empty list for a flat or single-point sweep.

    Minima are looked for at the points and then placed between them on the interpolated path.
    """
    if sweep.points < 2:
        return []
    magnitude = sweep.magnitude
    top = float(np.max(magnitude))
    noise_depth = NOISE_DEPTHS * noise_of_magnitude(sweep)
    peaks, found = find_peaks(np.concatenate(([-top], -magnitude, [-top])), prominence=max(SMALLEST_DEPTH, noise_depth))
    segment_f, segment_value = sweep.minima()
    dips = []
    for i, depth in zip(peaks - 1, found["prominences"], strict=True):
        if depth < _rounding_depth(sweep, int(i)):
            continue
        frequency, value = float(sweep.frequency_hz[i]), float(magnitude[i])
        for j in (i - 1, i):
            if 0 <= j < segment_value.size and segment_value[j] < value:
                frequency, value = float(segment_f[j]), float(segment_value[j])
        dips.append(
            Dip(
                frequency_hz=frequency,
                gamma=complex(sweep.gamma_at(frequency)),
                depth=float(depth) + float(magnitude[i]) - value,
                at_edge=_runs_to_the_end(magnitude, int(i), noise_depth),
            )
        )
    return dips


def _rounding_depth(sweep: Sweep, index: int) -> float:
    """One step of the display's last digit as |gamma|: a hollow of one step is rounding."""
    if sweep.half_step_gamma is None:
        return 0.0
    return 2.02 * float(sweep.half_step_gamma[index])


def _runs_to_the_end(magnitude: np.ndarray, index: int, noise_depth: float) -> bool:
    """Whether, noise apart, the curve does not rise again between the minimum and one end of the sweep."""
    if index in (0, magnitude.size - 1):
        return True
    if noise_depth == 0:
        return False
    floor = magnitude[index]
    return any(bool(np.max(side) - floor < noise_depth) for side in (magnitude[:index], magnitude[index + 1 :]))


def dip_of_window(dips: list[Dip], low_hz: float, high_hz: float) -> Dip | None:
    """The deepest dip inside a window, or where there is none the one nearest to it."""
    inside = [d for d in dips if low_hz <= d.frequency_hz <= high_hz]
    if inside:
        return min(inside, key=lambda d: d.magnitude)
    return min(dips, key=lambda d: max(low_hz - d.frequency_hz, d.frequency_hz - high_hz), default=None)


@dataclass(frozen=True)
class Width:
    """How far the curve stays at or below an SWR around a dip, in the whole sweep.

    An edge that the sweep does not reach is open: it stands at the sweep's end and the width is "at least".
    """

    swr: float
    low_hz: float
    high_hz: float
    low_open: bool
    high_open: bool

    @property
    def width_hz(self) -> float:
        return self.high_hz - self.low_hz


def width_around(sweep: Sweep, dip: Dip, level: float) -> Width | None:
    """Edges around a dip at a level of |gamma|, or None where the dip does not reach it."""
    if dip.magnitude >= level or sweep.points < 2:
        return None
    f, step = sweep.frequency_hz, np.diff(sweep.frequency_hz)
    t0, t1 = sweep.within(level)
    k = int(np.clip(np.searchsorted(f, dip.frequency_hz, side="right") - 1, 0, f.size - 2))
    starts = np.flatnonzero(t0[: k + 1] > 0)
    ends = np.flatnonzero(t1[k:] < 1)
    low, high = sweep.low_hz, sweep.high_hz
    if starts.size:
        low = float(f[starts[-1]] + t0[starts[-1]] * step[starts[-1]])
    if ends.size:
        high = float(f[k + ends[0]] + t1[k + ends[0]] * step[k + ends[0]])
    swr = float(swr_from_gamma(level))
    return Width(swr, low, high, low_open=not starts.size, high_open=not ends.size)


def widths_of(sweep: Sweep, dip: Dip | None, swrs: tuple[float, ...] = (1.5, 2.0, 3.0)) -> list[Width]:
    """Widths at several SWRs around one dip; those it does not reach are left out.

    For a series RLC with R = Z0 the width at SWR s is f0/Q (s - 1)/sqrt(s), compare [1]_.

    References
    ----------
    .. [1] A. D. Yaghjian, S. R. Best, IEEE Trans. Antennas Propag. 53(4), 2005 (memory).
    """
    if dip is None:
        return []
    found = (width_around(sweep, dip, float(gamma_from_swr(s))) for s in swrs)
    return [Width(s, w.low_hz, w.high_hz, w.low_open, w.high_open) for s, w in zip(swrs, found, strict=True) if w]
