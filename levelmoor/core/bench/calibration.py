"""One-port calibration: from raw sweeps of open, short and load to corrected ones.

References
----------
.. [1] Three-term one-port error model, e.g. Pozar, Microwave Engineering, ch. 4 (memory).
.. [2] Polynomial model of a coaxial open's fringing capacitance, as calibration kits state it (memory).
"""

import math
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from levelmoor.core.model.equipment import Kit
from levelmoor.core.rf.reflection import ComplexArray, FloatArray, gamma_from_impedance
from levelmoor.core.rf.windows import reaches
from levelmoor.core.words.figures import format_step

IDEAL_KIT = Kit("", "ideal standards")


@dataclass(frozen=True, eq=False)
class ErrorTerms:
    """Directivity e00, source match e11 and tracking e10e01 over frequency, each (n,) complex; frequency in Hz."""

    frequency_hz: FloatArray
    directivity: ComplexArray
    source_match: ComplexArray
    tracking: ComplexArray

    def covers(self, low_hz: float, high_hz: float) -> bool:
        return reaches(self.frequency_hz[0], self.frequency_hz[-1], low_hz, high_hz)


def standard_reflections(kit: Kit, frequency_hz: FloatArray, z0_ohm: float = 50.0) -> tuple[ComplexArray, ...]:
    """True reflections (n,) of the kit's open, short and load [2]_; ideal ones are 1, -1 and 0."""
    f = np.asarray(frequency_hz, dtype=np.float64)
    c0, c1, c2, c3 = kit.open_c
    capacitance = c0 + c1 * f + c2 * f**2 + c3 * f**3
    jb = 2j * np.pi * f * capacitance * z0_ohm
    opened = (1 - jb) / (1 + jb) * np.exp(-4j * np.pi * f * kit.open_delay_s)
    shorted = -np.exp(-4j * np.pi * f * kit.short_delay_s)
    load = np.full(f.shape, complex(gamma_from_impedance(kit.load_ohm, z0_ohm)))
    return np.asarray(opened), np.asarray(shorted), load


def solve_error_terms(
    frequency_hz: FloatArray, measured: tuple[ComplexArray, ...], true: tuple[ComplexArray, ...]
) -> ErrorTerms:
    """Error terms from three standards as measured and as they truly are, each (n,) [1]_.

    Gm = e00 + Gt Gm e11 + Gt (e10e01 - e00 e11), linear in three unknowns at each frequency.

    Raises
    ------
    ValueError
        Where two of the standards read alike, so that the equations have no solution.
    """
    rows = [np.stack((np.ones_like(t), t * m, t), axis=-1) for m, t in zip(measured, true, strict=True)]
    matrix, right = np.stack(rows, axis=-2), np.stack(measured, axis=-1)[..., None]
    apart = np.min([np.abs(a - b) for a, b in combinations(measured, 2)], axis=0)
    worst = np.minimum(np.abs(np.linalg.det(matrix)), apart)
    if not np.all(np.isfinite(worst)) or np.any(worst < 1e-9):
        at = float(np.asarray(frequency_hz)[int(np.argmin(worst))])
        raise ValueError(
            f"two of the standards read the same at {at / 1e6:.6g} MHz; were open, short and load mixed up?"
        )
    e00, e11, mixed = np.moveaxis(np.linalg.solve(matrix, right)[..., 0], -1, 0)
    return ErrorTerms(np.asarray(frequency_hz), e00, e11, mixed + e00 * e11)


def error_terms(
    frequency_hz: FloatArray, opened: ComplexArray, shorted: ComplexArray, load: ComplexArray, kit: Kit = IDEAL_KIT
) -> ErrorTerms:
    """Error terms from raw sweeps (n,) of a kit's open, short and load over the same frequencies."""
    return solve_error_terms(frequency_hz, (opened, shorted, load), standard_reflections(kit, frequency_hz))


LARGEST_TURN = 0.25
"""How far an error term may turn or change from one point of the calibration to the next, as a share of its size: a
straight line between them is then off by at most a hundredth of it."""


def step_that_would_do(terms: ErrorTerms) -> float | None:
    """The step in Hz with which the error terms could be read between their points, None where they can.

    Terms of a long lead turn fast: a straight line between two points cuts the corner by 1 - cos(turn/2) of their size.
    """
    if terms.frequency_hz.size < 2:
        return None
    step = np.diff(terms.frequency_hz)
    worst = 0.0
    for term, least in ((terms.tracking, 0.0), (terms.directivity, 0.03), (terms.source_match, 0.03)):
        change = np.abs(np.diff(term))
        size = np.maximum((np.abs(term[1:]) + np.abs(term[:-1])) / 2, 1e-9)
        telling = size >= least
        if np.any(telling):
            worst = max(worst, float(np.max((change / size)[telling])))
    return float(step.max()) * LARGEST_TURN / worst if worst > LARGEST_TURN else None


def correct(terms: ErrorTerms, frequency_hz: FloatArray, raw: ComplexArray) -> ComplexArray:
    """Corrected reflection (n,): (Gm - e00)/(e10e01 + e11 (Gm - e00)) [1]_; terms interpolated between their points.

    Raises
    ------
    ValueError
        Where the raw sweep leaves the span of the calibration.
    """
    f = np.asarray(frequency_hz, dtype=np.float64)
    if not terms.covers(float(f[0]), float(f[-1])):
        span = f"{terms.frequency_hz[0] / 1e6:.6g} to {terms.frequency_hz[-1] / 1e6:.6g} MHz"
        raise ValueError(
            f"the raw sweep ({f[0] / 1e6:.6g} to {f[-1] / 1e6:.6g} MHz) goes beyond the calibration ({span}); "
            f"calibrate over the whole span you sweep"
        )
    at = np.clip(np.searchsorted(terms.frequency_hz, f), 1, max(terms.frequency_hz.size - 1, 1))
    beside = np.abs(terms.frequency_hz[np.stack((at - 1, np.minimum(at, terms.frequency_hz.size - 1)))] - f)
    apart = float(np.max(np.min(beside, axis=0)))
    needed = step_that_would_do(terms)
    if needed is not None and apart > 1e-9 * float(f[-1]):
        step = format_step(_two_digits(needed))
        raise ValueError(
            f"the calibration's points are too far apart to interpolate between; calibrate at the points you "
            f"sweep, or with steps of {step} or less"
        )
    d, m, t = (np.interp(f, terms.frequency_hz, e) for e in (terms.directivity, terms.source_match, terms.tracking))
    shifted = np.asarray(raw) - d
    return np.asarray(shifted / (t + m * shifted))


def _two_digits(step_hz: float) -> float:
    """Rounded down, so that what is asked for would do."""
    size = 10.0 ** (math.floor(math.log10(step_hz)) - 1)
    return math.floor(step_hz / size) * size
