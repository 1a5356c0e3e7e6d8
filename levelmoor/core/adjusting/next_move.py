"""The next move: how far to move which elements so that all dips come nearest to their wanted frequencies in one trip.

The sum of squares of (ln f - ln wanted) over half of each window's width is made least, within what the elements
allow, with as few of them as do nearly as well. Of what is cut no more than 80 % of the way is taken, and never so much
that the surest bound of a dip passes its wanted frequency: cut wire does not grow back.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from levelmoor.core.adjusting.response import Predicted, Response, coordinate, extent
from levelmoor.core.model.adjusting import Element, Move
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.figures import brief_mhz

CUT_SHARE = 0.8
LEAST_TOLERANCE = 2e-3
"""Half of a window's width, as a share, that is asked of a dip at the least: a spot is met to this."""
NEARLY_AS_WELL = 0.1
"""So much of the sum of squares is given for one element fewer: a dip off by a third of its tolerance."""
DRAG = 1e-3
"""Weight of how far elements are moved: of moves that do as well the smaller are made."""
PASSES = 60


@dataclass(frozen=True)
class Aim:
    """What is wanted of a band: the dip at `wanted_hz`, the whole window within the limit."""

    window: Window
    wanted_hz: float
    limit_swr: float
    z0_ohm: float = 50.0

    @property
    def tolerance(self) -> float:
        """How near, as a share, the dip has to come: half of the window's width."""
        half = (self.window.high_hz - self.window.low_hz) / 2 / self.wanted_hz
        return max(half, LEAST_TOLERANCE)


@dataclass(frozen=True)
class Standing:
    """How a band stands now: its dip with u, whether its whole window is within the limit with the guard band, the
    lowest SWR at the dip and the resistance there; no dip where the sweeps show none."""

    dip_hz: float | None
    u_hz: float = 0.0
    within: bool = False
    best_swr: float | None = None
    resistance_ohm: float | None = None


@dataclass(frozen=True)
class Advice:
    """What to do next. Without moves `words` say why: done, nothing left to gain, or what has to be known first."""

    moves: tuple[Move, ...]
    expected: tuple[Predicted | None, ...]
    words: tuple[str, ...]
    done: bool = False


def advise(response: Response, aims: Sequence[Aim], at: Mapping[str, float], now: Sequence[Standing]) -> Advice:
    """The next move from where the elements stand and what the bands show."""
    if now and all(s.within for s in now):
        return Advice((), (), ("Every window is within its limit and guard band: stop here.",), done=True)
    seen = {k: a for k, a in enumerate(aims) if now[k].dip_hz is not None}
    unswept = _not_swept(aims, now)
    if all(now[k].within for k in seen):
        return Advice((), (), unswept)
    if why := _not_told_apart(response, seen):
        return Advice((), (), (*why, *unswept))
    gone = _nothing_to_gain(aims, now)
    if gone and len(gone) == sum(1 for s in now if not s.within):
        return Advice((), (), gone, done=True)
    held = [a.window.name for k, a in enumerate(aims) if k not in seen]
    best = _fewest(response, seen, at, held)
    chosen = _held_back(response, aims, at, best, now)
    moves = tuple(Move(e.id, by) for e in response.elements if (by := _set_by_hand(e, chosen[e.id] - at[e.id])))
    if not moves and unswept:
        return Advice((), (), (*gone, *unswept))
    if not moves:
        return Advice((), (), (_too_small(response, aims, at, best), *gone), done=not _bound(response, best))
    ordered = sorted(moves, key=lambda m: -_reach(response, m, at))
    to = {**at, **{m.element_id: at[m.element_id] + m.by for m in moves}}
    expected = tuple(response.predict(k, to) if k in seen else None for k in range(len(aims)))
    return Advice(tuple(ordered), expected, (*_why(response, aims, at, ordered, to), *gone, *unswept))


def _not_swept(aims: Sequence[Aim], now: Sequence[Standing]) -> tuple[str, ...]:
    missing = [a.window.name for a, s in zip(aims, now, strict=True) if s.dip_hz is None and not s.within]
    if not missing:
        return ()
    names = ", ".join(missing)
    return (f"No dip for {names} yet: in this round, sweep from half to twice the target frequency.",)


