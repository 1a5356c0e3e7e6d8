"""Dips: the local minima of |gamma| that noise does not make."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from levelmoor.core.noise import noise_of_magnitude
from levelmoor.core.reflection import FloatArray, swr_from_gamma
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


def _hollows(magnitude: FloatArray, least: float) -> list[int]:
    """Indices of the minima out of which the curve rises by `least` on both sides, outside taken as high ground.

    One pass over the points, first down to a minimum, then up to a maximum. Of equal points side by side the middle
    one stands for all.
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
    """Edges around a dip at a level of |gamma|, or None where the dip does not reach it.

    For a series RLC with R = Z0 the width at SWR s is f0/Q (s - 1)/sqrt(s), compare [1]_.

    References
    ----------
    .. [1] A. D. Yaghjian, S. R. Best, IEEE Trans. Antennas Propag. 53(4), 2005 (memory).
    """
    if dip.magnitude >= level or sweep.points < 2:
        return None
    f = sweep.frequency_hz
    k = int(np.clip(np.searchsorted(f, dip.frequency_hz, side="right") - 1, 0, f.size - 2))
    # |gamma|^2 is convex between points, so the level is crossed only beside a point that stands above it.
    above = sweep.magnitude > level
    left, right = np.flatnonzero(above[: k + 1]), np.flatnonzero(above[k + 1 :])
    low, high = sweep.low_hz, sweep.high_hz
    if left.size:
        low = sweep.crossings(int(left[-1]), level)[0]
    if right.size:
        high = sweep.crossings(k + int(right[0]), level)[1]
    # Back through |gamma| the SWR would come out as 1.4999999999999998.
    swr = round(float(swr_from_gamma(level)), 12)
    return Width(swr, low, high, low_open=not left.size, high_open=not right.size)
