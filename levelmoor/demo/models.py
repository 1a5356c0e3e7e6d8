"""Antennas, feed line and instrument as simple physics, for sweeps that behave like measured ones.

References
----------
.. [1] C. A. Balanis, Antenna Theory, the transmission-line view of a dipole (memory).
.. [2] D. M. Pozar, Microwave Engineering, ch. 2, lossy line and one-port error model (memory).
"""

from dataclasses import dataclass

import numpy as np

from levelmoor.core.reflection import ComplexArray, FloatArray, gamma_from_impedance

LIGHT_M_PER_S = 299_792_458.0


def dipole(f: FloatArray, f0: float, r0_ohm: float, wave_ohm: float) -> ComplexArray:
    """Impedance in ohm of a half-wave radiator: an open quarter-wave line of `wave_ohm` with radiation resistance [1]_.

    R grows with frequency through resonance, X is -Za cot(pi f / 2 f0): zero at f0, steep for a thin wire.
    """
    angle = np.pi / 2 * f / f0
    return np.asarray(r0_ohm * (f / f0) ** 2.4 - 1j * wave_ohm / np.tan(angle))


def coupled(f: FloatArray, driven: ComplexArray, f1: float, q: float, coupling_ohm: float) -> ComplexArray:
    """A driven element with a parasitic one: the secondary's loop in series, as in coupled circuits."""
    return np.asarray(driven + coupling_ohm / (1 + 1j * q * (f / f1 - f1 / f)))


@dataclass(frozen=True)
class Line:
    """A feed line: length in m, loss in dB per m at 1 MHz growing with the root of frequency, velocity factor."""

    length_m: float
    loss_db_per_m: float
    velocity: float = 0.66

    def seen_through(self, f: FloatArray, gamma: ComplexArray) -> ComplexArray:
        """Reflection at the near end of the line [2]_."""
        loss_db = self.length_m * self.loss_db_per_m * np.sqrt(f / 1e6)
        turn = 4 * np.pi * f * self.length_m / (LIGHT_M_PER_S * self.velocity)
        return np.asarray(gamma * 10 ** (-loss_db / 10) * np.exp(-1j * turn))


@dataclass(frozen=True)
class Analyzer:
    """What the instrument adds: directivity left after calibration, noise, and drift over the sweep."""

    directivity: complex = 0.004 + 0.002j
    noise: float = 4e-4
    drift: float = 0.002

    def measured(self, gamma: ComplexArray, random: np.random.Generator) -> ComplexArray:
        count = gamma.size
        noise = self.noise * (random.standard_normal(count) + 1j * random.standard_normal(count))
        drift = 1 + self.drift * np.linspace(0, 1, count) * np.exp(1j * random.uniform(0, 2 * np.pi))
        return np.asarray(self.directivity + gamma * drift + noise)


def reflection(impedance_ohm: ComplexArray) -> ComplexArray:
    return gamma_from_impedance(impedance_ohm, 50.0)