def _not_told_apart(response: Response, seen: Mapping[int, Aim]) -> tuple[str, ...]:
    """Elements that were always moved together and both act on a band: what each does is not known."""
    if len(response.observations) < 3:
        return ()
    moved = [i for i, e in enumerate(response.elements) if len({o.at[e.id] for o in response.observations}) > 1]
    for k, aim in seen.items():
        for i, j in combinations([i for i in moved if response.elements[i].acts_on(aim.window.name)], 2):
            if not response.told_apart(k, i, j):
                one, other = response.elements[i].name, response.elements[j].name
                return (
                    f"{one} and {other} were always moved together, so what each does to {aim.window.name} is "
                    f"unknown. Move {one} a little, by itself, and sweep.",
                )
    return ()


def _nothing_to_gain(aims: Sequence[Aim], now: Sequence[Standing]) -> tuple[str, ...]:
    """Bands whose dip is where it is wanted, and not low enough."""
    said = []
    for aim, s in zip(aims, now, strict=True):
        if s.within or s.dip_hz is None or s.best_swr is None:
            continue
        off = abs(math.log(s.dip_hz / aim.wanted_hz))
        if off <= max(0.25 * aim.tolerance, 2 * s.u_hz / s.dip_hz, LEAST_TOLERANCE) and s.best_swr > aim.limit_swr:
            r = f"the feed resistance is {s.resistance_ohm:.0f} ohm" if s.resistance_ohm else "its dip gets no lower"
            said.append(
                f"{aim.window.name}: length gains nothing more. {r[:1].upper()}{r[1:]}, so no length brings it "
                f"under {s.best_swr:.2f}; a match would."
            )
    return tuple(said)


def _box(element: Element) -> tuple[float, float]:
    low = element.low if element.low is not None else (0.2 * element.at if element.whole else -math.inf)
    high = element.high if element.high is not None else (3 * element.at if element.whole else math.inf)
    return low, high


def _cost(response: Response, seen: Mapping[int, Aim], at: Mapping[str, float], x: Mapping[str, float]) -> float:
    off = sum((math.log(response.predict(k, x).hz / a.wanted_hz) / a.tolerance) ** 2 for k, a in seen.items())
    way = sum((coordinate(e, x[e.id]) - coordinate(e, at[e.id])) ** 2 for e in response.elements)
    return off + DRAG * way


def _fewest(
    response: Response, seen: Mapping[int, Aim], at: Mapping[str, float], held: Sequence[str]
) -> dict[str, float]:
    """The best positions with as few elements moved as do nearly as well; none is cut for a held band."""
    may = [i for i, e in enumerate(response.elements) if not (e.cut and any(e.acts_on(name) for name in held))]
    found: dict[str, float] = dict(at)
    least = _cost(response, seen, at, found)
    for size in range(1, len(may) + 1):
        tried = [_best(response, seen, at, chosen) for chosen in combinations(may, size)]
        costs = [_cost(response, seen, at, x) for x in tried]
        i = int(np.argmin(costs))
        if costs[i] < least - NEARLY_AS_WELL:
            found, least = tried[i], costs[i]
    return found


def _best(
    response: Response, seen: Mapping[int, Aim], at: Mapping[str, float], chosen: Sequence[int]
) -> dict[str, float]:
    """The positions of chosen elements that make the cost least, by Gauss and Newton with their limits kept."""
    x = dict(at)
    for _ in range(PASSES):
        off = np.array([math.log(response.predict(k, x).hz / a.wanted_hz) / a.tolerance for k, a in seen.items()])
        free = [i for i in chosen if _box(response.elements[i])[0] < _box(response.elements[i])[1]]
        slopes = np.array([[response.slope(k, i, x)[0] / a.tolerance for i in free] for k, a in seen.items()]).reshape(
            len(seen), len(free)
        )
        drag = np.diag([DRAG / _unit(response.elements[i], x) ** 2 for i in free])
        away = np.array([x[response.elements[i].id] - at[response.elements[i].id] for i in free])
        step = np.linalg.lstsq(slopes.T @ slopes + drag, -(slopes.T @ off + drag @ away), rcond=None)[0]
        before = dict(x)
        for i, by in zip(free, step, strict=True):
            e = response.elements[i]
            low, high = _box(e)
            reach = 0.3 * _unit(e, x)
            x[e.id] = min(max(x[e.id] + float(np.clip(by, -reach, reach)), low), high)
        if all(abs(x[key] - before[key]) < 1e-6 * max(abs(x[key]), 1.0) for key in x):
            break
    return x


