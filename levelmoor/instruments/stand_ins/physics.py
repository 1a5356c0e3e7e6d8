"""Antennas, feed line and instrument as simple physics, for sweeps that behave like measured ones.

References
----------
.. [1] C. A. Balanis, Antenna Theory, the transmission-line view of a dipole (memory).
.. [2] D. M. Pozar, Microwave Engineering, ch. 2, lossy line and one-port error model (memory).
"""

from dataclasses import dataclass

import numpy as np

from levelmoor.core.rf.reflection import LIGHT_M_PER_S, ComplexArray, FloatArray, gamma_from_impedance


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
class SimulatedLine:
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
class RingChoke:
    """A choke on a ferrite ring: its inductance, the ferrite's loss and the stray of the turns in parallel, and the
    stray of the fixture it is in."""

    henry: float = 42e-6
    ohm: float = 5200.0
    turns_f: float = 1.6e-12
    fixture_f: float = 0.25e-12

    def impedance(self, f: FloatArray, inside: bool = True) -> ComplexArray:
        """From port to port in ohm; with the fixture empty its stray alone."""
        w = 2j * np.pi * f
        admittance = w * self.fixture_f
        if inside:
            admittance = admittance + 1 / (w * self.henry) + 1 / self.ohm + w * self.turns_f
        return np.asarray(1 / admittance)


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


@dataclass
class StandingAntenna:
    """A half-wave antenna as it stands: length and height in m, a hand near it (0 to 1), wind (0 to 1).

    Further wires at the same feed point, each a half wave of its own length, make it an antenna of several bands. A
    hand pulls the resonance down and adds loss; wind moves it a little with every sweep; height over ground makes the
    radiation resistance swing about its free-space value (a vertical image's interference, simplified).
    """

    length_m: float = 0.98
    height_m: float = 4.0
    hand: float = 0.0
    wind: float = 0.0
    wave_ohm: float = 700.0
    further_m: tuple[float, ...] = ()

    def impedance(self, f: FloatArray, random: np.random.Generator) -> ComplexArray:
        moved = 1 - 0.05 * self.hand + 0.004 * self.wind * float(random.standard_normal())
        wires = [self._wire(f, length, moved) for length in (self.length_m, *self.further_m)]
        return np.asarray(1 / np.sum([1 / z for z in wires], axis=0))

    def _wire(self, f: FloatArray, length_m: float, moved: float) -> ComplexArray:
        f0 = moved * 0.955 * LIGHT_M_PER_S / (2 * length_m)
        turns = 4 * np.pi * self.height_m * f0 / LIGHT_M_PER_S
        r0 = 62 * (1 - np.sin(turns) / max(turns, 0.1)) + 25 * self.hand
        return dipole(f, f0, r0, self.wave_ohm)


@dataclass(frozen=True)
class ErrorBox:
    """The one-port error terms that stand between an analyzer and its plane, turning with frequency [2]_."""

    e00: complex = 0.06 + 0.02j
    e11: complex = 0.05 - 0.03j
    tracking: complex = 0.92 - 0.08j
    delay_s: float = 0.6e-9

    def raw(self, f: FloatArray, gamma: ComplexArray) -> ComplexArray:
        turn = np.exp(-2j * np.pi * f * self.delay_s)
        return np.asarray(self.e00 * turn + self.tracking * turn**2 * gamma / (1 - self.e11 * turn * gamma))


@dataclass
class KeyedRadio:
    """A transmitter: carrier in Hz and dBm, and how far its harmonics from the second on are down, in dB."""

    carrier_hz: float = 146e6
    level_dbm: float = 37.2
    down_db: tuple[float, ...] = (33.0, 47.0, 61.0, 74.0)
    keyed: bool = False

    def lines(self) -> list[tuple[float, float]]:
        """Frequency and level in dBm of carrier and harmonics while it is keyed."""
        if not self.keyed:
            return []
        harmonics = [(n * self.carrier_hz, self.level_dbm - d) for n, d in enumerate(self.down_db, 2)]
        return [(self.carrier_hz, self.level_dbm), *harmonics]


@dataclass
class AnalyzerInput:
    """A spectrum analyzer's input: the pad before it, its own second and third harmonic, its noise.

    A strong signal makes harmonics in the input itself: the n-th rises n dB for each dB, which a larger pad shows.
    """

    pad_db: float = 40.0
    second_intercept_dbm: float = 40.0
    third_intercept_dbm: float = 20.0
    noise_dbm_per_hz: float = -125.0

    def levels(
        self, f: FloatArray, lines: list[tuple[float, float]], rbw_hz: float, random: np.random.Generator
    ) -> FloatArray:
        """The trace in dBm at the input: every line as wide as the resolution bandwidth, over the noise."""
        seen = [(at, level - self.pad_db) for at, level in lines]
        if seen:
            at, level = seen[0]
            seen.append((2 * at, 2 * level - self.second_intercept_dbm))
            seen.append((3 * at, 3 * level - 2 * self.third_intercept_dbm))
        floor = self.noise_dbm_per_hz + 10 * np.log10(rbw_hz)
        power = 10 ** ((floor + 1.2 * random.standard_normal(f.size)) / 10)
        step = float(f[1] - f[0]) if f.size > 1 else rbw_hz
        for at, level in seen:
            # A line between two points of a coarse trace is seen by both, as a peak detector does.
            distance = np.maximum(np.abs(f - at) - step / 2, 0.0) / rbw_hz
            power += 10 ** ((level - 12 * np.minimum(distance, 4.0) ** 2) / 10) * (distance < 4)
        return np.asarray(10 * np.log10(power))
