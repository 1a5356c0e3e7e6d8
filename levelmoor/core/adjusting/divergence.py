"""Moves that led away: twice in a row a dip came farther from its target than was expected."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from levelmoor.core.adjusting.response import Predicted
from levelmoor.core.verdict.targets import Aim

Came = tuple[Sequence[Predicted | None], Mapping[int, float]]
"""What was expected of a round, and the dips in Hz that came, by the aims' places."""


@dataclass(frozen=True)
class Away:
    """Whether the last two rounds led away, whether two of the earlier ones did, and the place of the best round."""

    just_now: bool
    before: bool
    best: int


def led_away(rounds: Sequence[Came], aims: Sequence[Aim]) -> Away:
    """How the swept rounds went, in order."""
    off = [_off(dips, aims) for _, dips in rounds]
    away = [n > 0 and off[n] > off[n - 1] and _missed(*rounds[n], aims) for n in range(len(rounds))]
    twice = [n > 0 and away[n] and away[n - 1] for n in range(len(rounds))]
    best = min(range(len(off)), key=lambda n: off[n], default=0)
    return Away(bool(twice and twice[-1]), any(twice), best)


def _off(dips_hz: Mapping[int, float], aims: Sequence[Aim]) -> float:
    """How far off the dips are together, in tolerances; endless where none is seen."""
    if not dips_hz:
        return math.inf
    return sum((math.log(hz / aims[k].wanted_hz) / aims[k].tolerance) ** 2 for k, hz in dips_hz.items())


def _missed(expected: Sequence[Predicted | None], dips_hz: Mapping[int, float], aims: Sequence[Aim]) -> bool:
    """Whether a dip came outside what was expected, and farther off than that."""
    for k, hz in dips_hz.items():
        told = expected[k] if k < len(expected) else None
        if told is None or told.holds(hz):
            continue
        if abs(math.log(hz / aims[k].wanted_hz)) > abs(math.log(told.hz / aims[k].wanted_hz)):
            return True
    return False
