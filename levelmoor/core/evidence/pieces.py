"""Pieces of evidence: a sweep, or the repeats of one instrument in one state, which are one measurement.

References
----------
.. [1] JCGM 100:2008, 4.2 and annex G, the spread of few repeats and Student's t (memory).
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Generic, Protocol, TypeVar

import numpy as np

from levelmoor.core.metrology.quantiles import GUARDED, student
from levelmoor.core.metrology.spread import Spread, spread_of
from levelmoor.core.model.evaluation import Evidence
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.noise import noise_of_magnitude
from levelmoor.core.rf.reflection import FloatArray
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.words.said import said

SAME_SPAN = 0.8
"""Sweeps are repeats where they share this much of the span that both cover together."""
CLEARLY = 0.06
"""A difference in |gamma| that wind and hands seldom make; beyond it the question is whether it was adjusted (common
practice, no source)."""
CLEARLY_TURNED = 3.0
NOISES = 5.0


class Member(Protocol):
    """A row of evidence: whatever kind it is of, it is of one state of one sample, and has its day."""

    @property
    def id(self) -> str: ...
    @property
    def sample_id(self) -> str: ...
    @property
    def setup_id(self) -> str: ...
    @property
    def setting_id(self) -> str: ...
    @property
    def round(self) -> int: ...
    @property
    def instrument_id(self) -> str: ...
    @property
    def taken_on(self) -> str: ...
    @property
    def set_aside(self) -> str: ...


Row = TypeVar("Row", bound=Member)


@dataclass(frozen=True, eq=False)
class Measurement(Generic[Row]):
    """One measurement of one state: what repeats itself stands together, in the order it came; mostly there is one."""

    members: tuple[Row, ...]

    @property
    def key(self) -> tuple[str, ...]:
        return tuple(e.id for e in self.members)

    @property
    def latest(self) -> Row:
        return self.members[-1]

    @property
    def name(self) -> str:
        return str(getattr(self.latest, "name", ""))

    @property
    def names(self) -> str:
        return self.name + (f" and {len(self.members) - 1} repeats" if len(self.members) > 1 else "")


@dataclass(frozen=True, eq=False)
class Piece(Measurement[Evidence]):
    """A sweep of reflection, or the repeats of one instrument in one state."""

    @cached_property
    def spread(self) -> Spread:
        return spread_of({e.id: e.sweep for e in self.members})

    @cached_property
    def stray(self) -> Curve | None:
        """The standard deviation that counts: of three or more, or of two that clearly differ and were said to repeat,
        since they are known to stray by that."""
        if len(self.members) == 2 and clearly_differ(*(e.sweep for e in self.members)):
            return self.spread.seen
        return self.spread.sd

    @cached_property
    def evidence(self) -> Evidence:
        """The latest sweep's conditions with the mean of the repeats."""
        return replace(self.latest, sweep=self.spread.mean) if len(self.members) > 1 else self.latest


def certain_share(count: int, of_mean: bool) -> float:
    """What a standard deviation from so many repeats is multiplied by to be half of a guard band [1]_.

    t(nu)/2, t at the share of 97.7 %; of the mean divided by the root of the number.
    """
    factor = student(GUARDED, count - 1) / 2
    return factor / math.sqrt(count) if of_mean else factor


def same_state(one: Evidence, other: Evidence) -> bool:
    """The same sample in the same setup, setting and round."""
    return all(getattr(one, n) == getattr(other, n) for n in ("sample_id", "setup_id", "setting_id", "round"))


def could_be_repeats(one: Evidence, other: Evidence) -> bool:
    """One state, instrument, kind, day and span, by different files; whatever they read."""
    if not same_state(one, other) or one.instrument_id != other.instrument_id or one.raw != other.raw:
        return False
    if one.sweep.scalar != other.sweep.scalar or one.sha256 == other.sha256:
        return False
    if len({e.taken_on[:10] for e in (one, other) if e.taken_on}) > 1:
        return False
    a, b = one.sweep, other.sweep
    shared = min(a.high_hz, b.high_hz) - max(a.low_hz, b.low_hz)
    return shared >= SAME_SPAN * (max(a.high_hz, b.high_hz) - min(a.low_hz, b.low_hz))


