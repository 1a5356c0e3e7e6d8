"""Small numerical searches, so that no package that takes longer to load than the whole command is loaded for them.

References
----------
.. [1] W. H. Press et al., Numerical Recipes, bisection and golden section (memory).
.. [2] C. L. Lawson, R. J. Hanson, Solving Least Squares Problems, 1974, least squares with inequalities (memory).
"""

import math
from collections.abc import Callable
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]
_GOLDEN = (math.sqrt(5) - 1) / 2


def root(function: Callable[[float], float], low: float, high: float, within: float = 1e-12) -> float:
    """Where a function that changes its sign between two places is zero, by bisection [1]_.

    Raises
    ------
    ValueError
        Where it has one sign at both.
    """
    at_low, at_high = function(low), function(high)
    if at_low == 0 or at_high == 0:
        return low if at_low == 0 else high
    if (at_low > 0) == (at_high > 0):
        raise ValueError("a function has a root for sure only between a value above zero and one below")
    while high - low > within:
        middle = (low + high) / 2
        if (function(middle) > 0) == (at_low > 0):
            low = middle
        else:
            high = middle
    return (low + high) / 2


def lowest(function: Callable[[float], float], low: float, high: float, within: float = 1e-6) -> float:
    """Where a function with one minimum between two places has it, by golden section [1]_."""
    left, right = high - _GOLDEN * (high - low), low + _GOLDEN * (high - low)
    at_left, at_right = function(left), function(right)
    while high - low > within:
        if at_left < at_right:
            high, right, at_right = right, left, at_left
            left = high - _GOLDEN * (high - low)
            at_left = function(left)
        else:
            low, left, at_left = left, right, at_right
            right = low + _GOLDEN * (high - low)
            at_right = function(right)
    return (low + high) / 2


def fit_at_least_zero(basis: FloatArray, values: FloatArray) -> FloatArray:
    """The coefficients, none below zero, of the least squares fit of a few columns to values [2]_.

    `basis` (n, k), `values` (n,); gives (k,). The best fit has some of them at zero and is the plain fit of the others,
    so that trying all of few finds it.
    """
    columns = basis.shape[1]
    found, least = np.zeros(columns), float(values @ values)
    for size in range(columns, 0, -1):
        for chosen in combinations(range(columns), size):
            part = basis[:, chosen]
            solved, *_ = np.linalg.lstsq(part, values, rcond=None)
            if np.any(solved < 0):
                continue
            left = float(np.sum((part @ solved - values) ** 2))
            if left < least:
                found, least = np.zeros(columns), left
                found[list(chosen)] = solved
            if size == columns:
                return found
    return found
