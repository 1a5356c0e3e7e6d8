"""Three bands brought within their limits by the proposals and by the ratio of one band after the other:
python -m benchmarks.adjusting [RUNS]. The truth is coupled resonators, in which every element acts on every band and
not quite as its length; kinds of element differ in what share of a move they hand on, and in how that bends. What no
lengths bring within the limits is counted apart."""

import math
import statistics
import sys
from collections import Counter
from dataclasses import dataclass, field

import numpy as np
from scipy.optimize import least_squares

from levelmoor.core.adjusting.divergence import led_away
from levelmoor.core.adjusting.next_move import Standing, advise
from levelmoor.core.adjusting.response import Observation, Predicted, Response
from levelmoor.core.model.adjusting import Element, ElementKind
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.targets import Aim

AIMS = (
    Aim(Window(7.0e6, 7.2e6, "40m"), 7.1e6, 2.0),
    Aim(Window(14.0e6, 14.35e6, "20m"), 14.175e6, 2.0),
    Aim(Window(21.0e6, 21.45e6, "15m"), 21.225e6, 2.0),
)
NOISE = 5e-4
MOST_ROUNDS = 15


@dataclass(frozen=True)
class Kind:
    """What is adjusted: the kind it is told to be, the shares that are handed on, how they bend, how far off it begins,
    and how far the bands are coupled."""

    told: ElementKind
    shares: tuple[float, float]
    bend: float = 0.1
    off: tuple[float, float] = (-0.15, -0.10)
    coupled: float = 0.06
    cut: bool = False
    hand_cm: float = 0.0


KINDS = {
    "parallel elements, 10 to 15 % off, cut": Kind(ElementKind.DIPOLE_ENDS, (0.75, 1.05), cut=True),
    "the same, a hand that misses by 2 mm": Kind(ElementKind.DIPOLE_ENDS, (0.75, 1.05), cut=True, hand_cm=0.2),
    "parallel elements, up to 30 % off": Kind(ElementKind.PARALLEL, (0.75, 1.05), off=(-0.3, 0.3), coupled=0.1),
    "hats": Kind(ElementKind.HAT, (0.1, 0.5), off=(-0.1, 0.1), coupled=0.1),
    "links": Kind(ElementKind.LINK, (0.3, 0.9), off=(-0.15, 0.15), coupled=0.1),
    "coils with a bend": Kind(ElementKind.TAP, (0.4, 1.0), bend=0.3, off=(-0.2, 0.2)),
    "a hat told as a whip": Kind(ElementKind.WHIP, (0.1, 0.5), off=(-0.1, 0.1), coupled=0.1, hand_cm=0.2),
}


@dataclass
class Truth:
    """Coupled resonators: ln f of a band falls with ln of each length by its own share, and bends a little."""

    random: np.random.Generator
    kind: Kind
    lengths: np.ndarray = field(init=False)

    def __post_init__(self) -> None:
        r, n, kind = self.random, len(AIMS), self.kind
        self.start_hz = np.array([a.wanted_hz * math.exp(r.uniform(*kind.off)) for a in AIMS])
        self.begun = np.array([7495e6 / f * r.uniform(0.9, 1.0) for f in self.start_hz])
        self.shares = np.clip(r.normal(0, kind.coupled, (n, n)), -0.2, 0.2)
        np.fill_diagonal(self.shares, r.uniform(*kind.shares, n))
        self.bend = r.normal(0, kind.bend, n)
        self.ohm, self.q = r.uniform(38, 62, n), r.uniform(8, 13, n)

    def dips_hz(self, at: np.ndarray) -> np.ndarray:
        c = np.log(at / self.begun)
        return np.asarray(self.start_hz * np.exp(-self.shares @ c - self.bend * np.diag(self.shares) * c * c))

    def within(self, k: int, dip_hz: float) -> bool:
        """Whether the band's window is within the limit: a series circuit at its dip."""
        window = AIMS[k].window
        f = np.array([window.low_hz, window.high_hz])
        z = self.ohm[k] * (1 + 1j * self.q[k] * (f / dip_hz - dip_hz / f))
        g = np.abs((z - 50) / (z + 50))
        return bool(np.all((1 + g) / (1 - g) <= AIMS[k].limit_swr * 0.96))

    def in_reach(self) -> bool:
        """Whether some lengths, from a fifth to threefold, bring every window within its limit."""
        wanted, bounds = np.array([a.wanted_hz for a in AIMS]), np.log([0.2, 3.0])

        def off(grown: np.ndarray) -> np.ndarray:
            return np.asarray(np.log(self.dips_hz(self.begun * np.exp(grown)) / wanted))

        for begin in (0.0, -0.5, 0.5, 0.9, -1.0):
            found = least_squares(off, np.full(len(AIMS), begin), bounds=tuple(bounds), x_scale=0.1).x
            dips = self.dips_hz(self.begun * np.exp(found))
            if all(self.within(k, dips[k]) for k in range(len(AIMS))):
                return True
        return False

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
    """Rounds until all was within its limits; `worst` how far off it ever was, in shares of the beginning."""

    rounds: int
    too_short: float
    in_reach: bool = True
    worst: float = 1.0
    held: int = 0
    foreseen: int = 0


