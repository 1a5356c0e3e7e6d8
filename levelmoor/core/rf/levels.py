"""Levels: watts and dBm, harmonics of a carrier, and what a mismatch leaves open.

References
----------
.. [1] dBm = 10 log10(P / 1 mW), definition.
.. [2] Mismatch of two reflections, 20 log10(1 +- |g1||g2|), any microwave text (memory).
"""

import math

import numpy as np
from numpy.typing import ArrayLike

from levelmoor.core.rf.reflection import FloatArray

HIGHEST_HARMONIC = 5
DBUV_AT_0_DBM = 106.98970004
"""dBµV across 50 Ω of 0 dBm: 20 log10(sqrt(1 mW · 50 Ω)/1 µV)."""


def dbm_of_watts(power_w: ArrayLike) -> FloatArray:
    """Level in dBm of a power in W [1]_."""
    return np.asarray(10 * np.log10(np.asarray(power_w, dtype=np.float64) * 1e3))


def watts_of_dbm(level_dbm: ArrayLike) -> FloatArray:
    """Power in W of a level in dBm [1]_."""
    return np.asarray(10 ** (np.asarray(level_dbm, dtype=np.float64) / 10) / 1e3)


def format_watts(power_w: float) -> str:
    """A power in the unit that reads best: `4.7 W`, `25 µW`, `3 pW`."""
    for unit, size in (("W", 1.0), ("mW", 1e-3), ("µW", 1e-6), ("nW", 1e-9)):
        if power_w >= 0.9995 * size:
            return f"{power_w / size:.3g} {unit}"
    return f"{power_w / 1e-12:.3g} pW"


def mismatch_error_db(gamma_one: float, gamma_two: float) -> tuple[float, float]:
    """The largest errors in dB, up and down, that two reflections facing each other make [2]_."""
    product = gamma_one * gamma_two
    return 20 * math.log10(1 + product), 20 * math.log10(1 - product)


def harmonics_hz(fundamental_hz: float, top_hz: float = math.inf) -> tuple[float, ...]:
    """The fundamental's second to fifth harmonic in Hz, and further ones up to `top_hz` where that is finite."""
    last = HIGHEST_HARMONIC
    if math.isfinite(top_hz):
        last = max(last, int(top_hz / fundamental_hz + 1e-9))
    return tuple(n * fundamental_hz for n in range(2, min(last, 20) + 1))
