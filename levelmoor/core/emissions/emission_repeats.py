"""Repeats of a capture: their mean, and what their spread adds to its uncertainty.

References
----------
.. [1] JCGM 100:2008, 4.2.3: the experimental standard deviation of the mean (memory).
"""

import math
import statistics
from collections.abc import Sequence
from dataclasses import replace

from levelmoor.core.emissions.captured_lines import EmissionLine, MeasuredCapture

FEWEST = 3
"""Fewer repeats tell no spread, as for sweeps."""
TORN_DB = 6.0
"""A harmonic wanders by a few dB with the radio's warmth and its battery, and by no more (common practice, no
source)."""
SAME_SPUR = 1e-3
"""Spurs nearer than this share of their frequency are one (common practice, no source)."""


def mean_of(repeats: Sequence[MeasuredCapture]) -> MeasuredCapture:
    """One in place of captures by the same path, each level their mean in dB, u^2 + s^2/n its variance [1]_.

    From three on their spread is known. Levels that differ by more than they can be off have no mean: the highest
    stands, and is told as torn. A mean with an upper bound among its levels is an upper bound. Of spurs, which
    may come and go, the highest counts.
    """
    first = repeats[0]
    if len(repeats) == 1:
        return first

    def mean(line: EmissionLine) -> EmissionLine:
        return _mean([line, *(m.again(line) for m in repeats[1:])])

    carrier = _mean([m.carrier for m in repeats])
    spurs: list[EmissionLine] = []
    for spur in sorted((s for m in repeats for s in m.spurs), key=lambda s: -(s.indicated_dbm or 0.0)):
        if all(abs(spur.frequency_hz - s.frequency_hz) > SAME_SPUR * s.frequency_hz for s in spurs):
            spurs.append(spur)
    spurs.sort(key=lambda s: s.frequency_hz)
    name = f"{first.name} and {len(repeats) - 1} more through the same path"
    return replace(first, name=name, carrier=carrier, lines=tuple(map(mean, first.lines)), spurs=tuple(spurs))


def _mean(lines: Sequence[EmissionLine]) -> EmissionLine:
    levels = [x.level_dbm for x in lines if x.level_dbm is not None]
    if lines[0].level_dbm is None or len(levels) < 2:
        return lines[0]
    low, high = min(levels), max(levels)
    if high - low > TORN_DB + 2 * math.hypot(lines[0].u_db, lines[0].u_db):
        return replace(lines[0], level_dbm=high, torn=(low, high), repeats=len(levels))
    spread = statistics.stdev(levels) if len(levels) >= FEWEST else None
    return replace(
        lines[0],
        level_dbm=statistics.fmean(levels),
        u_db=math.hypot(lines[0].u_db, (spread or 0.0) / math.sqrt(len(levels))),
        bound=any(x.bound for x in lines if x.level_dbm is not None),
        repeats=len(levels),
        spread_db=spread,
    )
