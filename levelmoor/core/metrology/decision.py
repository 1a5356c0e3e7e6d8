"""Decision rules: from a value, a limit and an uncertainty to a verdict.

References
----------
.. [1] JCGM 106:2012, The role of measurement uncertainty in conformity assessment.
.. [2] ILAC-G8:09/2019, Guidelines on decision rules and statements of conformity.
"""

from collections.abc import Iterable
from enum import StrEnum
from math import erfc, sqrt

from levelmoor.core.metrology.quantiles import largest_of


class Verdict(StrEnum):
    PASS = "pass"  # noqa: S105
    FAIL = "fail"
    TOO_CLOSE = "too_close"
    NOT_SHOWN = "not_shown"
    OUTSIDE = "outside"


VERDICT_WORDS = {
    Verdict.PASS: "Pass",
    Verdict.FAIL: "Fail",
    Verdict.TOO_CLOSE: "Too close to call",
    Verdict.NOT_SHOWN: "Not shown",
    Verdict.OUTSIDE: "Outside this bench",
}
VERDICT_MEANINGS = {
    Verdict.PASS: "The claim is met with room for the uncertainty.",
    Verdict.FAIL: "The claim is missed by more than the uncertainty.",
    Verdict.TOO_CLOSE: "The limit lies within the uncertainty; the probability says how likely the claim is met.",
    Verdict.NOT_SHOWN: "The evidence is missing or not good enough to decide; the reason says what to do.",
    Verdict.OUTSIDE: "Nothing measured here can check this claim. That says nothing about the product.",
}


WORST_FIRST = (Verdict.FAIL, Verdict.TOO_CLOSE, Verdict.NOT_SHOWN, Verdict.PASS, Verdict.OUTSIDE)
KINDEST_FIRST = (Verdict.PASS, Verdict.TOO_CLOSE, Verdict.NOT_SHOWN, Verdict.FAIL, Verdict.OUTSIDE)


class DecisionRule(StrEnum):
    """Guarded: guard band 2u both ways, so a Pass and a Fail are each at least 97.7 % sure. Simple: no guard band."""

    GUARDED = "guarded"
    SIMPLE = "simple"


RULE_WORDS = {
    DecisionRule.GUARDED: "Guarded: a Pass and a Fail each stay clear of the limit by the expanded uncertainty 2u",
    DecisionRule.SIMPLE: "Simple acceptance: the measured value against the limit, without a guard band",
}


def guard_band(u: float, rule: DecisionRule, of: int = 1) -> float:
    """Width of the guard band on each side of the limit, in the unit of u [2]_; beyond the limit of the largest `of`
    many, so that one in 44 such sets errs and not one figure in 44."""
    return max(2.0, largest_of(of) if of > 1 else 2.0) * u if rule is DecisionRule.GUARDED else 0.0


def conformity_probability(limit: float, value: float, u: float) -> float:
    """Probability that the true value is at most the limit, Phi((limit - value)/u) [1]_."""
    if u == 0:
        return 1.0 if value <= limit else 0.0
    return 0.5 * erfc((value - limit) / (u * sqrt(2)))


def decide(limit: float, value: float, u: float, rule: DecisionRule, of: int = 1) -> Verdict:
    """Verdict on `value <= limit` with standard uncertainty u, all in one unit [1]_ [2]_; `of` is how many figures are
    held against the limit together, the worst of which fails it."""
    if value + guard_band(u, rule) <= limit:
        return Verdict.PASS
    if value - guard_band(u, rule, of) > limit:
        return Verdict.FAIL
    return Verdict.TOO_CLOSE


def worst_verdict(verdicts: Iterable[Verdict]) -> Verdict:
    """The worst of several: Fail before Too close to call before Not shown before Pass; none at all is Not shown."""
    return min(verdicts, key=WORST_FIRST.index, default=Verdict.NOT_SHOWN)


def kindness(verdict: Verdict) -> int:
    """Where something that can be adjusted keeps a claim if one of its settings does: the least of these counts."""
    return KINDEST_FIRST.index(verdict)


def format_probability(probability: float | None) -> str:
    """In per cent, as `> 99.9 %` where more digits would say nothing; a dash where nothing was judged."""
    if probability is None:
        return "–"
    if 0.001 <= probability <= 0.999:
        return f"{100 * probability:.1f} %"
    return "> 99.9 %" if probability > 0.5 else "< 0.1 %"
