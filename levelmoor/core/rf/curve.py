"""A figure over frequency: what was measured at some frequencies, read in between."""

import re
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.rf.reflection import FloatArray
from levelmoor.core.rf.windows import reaches
from levelmoor.core.words.bounds import one_line
from levelmoor.core.words.digits import FIGURE
from levelmoor.core.words.figures import format_mhz

CURVE_LETTERS = 40_000
"""A measured curve has hundreds of figures, and is edited as it is shown."""


@dataclass(frozen=True)
class Curve:
    """Values at rising frequencies in Hz; linear in between, the end values outside."""

    frequency_hz: tuple[float, ...]
    value: tuple[float, ...]

    def __post_init__(self) -> None:
        if not self.frequency_hz or len(self.frequency_hz) != len(self.value):
            raise ValueError("a curve needs as many values as frequencies, and at least one")
        if any(b <= a for a, b in zip(self.frequency_hz, self.frequency_hz[1:], strict=False)):
            raise ValueError("the frequencies of a curve must rise")

    def at(self, frequency_hz: ArrayLike) -> FloatArray:
        return np.asarray(np.interp(np.asarray(frequency_hz, dtype=np.float64), self.frequency_hz, self.value))

    def covers(self, low_hz: float, high_hz: float) -> bool:
        return reaches(self.frequency_hz[0], self.frequency_hz[-1], low_hz, high_hz)


def curve_of(frequency_hz: FloatArray, value: FloatArray, most: int = 801) -> Curve:
    """A curve from arrays (n,), thinned to at most `most` points."""
    kept = (
        slice(None) if frequency_hz.size <= most else np.unique(np.linspace(0, frequency_hz.size - 1, most).astype(int))
    )
    return Curve(tuple(frequency_hz[kept].tolist()), tuple(value[kept].tolist()))


def parse_curve(text: str) -> Curve | None:
    """Figures by frequency from `150 MHz 29.7; 300 MHz 30.2`; nothing gives None.

    Raises
    ------
    ValueError
        Naming the part that is not a frequency with a figure.
    """
    found: dict[float, float] = {}
    for part in (p.strip() for p in one_line(text.replace("\n", ";"), CURVE_LETTERS).split(";")):
        if not part:
            continue
        match = re.match(rf"^(.*?)(?:\s*:\s*|\s+)([+-]?{FIGURE})\s*(?:dB|dBm)?$", part)
        if not match:
            raise ValueError(f'"{part}" is not a frequency with a figure; write 150 MHz 29.7; 300 MHz 30.2')
        found[parse_frequency(match[1])] = float(match[2].replace(",", "."))
    if not found:
        return None
    pairs = sorted(found.items())
    return Curve(tuple(f for f, _ in pairs), tuple(v for _, v in pairs))


def format_curve(curve: Curve | None) -> str:
    """The text that `parse_curve` reads."""
    if curve is None:
        return ""
    pairs = zip(curve.frequency_hz, curve.value, strict=True)
    return "; ".join(f"{format_mhz(f).replace(chr(0x202F), '')} MHz {v:g}" for f, v in pairs)
