"""Dips: the local minima of |gamma| that noise does not make."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from levelmoor.core.rf.noise import noise_of_magnitude
from levelmoor.core.rf.reflection import FloatArray, swr_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.words.said import said

SMALLEST_DEPTH = 0.01
"""Depth in |gamma| under which a hollow is not called a dip."""
MOST_DIPS = 500
"""No article has more; of a curve that does the deepest count, so that work stays in proportion to its points."""
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


def find_dips(sweep: Sweep, noise: float | None = None) -> list[Dip]:
    """All dips of a sweep by rising frequency; an empty list for a flat or single-point sweep.

    Minima are looked for at the points and then placed between them on the interpolated path.
    """
    if sweep.points < 2:
        return []
    magnitude = sweep.magnitude
    noise_depth = NOISE_DEPTHS * (noise_of_magnitude(sweep) if noise is None else noise)
    least = max(SMALLEST_DEPTH, noise_depth)
    dips = []
    for i in _hollows(magnitude, least):
        depth = _prominence(magnitude, i)
        if depth < max(least, _rounding_depth(sweep, i)):
            continue
        beside = sweep.frequency_hz[[max(i - 1, 0), min(i + 1, sweep.points - 1)]]
        part = sweep.cut(float(beside[0]), float(beside[1]))
        frequency, value = part.best() if part else (float(sweep.frequency_hz[i]), float(magnitude[i]))
        dips.append(
            Dip(
                frequency_hz=frequency,
                gamma=complex(sweep.gamma_at(frequency)),
                depth=depth + float(magnitude[i]) - value,
                at_edge=_runs_to_the_end(magnitude, i, noise_depth),
            )
        )
    return dips


@dataclass(frozen=True)
class Peak:
    """A local maximum of |gamma| with its prominence, and where |gamma| has sunk by half of that on each side."""

    frequency_hz: float
    magnitude: float
    height: float
    low_hz: float
    high_hz: float


def find_peaks(sweep: Sweep, noise: float) -> list[Peak]:
    """The peaks that noise and rounding do not make, by rising frequency; between points the path never rises above
    them. What only rises to the sweep's end is none.
    """
    if sweep.points < 3:
        return []
    turned = -sweep.magnitude
    least = max(SMALLEST_DEPTH, NOISE_DEPTHS * noise)
    found = []
    for i in _hollows(turned, least):
        if i in (0, sweep.points - 1):
            continue
        height = _prominence(turned, i)
        if height < max(least, _rounding_depth(sweep, i)):
            continue
        level = float(sweep.magnitude[i]) - height / 2
        low, high = (_falls_to(sweep, i, level, side) for side in (-1, 1))
        found.append(Peak(float(sweep.frequency_hz[i]), float(sweep.magnitude[i]), height, low, high))
    return found


def _falls_to(sweep: Sweep, index: int, level: float, side: int) -> float:
    """Frequency beside a peak at which |gamma| falls to a level, the sweep's end where it does not."""
    g, f = sweep.magnitude[::side], sweep.frequency_hz[::side]
    start = index if side == 1 else g.size - 1 - index
    under = np.flatnonzero(g[start:] <= level)
    if not under.size:
        return float(f[-1])
    j = start + int(under[0])
    share = (g[j - 1] - level) / (g[j - 1] - g[j])
    return float(f[j - 1] + share * (f[j] - f[j - 1]))


def _hollows(magnitude: FloatArray, least: float) -> list[int]:
    """Indices of the minima out of which the curve rises by `least` on both sides, outside taken as high ground.

    One pass over the points, first down to a minimum, then up to a maximum. Of equal points side by side the middle
    one stands for all. Of more than `MOST_DIPS` the deepest.
    """
    found, down, extreme, at = [], True, np.inf, 0
    kept = _telling_points(magnitude, least)
    for place, value in zip(kept.tolist(), magnitude[kept].tolist(), strict=True):
        if down:
            if value < extreme:
                extreme, at = value, place
            elif value - extreme >= least:
                found.append(at)
                down, extreme = False, value
        elif value > extreme:
            extreme = value
        elif extreme - value >= least:
            down, extreme, at = True, value, place
    if down:
        found.append(at)
    if len(found) > MOST_DIPS:
        found = sorted(sorted(found, key=magnitude.__getitem__)[:MOST_DIPS])
    return [_middle_of_plateau(magnitude, k) for k in found]


def _telling_points(magnitude: FloatArray, least: float, block: int = 128) -> NDArray[np.intp]:
    """Indices that tell all swings of `least` or more: of a block that swings less, its lowest and highest point do.

    Noise makes every third point a local minimum; this keeps long sweeps quick without losing a dip.
    """
    whole = magnitude.size // block * block
    blocks = magnitude[:whole].reshape(-1, block)
    first = np.arange(0, whole, block)
    lively = np.ptp(blocks, axis=1) >= least if whole else np.empty(0, dtype=bool)
    pairs = np.stack((blocks.argmin(axis=1), blocks.argmax(axis=1))) + first if whole else np.empty((2, 0), dtype=int)
    every = (first[lively, None] + np.arange(block)).ravel()
    return np.unique(np.concatenate((pairs.ravel(), every, np.arange(whole, magnitude.size))))


def _middle_of_plateau(magnitude: FloatArray, index: int) -> int:
    other = np.flatnonzero(magnitude[index:] != magnitude[index])
    length = int(other[0]) if other.size else magnitude.size - index
    return index + (length - 1) // 2


