"""A sweep: reflection over frequency, and the path it takes between its points.

Between points the complex reflection coefficient is interpolated linearly, so on each segment |gamma|^2 is a
quadratic in the position t (0 to 1): minima, crossings of a level and shares are roots of it, exact and without
a grid. A scalar sweep holds |gamma| as a real number and goes the same way. Across a gap there is no path: nothing is
read there.
"""

import math
from dataclasses import dataclass, replace
from functools import cached_property
from hashlib import blake2b
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from levelmoor.core.rf.gaps import gaps_between
from levelmoor.core.rf.reflection import ComplexArray, FloatArray, refer_to
from levelmoor.core.rf.windows import EDGE_TOLERANCE, reaches

# Frequencies are stored in files with few digits; a window edge this close to a sweep's end is at it.


def _within_unit(t: FloatArray) -> FloatArray:
    """t held to 0 to 1; much quicker than np.clip on the few points of a window."""
    return np.minimum(np.maximum(t, 0.0), 1.0)


@dataclass(frozen=True, eq=False)
class Sweep:
    """Reflection over frequency at one reference plane.

    Parameters
    ----------
    frequency_hz : (n,) float, strictly rising, n >= 1
    gamma : (n,) complex; for a scalar sweep |gamma| with no imaginary part
    z0_ohm : the reference impedance of `gamma`
    scalar : whether only the magnitude is known
    half_step_gamma : (n,) half of the display's last digit, as |gamma|; None where the figures are not rounded
    gap_after : (n - 1,) which steps are gaps; None to tell them by the frequencies

    Raises
    ------
    ValueError
        If shapes differ, the sweep is empty, values are not finite, or frequencies do not rise.
    """

    frequency_hz: FloatArray
    gamma: ComplexArray
    z0_ohm: float = 50.0
    scalar: bool = False
    half_step_gamma: FloatArray | None = None
    gap_after: NDArray[np.bool_] | None = None

    def __post_init__(self) -> None:
        f, g = self.frequency_hz, self.gamma
        if f.ndim != 1 or f.shape != g.shape or f.size == 0:
            raise ValueError("a sweep needs as many frequencies as reflection values, and at least one")
        if not (np.all(np.isfinite(f)) and np.all(np.isfinite(g))):
            raise ValueError("a sweep holds finite numbers only")
        if f.size > 1 and not np.all(np.diff(f) > 0):
            raise ValueError("the frequencies of a sweep must rise")

    @cached_property
    def content(self) -> bytes:
        """A digest of all that the sweep holds: equal for equal sweeps."""
        arrays = (self.frequency_hz, self.gamma, self.half_step_gamma, self.gap_after)
        digest = blake2b(repr((self.z0_ohm, self.scalar)).encode(), digest_size=16)
        for array in arrays:
            digest.update(b"none" if array is None else array.tobytes())
        return digest.digest()

    @property
    def points(self) -> int:
        return int(self.frequency_hz.size)

    @property
    def low_hz(self) -> float:
        return float(self.frequency_hz[0])

    @property
    def high_hz(self) -> float:
        return float(self.frequency_hz[-1])

    @property
    def largest_step_hz(self) -> float:
        """Largest step between neighbouring points, 0 for a single point."""
        return float(np.max(np.diff(self.frequency_hz), initial=0.0))

    @cached_property
    def gaps(self) -> NDArray[np.bool_]:
        """Which of the steps between neighbouring points are gaps, (n - 1,)."""
        return gaps_between(self.frequency_hz) if self.gap_after is None else self.gap_after

    @cached_property
    def stretches(self) -> "list[Sweep]":
        """The sweep cut at its gaps: each part has a path from end to end."""
        if not np.any(self.gaps):
            return [self]
        ends = [0, *(np.flatnonzero(self.gaps) + 1).tolist(), self.points]
        half = self.half_step_gamma
        return [
            replace(
                self,
                frequency_hz=self.frequency_hz[a:b],
                gamma=self.gamma[a:b],
                half_step_gamma=None if half is None else half[a:b],
                gap_after=np.zeros(b - a - 1, dtype=bool),
            )
            for a, b in pairwise(ends)
        ]

    def gap_in(self, low_hz: float, high_hz: float) -> tuple[float, float] | None:
        """The first gap that reaches into a range, as its ends in Hz, or None."""
        slack = EDGE_TOLERANCE * high_hz
        f = self.frequency_hz
        for i in np.flatnonzero(self.gaps).tolist():
            if f[i] < high_hz - slack and f[i + 1] > low_hz + slack:
                return float(f[i]), float(f[i + 1])
        return None

    @cached_property
    def magnitude(self) -> FloatArray:
        return np.asarray(np.abs(self.gamma))

    @property
    def _quadratic(self) -> tuple[FloatArray, FloatArray, FloatArray]:
        """Coefficients a, b, c of |gamma(t)|^2 = a t^2 + b t + c on each segment, each (n - 1,)."""
        start, step = self.gamma[:-1], np.diff(self.gamma)
        a = step.real**2 + step.imag**2
        b = 2 * (start.real * step.real + start.imag * step.imag)
        c = start.real**2 + start.imag**2
        return a, b, c

    def gamma_at(self, frequency_hz: float | FloatArray) -> ComplexArray:
        """Interpolated reflection; the end values outside the sweep."""
        return np.asarray(np.interp(frequency_hz, self.frequency_hz, self.gamma))

    def half_step_at(self, frequency_hz: float) -> float:
        """Half of the display's last digit as |gamma| at a frequency, 0 where nothing is rounded."""
        return float(self.half_steps_at(np.array([frequency_hz]))[0])

    def half_steps_at(self, frequency_hz: FloatArray) -> FloatArray:
        """The same at many frequencies (n,)."""
        if self.half_step_gamma is None:
            return np.zeros_like(frequency_hz)
        return np.interp(frequency_hz, self.frequency_hz, self.half_step_gamma)

    def referred_to(self, z0_ohm: float) -> "Sweep":
        """The same impedances in another reference; a scalar sweep has no impedance and keeps its own."""
        if self.scalar or z0_ohm == self.z0_ohm:
            return self
        return replace(self, gamma=refer_to(self.gamma, self.z0_ohm, z0_ohm), z0_ohm=z0_ohm)

    def covers(self, low_hz: float, high_hz: float) -> bool:
        """Whether the whole range lies inside the sweep (to 1 part in 10^9), with no gap in it."""
        return self.spans(low_hz, high_hz) and not self.in_gap(low_hz, high_hz)

    def spans(self, low_hz: float, high_hz: float) -> bool:
        """Whether the sweep runs from below the range to above it, gaps or not."""
        return reaches(self.low_hz, self.high_hz, low_hz, high_hz)

    def in_gap(self, low_hz: float, high_hz: float) -> bool:
        return bool(np.any(self.gaps)) and self.gap_in(low_hz, high_hz) is not None

    def inside(self, low_hz: float, high_hz: float) -> FloatArray:
        """The swept frequencies inside the range, ends included."""
        slack = EDGE_TOLERANCE * high_hz
        f = self.frequency_hz
        return f[np.searchsorted(f, low_hz - slack) : np.searchsorted(f, high_hz + slack, side="right")]

    def cut(self, low_hz: float, high_hz: float) -> "Sweep | None":
        """The part inside the range with ends interpolated where there is a path, or None where they do not meet."""
        low, high = max(low_hz, self.low_hz), min(high_hz, self.high_hz)
        if low > high:
            return None
        f, half = self.frequency_hz, self.half_step_gamma
        if np.any(self.gaps):
            inside = self.inside(low, high)
            if self.in_gap(low, low):
                low = float(inside[0]) if inside.size else math.inf
            if self.in_gap(high, high):
                high = float(inside[-1]) if inside.size else -math.inf
            if low > high:
                return None
        ends = np.array([low, high] if low < high else [low])
        inner = slice(int(np.searchsorted(f, low, "right")), int(np.searchsorted(f, high)))
        at_ends = self.gamma_at(ends)
        if half is not None:
            half_ends = np.interp(ends, f, half)
            half = np.concatenate((half_ends[:1], half[inner], half_ends[1:]))
        first = max(int(np.searchsorted(f, low, "right")) - 1, 0)
        return replace(
            self,
            frequency_hz=np.concatenate((ends[:1], f[inner], ends[1:])),
            gamma=np.concatenate((at_ends[:1], self.gamma[inner], at_ends[1:])),
            half_step_gamma=half,
            gap_after=self.gaps[first : first + int(f[inner].size) + ends.size - 1],
        )

    @cached_property
    def minima(self) -> tuple[FloatArray, FloatArray]:
        """Per segment the frequency in Hz and value of the smallest |gamma|, each (n - 1,)."""
        a, b, _ = self._quadratic
        t = _within_unit(np.divide(-b, 2 * a, out=np.zeros_like(a), where=a > 0))
        f = self.frequency_hz
        if np.any(self.gaps):
            t = np.where(self.gaps, (self.magnitude[1:] < self.magnitude[:-1]).astype(float), t)
        value = np.abs(self.gamma[:-1] + t * np.diff(self.gamma))
        return np.where(t == 1, f[1:], f[:-1] + t * np.diff(f)), value

    def within(self, level: float) -> tuple[FloatArray, FloatArray]:
        """Per segment the stretch t0 to t1 on which |gamma| <= level, each (n - 1,); t1 < t0 where there is none, as
        in a gap."""
        a, b, c = self._quadratic
        c = c - level**2
        discriminant = b * b - 4 * a * c
        root = np.sqrt(np.maximum(discriminant, 0))
        # The stable form: the larger root in size first, the other from their product c/a.
        q = -0.5 * (b + np.where(b >= 0, root, -root))
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
            one, two = q / a, np.where(q != 0, c / q, 0.0)
        low, high = np.fmin(one, two), np.fmax(one, two)
        flat = a == 0
        none = np.where(flat, c > 0, discriminant < 0) | self.gaps
        t0 = np.where(none, 1.0, np.where(flat, 0.0, _within_unit(low)))
        t1 = np.where(none, 0.0, np.where(flat, 1.0, _within_unit(high)))
        return t0, t1

    def crossings(self, segment: int, level: float) -> tuple[float, float]:
        """Where |gamma| falls to the level and where it rises from it again on one segment, in Hz."""
        f, g = self.frequency_hz[segment : segment + 2], self.gamma[segment : segment + 2]
        start, step = complex(g[0]), complex(g[1] - g[0])
        a = abs(step) ** 2
        if a == 0:
            return float(f[0]), float(f[1])
        half_b = start.real * step.real + start.imag * step.imag
        root = math.sqrt(max(half_b**2 - a * (abs(start) ** 2 - level**2), 0.0))
        low, high = (float(f[0] + min(max(t / a, 0.0), 1.0) * (f[1] - f[0])) for t in (-half_b - root, -half_b + root))
        return low, high

    def share_within(self, level: float) -> float:
        """Share of the frequency range, gaps left out, on which |gamma| <= level: 0 to 1, exact between points."""
        step = np.where(self.gaps, 0.0, np.diff(self.frequency_hz))
        if not np.any(step):
            return float(np.mean(self.magnitude <= level))
        t0, t1 = self.within(level)
        return float(np.sum(step * np.maximum(t1 - t0, 0)) / np.sum(step))

    def best(self) -> tuple[float, float]:
        """Frequency in Hz and value of the smallest |gamma|."""
        if self.points == 1:
            return self.low_hz, float(self.magnitude[0])
        f, value = self.minima
        i = int(np.argmin(value))
        return float(f[i]), float(value[i])

    def worst(self) -> tuple[float, float]:
        """Frequency in Hz and value of the largest |gamma|; it always falls on a point or an end."""
        i = int(np.argmax(self.magnitude))
        return float(self.frequency_hz[i]), float(self.magnitude[i])
