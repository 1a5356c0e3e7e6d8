"""The order of the runs with the fewest rebuilds, and the time it takes.

Setups are expensive and sweeps are cheap; calibrations belong to spans. A rebuild changes the sample, the setup, or
both; the order goes through the pairs so that as little as possible changes from one to the next.
"""

from collections.abc import Sequence
from itertools import pairwise

from levelmoor.core.plan_model import Run, RunKind, Stage, StageKind
from levelmoor.core.plan_wishes import PlanWishes

Pair = tuple[str, str]


def order_pairs(pairs: Sequence[Pair]) -> list[Pair]:
    """The pairs of (sample, setup) in an order of few changes: back and forth first, then improved by reversals."""
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
    return best if changes(best) == len(pairs) - 1 else _improved(best)


def changes(order: Sequence[Pair]) -> int:
    """How often the sample or the setup changes along the order."""
    return sum((a[0] != b[0]) + (a[1] != b[1]) for a, b in pairwise(order))


def _improved(order: list[Pair]) -> list[Pair]:
    """Reversals of stretches as long as one of them helps."""
    found = True
    while found:
        found = False
        for i in range(len(order)):
            for j in range(i + 2, len(order) + 1):
                other = order[:i] + order[i:j][::-1] + order[j:]
                if changes(other) < changes(order):
                    order, found = other, True
    return order


def order_runs(runs: Sequence[Run], by_hand: Sequence[str] = ()) -> list[Run]:
    """The runs pair by pair, each pair's survey first; those ordered by hand come first, as they were put."""
    pairs = order_pairs(list(dict.fromkeys((r.sample_id, r.setup_id) for r in runs)))
    place = {pair: i for i, pair in enumerate(pairs)}

    def key(run: Run) -> tuple[int, bool, str, str, float, float]:
        instrument = run.choice.instrument.id if run.choice.instrument else ""
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
