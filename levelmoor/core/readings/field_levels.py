"""Levels in the field with and without something: common-mode current, received noise; median and quartiles.

References
----------
.. [1] F. Wilcoxon, Biometrics Bulletin 1, 1945; H. B. Mann, D. R. Whitney, 1947: whether two sets differ (memory).
.. [2] An S unit is 6 dB (IARU Region 1, technical recommendation R.1 (memory)).
"""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from itertools import groupby

import numpy as np

from levelmoor.core.model.through import FieldLevel, LevelKind

DB_PER_S = 6.0
"""An S unit [2]_; above S9 decibels are counted."""
FEWEST = 5
"""So many readings in each tell whether two sets differ."""
SURE = 0.05


@dataclass(frozen=True)
class LevelSummary:
    """One setup at a frequency: the median and the quartiles of its readings, in their unit."""

    level: FieldLevel
    low: float
    median: float
    high: float

    @property
    def words(self) -> str:
        unit = self.level.unit
        if unit == "S":
            return f"{_in_s(self.median)} ({_in_s(self.low)} to {_in_s(self.high)})"
        return f"{self.median:.3g} {unit} ({self.low:.3g} to {self.high:.3g})"


def _in_s(units: float) -> str:
    return f"S{units:.1f}" if units <= 9 else f"S9+{DB_PER_S * (units - 9):.0f}"


def summary(level: FieldLevel) -> LevelSummary:
    low, median, high = np.percentile(level.values, (25, 50, 75))
    return LevelSummary(level, float(low), float(median), float(high))


@dataclass(frozen=True)
class LevelChange:
    """Another setup against the first at a frequency; `real` is None where too little was read to tell."""

    first: LevelSummary
    second: LevelSummary
    db: float | None
    real: bool | None

    @property
    def words(self) -> str:
        by = f"{abs(self.db):.1f} dB {'less' if self.db < 0 else 'more'}" if self.db is not None else self.second.words
        said = {True: "a real change", False: "within the scatter", None: f"not known: read {FEWEST} or more of each"}
        return f"{by}, {said[self.real]}"


def changes(levels: Sequence[FieldLevel], kind: LevelKind, plain: Collection[str]) -> list[LevelChange]:
    """Each setup against the first of the `plain` ones at the same frequency, by ranks [1]_."""
    mine = sorted((x for x in levels if x.kind is kind), key=lambda x: (round(x.frequency_hz, -4), x.unit))
    found = []
    for _, group in groupby(mine, key=lambda x: (round(x.frequency_hz, -4), x.unit)):
        every = list(group)
        first = next((x for x in every if x.setup_id in plain), None)
        if first is None:
            continue
        found += [_change(first, other) for other in every if other is not first and other.setup_id != first.setup_id]
    return found


def _change(first: FieldLevel, second: FieldLevel) -> LevelChange:
    a, b = summary(first), summary(second)
    real = None
    if min(len(first.values), len(second.values)) >= FEWEST:
        from scipy.stats import mannwhitneyu  # it takes long to load

        real = bool(mannwhitneyu(first.values, second.values).pvalue < SURE)
    return LevelChange(a, b, _db(a, b), real)


def _db(a: LevelSummary, b: LevelSummary) -> float | None:
    unit = a.level.unit
    if unit == "mA":
        return 20 * float(np.log10(b.median / a.median)) if a.median > 0 and b.median > 0 else None
    return (b.median - a.median) * (DB_PER_S if unit == "S" else 1.0)
