"""The fields of a piece: how they are typed, kept and shown. Kept values are plain data, in SI units or text."""

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from levelmoor.core.model.connectors import Connector, parse_connector
from levelmoor.core.model.equipment import (
    CLASS_WORDS,
    InstrumentClass,
)
from levelmoor.core.rf.bandplan import REGIONS
from levelmoor.core.rf.curve import Curve, format_curve, parse_curve
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.rf.window_text import parse_windows
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.figures import format_mhz


@dataclass(frozen=True)
class Field:
    """One field: its heading with the unit, how a text becomes a kept value and back, and an example."""

    name: str
    heading: str
    parse: Callable[[str], Any]
    show: Callable[[Any], str]
    example: str = ""
    empty: Any = None
    figure: bool = False
    choices: tuple[tuple[str, str], ...] = ()

    def read(self, text: str) -> Any:
        """The kept value of a text. Raises ValueError saying what would be right."""
        bare = text.strip()
        return self.empty if not bare else self.parse(bare)

    @property
    def placeholder(self) -> str:
        """What an empty cell stands for, or an example of what it takes."""
        return self.show(self.empty) if self.empty else f"e.g. {self.example}" if self.example else ""

    def write(self, value: Any) -> str:
        return "" if value is None or value == self.empty else self.show(value)


def number(text: str, what: str, low: float, high: float) -> float:
    """A number as people write it, decimal comma allowed, within bounds. Raises ValueError saying which."""
    bare = text.strip().replace("−", "-").replace(",", ".").strip()
    try:
        value = float(bare)
    except ValueError:
        raise ValueError(f'"{text.strip()}" is not a number; {what}') from None
    if not (math.isfinite(value) and low <= value <= high):
        raise ValueError(f"{text.strip()} is out of range; {what}")
    return value


def figure_field(
    name: str, heading: str, what: str, low: float, high: float, empty: float | None = None, example: str = ""
) -> Field:
    return Field(name, heading, lambda t: number(t, what, low, high), lambda v: f"{v:g}", example, empty, figure=True)


def count_field(name: str, heading: str, what: str, low: int, high: int, empty: int, example: str = "") -> Field:
    def parse(text: str) -> int:
        value = number(text, what, low, high)
        if value != int(value):
            raise ValueError(f"{text} is not a whole number; {what}")
        return int(value)

    return Field(name, heading, parse, str, example, empty, figure=True)


def frequency_field(name: str, heading: str, example: str) -> Field:
    def show(hertz: float) -> str:
        return f"{format_mhz(hertz).replace(chr(0x202F), '').rstrip('0').rstrip('.')} MHz"

    return Field(name, heading, parse_frequency, show, example, 0.0, figure=True)


def bandwidth_of(text: str) -> float:
    return parse_frequency(text if text[-1].isalpha() else f"{text} kHz")


def connector_field(name: str, heading: str, example: str) -> Field:
    return Field(name, heading, lambda t: str(parse_connector(t)), str, example, "")


def text_field(name: str, heading: str, example: str = "", empty: str = "") -> Field:
    def parse(text: str) -> str:
        if len(text) > 200:
            raise ValueError(f"at most 200 characters; this has {len(text)}")
        return " ".join(text.split())

    return Field(name, heading, parse, str, example, empty)


def curve_field(name: str, heading: str, example: str) -> Field:
    def parse(text: str) -> dict[str, Any] | None:
        curve = parse_curve(text)
        return None if curve is None else curve_data(curve)

    return Field(name, heading, parse, lambda v: format_curve(curve_from(v)), example)


def power_field(name: str, heading: str, example: str) -> Field:
    """Power by frequency, `14 MHz 100; 145 MHz 50`; by band, `2m 5; 70cm 4`; or one figure for all, `5`."""

    def parse(text: str) -> dict[str, Any] | None:
        found = []
        for part in (p.strip() for p in re.split(r";|\n|,\s", text) if p.strip()):
            bare = re.sub(r"(?<=\d)\s*[wW](?:atts?)?$", "", part)
            band, _, figure = bare.rpartition(" ")
            if not band and len(text.strip()) == len(part):
                return curve_data(Curve((EVERYWHERE_HZ,), (number(bare, "watts, as in 5", *POWER_W),)))
            edges = _edges(band.rstrip(" :"))
            found += [f"{hz:.0f} Hz {figure}" for hz in edges] if edges else [bare]
        curve = parse_curve("; ".join(found))
        if curve is not None:
            for value in curve.value:
                number(f"{value:g}", "watts, as in 5", *POWER_W)
        return None if curve is None else curve_data(curve)

    def show(kept: Mapping[str, Any]) -> str:
        curve = curve_from(kept)
        return f"{curve.value[0]:g}" if curve and curve.frequency_hz == (EVERYWHERE_HZ,) else format_curve(curve)

    return Field(name, heading, parse, show, example)


