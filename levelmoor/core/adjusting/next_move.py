"""The next move: how far to move which elements so that all dips come nearest to their targets in one trip, or why none
is to be made."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import combinations

from levelmoor.core.adjusting.best_positions import Positions, best_positions, box
from levelmoor.core.adjusting.bounded import Bounded, bounded, probe
from levelmoor.core.adjusting.response import Predicted, Response
from levelmoor.core.model.adjusting import Element, Move
from levelmoor.core.verdict.targets import LEAST_TOLERANCE, Aim
from levelmoor.core.words.figures import brief_mhz, brief_range, format_uncertainty

NEAR_ENOUGH = 0.25
"""How near a dip is to its target, as a share of its tolerance, where nothing more is asked of it."""


@dataclass(frozen=True)
class Standing:
    """How a band stands now: its dip with u, whether its whole window is within the limit with the guard band, the
    lowest SWR at the dip and the resistance there; no dip where the sweeps show none. `beyond_hz` is the end of what
    was swept that the curve still falls to, where the dip lies beyond it, and `dip_hz` then a guess; `look` the spans
    that would show the dip, none where all was swept."""

    dip_hz: float | None
    u_hz: float = 0.0
    within: bool = False
    best_swr: float | None = None
    resistance_ohm: float | None = None
    beyond_hz: float | None = None
    look: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True)
class Advice:
    """What to do next. Without moves `words` say why: done, nothing left to gain, or what has to be known first.
    `could_be_nearer` says that all is within its limits and a dip is not yet at its target; `probing` that the move is
    made to learn from."""

    moves: tuple[Move, ...]
    expected: tuple[Predicted | None, ...]
    words: tuple[str, ...]
    done: bool = False
    could_be_nearer: bool = False
    probing: bool = False


def advise(
    response: Response,
    aims: Sequence[Aim],
    at: Mapping[str, float],
    now: Sequence[Standing],
    nearer: bool = False,
    least: float = 1.0,
) -> Advice:
    """The next move from where the elements stand and what the bands show.

    Parameters
    ----------
    response : the model that the rounds teach
    aims : what is wanted, one for each band
    at : where the elements stand, by id
    now : how the bands stand
    nearer : whether to go on where all is within its limits
    least : the share of the way that is gone at most; less after moves that led away
    """
    if nearer:
        now = [replace(s, within=s.within and _near(a, s)) for a, s in zip(aims, now, strict=True)]
    if now and all(s.within for s in now):
        return _done(aims, now)
    seen = {k: a for k, a in enumerate(aims) if now[k].dip_hz is not None}
    unseen = (*_edges(aims, now), *_not_seen(aims, now))
    if all(now[k].within for k in seen):
        return Advice((), (), unseen)
    gone = _nothing_to_gain(aims, now)
    if gone and len(gone) == sum(1 for s in now if not s.within):
        return Advice((), (), gone, done=True)
    held = [a.window.name for k, a in enumerate(aims) if k not in seen]
    best = best_positions(response, seen, at, held)
    dips = {k: hz for k in seen if (hz := now[k].dip_hz) is not None}
    chosen = _not_told_apart(response, seen, best, at) or bounded(response, seen, at, best, dips, least)
    moves = tuple(Move(e.id, by) for e in response.elements if (by := _set_by_hand(e, chosen.to[e.id] - at[e.id])))
    if not moves and unseen:
        return Advice((), (), (*gone, *unseen))
    if not moves:
        return Advice((), (), (_no_move(response, best, at, aims, now), *gone), done=not _bound(response, best))
    ordered = sorted(moves, key=lambda m: -_reach(response, m, at))
    to = {**at, **{m.element_id: at[m.element_id] + m.by for m in moves}}
    expected = tuple(response.predict(k, to) if k in seen else None for k in range(len(aims)))
    why = (*_why(response, aims, at, ordered, to, chosen), *gone, *unseen)
    return Advice(tuple(ordered), expected, why, probing=bool(chosen.probing))


def _near(aim: Aim, s: Standing) -> bool:
    """Whether a dip is as near to its target as a hand and a sweep can tell."""
    if s.dip_hz is None:
        return True
    off = abs(math.log(s.dip_hz / aim.wanted_hz))
    return off <= max(NEAR_ENOUGH * aim.tolerance, 2 * s.u_hz / s.dip_hz, LEAST_TOLERANCE)


def _done(aims: Sequence[Aim], now: Sequence[Standing]) -> Advice:
    """All is within its limits; how far each dip is from its target is said."""
    off = [_off(a, s) for a, s in zip(aims, now, strict=True) if s.dip_hz is not None and not _near(a, s)]
    words = "Every window is within its limit and guard band: stop here."
    return Advice((), (), (words, *off), done=True, could_be_nearer=bool(off))


def _off(aim: Aim, s: Standing) -> str:
    assert s.dip_hz is not None
    hz = s.dip_hz - aim.wanted_hz
    share = 100 * abs(hz) / aim.wanted_hz
    return (
        f"{aim.window.name}: the dip is {format_uncertainty(abs(hz))} ({share:.1f} %) "
        f"{'above' if hz > 0 else 'below'} the target, {brief_mhz(round(aim.wanted_hz, -3))} MHz."
    )


def _edges(aims: Sequence[Aim], now: Sequence[Standing]) -> tuple[str, ...]:
    """Bands whose curve still falls where the sweep ends: which way the dip lies."""
    said = []
    for aim, s in zip(aims, now, strict=True):
        if s.beyond_hz is None or s.dip_hz is None or s.within:
            continue
        above = s.dip_hz > s.beyond_hz
        end = f"{brief_mhz(round(s.beyond_hz, -3))} MHz"
        side = "above" if above else "below"
        way = ""
        if above == (s.dip_hz > aim.wanted_hz):
            way = " Too high: lengthen." if above else " Too low: shorten."
        look = f" Sweep {_spans(s.look)} to see it." if s.look else ""
        said.append(
            f"{aim.window.name}: the curve still falls at {end}, where the sweep ends; its dip is {side}.{way}{look}"
        )
    return tuple(said)


def _not_seen(aims: Sequence[Aim], now: Sequence[Standing]) -> tuple[str, ...]:
    """Bands without a dip: the sweep that would show it, or that it is not where it was looked for."""
    said = []
    for aim, s in zip(aims, now, strict=True):
        if s.dip_hz is not None or s.within:
            continue
        if s.look:
            said.append(f"No dip for {aim.window.name} yet: in this round, sweep {_spans(s.look)}.")
        else:
            said.append(
                f"No dip for {aim.window.name} where it was swept. If one of the dips is its own, say so on the "
                "figure; if not, these parts do not tune it."
            )
    return tuple(said)


def _spans(look: Sequence[tuple[float, float]]) -> str:
    return " and ".join(brief_range(*(float(f"{hz:.3g}") for hz in span)) for span in look)


def _not_told_apart(response: Response, seen: Mapping[int, Aim], best: Positions, at: Positions) -> Bounded | None:
    """A probing move of one of two elements that were always moved together and both act on a band, where what each
    does is not known."""
    if len(response.observations) < 3:
        return None
    moved = [i for i, e in enumerate(response.elements) if len({o.at[e.id] for o in response.observations}) > 1]
    for k, aim in seen.items():
        for pair in combinations([i for i in moved if response.elements[i].acts_on(aim.window.name)], 2):
            if not response.told_apart(k, *pair):
                one, other = (response.elements[i] for i in pair)
                first = one if best[one.id] != at[one.id] else other
                return replace(probe(first, at, best), together=(one.name, other.name, aim.window.name))
    return None


def _nothing_to_gain(aims: Sequence[Aim], now: Sequence[Standing]) -> tuple[str, ...]:
    """Bands whose dip is where it is wanted, and not low enough."""
    said = []
    for aim, s in zip(aims, now, strict=True):
        if s.within or s.dip_hz is None or s.best_swr is None:
            continue
        if _near(aim, s) and s.best_swr > aim.limit_swr:
            r = f"the feed resistance is {s.resistance_ohm:.0f} ohm" if s.resistance_ohm else "its dip gets no lower"
            said.append(
                f"{aim.window.name}: length gains nothing more. {r[:1].upper()}{r[1:]}, so no length brings it "
                f"under {s.best_swr:.2f}; a match would."
            )
    return tuple(said)


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
    return [e for e in response.elements if best[e.id] in box(e) and (e.low is not None or e.high is not None)]


def _no_move(
    response: Response, best: Positions, at: Positions, aims: Sequence[Aim], now: Sequence[Standing]
) -> str:  # fmt: skip
    if stuck := _bound(response, best):
        names = ", ".join(e.name for e in stuck)
        return f"{names} cannot go further, and that is not enough: move another part."
    if any(e.cut and best[e.id] < at[e.id] - e.step for e in response.elements):
        return (
            "Any further cut could go too far, and cut wire does not grow back: stop here, or sweep again to be surer."
        )
    if any(not s.within and not _near(a, s) for a, s in zip(aims, now, strict=True)):
        return "What would bring one band nearer takes another further off: move another part, or leave it here."
    return "What is left is smaller than a hand can set: stop here."


def _why(
    response: Response,
    aims: Sequence[Aim],
    at: Mapping[str, float],
    moves: Sequence[Move],
    to: Mapping[str, float],
    chosen: Bounded,
) -> tuple[str, ...]:
    said = []
    if chosen.together:
        one, other, band = chosen.together
        said.append(
            f"{one} and {other} were always moved together, so what each does to {band} is unknown: this moves "
            f"{chosen.probing} a little, by itself."
        )
    elif chosen.probing:
        said.append(f"What {chosen.probing} does here is not known yet: this is a small move to learn from.")
    if len(moves) > 1:
        first = next(e for e in response.elements if e.id == moves[0].element_id)
        said.append(f"Make all moves in one trip; {first.name} first, since it moves the bands most.")
    learnt = [e for e in moves if any(response.learnt(k, _index(response, e)) for k in range(len(aims)))]
    if not learnt and not chosen.probing:
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
