"""Gaps: steps between neighbouring points that no path is drawn across and nothing is read in."""

import numpy as np
from numpy.typing import NDArray

from levelmoor.core.rf.reflection import FloatArray

NEIGHBOURS = 5
"""How many steps on each side a step is held against."""
TIMES_ITS_NEIGHBOURS = 4.0
"""A step more than this many times the usual one around it is a gap: two files joined, or a hole in one."""
SHARE_OF_FREQUENCY = 0.1
"""A step above this share of its frequency is a gap whatever stands beside it: a whole band fits into it."""


def gaps_between(frequency_hz: FloatArray) -> NDArray[np.bool_]:
    """Which steps between rising frequencies (n,) in Hz are gaps, (n - 1,)."""
    step = np.diff(frequency_hz)
    if step.size == 0:
        return np.zeros(0, dtype=bool)
    far = step > SHARE_OF_FREQUENCY * frequency_hz[1:]
    if step.size < 3 or float(step.max()) <= TIMES_ITS_NEIGHBOURS * float(step.min()):
        return far
    padded = np.pad(step, NEIGHBOURS, constant_values=np.nan)
    beside = np.lib.stride_tricks.sliding_window_view(padded, 2 * NEIGHBOURS + 1)
    return np.asarray(far | (step > TIMES_ITS_NEIGHBOURS * np.nanmedian(beside, axis=1)))
