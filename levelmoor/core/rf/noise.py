"""How noisy a sweep is, judged from itself."""

import math

import numpy as np

from levelmoor.core.rf.sweep import Sweep

# A curve that is merely coarse has large differences too; it must not pass for noise without end.
LARGEST_NOISE = 0.015


def noise_of_magnitude(sweep: Sweep) -> float:
    """Standard deviation of the noise in |gamma|, from the third differences of the points.

    A smooth curve leaves next to nothing in its third differences, white noise of variance s^2 leaves 20 s^2.
    The median keeps a sharp dip from counting as noise. Fewer than 8 points say nothing: 0.
    """
    if sweep.points < 8:
        return 0.0
    g = sweep.gamma
    third = g[3:] - g[:-3] - 3 * (g[2:-1] - g[1:-2])
    squared = third.real**2 + third.imag**2
    # Medians of chi-square with two degrees of freedom (complex, halves summed) and with one (magnitude alone).
    share = 20 * 0.4549 if sweep.scalar else 20 * 2 * math.log(2)
    return min(math.sqrt(float(np.quantile(squared, 0.5)) / share), LARGEST_NOISE)
