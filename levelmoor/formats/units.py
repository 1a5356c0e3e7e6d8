"""Units as headings and cells write them: what they measure, and how their figures become those of the base unit.

References
----------
.. [1] dBm = 10 log10(P / 1 mW), dBV = 20 log10(U / 1 V), Np = 20 / ln 10 dB: definitions (ISO 80000-3, IEC 60027-3).
"""

import math
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import ArrayLike

from levelmoor.core.rf.reflection import FloatArray
from levelmoor.formats.numerals import NUMBER


class Quantity(StrEnum):
    """What a unit measures; the words say it in a sentence."""

    FREQUENCY = "a frequency"
    POWER = "a power"
    VOLTAGE = "a voltage"
    RESISTANCE = "a resistance"
    CONDUCTANCE = "a conductance"
    ANGLE = "an angle"
    RATIO = "a ratio"
    DECIBEL = "decibels"
    TIME = "a time"
    TEMPERATURE = "a temperature"


BASE = {
    Quantity.FREQUENCY: "Hz", Quantity.POWER: "W", Quantity.VOLTAGE: "V", Quantity.RESISTANCE: "Ω",
    Quantity.CONDUCTANCE: "S", Quantity.ANGLE: "deg", Quantity.RATIO: "1", Quantity.DECIBEL: "dB",
    Quantity.TIME: "s", Quantity.TEMPERATURE: "°C",
}  # fmt: skip


@dataclass(frozen=True)
class Unit:
    """A unit: its name as it is written, what it measures, and its figures in the base unit."""

    name: str
    quantity: Quantity
    to_base: Callable[[FloatArray], FloatArray]

    def __call__(self, figures: ArrayLike) -> FloatArray:
        """The figures in the base unit of the quantity: Hz, W, V, Ω, degrees, a ratio, dB, s, °C [1]_."""
        return np.asarray(self.to_base(np.asarray(figures, dtype=np.float64)))


def _times(factor: float) -> Callable[[FloatArray], FloatArray]:
    return lambda figures: figures * factor


def _decibels(over: float, divisor: float) -> Callable[[FloatArray], FloatArray]:
    """What a level is of: `over` the unit, 10 for powers and 20 for voltages."""
    return lambda figures: over * 10 ** (figures / divisor)


_PREFIXES = {"p": 1e-12, "n": 1e-9, "µ": 1e-6, "m": 1e-3, "": 1.0, "k": 1e3, "M": 1e6, "G": 1e9}


def _prefixed(base: str, quantity: Quantity, prefixes: str, more: Sequence[str] = ()) -> dict[str, Unit]:
    """The units of one base by their spellings; `more` are other ways to write the base."""
    found: dict[str, Unit] = {}
    for prefix in ("", *prefixes):
        unit = Unit(prefix + base, quantity, _times(_PREFIXES[prefix]))
        found |= {prefix + word: unit for word in (base, *more)}
    return found


