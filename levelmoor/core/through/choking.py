"""Common-mode choking impedance in the series fixture, and how far the fixture lets it be believed.

References
----------
.. [1] Z in series between two ports of Z0: S21 = 2 Z0/(2 Z0 + Z), so Z = 2 Z0 (1/S21 - 1); D. M. Pozar, Microwave
   Engineering, table 4.2 (memory).
.. [2] JCGM 100:2008, 5.1, propagation of uncertainty (memory).
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.rf.noise import noise_of
from levelmoor.core.rf.reflection import ComplexArray, FloatArray
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.core.words.said import said

USUAL_STRAY_F = 0.3e-12
"""What a small fixture has from port to port where it was not swept empty (common practice, no source)."""
MOST_STRAY_F, LEAK_S = 20e-12, 2e-5
"""A fixture with more than this between its ports, beside what leaks in the analyzer, was not empty (common practice,
no source)."""
STRAY_LEFT = 0.2
"""What the subtraction of a swept stray leaves of it: it moves when a choke is put in (common practice, no source)."""
LEAST_OHM, LEAST_S = 1e-9, 1e-12
"""What is nearer to a short, or to nothing, is counted as this."""
BELIEVED = 1.0
"""Up to this share of the stray's own impedance a choke's is believed."""
ISOLATION_DB = 80.0
"""What an analyzer's own leakage is below full transmission (typical of handheld ones, common practice, no source)."""


def series_impedance(s21: ComplexArray, z0_ohm: float) -> ComplexArray:
    """Z = 2 Z0 (1/S21 - 1) in ohm [1]_."""
    return np.asarray(2 * z0_ohm * (1 / s21 - 1))


def s21_of(impedance_ohm: ComplexArray, z0_ohm: float = 50.0) -> ComplexArray:
    """S21 of an impedance in series [1]_."""
    return np.asarray(2 * z0_ohm / (2 * z0_ohm + np.asarray(impedance_ohm)))


@dataclass(frozen=True, eq=False)
class Choking:
    """|Z| in ohm over frequency with its standard uncertainty; `impedance` with R and X, None from S21's size alone.

    `believed_ohm` is up to where the fixture lets |Z| be believed at each frequency; `stray` says what is known of it.
    `half_width_ohm` is what stays open where the phase is not known.
    """

    frequency_hz: FloatArray
    magnitude_ohm: FloatArray
    u_ohm: FloatArray
    believed_ohm: FloatArray
    stray: str
    impedance: ComplexArray | None = None
    half_width_ohm: float = 0.0
    noise_ohm: FloatArray | float = 0.0
    """The part of u that differs from point to point."""

    @property
    def stray_f(self) -> float:
        """Of an empty fixture its capacitance from port to port in F, the median over the sweep; 0 without phase."""
        if self.impedance is None:
            return 0.0
        return float(np.median((1 / self.impedance).imag / (2 * np.pi * self.frequency_hz)))


def choking(two_port: TwoPort, figures: Residuals, empty: TwoPort | None = None) -> Choking:
    """The choking impedance that a sweep in the series fixture shows.

    The fixture's stray lies in parallel: at frequencies where it was swept empty its admittance is taken off, and a
    fifth of it is left open; else 0.3 pF are assumed and left open whole. u^2 = |dZ/dS21|^2 u(S21)^2 +
    (|Z|^2 |Y| share)^2 [2]_, so that it grows with the square of Z; the noise of S21 is told by itself. From S21's size
    alone |Z| lies between |Z + 2 Z0| - 2 Z0 and |Z + 2 Z0|.
    """
    f, z0 = two_port.frequency_hz, two_port.z0_ohm
    size = np.abs(two_port.s21)
    u_s21 = np.hypot(size * figures.tracking / np.sqrt(2), 10 ** (-ISOLATION_DB / 20) / np.sqrt(2))
    u_fixture = 2 * z0 / size**2 * u_s21
    sigma = max(figures.noise, noise_of(size if two_port.scalar else two_port.s21))
    noise = np.asarray(2 * z0 / size**2 * sigma)
    w = 2 * np.pi * f
    known = np.zeros(f.size, dtype=bool)
    admittance = np.asarray(1j * w * USUAL_STRAY_F, dtype=np.complex128)
    filled = empty is not None and not empty.scalar and not is_empty(empty)
    if empty is not None and not empty.scalar and not two_port.scalar and not filled:
        known = empty.reaches(f)
        admittance = np.where(known, _admittance(empty.at(f), empty.z0_ohm), admittance)
    left = np.where(known, STRAY_LEFT, 1.0)
    words = said("stray.not_empty") if filled else _stray_words(known, empty)
    believed = BELIEVED / np.maximum(np.abs(admittance), 1e-12)
    if two_port.scalar:
        whole = 2 * z0 / size
        middle = np.maximum(whole - z0, whole / 2)
        return Choking(f, middle, np.hypot(u_fixture, middle**2 * np.abs(admittance) * left), believed, words,
                       None, z0, noise)  # fmt: skip
    z = series_impedance(two_port.s21, z0)
    if known.any():
        rest = _admittance(two_port.s21, z0) - admittance
        z = np.where(known, 1 / np.where(np.abs(rest) < LEAST_S, LEAST_S, rest), z)
    u = np.hypot(u_fixture, np.abs(z) ** 2 * np.abs(admittance) * left)
    return Choking(f, np.abs(z), u, believed, words, z, noise_ohm=noise)


def is_empty(fixture: TwoPort) -> bool:
    """Whether a sweep of the fixture shows no more than a small capacitance between its ports."""
    y = _admittance(fixture.s21, fixture.z0_ohm)
    small = np.median(np.abs(y) / (2 * np.pi * fixture.frequency_hz * MOST_STRAY_F + LEAK_S)) < 1
    return bool(small and np.median(np.abs(y.real) / (0.7 * np.abs(y) + LEAK_S)) < 1)


def _admittance(s21: ComplexArray, z0_ohm: float) -> ComplexArray:
    """That of what is in series, bounded where everything passes."""
    z = series_impedance(s21, z0_ohm)
    return np.asarray(1 / np.where(np.abs(z) < LEAST_OHM, LEAST_OHM, z))


def _stray_words(known: NDArray[np.bool_], empty: TwoPort | None) -> str:
    if empty is None:
        return said("stray.assumed")
    span = (float(empty.frequency_hz[0]), float(empty.frequency_hz[-1]))
    if not known.any():
        return said("stray.elsewhere", span=span)
    return said("stray.taken_off") if known.all() else said("stray.in_part", span=span)