def clearly_differ(one: Sweep, other: Sweep) -> bool:
    """Whether two sweeps with one instrument differ in size by more than noise, rounding and weather usually make."""
    return _sizes_apart(one, other) > CLEARLY


def planes_differ(one: Sweep, other: Sweep) -> bool:
    """Whether two sweeps of about the same size are turned against each other, as the same article reads at two planes.

    What moves a resonance moves gamma at most as many times farther than its size as CLEARLY_TURNED says, up to a
    size of 0.94.
    """
    if one.scalar or other.scalar:
        return False
    f = _shared_points(one, other)
    if not f.size:
        return False
    a, b = (s.referred_to(one.z0_ohm).gamma_at(f) for s in (one, other))
    noise = NOISES * (noise_of_magnitude(one) + noise_of_magnitude(other))
    turned = float(np.max(_least_of_three(np.abs(a - b)))) - noise
    sizes = float(np.max(_least_of_three(np.abs(np.abs(a) - np.abs(b)))))
    return turned > CLEARLY and turned > CLEARLY_TURNED * sizes


def _shared_points(one: Sweep, other: Sweep) -> FloatArray:
    low, high = max(one.low_hz, other.low_hz), min(one.high_hz, other.high_hz)
    return min((s.inside(low, high) for s in (one, other)), key=lambda x: x.size)


def _sizes_apart(one: Sweep, other: Sweep) -> float:
    f = _shared_points(one, other)
    if not f.size:
        return 0.0
    a, b = (np.abs(s.referred_to(one.z0_ohm).gamma_at(f)) for s in (one, other))
    rounding = one.half_steps_at(f) + other.half_steps_at(f)
    away = np.abs(a - b) - rounding - NOISES * (noise_of_magnitude(one) + noise_of_magnitude(other))
    return float(np.max(_least_of_three(away)))


def _least_of_three(away: FloatArray) -> FloatArray:
    """The lowest of three neighbours, so that a single point hit by a signal does not ask."""
    return np.minimum(np.minimum(away[:-2], away[1:-1]), away[2:]) if away.size >= 3 else away


def are_repeats(one: Evidence, other: Evidence) -> bool:
    """Sweeps that stand for one measurement: they could be repeats, are not turned against each other as at two planes,
    and do not clearly differ unless someone has said that nothing was adjusted between them.
    """
    if not could_be_repeats(one, other) or planes_differ(one.sweep, other.sweep):
        return False
    return one.not_adjusted or other.not_adjusted or not clearly_differ(one.sweep, other.sweep)


def in_time(rows: Iterable[Row]) -> list[Row]:
    """By when they were taken, those of one time by their ids: whatever order they are listed in."""
    return sorted(rows, key=lambda e: (e.taken_on, len(e.id), e.id))


def repeat_groups(sweeps: Iterable[Evidence]) -> list[tuple[Evidence, ...]]:
    """The sweeps in groups of repeats, in the order in which the first of each came; most groups have one."""
    groups: list[list[Evidence]] = []
    of_state: dict[tuple[str, str, str, int, str], list[list[Evidence]]] = {}
    for one in in_time(sweeps):
        state = (one.sample_id, one.setup_id, one.setting_id, one.round, one.instrument_id)
        mine = of_state.setdefault(state, [])
        home = next((g for g in mine if all(are_repeats(one, other) for other in g)), None)
        if home is None:
            home = []
            mine.append(home)
            groups.append(home)
        home.append(one)
    return [tuple(g) for g in groups]


@dataclass(frozen=True)
class AdjustedQuestion:
    """Two sweeps of one state that differ as no repeats do: was the article adjusted, or the plane moved, between
    them?"""

    first_id: str
    second_id: str
    sentence: str


def adjusted_questions(sweeps: Iterable[Evidence]) -> tuple[AdjustedQuestion, ...]:
    """What has to be asked: each sweep that could repeat the one before it, and clearly differs from it."""
    asked, before = [], list[Evidence]()
    for one in in_time(sweeps):
        if one.set_aside:
            continue
        last = next((e for e in reversed(before) if could_be_repeats(e, one)), None)
        if last is not None and not are_repeats(last, one):
            turned = not clearly_differ(last.sweep, one.sweep)
            code = "ask.plane" if turned else "ask.adjusted"
            asked.append(AdjustedQuestion(last.id, one.id, said(code, one=one.name, last=last.name)))
        before.append(one)
    return tuple(asked)
