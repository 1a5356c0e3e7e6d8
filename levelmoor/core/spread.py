"""Repeats of one setup: which sweeps they are, their mean, and how far they spread.

References
----------
.. [1] JCGM 100:2008, 4.2, the experimental standard deviation (memory).
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np

from levelmoor.core.curve import Curve, curve_of
from levelmoor.core.evaluation import Evidence
from levelmoor.core.reflection import ComplexArray, FloatArray
from levelmoor.core.repeats import FEWEST
from levelmoor.core.sweep import Sweep

SAME_SPAN = 0.8
"""Sweeps are repeats where they share this much of the span that both cover together."""
SMOOTHING = 0.04
"""The spread at a frequency is pooled over this share of the span: of few repeats a single point says little."""


@dataclass(frozen=True, eq=False)
class Spread:
    """Repeats with their mean sweep; `sd` of |gamma| over frequency, None with fewer than three: not known."""

    sweep_ids: tuple[str, ...]
    mean: Sweep
    sd: Curve | None

    @property
    def count(self) -> int:
        return len(self.sweep_ids)

    @property
    def largest(self) -> float | None:
        return None if self.sd is None else max(self.sd.value)


def are_repeats(one: Evidence, other: Evidence) -> bool:
    """The same sample in the same setup with the same instrument over the same span on one day, by different files."""
    same = ("sample_id", "setup_id", "instrument_id", "raw")
    if any(getattr(one, n) != getattr(other, n) for n in same) or one.sweep.scalar != other.sweep.scalar:
        return False
    days = {e.taken_on[:10] for e in (one, other) if e.taken_on}
    if len(days) > 1:
        return False
    a, b = one.sweep, other.sweep
    shared = min(a.high_hz, b.high_hz) - max(a.low_hz, b.low_hz)
    return shared >= SAME_SPAN * (max(a.high_hz, b.high_hz) - min(a.low_hz, b.low_hz)) and one.sha256 != other.sha256


def repeat_groups(sweeps: Iterable[Evidence]) -> list[tuple[Evidence, ...]]:
    """The sweeps in groups of repeats, in the order in which the first of each came; most groups have one."""
    groups: list[list[Evidence]] = []
    for one in sweeps:
        home = next((g for g in groups if all(are_repeats(one, other) for other in g)), None)
        if home is None:
            groups.append([one])
        else:
            home.append(one)
    return [tuple(g) for g in groups]


def spread_of(sweeps: Mapping[str, Sweep]) -> Spread:
    """Mean and spread of repeats by their ids, over what all of them cover, at the points of the coarsest.

    The mean is of gamma, of |gamma| for scalar sweeps; the spread is the standard deviation of |gamma| [1]_.

    Raises
    ------
    ValueError
        Where there is no sweep, or they share no span.
    """
    every = list(sweeps.values())
    if not every:
        raise ValueError("a spread needs sweeps")
    low, high = max(s.low_hz for s in every), min(s.high_hz for s in every)
    coarsest = min(every, key=lambda s: s.points)
    f = coarsest.inside(low, high)
    if f.size == 0:
        raise ValueError("the repeats share no span")
    z0, scalar = every[0].z0_ohm, any(s.scalar for s in every)
    values: ComplexArray = np.array([s.referred_to(z0).gamma_at(f) for s in every])
    mean = Sweep(f, np.asarray(np.abs(values) if scalar else values).mean(axis=0).astype(np.complex128), z0, scalar)
    sd = None
    if len(every) >= FEWEST:
        variance = np.var(np.abs(values), axis=0, ddof=1)
        sd = curve_of(f, np.sqrt(_pooled(variance)))
    return Spread(tuple(sweeps), mean, sd)


def _pooled(variance: FloatArray) -> FloatArray:
    """The mean variance of the points around each, the window cut at the ends."""
    half = max(int(SMOOTHING * variance.size / 2), 0)
    total = np.concatenate(([0.0], np.cumsum(variance)))
    at = np.arange(variance.size)
    first, last = np.maximum(at - half, 0), np.minimum(at + half + 1, variance.size)
    return np.asarray((total[last] - total[first]) / (last - first))
