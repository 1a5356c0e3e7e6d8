"""Starting lengths: how long an element is to be for a wanted frequency, and which frequency a length gives.

References
----------
.. [1] A thin half wave resonates at about 0.951 of half a wavelength, 468/f in feet and MHz; a loop at about 1.022
   wavelengths, 1005/f (memory).
.. [2] A short antenna as a line of characteristic impedance 60 (ln(2 l/a) - 1) ohm, open at its end: it resonates where
   the coil's reactance makes up for what is missing, X = Z0 (cot(k h2) - tan(k h1)) with h1 below and h2 above it
   (memory); the lengths are the electrical ones, longer by the same share as in [1]_.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from levelmoor.core.metrology.solving import root

LIGHT_M_PER_S = 299_792_458.0
SHORTENED = 0.951


class Resonator(StrEnum):
    """What of a wavelength an element is."""

    QUARTER = "quarter"
    HALF = "half"
    FIVE_EIGHTHS = "five_eighths"
    LOOP = "loop"


RESONATOR_WORDS = {
    Resonator.QUARTER: "quarter wave",
    Resonator.HALF: "half wave",
    Resonator.FIVE_EIGHTHS: "five eighths",
    Resonator.LOOP: "full wave loop",
}
SHARES: Mapping[Resonator, float] = {
    Resonator.QUARTER: 0.25 * SHORTENED,
    Resonator.HALF: 0.5 * SHORTENED,
    Resonator.FIVE_EIGHTHS: 0.625 * SHORTENED,
    Resonator.LOOP: 1.022,
}
"""The length in wavelengths, its ends' capacitance reckoned in [1]_."""
NEAR = 0.12
"""How far off surroundings put a length without a question (common practice, no source)."""


@dataclass(frozen=True)
class Learnt:
    """What own pairs of length and frequency teach: f = share c / (L + more)."""

    share: float
    more_m: float = 0.0

    def length_m(self, frequency_hz: float) -> float:
        return self.share * LIGHT_M_PER_S / frequency_hz - self.more_m

    def frequency_hz(self, length_m: float) -> float:
        return self.share * LIGHT_M_PER_S / (length_m + self.more_m)


def usual(kind: Resonator, velocity: float = 1.0) -> Learnt:
    """What is usual of a kind; `velocity` is the factor of an insulated wire [1]_.

    Raises
    ------
    ValueError
        Where that is not above 0 and at most 1.
    """
    if not 0 < velocity <= 1:
        raise ValueError(f"a velocity factor must be above 0 and at most 1, not {velocity:g}")
    return Learnt(SHARES[kind] * velocity)


def learnt(kind: Resonator, pairs: Sequence[tuple[float, float]], velocity: float = 1.0) -> Learnt:
    """What pairs of length in m and frequency in Hz teach: one sets the share, two or more also the end's length.

    Raises
    ------
    ValueError
        Where a length or a frequency is not above 0.
    """
    if any(length <= 0 or hz <= 0 for length, hz in pairs):
        raise ValueError("a length and a frequency must be above 0")
    lengths = {length for length, _ in pairs}
    if not pairs:
        return usual(kind, velocity)
    if len(lengths) < 2:
        return Learnt(float(np.mean([length * hz / LIGHT_M_PER_S for length, hz in pairs])))
    # 1/f = (L + more) / (share c) is a straight line in L.
    slope, at_zero = np.polyfit([length for length, _ in pairs], [1 / hz for _, hz in pairs], 1)
    if slope <= 0:
        raise ValueError("in these pairs the longer length does not have the lower frequency; check them for a slip")
    return Learnt(1 / (float(slope) * LIGHT_M_PER_S), float(at_zero / slope))


def asked_about(kind: Resonator, length_m: float, wanted_hz: float, velocity: float = 1.0) -> str:
    """What is to be asked of a length that hardly gives the wanted frequency; nothing where it may."""
    by = usual(kind, velocity)
    gives = by.frequency_hz(length_m)
    if abs(math.log(gives / wanted_hz)) <= NEAR:
        return ""
    return (
        f"{_length(length_m)} is a {RESONATOR_WORDS[kind]} at {gives / 1e6:.4g} MHz; "
        f"{_length(by.length_m(wanted_hz))} would be {wanted_hz / 1e6:.4g}."
    )


def _length(metres: float) -> str:
    return f"{100 * metres:.3g} cm" if metres < 1 else f"{metres:.4g} m"


def loading_coil_henry(frequency_hz: float, length_m: float, radius_m: float, position_m: float) -> float:
    """The inductance in H that brings a whip over ground to resonance, with the coil at a height along it [2]_.

    Raises
    ------
    ValueError
        Where the coil is not on the whip, or the whip is too long to need one.
    """
    reactance = _missing_ohm(frequency_hz, length_m, radius_m, position_m)
    if reactance <= 0:
        raise ValueError("at this frequency the whip is long enough without a coil")
    return reactance / (2 * math.pi * frequency_hz)


def loaded_hz(inductance_h: float, length_m: float, radius_m: float, position_m: float) -> float:
    """Where a whip with a coil resonates [2]_: the other way round."""
    alone = SHORTENED * LIGHT_M_PER_S / (4 * length_m)

    def left(hz: float) -> float:
        return _missing_ohm(hz, length_m, radius_m, position_m) - 2 * math.pi * hz * inductance_h

    return root(left, alone / 1000, alone, within=1.0)


def _missing_ohm(frequency_hz: float, length_m: float, radius_m: float, position_m: float) -> float:
    if not 0 <= position_m < length_m or not 0 < radius_m < length_m:
        raise ValueError(
            "the coil must be between the base and the tip of the whip, and the whip longer than its diameter"
        )
    k = 2 * math.pi * frequency_hz / LIGHT_M_PER_S / SHORTENED
    z0 = 60 * (math.log(2 * length_m / radius_m) - 1)
    return z0 * (1 / math.tan(k * (length_m - position_m)) - math.tan(k * position_m))
