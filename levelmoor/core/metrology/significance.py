"""Whether a difference means anything: against the instruments' figures and the spread of repeats.

References
----------
.. [1] JCGM 100:2008, annex G, effective degrees of freedom by Welch and Satterthwaite (memory).
.. [2] C. E. Bonferroni's inequality, any statistics text (memory).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from levelmoor.core.metrology.quantiles import normal_upper, student
from levelmoor.core.metrology.repeats import FEWEST

CONFIDENCE = 0.95
FEWEST_MOUNTINGS = 2
"""So often at least an article is put up before anything is said of more than one mounting."""


class Meaning(StrEnum):
    """REAL: more than measurement explains. MOUNTING: more than measurement explains, of an article that was put up
    once. ERROR: measurement explains it. UNKNOWN: the spread is not known."""

    REAL = "real"
    MOUNTING = "mounting"
    ERROR = "error"
    UNKNOWN = "unknown"


MEANING_WORDS = {
    Meaning.REAL: "a real change",
    Meaning.MOUNTING: "real for this mounting",
    Meaning.ERROR: "within measurement error",
    Meaning.UNKNOWN: "not known",
}


@dataclass(frozen=True)
class Estimate:
    """A figure in its own unit: the mean of n repeats, the instrument's standard uncertainty u, and the repeats'
    standard deviation, None with fewer than three of them. Of an article that was put up again in between, `mountings`
    times in all, mean and deviation are of the mountings: what putting it up anew changes is a spread of its own."""

    value: float
    u: float
    sd: float | None = None
    n: int = 1
    mountings: int = 1

    @property
    def expanded(self) -> float:
        """2u of the mean, with its spread where that is known."""
        return 2 * math.hypot(self.u, (self.sd or 0.0) / math.sqrt(self.n))


@dataclass(frozen=True)
class Difference:
    """Second less first, with the expanded uncertainty of the difference and what it means."""

    value: float
    expanded: float
    meaning: Meaning


def measured(values: list[float], u: float, mountings: Sequence[int] = ()) -> Estimate:
    """The mean of repeats of one figure; `mountings` says of each in which mounting it was taken, none all in one."""
    if len(set(mountings)) > 1:
        means = [float(np.mean([v for v, m in zip(values, mountings, strict=True) if m == n])) for n in set(mountings)]
        return Estimate(float(np.mean(means)), u, float(np.std(means, ddof=1)), len(means), len(means))
    sd = float(np.std(values, ddof=1)) if len(values) >= FEWEST else None
    return Estimate(float(np.mean(values)), u, sd, len(values))


def differ(first: Estimate, second: Estimate, of: int = 1, common: float = 1.0, remounted: bool = False) -> Difference:
    """The difference of two figures against the combined uncertainty of both, repeats included.

    U = k sqrt(c^2 (u1^2 + u2^2) + s1^2/n1 + s2^2/n2), k by Student's t with the degrees of freedom of Welch and
    Satterthwaite, the instruments' part of infinite freedom [1]_. Where the difference is one `of` many that are looked
    at together, k is that of 95 % for all of them [2]_. `common` is the share c of the instruments' part that does not
    cancel, 1 where the two have nothing in common. Where the spread of either is not known, a difference within the
    instruments' part is measurement error already, since spread only widens it, and a larger one is not known to mean
    anything; neither is any where an uncertainty is not known. Where the article was taken down and put up between the
    two, `remounted`, a difference is real for these mountings alone until each was put up at least twice.
    """
    delta = second.value - first.value
    of_instruments = common**2 * (first.u**2 + second.u**2)
    tail = (1 - CONFIDENCE) / 2 / of
    if not math.isfinite(of_instruments):
        return Difference(delta, math.inf, Meaning.UNKNOWN)
    if first.sd is None or second.sd is None:
        expanded = max(normal_upper(tail), 2.0) * math.sqrt(of_instruments)
        return Difference(delta, expanded, Meaning.ERROR if abs(delta) <= expanded else Meaning.UNKNOWN)
    parts = [(s**2 / n, n - 1) for s, n in ((first.sd, first.n), (second.sd, second.n))]
    spread = sum(p for p, _ in parts)
    total = of_instruments + spread
    if total == 0:
        return Difference(delta, 0.0, Meaning.ERROR if delta == 0 else Meaning.REAL)
    lost = sum(p**2 / freedom for p, freedom in parts)
    k = student(1 - tail, total**2 / lost) if lost > 0 else normal_upper(tail)
    expanded = max(k, 2.0) * math.sqrt(total)
    if abs(delta) <= expanded:
        return Difference(delta, expanded, Meaning.ERROR)
    once = remounted and min(first.mountings, second.mountings) < FEWEST_MOUNTINGS
    return Difference(delta, expanded, Meaning.MOUNTING if once else Meaning.REAL)
