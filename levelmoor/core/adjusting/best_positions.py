"""Where the elements are to stand: the positions at which all dips come nearest to their targets.

The sum of squares of (ln f - ln target) over half of each window's width is made least, within what the elements allow,
with as few of them moved as do nearly as well.
"""

import math
from collections.abc import Mapping, Sequence
from itertools import combinations

import numpy as np

from levelmoor.core.adjusting.response import Response, coordinate, extent
from levelmoor.core.model.adjusting import Element
from levelmoor.core.verdict.targets import Aim

Positions = Mapping[str, float]
NEARLY_AS_WELL = 0.1
"""So much of the sum of squares is given for one element fewer: a dip off by a third of its tolerance."""
DRAG = 1e-3
"""Weight of how far elements are moved: of moves that do as well the smaller are made."""
PASSES = 60


def box(element: Element) -> tuple[float, float]:
    """How far down and up an element can be put."""
    low = element.low if element.low is not None else (0.2 * element.at if element.whole else -math.inf)
    high = element.high if element.high is not None else (3 * element.at if element.whole else math.inf)
    return low, high


def _cost(response: Response, seen: Mapping[int, Aim], at: Positions, x: Positions) -> float:
    off = sum((math.log(response.predict(k, x).hz / a.wanted_hz) / a.tolerance) ** 2 for k, a in seen.items())
    way = sum((coordinate(e, x[e.id]) - coordinate(e, at[e.id])) ** 2 for e in response.elements)
    return off + DRAG * way


def best_positions(response: Response, seen: Mapping[int, Aim], at: Positions, held: Sequence[str]) -> dict[str, float]:
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


def _best(response: Response, seen: Mapping[int, Aim], at: Positions, chosen: Sequence[int]) -> dict[str, float]:
    """The positions of chosen elements that make the cost least, by Gauss and Newton with their limits kept."""
    x = dict(at)
    for _ in range(PASSES):
        off = np.array([math.log(response.predict(k, x).hz / a.wanted_hz) / a.tolerance for k, a in seen.items()])
        free = [i for i in chosen if box(response.elements[i])[0] < box(response.elements[i])[1]]
        slopes = np.array([[response.slope(k, i, x)[0] / a.tolerance for i in free] for k, a in seen.items()]).reshape(
            len(seen), len(free)
        )
        drag = np.diag([DRAG / unit_of(response.elements[i], x) ** 2 for i in free])
        away = np.array([x[response.elements[i].id] - at[response.elements[i].id] for i in free])
        step = np.linalg.lstsq(slopes.T @ slopes + drag, -(slopes.T @ off + drag @ away), rcond=None)[0]
        before = dict(x)
        for i, by in zip(free, step, strict=True):
            e = response.elements[i]
            low, high = box(e)
            reach = 0.3 * unit_of(e, x)
            x[e.id] = min(max(x[e.id] + float(np.clip(by, -reach, reach)), low), high)
        if all(abs(x[key] - before[key]) < 1e-6 * max(abs(x[key]), 1.0) for key in x):
            break
    return x


def unit_of(element: Element, x: Positions) -> float:
    """What stands for one of the coordinate: the position itself, or the whole scale."""
    return x[element.id] if element.whole else extent(element)
