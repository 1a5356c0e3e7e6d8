"""The numbers of one sweep through an article at a glance: the least and the most of it, and what is wanted."""

from dataclasses import dataclass

import numpy as np

from levelmoor.core.rf.reflection import ComplexArray
from levelmoor.core.through.through_verdict import ThroughCurve


@dataclass(frozen=True)
class ThroughNumbers:
    """Loss in dB or choking impedance in ohm, as `unit` says, with frequencies in Hz. `wanted` and R + jX there are
    None where nothing is wanted, or nothing was swept there; R + jX also where a loss was swept."""

    unit: str
    least: float
    least_hz: float
    most: float
    most_hz: float
    wanted: float | None = None
    wanted_ohm: complex | None = None


def through_numbers(
    curve: ThroughCurve, impedance: ComplexArray | None = None, wanted_hz: float | None = None
) -> ThroughNumbers:
    """Of a curve (n,), and of the complex impedance in ohm (n,) behind it where it is known."""
    f = curve.frequency_hz
    low, high = int(np.argmin(curve.value)), int(np.argmax(curve.value))
    wanted, ohm = None, None
    if wanted_hz is not None and f[0] <= wanted_hz <= f[-1]:
        wanted = float(np.interp(wanted_hz, f, curve.value))
        if impedance is not None:
            ohm = complex(np.interp(wanted_hz, f, impedance.real), np.interp(wanted_hz, f, impedance.imag))
    ends = (float(curve.value[low]), float(f[low]), float(curve.value[high]), float(f[high]))
    return ThroughNumbers(curve.unit, *ends, wanted, ohm)