UNITS: dict[str, Unit] = {
    **_prefixed("Hz", Quantity.FREQUENCY, "kMG", ("hertz", "cps")),
    **_prefixed("W", Quantity.POWER, "pnµmk", ("watt", "watts")),
    **_prefixed("V", Quantity.VOLTAGE, "nµmk", ("volt", "volts")),
    **_prefixed("Ω", Quantity.RESISTANCE, "mkM", ("ohm", "ohms")),
    **_prefixed("S", Quantity.CONDUCTANCE, "nµm", ("siemens", "mho")),
    **_prefixed("s", Quantity.TIME, "µm", ("sec", "secs", "second", "seconds")),
    **dict.fromkeys(("min", "mins", "minute", "minutes"), Unit("min", Quantity.TIME, _times(60.0))),
    **dict.fromkeys(("h", "hour", "hours"), Unit("h", Quantity.TIME, _times(3600.0))),
    **dict.fromkeys(("d", "day", "days"), Unit("d", Quantity.TIME, _times(86_400.0))),
    **dict.fromkeys(("deg", "degs", "degree", "degrees", "°"), Unit("deg", Quantity.ANGLE, _times(1.0))),
    **dict.fromkeys(("rad", "rads", "radian", "radians"), Unit("rad", Quantity.ANGLE, _times(180 / math.pi))),
    **dict.fromkeys(("mrad", "milliradians"), Unit("mrad", Quantity.ANGLE, _times(0.18 / math.pi))),
    **dict.fromkeys(("gon", "gons", "grad", "grads", "gradian"), Unit("gon", Quantity.ANGLE, _times(0.9))),
    **dict.fromkeys(("turn", "turns", "cycle", "cycles"), Unit("turns", Quantity.ANGLE, _times(360.0))),
    **dict.fromkeys(("%", "percent", "pct"), Unit("%", Quantity.RATIO, _times(1e-2))),
    **dict.fromkeys(("‰", "permille", "mu", "munit", "munits"), Unit("‰", Quantity.RATIO, _times(1e-3))),
    **dict.fromkeys(("°C", "celsius", "degC"), Unit("°C", Quantity.TEMPERATURE, _times(1.0))),
    **dict.fromkeys(("°F", "fahrenheit", "degF"), Unit("°F", Quantity.TEMPERATURE, lambda v: (v - 32) / 1.8)),
    **dict.fromkeys(("°K", "kelvin"), Unit("K", Quantity.TEMPERATURE, lambda v: v - 273.15)),
    "dB": Unit("dB", Quantity.DECIBEL, _times(1.0)),
    **dict.fromkeys(("cB", "centibel"), Unit("cB", Quantity.DECIBEL, _times(0.1))),
    **dict.fromkeys(("Np", "neper", "nepers"), Unit("Np", Quantity.DECIBEL, _times(20 / math.log(10)))),
    "dBm": Unit("dBm", Quantity.POWER, _decibels(1e-3, 10)),
    "dBW": Unit("dBW", Quantity.POWER, _decibels(1.0, 10)),
    "dBµW": Unit("dBµW", Quantity.POWER, _decibels(1e-6, 10)),
    "dBkW": Unit("dBkW", Quantity.POWER, _decibels(1e3, 10)),
    "dBV": Unit("dBV", Quantity.VOLTAGE, _decibels(1.0, 20)),
    "dBmV": Unit("dBmV", Quantity.VOLTAGE, _decibels(1e-3, 20)),
    "dBµV": Unit("dBµV", Quantity.VOLTAGE, _decibels(1e-6, 20)),
}  # fmt: skip
"""Every spelling that is known. Where only the case of a letter is other it is the same unit, m and M apart."""

WITH_UNIT = re.compile(rf"\A({NUMBER})\s*+([^\W\d][^\d]{{0,9}}+|[°%‰]\w?)")
"""A figure in a cell with its unit behind it."""
_LOWER: dict[str, set[Unit]] = {}
for _spelling, _unit in UNITS.items():
    _LOWER.setdefault(_spelling.lower(), set()).add(_unit)
_TOKEN = re.compile(r"°\s?[CFK]\b|\|?[^\W\d_]+\|?\d*(?:\^2|²)?|[°%‰]", re.IGNORECASE)
_ALONE = {"s", "h", "d", "v", "w", "°", "min", "mu", "cb", "m"}
"""Letters that are also something else where they stand among words: what a heading is of, a lowest value."""


def spelled(text: str) -> Unit | None:
    """The unit that a word spells, None where it is none, or could be two."""
    bare = re.sub("[uμ]", "µ", text.strip().rstrip(".").replace("Ω", "Ω").replace("ω", "Ω"))
    for word in (bare, text.strip(), bare[:1] + bare[1:].lower()):
        if word in UNITS:
            return UNITS[word]
    found = _LOWER.get(bare.lower(), set()) | _LOWER.get(text.strip().lower(), set())
    return next(iter(found)) if len(found) == 1 else None


def units_in(heading: str) -> list[Unit]:
    """The units that a heading names, in the order in which they stand; letters that may be something else only where
    they stand apart: in brackets, behind a comma, a slash or "in", or last."""
    plain = heading.replace("_", " ").strip()
    found = []
    for match in _TOKEN.finditer(plain):
        word = match[0].strip("|")
        before, after = plain[: match.start()].rstrip(), plain[match.end() :].strip()
        apart = before.endswith(("(", "[", "/", ",", "{")) or before.endswith(" in") or (bool(before) and not after)
        if word.lower() in _ALONE and not apart and before:
            continue
        if not before and not after and word.lower() in _ALONE - {"w", "v", "°"}:
            continue
        unit = spelled(word)
        if unit is not None and unit not in found:
            found.append(unit)
    return found
