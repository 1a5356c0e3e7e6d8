"""Three bands brought within their limits from 10 to 15 % off, by the proposals and by the ratio of one band after the
other: python -m benchmarks.adjusting [RUNS]. The truth is coupled resonators, in which every element acts on every band
and not quite as its length."""

import math
import statistics
import sys
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np

from levelmoor.core.adjusting.next_move import Aim, Standing, advise
from levelmoor.core.adjusting.response import Observation, Predicted, Response
from levelmoor.core.model.adjusting import Element, ElementKind
from levelmoor.core.rf.windows import Window

AIMS = (
    Aim(Window(7.0e6, 7.2e6, "40m"), 7.1e6, 2.0),
    Aim(Window(14.0e6, 14.35e6, "20m"), 14.175e6, 2.0),
    Aim(Window(21.0e6, 21.45e6, "15m"), 21.225e6, 2.0),
)
NOISE = 5e-4
MOST_ROUNDS = 15


@dataclass
class Truth:
    """Coupled resonators: ln f of a band falls with ln of each length by its own share, and bends a little."""

    random: np.random.Generator
    lengths: np.ndarray = field(init=False)

    def __post_init__(self) -> None:
        r, n = self.random, len(AIMS)
        self.start_hz = np.array([a.wanted_hz * (1 - r.uniform(0.10, 0.15)) for a in AIMS])
        self.begun = np.array([7495e6 / f * r.uniform(0.9, 1.0) for f in self.start_hz])
        self.shares = r.normal(0, 0.06, (n, n))
        np.fill_diagonal(self.shares, r.uniform(0.75, 1.05, n))
        self.bend = r.normal(0, 0.1, n)
        self.ohm, self.q = r.uniform(38, 62, n), r.uniform(8, 13, n)

    def dips_hz(self, at: np.ndarray) -> np.ndarray:
        c = np.log(at / self.begun)
        return np.asarray(self.start_hz * np.exp(-self.shares @ c - self.bend * np.diag(self.shares) * c * c))

    def bent(self) -> "Truth":
        """The same with coils: less of each move is handed on, and it bends."""
        np.fill_diagonal(self.shares, self.random.uniform(0.4, 1.0, len(AIMS)))
        self.bend = self.random.normal(0, 0.5, len(AIMS))
        return self

    def within(self, k: int, dip_hz: float) -> bool:
        """Whether the band's window is within the limit: a series circuit at its dip."""
        window = AIMS[k].window
        f = np.array([window.low_hz, window.high_hz])
        z = self.ohm[k] * (1 + 1j * self.q[k] * (f / dip_hz - dip_hz / f))
        g = np.abs((z - 50) / (z + 50))
        return bool(np.all((1 + g) / (1 - g) <= AIMS[k].limit_swr * 0.96))

    def best_length(self, k: int, at: np.ndarray) -> float:
        """The length that would put the band's dip where it is wanted, the others as they are."""
        low, high = 0.2 * at[k], 2 * at[k]
        for _ in range(60):
            middle = (low + high) / 2
            tried = at.copy()
            tried[k] = middle
            low, high = (middle, high) if self.dips_hz(tried)[k] > AIMS[k].wanted_hz else (low, middle)
        return float(low + high) / 2


@dataclass
class Ended:
    rounds: int
    too_short: float
    held: int = 0
    foreseen: int = 0


def _end(k: int, at: float) -> Element:
    band = AIMS[k].window.name
    return Element(str(k), f"{band} ends", ElementKind.DIPOLE_ENDS, "cm", at, bands=(band,), cut=True)


def by_proposals(truth: Truth, hand_cm: float = 0.0, kind: ElementKind = ElementKind.DIPOLE_ENDS) -> Ended:
    """`hand_cm` is the standard deviation of where a hand sets what it was told to."""
    elements = tuple(replace(_end(k, float(truth.begun[k])), kind=kind) for k in range(len(AIMS)))
    missed = np.zeros(len(AIMS))
    at = {e.id: e.at for e in elements}
    seen: list[Observation] = []
    ended = Ended(MOST_ROUNDS, 0.0)
    expected: tuple[Predicted | None, ...] = ()
    for rounds in range(1, MOST_ROUNDS + 1):
        now = truth.dips_hz(np.array(list(at.values())) + missed)
        told = now * np.exp(truth.random.normal(0, NOISE, len(now)))
        for k, foreseen in enumerate(expected):
            ended.foreseen += 1
            ended.held += foreseen is not None and foreseen.holds(told[k], NOISE * told[k])
        seen.append(Observation(dict(at), {k: (f, NOISE * f) for k, f in enumerate(told)}))
        standing = [Standing(f, NOISE * f, truth.within(k, now[k]), 1.1, truth.ohm[k]) for k, f in enumerate(told)]
        if all(s.within for s in standing):
            ended.rounds = rounds
            break
        response = Response(elements, [a.window.name for a in AIMS], [a.wanted_hz for a in AIMS], seen)
        advice = advise(response, AIMS, at, standing)
        if not advice.moves:
            break
        expected = advice.expected
        for move in advice.moves:
            at[move.element_id] += move.by
            missed[int(move.element_id)] += truth.random.normal(0, hand_cm)
    return _ended(truth, ended, np.array(list(at.values())) + missed)


def by_the_ratio(truth: Truth) -> Ended:
    """The band that is farthest off is put right by the ratio of its frequencies, one band a round."""
    at, ended = truth.begun.copy(), Ended(MOST_ROUNDS, 0.0)
    for rounds in range(1, MOST_ROUNDS + 1):
        now = truth.dips_hz(at)
        off = [k for k in range(len(AIMS)) if not truth.within(k, now[k])]
        if not off:
            ended.rounds = rounds
            break
        k = max(off, key=lambda k: abs(math.log(now[k] / AIMS[k].wanted_hz)))
        at[k] *= now[k] / AIMS[k].wanted_hz
    return _ended(truth, ended, at)


def _ended(truth: Truth, ended: Ended, at: np.ndarray) -> Ended:
    short = [1 - at[k] / truth.best_length(k, at) for k in range(len(AIMS))]
    ended.too_short = max(0.0, *short)
    return ended


def main(runs: int) -> None:
    ways: dict[str, Callable[[Truth], Ended]] = {
        "proposals": by_proposals,
        "proposals, a hand that misses by 2 mm": lambda t: by_proposals(t, 0.2),
        "proposals, a coil with a bend": lambda t: by_proposals(t.bent(), 0.0, ElementKind.TAP),
        "ratio, one band after the other": by_the_ratio,
    }
    for name, way in ways.items():
        ended = [way(Truth(np.random.default_rng(n))) for n in range(runs)]
        counts = Counter(e.rounds for e in ended)
        rounds = ", ".join(f"{r}: {counts[r]}" for r in sorted(counts))
        print(f"{name}: median {statistics.median(e.rounds for e in ended):g} rounds ({rounds})")
        short = [e.too_short for e in ended]
        print(f"  too short by over 0.5 % of length: {sum(s > 0.005 for s in short)}, worst {100 * max(short):.2f} %")
        if foreseen := sum(e.foreseen for e in ended):
            print(f"  dips within their interval: {100 * sum(e.held for e in ended) / foreseen:.1f} % of {foreseen}")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 1000)
