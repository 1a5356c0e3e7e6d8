"""From a few units to the model: which share of units fails, and how far that is known.

References
----------
.. [1] C. J. Clopper, E. S. Pearson, Biometrika 26, 1934, pp. 404-413, exact limits of a proportion (memory).
"""

from dataclasses import dataclass

from levelmoor.core.metrology.quantiles import beta
from levelmoor.core.words.counting import counted


@dataclass(frozen=True)
class UnitShare:
    """k of n units; `low` and `high` are one-sided exact limits, each at the confidence."""

    count: int
    of: int
    low: float
    high: float
    confidence: float

    @property
    def words(self) -> str:
        """What the units say of the model."""
        if self.of == 0:
            return "No unit has been judged yet."
        start = f"{self.count} of {counted(self.of, 'unit fails', 'units fail')}"
        sure = f"{100 * self.confidence:.0f} % one-sided"
        if self.count == 0:
            return f"{start}: at most {100 * self.high:.1f} % of all units fail ({sure})."
        if self.count == self.of:
            return f"{start}: at least {100 * self.low:.1f} % of all units fail ({sure})."
        return f"{start}: between {100 * self.low:.1f} % and {100 * self.high:.1f} % of all units fail (each {sure})."


def unit_share(count: int, of: int, confidence: float = 0.95) -> UnitShare:
    """Exact one-sided limits of the share of units, from k of n [1]_: low = B(1-c; k, n-k+1), high = B(c; k+1, n-k).

    Raises
    ------
    ValueError
        Where k is not between 0 and n.
    """
    if not 0 <= count <= of:
        raise ValueError(f"{count} of {of} units is not a share")
    low = beta(1 - confidence, count, of - count + 1) if count else 0.0
    high = beta(confidence, count + 1, of - count) if count < of else 1.0
    return UnitShare(count, of, low, high, confidence)