def _prominence(magnitude: FloatArray, index: int) -> float:
    """Height of the lower of the two passes out of a minimum, no lower ground beyond counting as the highest point."""
    floor, top = magnitude[index], float(np.max(magnitude))
    passes = []
    for side in (magnitude[:index][::-1], magnitude[index + 1 :]):
        lower = np.flatnonzero(side < floor)
        passes.append(float(np.max(side[: lower[0]], initial=floor)) if lower.size else top)
    return min(passes) - float(floor)


def _rounding_depth(sweep: Sweep, index: int) -> float:
    """One step of the display's last digit as |gamma|: a hollow of one step is rounding."""
    if sweep.half_step_gamma is None:
        return 0.0
    return 2.02 * float(sweep.half_step_gamma[index])


def _runs_to_the_end(magnitude: FloatArray, index: int, noise_depth: float) -> bool:
    """Whether, noise apart, the curve does not rise again between the minimum and one end of the sweep."""
    if index in (0, magnitude.size - 1):
        return True
    if noise_depth == 0:
        return False
    floor = magnitude[index]
    return any(bool(np.max(side) - floor < noise_depth) for side in (magnitude[:index], magnitude[index + 1 :]))


def dip_of_window(dips: list[Dip], low_hz: float, high_hz: float) -> Dip | None:
    """The deepest dip inside a window, or None."""
    inside = [d for d in dips if low_hz <= d.frequency_hz <= high_hz]
    return min(inside, key=lambda d: d.magnitude, default=None)


def dip_near_window(dips: list[Dip], low_hz: float, high_hz: float) -> Dip | None:
    """The deepest dip inside a window, or where there is none the one nearest to it."""
    return dip_of_window(dips, low_hz, high_hz) or min(
        dips, key=lambda d: max(low_hz - d.frequency_hz, d.frequency_hz - high_hz), default=None
    )


def dip_outside_words(dips: list[Dip], low_hz: float, high_hz: float) -> str:
    """How far off the nearest dip lies, and what that says of the element; empty where one lies inside."""
    dip = dip_near_window(dips, low_hz, high_hz)
    if dip is None or low_hz <= dip.frequency_hz <= high_hz:
        return ""
    below = dip.frequency_hz < low_hz
    edge = low_hz if below else high_hz
    away = abs(dip.frequency_hz - edge)
    side, element = ("below", "long") if below else ("above", "short")
    return said(
        "dip.outside",
        at=dip.frequency_hz,
        at_edge=dip.at_edge,
        away=away,
        share=100 * away / edge,
        side=side,
        element=element,
    )


@dataclass(frozen=True)
class Width:
    """How far the curve stays at or below an SWR around a dip, in the whole sweep.

    An edge that the sweep does not reach is open: it stands at the sweep's end, or at a gap, and the width is "at
    least".
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
    """Edges around a dip at a level of |gamma|, or None where the dip does not reach it.

    For a series RLC with R = Z0 the width at SWR s is f0/Q (s - 1)/sqrt(s), compare [1]_.

    References
    ----------
    .. [1] A. D. Yaghjian, S. R. Best, IEEE Trans. Antennas Propag. 53(4), 2005, pp. 1298-1324 (memory).
    """
    if dip.magnitude >= level or sweep.points < 2:
        return None
    f = sweep.frequency_hz
    k = int(np.clip(np.searchsorted(f, dip.frequency_hz, side="right") - 1, 0, f.size - 2))
    gaps = np.flatnonzero(sweep.gaps)
    first = int(gaps[gaps < k][-1]) + 1 if np.any(gaps < k) else 0
    last = int(gaps[gaps >= k][0]) if np.any(gaps >= k) else f.size - 1
    if k == last and k > first:
        k -= 1
    # |gamma|^2 is convex between points, so the level is crossed only beside a point that stands above it.
    above = sweep.magnitude > level
    left, right = np.flatnonzero(above[first : k + 1]), np.flatnonzero(above[k + 1 : last + 1])
    low, high = float(f[first]), float(f[last])
    if left.size:
        low = sweep.crossings(first + int(left[-1]), level)[0]
    if right.size:
        high = sweep.crossings(k + int(right[0]), level)[1]
    # Back through |gamma| the SWR would come out as 1.4999999999999998.
    swr = round(float(swr_from_gamma(level)), 12)
    return Width(swr, low, high, low_open=not left.size, high_open=not right.size)


def stretches_within(sweep: Sweep, level: float) -> list[Width]:
    """The unbroken stretches at or below a level of |gamma|."""
    found: list[Width] = []
    swr = round(float(swr_from_gamma(level)), 12)
    for part in sweep.stretches:
        if part.points < 2:
            continue
        t0, t1 = part.within(level)
        f, step = part.frequency_hz[:-1], np.diff(part.frequency_hz)
        some = np.flatnonzero(t1 >= t0)
        if not some.size:
            continue
        ends = np.flatnonzero((np.diff(some) > 1) | (t1[some[:-1]] < 1) | (t0[some[1:]] > 0))
        first, last = some[np.concatenate(([0], ends + 1))], some[np.concatenate((ends, [some.size - 1]))]
        low, high = f[first] + t0[first] * step[first], f[last] + t1[last] * step[last]
        low_open, high_open = (first == 0) & (t0[first] == 0), (last == step.size - 1) & (t1[last] == 1)
        rows = zip(low.tolist(), high.tolist(), low_open.tolist(), high_open.tolist(), strict=True)
        found += [Width(swr, *row) for row in rows if row[1] > row[0]]
    return found