EVERYWHERE_HZ = 1.0
"""The frequency of a figure that holds at all of them."""
POWER_W = (1e-6, 1e6)


def _widest(part: str) -> tuple[Window, ...]:
    """The windows that a text names, in the region that gives them most room."""
    found, problem = [], None
    for region in REGIONS:
        try:
            found.append(parse_windows(part, region))
        except ValueError as wrong:
            problem = wrong
    if not found:
        raise problem or ValueError(part)
    return max(found, key=lambda windows: sum(w.high_hz - w.low_hz for w in windows))


def _edges(band: str) -> tuple[float, float] | None:
    """The edges of a band by its name; None where it is none."""
    try:
        (window,) = _widest(band) if band else (None,)
    except ValueError:
        return None
    return window.ends if window is not None and not window.spot else None


def ranges_field(name: str, heading: str, example: str) -> Field:
    """Ranges of frequencies, as pairs in Hz; of a band that regions cut differently the widest."""

    def parse(text: str) -> list[list[float]] | None:
        found = []
        for part in (p.strip() for p in text.replace("\n", ";").split(";") if p.strip()):
            for window in _widest(part):
                if window.spot:
                    raise ValueError(f'"{part}" is not a range; write 1.8 to 30; 50 to 54; or 2m, 70cm')
                found.append([window.low_hz, window.high_hz])
        return sorted(found) or None

    def show(ranges: list[list[float]]) -> str:
        return "; ".join(f"{low / 1e6:.9g} to {high / 1e6:.9g} MHz" for low, high in ranges)

    return Field(name, heading, parse, show, example)


def fold_back_field(name: str, heading: str, example: str) -> Field:
    """The share of the power by SWR, as pairs; typed in per cent."""

    def parse(text: str) -> list[list[float]] | None:
        found: dict[float, float] = {}
        for part in (p.strip() for p in text.replace("\n", ";").split(";") if p.strip()):
            figures = part.replace("%", " ").replace(":1", " ").split()
            if len(figures) != 2:
                raise ValueError(f'"{part[:40]}" is not an SWR with a percentage; write 2 100; 2.5 70; 3 50')
            swr = number(figures[0], "an SWR, as in 2.5", 1, 1000)
            found[swr] = round(number(figures[1], "per cent of the power, 0 to 100", 0, 100) / 100, 6)
        return [[swr, found[swr]] for swr in sorted(found)] or None

    return Field(name, heading, parse, lambda v: "; ".join(f"{s:g} {100 * share:g}" for s, share in v), example)


def date_of(text: str) -> str:
    try:
        return date.fromisoformat(text).isoformat()
    except ValueError:
        raise ValueError(f'"{text}" is not a date; write it like 2026-05-31') from None


def class_of(text: str) -> str:
    words = {w.lower(): c.value for c, w in CLASS_WORDS.items()} | {c.value: c.value for c in InstrumentClass}
    if text.lower() not in words:
        raise ValueError(f'"{text}" is not a class; choose from {", ".join(CLASS_WORDS.values())}')
    return words[text.lower()]


def capacitances_of(text: str) -> list[float]:
    parts = [p for p in text.replace(";", " ").split() if p]
    if len(parts) > 4:
        raise ValueError("an open has at most four figures, C0 to C3, in 1e-15 F, 1e-27 F/Hz, 1e-36 F/Hz², 1e-45 F/Hz³")
    return [number(p, "C0 to C3 as the kit states them, such as 50 -300 30 -0.2", -1e6, 1e6) for p in parts]


def spaced(values: list[float]) -> str:
    return " ".join(f"{x:g}" for x in values)


def curve_data(curve: Curve) -> dict[str, list[float]]:
    """A curve as it is kept and given out."""
    return {"frequency_hz": list(curve.frequency_hz), "value": list(curve.value)}


def curve_from(kept: Mapping[str, Any] | None) -> Curve | None:
    return Curve(tuple(kept["frequency_hz"]), tuple(kept["value"])) if kept else None


def connector_from(kept: str | None) -> Connector | None:
    return parse_connector(kept) if kept else None
