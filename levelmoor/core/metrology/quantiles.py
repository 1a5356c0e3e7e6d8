"""Quantiles of the distributions that guard bands and exact limits rest on.

Whole packages of statistics take seconds to load: the normal one is Python's own, the others are taken where needed.

References
----------
.. [1] Normal, Student's t, beta and chi-squared distribution, any statistics text (memory).
.. [2] C. E. Bonferroni's inequality, any statistics text (memory).
"""

import math
from statistics import NormalDist

GUARDED = NormalDist().cdf(2.0)
"""The share of a normal distribution below two standard deviations, 97.7 %: what the guarded rule promises [1]_."""


def normal_upper(share: float) -> float:
    """How many standard deviations a share of a normal distribution lies above [1]_."""
    return -NormalDist().inv_cdf(share)


def largest_of(count: int) -> float:
    """How many standard deviations the largest of so many independent figures exceeds in 1 - GUARDED of cases [2]_: of
    one 2, of forty 3.3."""
    return normal_upper((1 - GUARDED) / max(count, 1))


def student(share: float, freedom: float) -> float:
    """The quantile of Student's t below which a share lies, with so many degrees of freedom, infinite too [1]_."""
    if math.isinf(freedom):
        return NormalDist().inv_cdf(share)
    from scipy.special import stdtrit

    return float(stdtrit(freedom, share))


def beta(share: float, a: float, b: float) -> float:
    """The quantile of the beta distribution below which a share lies [1]_."""
    from scipy.special import betaincinv

    return float(betaincinv(a, b, share))


def chi_squared_above(value: float, freedom: float) -> float:
    """The share of chi-squared with so many degrees of freedom that lies above a value [1]_."""
    from scipy.special import gammaincc

    return float(gammaincc(freedom / 2, value / 2))