def by_proposals(truth: Truth) -> Ended:
    """By the proposals alone, as the page makes them."""
    kind = truth.kind
    elements = tuple(
        Element(str(k), f"{a.window.name} part", kind.told, "cm", float(truth.begun[k]), bands=(a.window.name,),
                cut=kind.cut)
        for k, a in enumerate(AIMS)
    )  # fmt: skip
    missed = np.zeros(len(AIMS))
    at = {e.id: e.at for e in elements}
    seen: list[Observation] = []
    came: list[tuple[tuple[Predicted | None, ...], dict[int, float]]] = []
    ended = Ended(MOST_ROUNDS, 0.0)
    expected: tuple[Predicted | None, ...] = (None,) * len(AIMS)
    first = None
    for rounds in range(1, MOST_ROUNDS + 1):
        now = truth.dips_hz(np.array(list(at.values())) + missed)
        told = now * np.exp(truth.random.normal(0, NOISE, len(now)))
        for k, foreseen in enumerate(expected):
            if foreseen is not None:
                ended.foreseen += 1
                ended.held += foreseen.holds(told[k], NOISE * told[k])
        off = max(abs(math.log(f / a.wanted_hz)) for f, a in zip(now, AIMS, strict=True))
        first = off if first is None else first
        ended.worst = max(ended.worst, off / first)
        seen.append(Observation(dict(at), {k: (f, NOISE * f) for k, f in enumerate(told)}))
        came.append((expected, dict(enumerate(told))))
        standing = [Standing(f, NOISE * f, truth.within(k, now[k]), 1.1, truth.ohm[k]) for k, f in enumerate(told)]
        if all(s.within for s in standing):
            ended.rounds = rounds
            break
        away = led_away(came, AIMS)
        if away.just_now:
            back = {k: x for k, x in seen[away.best].at.items() if not (kind.cut and x > at[k])}
            at, expected = {**at, **back}, (None,) * len(AIMS)
            continue
        response = Response(elements, [a.window.name for a in AIMS], [a.wanted_hz for a in AIMS], seen)
        advice = advise(response, AIMS, at, standing, least=0.5 if away.before else 1.0)
        if not advice.moves:
            break
        expected = advice.expected
        for move in advice.moves:
            at[move.element_id] += move.by
            missed[int(move.element_id)] += truth.random.normal(0, kind.hand_cm)
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
    ended.in_reach = ended.rounds < MOST_ROUNDS or truth.in_reach()
    if truth.kind.cut:
        ended.too_short = max(0.0, *(1 - at[k] / truth.best_length(k, at) for k in range(len(AIMS))))
    return ended


def main(runs: int) -> None:
    print("| | median | 95 % within | not ended | went farther off | ratio: median | 95 % within | not ended |")
    for name, kind in KINDS.items():
        ended = [by_proposals(Truth(np.random.default_rng(n), kind)) for n in range(runs)]
        other = [by_the_ratio(Truth(np.random.default_rng(n), kind)) for n in range(runs)]
        print(f"| {name} | {_rounds(ended)} | {sum(e.worst > 1.2 for e in ended)} | {_rounds(other)} |")
        if kind.cut:
            short = [e.too_short for e in ended]
            print(f"  too short by over 0.5 %: {sum(s > 0.005 for s in short)}; by the ratio "
                  f"{sum(e.too_short > 0.005 for e in other)}")  # fmt: skip
        foreseen = sum(e.foreseen for e in ended)
        print(f"  dips within their interval: {100 * sum(e.held for e in ended) / foreseen:.1f} % of {foreseen}")
        others = sorted(Counter(e.rounds for e in ended if e.in_reach).items())
        print(f"  out of reach: {sum(not e.in_reach for e in ended)}; rounds of the others: "
              f"{', '.join(f'{r}: {n}' for r, n in others)}")  # fmt: skip


def _rounds(ended: list[Ended]) -> str:
    rounds = sorted(e.rounds for e in ended if e.in_reach)
    late = sum(r == MOST_ROUNDS for r in rounds)
    return f"{statistics.median(rounds):g} | {rounds[int(0.95 * len(rounds))]} | {late}"


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 300)
