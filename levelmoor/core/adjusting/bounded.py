"""How much of the way to the best positions is gone in one trip, so that no trip does harm.

A part is moved by a tenth of itself at the most until its effect is known; by less the less is known of it, so that
the target is overshot by a third of the way at most; and never so that the dips are likely to end farther off. Of a
part whose direction is not known a probing move is made, which the next sweep learns from. What is cut goes 80 % of the
way at most, and never so far that the surest bound of a dip passes its target: cut wire does not grow back.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from levelmoor.core.adjusting.best_positions import Positions, box, unit_of
from levelmoor.core.adjusting.response import Response
from levelmoor.core.model.adjusting import Element
from levelmoor.core.verdict.targets import Aim

CUT_SHARE = 0.8
MOST_OF_A_PART = 0.1
"""The share of a part that is moved in one trip as long as its effect is not known."""
KNOWN, KNOWN_BEFORE = 0.65, 0.28
"""An effect is known that is uncertain by less than this share of itself (standard uncertainty); before a part was
moved at all, by what its kind usually does, it has to be known better."""
OVERSHOOT = 1 / 3
PROBE = 0.05
"""The share of a part that a probing move is."""
LEAST_SHARE = 0.05
ALONE_SHARES = (1.0, 0.5, 0.25)
BLIND = 1.5
"""An effect that is uncertain by so many times itself has no direction yet."""


@dataclass(frozen=True)
class Bounded:
    """The positions that are proposed; `probing` names a part whose effect is not known where nothing else is moved,
    `together` two parts that were always moved together and a band that both act on."""

    to: dict[str, float]
    probing: str = ""
    together: tuple[str, str, str] | None = None


def bounded(
    response: Response, seen: Mapping[int, Aim], at: Positions, best: Positions, dips_hz: Mapping[int, float],
    least: float = 1.0,
) -> Bounded:  # fmt: skip
    """The part of the way that is gone. `least` is less than one after moves that led away."""
    moved = [i for i, e in enumerate(response.elements) if abs(best[e.id] - at[e.id]) > 1e-9]
    if not moved:
        return Bounded(dict(at))
    unsure = {i: _unsure(response, seen, i, at, best) for i in moved}
    parts = {i: response.elements[i] for i in moved}
    whole = _unsure_together(response, seen, at, best)
    if whole <= min(_known(response, e) for e in parts.values()):  # each is known, or they were moved together before
        shares = dict.fromkeys(moved, min(1.0, (1 + OVERSHOOT) / (1 + 2 * whole)))
    else:
        shares = {i: _share(e, at, best, unsure[i], _known(response, e)) for i, e in parts.items()}
    way = {e.id: min(least, shares[i]) * (best[e.id] - at[e.id]) for i, e in parts.items()}
    surest = min(moved, key=lambda i: unsure[i])
    if unsure[surest] > BLIND:
        return probe(parts[surest], at, best)
    cut = any(e.cut and way[e.id] < 0 for e in parts.values())

    def gone(part: float) -> dict[str, float]:
        return {key: at[key] + part * way.get(key, 0.0) for key in at}

    share = CUT_SHARE if cut else 1.0
    while share > LEAST_SHARE and (
        _harms(response, seen, gone(share), dips_hz) or (cut and _passes(response, seen, gone(share), dips_hz))
    ):
        share -= LEAST_SHARE
    if share <= LEAST_SHARE and not cut:
        return _alone(response, seen, at, way, dips_hz) or probe(parts[max(moved, key=lambda i: unsure[i])], at, best)
    return Bounded(gone(share))


def _alone(
    response: Response, seen: Mapping[int, Aim], at: Positions, way: Mapping[str, float], dips_hz: Mapping[int, float]
) -> Bounded | None:
    """The part of one element's way that brings the dips nearest, where moving all of them might do harm; None where
    none may be expected to bring them nearer."""
    tried = [{**at, key: at[key] + share * by} for key, by in way.items() for share in ALONE_SHARES]
    nearest = min(tried, key=lambda x: _off_after(response, seen, x))
    return None if _harms(response, seen, nearest, dips_hz) else Bounded(nearest)


def _unsure(response: Response, seen: Mapping[int, Aim], i: int, at: Positions, best: Positions) -> float:
    """The standard uncertainty of what the whole way of an element does, as a share of that, on the band that it does
    most to."""
    found = [response.change(k, i, at, best[response.elements[i].id]) for k in seen]
    by, u = max(found, key=lambda one: abs(one[0]))
    return u / abs(by) if by else math.inf


def _unsure_together(response: Response, seen: Mapping[int, Aim], at: Positions, best: Positions) -> float:
    """The same of what the whole way of all elements does to all bands, in their tolerances."""
    found = [(*response.change_together(k, at, best), aim.tolerance) for k, aim in seen.items()]
    by = math.hypot(*(by / tolerance for by, _, tolerance in found))
    return math.hypot(*(u / tolerance for _, u, tolerance in found)) / by if by else math.inf


def _known(response: Response, element: Element) -> float:
    return KNOWN if len({o.at[element.id] for o in response.observations}) > 1 else KNOWN_BEFORE


def _share(element: Element, at: Positions, best: Positions, unsure: float, known: float) -> float:
    by = abs(best[element.id] - at[element.id])
    if unsure > BLIND:
        return min(1.0, PROBE * unit_of(element, at) / by)
    share = min(1.0, (1 + OVERSHOOT) / (1 + 2 * unsure))
    return min(share, MOST_OF_A_PART * unit_of(element, at) / by) if unsure > known else share


def probe(element: Element, at: Positions, best: Positions) -> Bounded:
    """A little of one part, in the direction that is believed; of what is cut no more than it may be cut."""
    whole = best[element.id] - at[element.id]
    most = CUT_SHARE * abs(whole) if element.cut and whole < 0 else max(abs(whole), element.step)
    by = min(max(PROBE * unit_of(element, at), element.step), most)
    low, high = box(element)
    return Bounded({**at, element.id: min(max(at[element.id] + math.copysign(by, whole), low), high)}, element.name)


def _harms(response: Response, seen: Mapping[int, Aim], x: Positions, dips_hz: Mapping[int, float]) -> bool:
    """Whether the dips may be expected to end farther off together than they are."""
    before = sum((math.log(dips_hz[k] / aim.wanted_hz) / aim.tolerance) ** 2 for k, aim in seen.items())
    return _off_after(response, seen, x) > before


def _off_after(response: Response, seen: Mapping[int, Aim], x: Positions) -> float:
    """The mean square of how far off the dips may be expected to be, in tolerances, what is not known included."""
    foreseen = [(response.predict(k, x), aim) for k, aim in seen.items()]
    return sum((math.log(to.hz / aim.wanted_hz) ** 2 + to.u**2) / aim.tolerance**2 for to, aim in foreseen)


def _passes(response: Response, seen: Mapping[int, Aim], x: Positions, dips_hz: Mapping[int, float]) -> bool:
    """Whether the surest bound of a dip that is to rise comes beyond its target."""
    return any(
        dips_hz[k] < a.wanted_hz and response.predict(k, x).high_hz > a.wanted_hz * 1.001 for k, a in seen.items()
    )
