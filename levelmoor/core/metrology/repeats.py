"""How many repeat sweeps it takes before a change of so many kHz is more than spread.

References
----------
.. [1] Student's t for the difference of two means of n readings each, any statistics text (memory).
"""

import math

from levelmoor.core.metrology.quantiles import student

FEWEST = 3
"""With fewer repeats the spread is not known."""
MOST = 100


def repeats_needed(
    shift_hz: float, spread_hz: float, confidence: float = 0.95, u_instrument_hz: float = 0.0
) -> int | None:
    """Repeats of each of two setups so that a difference `shift_hz` of their means is significant [1]_.

    The smallest n >= 3 with shift^2 >= (t(confidence, 2n - 2) spread)^2 2/n + (2 u)^2 2; `spread_hz` is the standard
    deviation of one reading, `u_instrument_hz` the instrument's standard uncertainty of one side, which no number of
    repeats reduces: 0 where one calibration sweeps both and it cancels. None where more than 100 would be needed: then
    a change that small cannot be shown this way.

    Raises
    ------
    ValueError
        Where the change is not above 0, or a spread below it.
    """
    if not shift_hz > 0 or spread_hz < 0 or u_instrument_hz < 0:
        raise ValueError("a change must be above 0 Hz, and a spread at least 0 Hz")
    for n in range(FEWEST, MOST + 1):
        quantile = student(0.5 + confidence / 2, 2 * n - 2)
        if shift_hz >= math.hypot(quantile * spread_hz * math.sqrt(2 / n), 2 * u_instrument_hz * math.sqrt(2)):
            return n
    return None
