"""The guard band of a whole window: one that keeps its promise for the largest of many points.

The truth of a window is its largest |gamma|. A measured maximum is drawn upwards by noise, and by residuals whose
phase turns along the window: whichever point they favour is the one that is looked at. So a Fail needs a point that
stands beyond the limit by all that residuals can add, and by what the largest of so many noisy points exceeds once in
44 times. A Pass needs no more than for a single point: where the truth is largest, that point must have read low.

References
----------
.. [1] JCGM 106:2012, guard bands and the probability of conformity.
.. [2] C. E. Bonferroni's inequality, any statistics text (memory).
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from levelmoor.core.metrology.decision import DecisionRule, Verdict, conformity_probability
from levelmoor.core.metrology.quantiles import largest_of
from levelmoor.core.metrology.uncertainty import Residuals, random_uncertainty, residual_bound, standard_uncertainty
from levelmoor.core.rf.reflection import FloatArray
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window

BESIDE = 0.02
"""A point further off than this share of the frequency says nothing about a leap at another."""


@dataclass(frozen=True)
class DecidingPoint:
    """The point that decides a window, its verdict, half of its guard band as `u`, and whether it stands alone."""

    frequency_hz: float
    magnitude: float
    u: float
    guard: float
    verdict: Verdict
    probability: float
    lone: bool = False


def decide_window(
    part: Sweep,
    sweep: Sweep,
    window: Window,
    level: float,
    bench: Residuals,
    rule: DecisionRule,
    repeats: Sequence[Sweep] = (),
    fine: bool = True,
    facts: bool = False,
) -> DecidingPoint:
    """The verdict on `|gamma| at most level` at every point of `part`, which is cut from `sweep` [1]_.

    `repeats` are the sweeps that `sweep` is the mean of; a point that all of them show does not stand alone. Where the
    path between points is not `fine` enough to be read, only points that were measured fail. `facts` are points that a
    person read one by one: each holds by itself.
    """
    f, g = part.frequency_hz, part.magnitude
    half = 0.0 if part.half_step_gamma is None else part.half_step_gamma
    guard_pass = 2 * standard_uncertainty(g, bench, half, f)
    # Noise differs from point to point; what repeats spread by moves both ends of a window, each its own way.
    noise = largest_of(g.size) * random_uncertainty(g, replace(bench, repeat=None, repeat_u=0.0), f)
    spread = largest_of(2) * random_uncertainty(g, replace(bench, noise=0.0), f)
    bound = residual_bound(g, bench, half, f) + np.hypot(noise, spread)
    guard_fail = np.maximum(guard_pass, bound) if g.size > 1 else guard_pass
    shown_pass, shown_fail = (guard_pass, guard_fail) if rule is DecisionRule.GUARDED else (0 * g, 0 * g)

    def at(i: int, verdict: Verdict, lone: bool = False) -> DecidingPoint:
        above = g[i] > level
        u = float((guard_fail if above else guard_pass)[i]) / 2
        guard = float((shown_fail if above else shown_pass)[i])
        chance = conformity_probability(level, float(g[i]), u)
        return DecidingPoint(float(f[i]), float(g[i]), u, guard, verdict, chance, lone)

    told = np.ones(g.size, dtype=bool) if fine else np.isin(f, sweep.frequency_hz)
    failing = np.flatnonzero((g - shown_fail > level) & told)
    surest = failing[np.argsort((shown_fail - g)[failing], kind="stable")].tolist()
    for i in surest:
        if facts or not _stands_alone(sweep, float(f[i]), level, window, repeats):
            return at(i, Verdict.FAIL)
    if surest:
        return at(surest[0], Verdict.FAIL, lone=True)
    nearest = int(np.argmax(g + shown_pass))
    return at(nearest, Verdict.PASS if g[nearest] + shown_pass[nearest] <= level else Verdict.TOO_CLOSE)


def _stands_alone(sweep: Sweep, frequency_hz: float, level: float, window: Window, repeats: Sequence[Sweep]) -> bool:
    """Whether a point beyond the level is held up by none beside it: a leap that a signal would make as well."""
    if len(repeats) > 1 and all(abs(complex(r.gamma_at(frequency_hz))) > level for r in repeats):
        return False
    f, g = sweep.frequency_hz, sweep.magnitude
    if f.size == 1:
        return not window.spot
    i = int(np.argmin(np.abs(f - frequency_hz)))
    if abs(f[i] - frequency_hz) > 1e-9 * frequency_hz:
        return False  # an end that was read between two points
    beside = [j for j in (i - 1, i + 1) if 0 <= j < f.size and abs(f[j] - f[i]) <= BESIDE * f[i]]
    if not beside:
        return not window.spot and not _another(f, g, i, level, window)
    if any(g[j] > level for j in beside):
        return False
    if len(beside) == 2:
        return bool(all(g[j] < g[i] for j in beside))
    return _leaps_at_end(g, i, beside[0])


def _another(f: FloatArray, g: FloatArray, i: int, level: float, window: Window) -> bool:
    """Whether a second point of the window stands beyond the level."""
    inside = (f >= window.low_hz) & (f <= window.high_hz) & (g > level)
    return int(inside.sum()) > 1


def _leaps_at_end(g: FloatArray, i: int, beside: int) -> bool:
    """Whether the last point of a sweep rises more than twice as steeply as the points before it."""
    further = 2 * beside - i
    before = max(float(g[beside] - g[further]), 0.0) if 0 <= further < g.size else 0.0
    return bool(g[i] - g[beside] > 2 * before + 0.02)