def _unit(element: Element, x: Mapping[str, float]) -> float:
    """What stands for one of the coordinate: the position itself, or the whole scale."""
    return x[element.id] if element.whole else extent(element)


def _held_back(
    response: Response, aims: Sequence[Aim], at: Mapping[str, float], best: Mapping[str, float], now: Sequence[Standing]
) -> dict[str, float]:
    """The way towards the best positions that may be gone: all of it where everything can be put back, else 80 % and
    no farther than any dip surely stays on its side of the wanted frequency."""

    def gone(share: float) -> dict[str, float]:
        return {key: at[key] + share * (best[key] - at[key]) for key in at}

    if not any(e.cut and best[e.id] < at[e.id] for e in response.elements):
        return dict(best)
    share = CUT_SHARE
    while share > 0.05 and _passes(response, aims, gone(share), now):
        share -= 0.05
    return gone(share)


def _passes(response: Response, aims: Sequence[Aim], x: Mapping[str, float], now: Sequence[Standing]) -> bool:
    """Whether the surest bound of a dip that is to rise comes beyond its wanted frequency."""
    return any(
        s.dip_hz is not None and s.dip_hz < a.wanted_hz and response.predict(k, x).high_hz > a.wanted_hz * 1.001
        for k, (a, s) in enumerate(zip(aims, now, strict=True))
    )


def _set_by_hand(element: Element, by: float) -> float:
    """A move in steps that a hand sets; of what is cut rather one step less."""
    steps = by / element.step
    whole = math.trunc(steps + math.copysign(1e-9, steps)) if element.cut and by < 0 else round(steps)
    return round(whole * element.step, 6)


def _reach(response: Response, move: Move, at: Mapping[str, float]) -> float:
    """How much a move does to all bands together."""
    e = next(i for i, one in enumerate(response.elements) if one.id == move.element_id)
    return sum(abs(response.slope(k, e, at)[0] * move.by) for k in range(len(response.bands)))


def _bound(response: Response, best: Mapping[str, float]) -> list[Element]:
    """Elements that would go farther than they can."""
    return [e for e in response.elements if best[e.id] in _box(e) and (e.low is not None or e.high is not None)]


def _too_small(response: Response, aims: Sequence[Aim], at: Mapping[str, float], best: Mapping[str, float]) -> str:
    if stuck := _bound(response, best):
        names = ", ".join(e.name for e in stuck)
        return f"{names} cannot go further, and that is not enough: move another part."
    return "What is left is smaller than a hand can set: stop here."


def _why(
    response: Response, aims: Sequence[Aim], at: Mapping[str, float], moves: Sequence[Move], to: Mapping[str, float]
) -> tuple[str, ...]:
    said = []
    if len(moves) > 1:
        first = next(e for e in response.elements if e.id == moves[0].element_id)
        said.append(f"Make all moves in one trip; {first.name} first, since it moves the bands most.")
    learnt = [e for e in moves if any(response.learnt(k, _index(response, e)) for k in range(len(aims)))]
    if not learnt:
        said.append(
            "From the ratio of lengths and typical values; this first move will show what a step is worth here."
        )
    if any(e.cut and to[e.id] < at[e.id] for e in response.elements):
        said.append(
            "At most 80 % of the way, and never so far that it could end up short: cut wire does not grow back."
        )
    said += [
        f"{e.name} then reaches its end, {to[e.id]:g} {e.unit}."
        for e in response.elements
        if to[e.id] != at[e.id] and to[e.id] in (e.low, e.high)
    ]
    return tuple(said)


def _index(response: Response, move: Move) -> int:
    return next(i for i, one in enumerate(response.elements) if one.id == move.element_id)


def foreseen_words(aim: Aim, predicted: Predicted) -> str:
    """A dip foreseen, with its interval."""
    low, high = (brief_mhz(round(v, -3)) for v in (predicted.low_hz, predicted.high_hz))
    return f"{aim.window.name}: dip at {brief_mhz(round(predicted.hz, -3))} MHz, between {low} and {high}"
