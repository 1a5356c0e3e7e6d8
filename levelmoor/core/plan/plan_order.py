"""The order of the runs with the fewest rebuilds, and the time it takes.

Setups are expensive and sweeps are cheap; calibrations belong to spans. A rebuild changes the sample, the setup, or
both; the order goes through the pairs so that as little as possible changes from one to the next.

References
----------
.. [1] M. Held, R. M. Karp, J. SIAM 10(1), 1962, pp. 196-210 (memory).
"""

from collections.abc import Sequence
from itertools import pairwise

from levelmoor.core.model.plan_wishes import PlanWishes
from levelmoor.core.plan.plan_model import Run, RunKind, Stage, StageKind

Pair = tuple[str, str]
MOST_EXACT = 10
"""Up to so many pairs the best order is computed; beyond, it is improved step by step."""


def order_pairs(pairs: Sequence[Pair]) -> list[Pair]:
    """The pairs of (sample, setup) in the order of fewest changes; back and forth where nothing is less."""
    if len(pairs) < 3:
        return list(pairs)
    samples, setups = (list(dict.fromkeys(p[i] for p in pairs)) for i in (0, 1))
    wanted = set(pairs)
    by_setup = [
        (s, u) for k, u in enumerate(setups) for s in (samples if k % 2 == 0 else samples[::-1]) if (s, u) in wanted
    ]
    by_sample = [
        (s, u) for k, s in enumerate(samples) for u in (setups if k % 2 == 0 else setups[::-1]) if (s, u) in wanted
    ]
    best = min((by_setup, by_sample), key=changes)
    if changes(best) == len(pairs) - 1:
        return best
    return _exact(list(pairs)) if len(pairs) <= MOST_EXACT else _improved(best)


def changes(order: Sequence[Pair]) -> int:
    """How often the sample or the setup changes along the order."""
    return sum((a[0] != b[0]) + (a[1] != b[1]) for a, b in pairwise(order))


def _exact(pairs: list[Pair]) -> list[Pair]:
    """The best order of a few pairs, by dynamic programming over the sets already visited [1]_."""
    count = len(pairs)
    cost = [[(a[0] != b[0]) + (a[1] != b[1]) for b in pairs] for a in pairs]
    best = {(1 << i, i): (0, -1) for i in range(count)}
    for visited in range(1, 1 << count):
        for last in range(count):
            here = best.get((visited, last))
            if here is None:
                continue
            for to in (t for t in range(count) if not visited >> t & 1):
                key, total = (visited | 1 << to, to), here[0] + cost[last][to]
                if key not in best or total < best[key][0]:
                    best[key] = (total, last)
    visited = (1 << count) - 1
    last = min(range(count), key=lambda i: best[(visited, i)][0])
    order = []
    while last >= 0:
        order.append(pairs[last])
        visited, last = visited & ~(1 << last), best[(visited, last)][1]
    return order[::-1]


def _improved(order: list[Pair]) -> list[Pair]:
    """Reversals of stretches, and pairs put elsewhere, as long as one of them helps."""
    found = True
    while found:
        found = False
        for i in range(len(order)):
            for j in range(len(order) + 1):
                turned = order[:i] + order[i:j][::-1] + order[j:] if j > i + 1 else order
                rest = order[:i] + order[i + 1 :]
                moved = [*rest[:j], order[i], *rest[j:]]
                other = min((turned, moved), key=changes)
                if changes(other) < changes(order):
                    order, found = other, True
    return order


def order_runs(runs: Sequence[Run], by_hand: Sequence[str] = ()) -> list[Run]:
    """The runs pair by pair, each pair's survey first; those ordered by hand come first, as they were put."""
    pairs = order_pairs(list(dict.fromkeys((r.sample_id, r.setup_id) for r in runs)))
    place = {pair: i for i, pair in enumerate(pairs)}

    def key(run: Run) -> tuple[int, bool, str, str, float, float]:
        instrument = run.choice.instrument.name if run.choice.instrument else ""  # an id differs from team to team
        surveys_last = run.kind is not RunKind.SURVEY
        at = place[(run.sample_id, run.setup_id)]
        return at, surveys_last, instrument, run.choice.chain.words, run.low_hz, run.high_hz

    ordered = sorted(runs, key=key)
    hand = {k: i for i, k in enumerate(by_hand)}
    return sorted(ordered, key=lambda r: hand.get(r.key, len(hand)))


def time_line(runs: Sequence[Run], wishes: PlanWishes, age_limit_h: float, names: dict[str, str]) -> tuple[Stage, ...]:
    """Rebuilds, calibrations and sweeps one after the other, in the team's own minutes.

    An instrument with memories keeps that many calibrations; others are calibrated again whenever span or chain change.
    A calibration past its age limit is done again.
    """
    stages: list[Stage] = []
    now = 0.0
    pair: Pair | None = None
    kept: dict[str, dict[tuple[object, ...], float]] = {}

    def add(kind: StageKind, minutes: float, words: str, key: str) -> None:
        nonlocal now
        stages.append(Stage(kind, now, minutes, words, key))
        now += minutes

    for run in runs:
        if (run.sample_id, run.setup_id) != pair:
            pair = (run.sample_id, run.setup_id)
            add(StageKind.REBUILD, wishes.rebuild_min, f"{names[run.sample_id]}, {names[run.setup_id]}", run.key)
        instrument = run.choice.instrument
        for segment in run.segments:
            if instrument is not None and run.kind is not RunKind.EMISSION:
                held = kept.setdefault(instrument.id, {})
                what = (run.choice.chain.words, segment.low_hz, segment.high_hz)
                done = held.get(what)
                if done is None or now - done > 60 * age_limit_h:
                    add(StageKind.CALIBRATION, wishes.calibration_min, f"{instrument.name}, {run.name}", run.key)
                    held.pop(what, None)
                    while len(held) >= max(instrument.memories, 1):
                        held.pop(next(iter(held)))
                    held[what] = now
            add(StageKind.SWEEP, wishes.sweep_min * run.repeats, run.name, run.key)
    return tuple(stages)
