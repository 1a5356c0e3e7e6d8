"""What gets through a tuner by a two-port sweep of it in the setting of a match.

References
----------
.. [1] D. M. Pozar, Microwave Engineering, ch. 12.1, the power gain of a two-port with its load (memory).
"""

import math

import numpy as np

from levelmoor.core.rf.reflection import refer_to
from levelmoor.core.rf.two_port import TwoPort


def share_through(
    two_port: TwoPort, frequency_hz: float, gamma_load: complex, load_z0_ohm: float = 50.0
) -> float | None:
    """The share of the power into port 1 that reaches a load on port 2, |S21|^2 (1 - |g|^2) over
    |1 - S22 g|^2 (1 - |Gin|^2) [1]_; None where the sweep does not reach, or knows no phase and reflections.
    """
    if two_port.scalar or two_port.s11 is None or two_port.s22 is None:
        return None
    if not two_port.covers(frequency_hz, frequency_hz):
        return None
    f = two_port.frequency_hz
    s11, s21, s22 = (
        complex(np.interp(frequency_hz, f, s.real), np.interp(frequency_hz, f, s.imag))
        for s in (two_port.s11, two_port.s21, two_port.s22)
    )
    g = complex(refer_to(gamma_load, load_z0_ohm, two_port.z0_ohm))
    seen = s11 + s21 * s21 * g / (1 - s22 * g)  # what is built of coils and capacitors is the same both ways
    taken = (1 - abs(seen) ** 2) * abs(1 - s22 * g) ** 2
    share = abs(s21) ** 2 * (1 - abs(g) ** 2) / taken if taken > 0 else math.nan
    return min(share, 1.0) if math.isfinite(share) and share >= 0 else None
