"""How many repeat sweeps it takes before a change of so many kHz is more than spread.

References
----------
.. [1] Student's t for the difference of two means of n readings each, any statistics text (memory).
"""

import math

from scipy.stats import t as student

FEWEST = 3
"""With fewer repeats the spread is not known."""
MOST = 100


def repeats_needed(shift_hz: float, spread_hz: float, confidence: float = 0.95) -> int | None:
    """Repeats of each of two setups so that a difference `shift_hz` of their means is significant [1]_.

    The smallest n >= 3 with shift >= t(confidence, 2n - 2) spread sqrt(2/n); `spread_hz` is the standard deviation of
    one reading. None where more than 100 would be needed: then a change that small cannot be shown this way.
    """
    if not shift_hz > 0 or spread_hz < 0:
        raise ValueError("a change is above 0 Hz, and a spread at least 0 Hz")
    for n in range(FEWEST, MOST + 1):
        quantile = float(student.ppf(0.5 + confidence / 2, 2 * n - 2))
        if shift_hz >= quantile * spread_hz * math.sqrt(2 / n):
            return n
    return None
