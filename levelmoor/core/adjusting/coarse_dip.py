"""The dip of a few readings: a parabola says where it is, and how well they tell it, even a little beyond them.

Near a resonance R changes little and X grows evenly with frequency, so that |G|^2 / (1 - |G|^2) = ((R - Z0)^2 + X^2) /
(4 R Z0) is a parabola in frequency [1]_. What the display's last digit leaves open is spread evenly [2]_.

References
----------
.. [1] From |G|^2 = ((R - Z0)^2 + X^2) / ((R + Z0)^2 + X^2), of which 1 - |G|^2 = 4 R Z0 / ((R + Z0)^2 + X^2).
.. [2] JCGM 100:2008, 4.3.7, a rectangular distribution (memory).
"""

import math
from dataclasses import dataclass

import numpy as np

from levelmoor.core.rf.sweep import Sweep

FEWEST, MOST = 3, 15
"""Readings that a parabola is laid through; with more, the curve itself tells."""
BENT = 2.0
"""The parabola's bend has to be so many times its standard uncertainty."""
MODEL = 0.05
"""Of the step between readings, what the curve strays from a parabola (common practice, no source)."""
BEYOND = 1.0
"""How many steps beyond the readings a dip is told."""
STEEPEST = 0.8
"""|G| above which the curve bends away from a parabola."""


@dataclass(frozen=True)
class CoarseDip:
    """Where the dip is, with its standard uncertainty in Hz, and |G| there; `beyond` that it lies outside the
    readings."""

    hz: float
    u_hz: float
    magnitude: float
    beyond: bool


def coarse_dip(sweep: Sweep) -> CoarseDip | None:
    """The dip of a sweep that readings were joined into; None where they are too many or too few, or tell none."""
    if sweep.half_step_gamma is None or not FEWEST <= sweep.points <= MOST:
        return None
    low = int(np.argmin(sweep.magnitude))
    near = [i for i in range(sweep.points) if abs(i - low) <= 2 and sweep.magnitude[i] <= STEEPEST]
    if len(near) < FEWEST:
        return None
    f, g, half = sweep.frequency_hz[near], sweep.magnitude[near], sweep.half_step_gamma[near]
    step = float(np.mean(np.diff(f)))
    x = (f - f[0]) / step
    y, dg = g**2 / (1 - g**2), half / math.sqrt(3)
    sd = np.maximum(np.hypot(2 * g * dg / (1 - g**2) ** 2, dg**2), 1e-9)
    rows = np.column_stack([x**2, x, np.ones_like(x)]) / sd[:, None]
    cov = np.linalg.pinv(rows.T @ rows)
    a, b, c = cov @ rows.T @ (y / sd)
    if a <= BENT * math.sqrt(cov[0, 0]):
        return None
    at = -b / (2 * a)
    grad = np.array([b / (2 * a * a), -1 / (2 * a), 0.0])
    u = math.hypot(math.sqrt(float(grad @ cov @ grad)), MODEL)
    if not -BEYOND <= at <= x[-1] + BEYOND:
        return None
    least = max(float(c - b * b / (4 * a)), 0.0)
    beyond = not 0 <= at <= x[-1]
    return CoarseDip(float(f[0] + at * step), u * step, math.sqrt(least / (1 + least)), beyond)
