"""Reflection coefficient, impedance, SWR, return loss and mismatch loss.

All functions are vectorised: arrays in, arrays of the same shape out; scalars in, numpy scalars out.
A reflection of magnitude 1 or more is an infinite SWR, never an error and never negative.

References
----------
.. [1] D. M. Pozar, Microwave Engineering, ch. 2 (memory).
"""

import numpy as np
from numpy.typing import ArrayLike, NDArray

LIGHT_M_PER_S = 299_792_458.0
FloatArray = NDArray[np.float64]
ComplexArray = NDArray[np.complex128]


def gamma_from_impedance(impedance_ohm: ArrayLike, z0_ohm: float) -> ComplexArray:
    """Reflection coefficient (Z - Z0)/(Z + Z0) of an impedance in ohm [1]_. Z = -Z0 gives infinity."""
    z = np.asarray(impedance_ohm, dtype=np.complex128)
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.asarray((z - z0_ohm) / (z + z0_ohm))


def impedance_from_gamma(gamma: ArrayLike, z0_ohm: float) -> ComplexArray:
    """Impedance Z0 (1 + gamma)/(1 - gamma) in ohm [1]_; gamma = 1 gives an infinite or nan value."""
    g = np.asarray(gamma, dtype=np.complex128)
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.asarray(z0_ohm * (1 + g) / (1 - g))


def refer_to(gamma: ArrayLike, from_ohm: float, to_ohm: float) -> ComplexArray:
    """Reflection coefficient of the same impedance in another real reference impedance.

    Written as one bilinear map so that an open circuit (gamma = 1) keeps its value:
    ((z1 - z2) + (z1 + z2) gamma) / ((z1 + z2) + (z1 - z2) gamma), z1 `from_ohm`, z2 `to_ohm` (follows from [1]_).
    """
    g = np.asarray(gamma, dtype=np.complex128)
    if from_ohm == to_ohm:
        return g
    total, difference = from_ohm + to_ohm, from_ohm - to_ohm
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.asarray((difference + total * g) / (total + difference * g))


def swr_from_gamma(gamma: ArrayLike) -> FloatArray:
    """SWR (1 + |gamma|)/(1 - |gamma|) [1]_, infinite where |gamma| >= 1."""
    if isinstance(gamma, (float, complex)):  # a judge asks for many single values, and arrays are slow for those
        size = abs(gamma)
        return np.asarray((1 + size) / (1 - size) if size < 1 else np.inf)
    magnitude = np.abs(np.asarray(gamma))
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(magnitude < 1, (1 + magnitude) / (1 - magnitude), np.inf)


def gamma_from_swr(swr: ArrayLike) -> FloatArray:
    """|gamma| = (s - 1)/(s + 1) of an SWR s >= 1 [1]_; an infinite SWR gives 1.

    Raises
    ------
    ValueError
        If any SWR is below 1 or not a number.
    """
    if isinstance(swr, float) and 1 <= swr < np.inf:
        return np.asarray((swr - 1) / (swr + 1))
    s = np.asarray(swr, dtype=np.float64)
    if not np.all(s >= 1):
        raise ValueError("an SWR is a number of at least 1")
    with np.errstate(invalid="ignore"):
        return np.where(np.isinf(s), 1.0, (s - 1) / (s + 1))


def return_loss_db(gamma: ArrayLike) -> FloatArray:
    """Return loss -20 log10 |gamma| in dB, positive for a passive load [1]_; infinite for a perfect match."""
    with np.errstate(divide="ignore"):
        return np.asarray(-20 * np.log10(np.abs(np.asarray(gamma))) + 0.0)


def gamma_from_return_loss(loss_db: ArrayLike) -> FloatArray:
    """|gamma| = 10^(-RL/20) of a return loss in dB [1]_."""
    return np.asarray(10 ** (-np.asarray(loss_db, dtype=np.float64) / 20))


def gamma_from_powers(forward_w: ArrayLike, reflected_w: ArrayLike) -> FloatArray:
    """|gamma| = sqrt(Pr/Pf) from forward and reflected power in W, as a wattmeter shows them [1]_.

    Raises
    ------
    ValueError
        Where a forward power is not above 0 W, or a reflected one below it.
    """
    forward = np.asarray(forward_w, dtype=np.float64)
    reflected = np.asarray(reflected_w, dtype=np.float64)
    if not np.all(forward > 0) or not np.all(reflected >= 0):
        raise ValueError("forward power must be above 0 W and reflected power at least 0 W")
    return np.asarray(np.sqrt(reflected / forward))


def swr_agrees_with_resistance(
    swr: float, swr_half_step: float, resistance_ohm: float, resistance_half_step_ohm: float, z0_ohm: float = 50.0
) -> bool:
    """Whether a displayed SWR can belong to a displayed resistance, whatever the reactance.

    For any X the SWR is at least max(R/Z0, Z0/R). The half steps are half of the last digit shown
    (37 ohm means 36.5 to 37.5), so that rounding alone is never called a contradiction.
    """
    low = max(resistance_ohm - resistance_half_step_ohm, 1e-12)
    high = resistance_ohm + resistance_half_step_ohm
    floor = 1.0 if low <= z0_ohm <= high else min(max(r / z0_ohm, z0_ohm / r) for r in (low, high))
    return swr + swr_half_step >= floor
