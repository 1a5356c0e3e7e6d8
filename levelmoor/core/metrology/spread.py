"""Repeats of one setup: which sweeps they are, their mean, and how far they spread.

References
----------
.. [1] JCGM 100:2008, 4.2, the experimental standard deviation (memory).
"""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from levelmoor.core.metrology.repeats import FEWEST
from levelmoor.core.rf.curve import Curve, curve_of
from levelmoor.core.rf.reflection import ComplexArray, FloatArray
from levelmoor.core.rf.sweep import Sweep

LOST, FROM_SIZE = 0.02, 0.1
"""So much of |gamma| may a mean of gamma lose against the mean of the sizes, from this size on: at the bottom of a dip
wind turns gamma round, where it says little."""
SMOOTHING = 0.04
"""The spread at a frequency is pooled over this share of the span: of few repeats a single point says little."""


@dataclass(frozen=True, eq=False)
class Spread:
    """Repeats with their mean sweep; `seen` is the standard deviation of |gamma| over frequency, None of one sweep."""

    sweep_ids: tuple[str, ...]
    mean: Sweep
    seen: Curve | None

    @property
    def sd(self) -> Curve | None:
        """The standard deviation where it is known: with fewer than three it is not."""
        return self.seen if self.count >= FEWEST else None

    @property
    def count(self) -> int:
        return len(self.sweep_ids)


def spread_of(sweeps: Mapping[str, Sweep]) -> Spread:
    """Mean and spread of repeats by their ids, over what all of them cover, at the points of the coarsest.

    The mean is of gamma, of |gamma| for scalar sweeps and for those that point apart, whose mean in gamma would be
    smaller than each; the spread is the standard deviation of |gamma| [1]_.

    Raises
    ------
    ValueError
        Where there is no sweep, or they share no span.
    """
    every = list(sweeps.values())
    if not every:
        raise ValueError("a spread needs at least one sweep")
    low, high = max(s.low_hz for s in every), min(s.high_hz for s in every)
    coarsest = min(every, key=lambda s: s.points)
    f = coarsest.inside(low, high)
    if f.size == 0:
        raise ValueError("the repeats have no span in common")
    z0, scalar = every[0].z0_ohm, any(s.scalar for s in every)
    values: ComplexArray = np.array([s.referred_to(z0).gamma_at(f) for s in every])
    halves = [s.half_steps_at(f) for s in every if s.half_step_gamma is not None]
    half = np.asarray(sum(halves) / len(every)) if halves else None
    alike = scalar or _agree(values)
    taken = np.asarray(values if alike and not scalar else np.abs(values))
    mean = Sweep(f, taken.mean(axis=0).astype(np.complex128), z0, scalar or not alike, half)
    seen = None
    if len(every) > 1:
        variance = np.var(np.abs(values), axis=0, ddof=1)
        seen = curve_of(f, np.sqrt(_pooled(variance)))
    return Spread(tuple(sweeps), mean, seen)


def _agree(values: ComplexArray) -> bool:
    """Whether repeats (n, points) agree in gamma: their mean is nowhere much smaller than they are in the mean."""
    sizes = np.mean(np.abs(values), axis=0)
    lost = np.where(sizes >= FROM_SIZE, sizes - np.abs(values.mean(axis=0)), 0.0)
    return bool(np.max(lost) <= LOST)


def _pooled(variance: FloatArray) -> FloatArray:
    """The mean variance of the points around each, the window cut at the ends."""
    half = max(int(SMOOTHING * variance.size / 2), 0)
    total = np.concatenate(([0.0], np.cumsum(variance)))
    at = np.arange(variance.size)
    first, last = np.maximum(at - half, 0), np.minimum(at + half + 1, variance.size)
    return np.asarray((total[last] - total[first]) / (last - first))
