"""What an instrument can decide before anything is swept: the margin that its accuracy leaves around a limit."""

from dataclasses import dataclass

from levelmoor.core.metrology.decision import DecisionRule, guard_band
from levelmoor.core.metrology.solving import root
from levelmoor.core.metrology.uncertainty import Residuals, residual_bound, standard_uncertainty
from levelmoor.core.rf.reflection import gamma_from_swr, swr_from_gamma


@dataclass(frozen=True)
class Decidable:
    """Around a limit: what reads at most `passes_swr` passes, what reads above `fails_swr` fails.

    `passes_swr` is None where even a perfect match would not pass: the instrument cannot decide this limit.
    """

    limit_swr: float
    passes_swr: float | None
    fails_swr: float

    @property
    def margin_swr(self) -> float | None:
        """How far under the limit a reading must be to pass."""
        return None if self.passes_swr is None else self.limit_swr - self.passes_swr


def decidable(
    limit_swr: float, bench: Residuals, rule: DecisionRule = DecisionRule.GUARDED, frequency_hz: float | None = None
) -> Decidable:
    """The readings that pass and fail a limit in a whole window, by the guard bands that the judge uses."""
    level = float(gamma_from_swr(limit_swr))

    def guard_fail(g: float) -> float:
        bound = float(residual_bound(g, bench, 0.0, frequency_hz)) if rule is DecisionRule.GUARDED else 0.0
        return max(guard(g), bound)

    def guard(g: float) -> float:
        return guard_band(float(standard_uncertainty(g, bench, 0.0, frequency_hz)), rule)

    passes = None
    if guard(0.0) <= level:
        inner = root(lambda g: g + guard(g) - level, 0.0, level) if guard(level) > 0 else level
        passes = float(swr_from_gamma(inner))
    top = level
    while top - guard_fail(top) <= level and top < 1 and guard_fail(top) > 0:
        top = min(1.0, top + max(guard_fail(level), 1e-3))
    fails_at = 1.0
    if top - guard_fail(top) > level:
        fails_at = root(lambda g: g - guard_fail(g) - level, level, top)
    elif guard_fail(level) == 0:
        fails_at = level
    return Decidable(limit_swr, passes, float(swr_from_gamma(fails_at)))
