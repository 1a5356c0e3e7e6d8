"""How noisy measured points are, judged from themselves.

References
----------
.. [1] Differences of a sequence cancel what is smooth in it and keep what is not; of white noise of variance s^2 the
   third ones have 20 s^2 (follows from the binomial coefficients).
"""

import math
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from levelmoor.core.rf.sweep import Sweep

LAGS = (1, 2, 4, 8, 16)
"""How far apart the points of a difference are taken: a smoothed trace shows its noise at points far enough apart."""
CURVE = 2.5
"""From one lag to twice that the differences of noise grow by less than 2, those of a curve by 8."""
FEWEST = 8


@lru_cache(maxsize=512)
def noise_of_magnitude(sweep: Sweep) -> float:
    """Standard deviation of the noise in |gamma|; fewer than 8 points say nothing: 0.

    A phase that turns fast from point to point leaves large differences in gamma and none in its size: the less of
    both is noise.
    """
    if sweep.scalar:
        return noise_of(sweep.gamma.real)
    return min(noise_of(sweep.gamma), noise_of(sweep.magnitude))


def noise_of(values: NDArray[np.float64] | NDArray[np.complex128]) -> float:
    """Standard deviation of the noise in values along a smooth curve, of each part of complex ones [1]_.

    Third differences are taken of neighbours and of points farther apart, since smoothing takes neighbours' noise away
    and not the noise; where they grow as a curve's do, the curve has begun to show. The median keeps a sharp dip from
    counting as noise.
    """
    if values.size < FEWEST:
        return 0.0
    # Medians of chi-square with two degrees of freedom (complex, halves summed) and with one.
    share = 20 * 2 * math.log(2) if np.iscomplexobj(values) else 20 * 0.4549
    found = last = 0.0
    for lag in LAGS:
        if values.size < 7 * lag:
            break
        third = values[3 * lag :] - values[: -3 * lag] - 3 * (values[2 * lag : -lag] - values[lag : -2 * lag])
        seen = math.sqrt(float(np.median(third.real**2 + third.imag**2)) / share)
        if last and seen > CURVE * last:
            break
        found, last = max(found, seen), seen
    return found
