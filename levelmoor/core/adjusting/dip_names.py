"""Which dip is which band's: by where each is expected, and by what the person says."""

import math
from collections.abc import Mapping, Sequence

from levelmoor.core.rf.frequency import parse_frequency

FARTHEST = 0.35
"""How far, in ln f, a dip is looked for from where it is expected."""
MOVED_TOGETHER = 0.3
"""What a common shift of all bands costs against shifts of each by itself."""
SAME = 0.01
"""A dip that was named is the nearest within this, in ln f: another reading of the file may put it a little off."""


def parse_names(text: str) -> dict[str, float]:
    """The frequency in Hz that each band's dip was said to have, from `40m 7.123; 20m 14.2`.

    Raises
    ------
    ValueError
        Where a part is not a band and a frequency.
    """
    found: dict[str, float] = {}
    for part in filter(None, (p.strip() for p in text.split(";"))):
        band, _, figure = part.rpartition(" ")
        if not band.strip():
            raise ValueError(f'"{part}" is not a band and the frequency of its dip; write it like 40m 7.123')
        found[band.strip()] = parse_frequency(figure)
    return found


def names_text(names: Mapping[str, float]) -> str:
    """The same as text again, by rising frequency."""
    return "; ".join(f"{band} {hz / 1e6:.9g}" for band, hz in sorted(names.items(), key=lambda n: n[1]))


def said_of(dips_hz: Sequence[float], hz: float) -> int | None:
    """The dip that was named, None where there is none so near."""
    i = min(range(len(dips_hz)), key=lambda i: abs(math.log(dips_hz[i] / hz)), default=None)
    return i if i is not None and abs(math.log(dips_hz[i] / hz)) <= SAME else None


def assigned(
    dips_hz: Sequence[float], expected_hz: Sequence[float], within: Sequence[float] | None = None
) -> tuple[int | None, ...]:
    """Which dip is which band's, by rising frequency, each used once: the bands may be off together, so every shift
    that brings some dip to some band is tried, and what is left over counts against it. `within` is how far off, in
    ln f, each may be."""
    farthest = within or [FARTHEST] * len(expected_hz)
    order = sorted(range(len(dips_hz)), key=lambda i: dips_hz[i])
    wanted = sorted(range(len(expected_hz)), key=lambda k: expected_hz[k])
    pairs = [(math.log(dips_hz[i] / expected_hz[k]), k) for i in order for k in wanted]
    best: tuple[float, tuple[int | None, ...]] = (math.inf, (None,) * len(expected_hz))
    for common in (0.0, *(s for s, k in pairs if abs(s) <= farthest[k])):
        cost, places = _matched(dips_hz, order, expected_hz, wanted, common, farthest)
        if (total := cost + MOVED_TOGETHER * abs(common)) < best[0] - 1e-12:
            best = total, places
    return best[1]


def _matched(
    dips_hz: Sequence[float],
    order: Sequence[int],
    expected_hz: Sequence[float],
    wanted: Sequence[int],
    common: float,
    farthest: Sequence[float],
) -> tuple[float, tuple[int | None, ...]]:
    """The cheapest way to give rising dips to rising bands: a band that is given none costs as much as the farthest."""
    table: dict[tuple[int, int], tuple[float, tuple[tuple[int, int], ...]]] = {}

    def cheapest(i: int, j: int) -> tuple[float, tuple[tuple[int, int], ...]]:
        if j == len(wanted):
            return 0.0, ()
        if i == len(order):
            return sum(farthest[k] for k in wanted[j:]), ()
        if (i, j) not in table:
            k = wanted[j]
            tries = [cheapest(i + 1, j)]
            left = cheapest(i, j + 1)
            tries.append((left[0] + farthest[k], left[1]))
            off = abs(math.log(dips_hz[order[i]] / expected_hz[k]) - common)
            if off < farthest[k]:
                rest = cheapest(i + 1, j + 1)
                tries.append((rest[0] + off, ((order[i], k), *rest[1])))
            table[i, j] = min(tries, key=lambda t: t[0])
        return table[i, j]

    cost, given = cheapest(0, 0)
    places: list[int | None] = [None] * len(expected_hz)
    for i, k in given:
        places[k] = i
    return cost, tuple(places)
