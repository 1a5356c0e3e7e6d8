"""What is written down of each piece a team owns: its fields, how they are typed, kept and shown.

Kept values are plain data (numbers in SI units, text); `OwnedKind.make` turns them into the core's pieces.
"""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.connectors import Connector, parse_connector
from levelmoor.core.model.equipment import (
    CLASS_WORDS,
    Adapter,
    FeedLine,
    Instrument,
    InstrumentClass,
    Kit,
    Load,
    Pad,
    Radio,
)
from levelmoor.core.rf.curve import Curve, format_curve, parse_curve
from levelmoor.core.rf.frequency import format_mhz, parse_frequency
from levelmoor.core.rf.line_types import find_line_type


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


@dataclass(frozen=True)
class OwnedKind:
    """A kind of piece: its fields, and the core's piece from id, name and kept values."""

    id: str
    words: str
    one: str
    fields: tuple[Field, ...]
    make: Callable[[str, str, Mapping[str, Any]], Any]
    hint: str = ""

    def field(self, name: str) -> Field:
        """The field of that name; KeyError where there is none."""
        return next((f for f in self.fields if f.name == name), None) or _no_field(name)


def _no_field(name: str) -> Field:
    raise KeyError(name)


def number(text: str, what: str, low: float, high: float) -> float:
    """A number as people write it, decimal comma allowed, within bounds. Raises ValueError saying which."""
    bare = text.strip().replace("−", "-").replace(",", ".").strip()
    try:
        value = float(bare)
    except ValueError:
        raise ValueError(f'"{text.strip()}" is no number; {what}') from None
    if not (math.isfinite(value) and low <= value <= high):
        raise ValueError(f"{text.strip()} is out of range; {what}")
    return value


def _number(
    name: str, heading: str, what: str, low: float, high: float, empty: float | None = None, example: str = ""
) -> Field:
    return Field(name, heading, lambda t: number(t, what, low, high), lambda v: f"{v:g}", example, empty, figure=True)


def _count(name: str, heading: str, what: str, low: int, high: int, empty: int, example: str = "") -> Field:
    def parse(text: str) -> int:
        value = number(text, what, low, high)
        if value != int(value):
            raise ValueError(f"{text} is not a whole number; {what}")
        return int(value)

    return Field(name, heading, parse, str, example, empty, figure=True)


def _mhz(name: str, heading: str, example: str) -> Field:
    def show(hertz: float) -> str:
        return f"{format_mhz(hertz).replace(chr(0x202F), '').rstrip('0').rstrip('.')} MHz"

    return Field(name, heading, parse_frequency, show, example, 0.0, figure=True)


def _rbw(text: str) -> float:
    return parse_frequency(text if text[-1].isalpha() else f"{text} kHz")


def _connector(name: str, heading: str, example: str) -> Field:
    return Field(name, heading, lambda t: str(parse_connector(t)), str, example, "")


def _text(name: str, heading: str, example: str = "", empty: str = "") -> Field:
    def parse(text: str) -> str:
        if len(text) > 200:
            raise ValueError(f"at most 200 characters; this has {len(text)}")
        return " ".join(text.split())

    return Field(name, heading, parse, str, example, empty)


def _curve(name: str, heading: str, example: str) -> Field:
    def parse(text: str) -> dict[str, Any] | None:
        curve = parse_curve(text)
        return None if curve is None else curve_data(curve)

    return Field(name, heading, parse, lambda v: format_curve(curve_from(v)), example)


def _date(text: str) -> str:
    try:
        return date.fromisoformat(text).isoformat()
    except ValueError:
        raise ValueError(f'"{text}" is no date; write it like 2026-05-31') from None


def _class(text: str) -> str:
    words = {w.lower(): c.value for c, w in CLASS_WORDS.items()} | {c.value: c.value for c in InstrumentClass}
    if text.lower() not in words:
        raise ValueError(f'"{text}" is no class; there are {", ".join(CLASS_WORDS.values())}')
    return words[text.lower()]


def _capacitances(text: str) -> list[float]:
    parts = [p for p in text.replace(";", " ").split() if p]
    if len(parts) > 4:
        raise ValueError("an open has at most four figures, C0 to C3, in 1e-15 F, 1e-27 F/Hz, 1e-36 F/Hz², 1e-45 F/Hz³")
    return [number(p, "C0 to C3 as the kit states them, such as 50 -300 30 -0.2", -1e6, 1e6) for p in parts]


def _spaced(values: list[float]) -> str:
    return " ".join(f"{x:g}" for x in values)


def curve_data(curve: Curve) -> dict[str, list[float]]:
    """A curve as it is kept and given out."""
    return {"frequency_hz": list(curve.frequency_hz), "value": list(curve.value)}


def curve_from(kept: Mapping[str, Any] | None) -> Curve | None:
    return Curve(tuple(kept["frequency_hz"]), tuple(kept["value"])) if kept else None


def connector_from(kept: str | None) -> Connector | None:
    return parse_connector(kept) if kept else None


_ENDS = (_connector("end_a", "One end", "BNC male"), _connector("end_b", "Other end", "N female"))
_TOP = _mhz("high_hz", "Up to", "1000 MHz")


def _instrument(ident: str, name: str, v: Mapping[str, Any]) -> Instrument:
    figures = Residuals(
        v["directivity_db"],
        v["tracking"],
        v["source_match_db"],
        v["repeat_u"],
        watt_accuracy=v["watt_accuracy"],
        swr_division=v["swr_division"],
        truncates=float(v["truncates"]),
        full_scale_accuracy=v["full_scale_accuracy"],
        full_scale_w=v["full_scale_w"],
        read_at_w=v["read_at_w"],
    )
    return Instrument(
        ident, name, v["kind"], figures, v["figures_source"], InstrumentClass(v["class_"]), v["low_hz"], v["high_hz"],
        v["points"], v["ports"], v["memories"], connector_from(v["connector"]), v["max_input_dbm"], v["noise_dbm"],
        v["noise_rbw_hz"], v["checked_on"], v["level_u_db"], v["second_intercept_dbm"], v["third_intercept_dbm"],
    )  # fmt: skip


def _kit(ident: str, name: str, v: Mapping[str, Any]) -> Kit:
    scale = (1e-15, 1e-27, 1e-36, 1e-45)
    c = [*(v["open_c"] or []), 0.0, 0.0, 0.0, 0.0]
    return Kit(
        ident, name, connector_from(v["connector"]), v["low_hz"], v["high_hz"],
        (c[0] * scale[0], c[1] * scale[1], c[2] * scale[2], c[3] * scale[3]),
        v["open_delay_ps"] * 1e-12, v["short_delay_ps"] * 1e-12, v["load_ohm"],
    )  # fmt: skip


def _adapter(ident: str, name: str, v: Mapping[str, Any]) -> Adapter:
    ends = _needed(v["end_a"], "one end"), _needed(v["end_b"], "other end")
    return Adapter(ident, name, *ends, v["low_hz"], v["high_hz"], v["loss_db"], v["count"])


def _load(ident: str, name: str, v: Mapping[str, Any]) -> Load:
    connector = connector_from(v["connector"])
    return Load(ident, name, connector, v["resistance_ohm"], v["return_loss_db"], v["high_hz"], v["power_w"])


def _pad(ident: str, name: str, v: Mapping[str, Any]) -> Pad:
    ends = connector_from(v["end_a"]), connector_from(v["end_b"])
    return Pad(ident, name, v["nominal_db"], v["power_w"], curve_from(v["measured"]), *ends, v["high_hz"])


def _line(ident: str, name: str, v: Mapping[str, Any]) -> FeedLine:
    ends = connector_from(v["end_a"]), connector_from(v["end_b"])
    return FeedLine(ident, name, v["type"], v["length_m"], curve_from(v["measured"]), *ends)


def _radio(ident: str, name: str, v: Mapping[str, Any]) -> Radio:
    return Radio(ident, name, curve_from(v["power_w"]), v["tolerates_swr"], connector_from(v["connector"]))


_KINDS = (
    OwnedKind(
        "instrument",
        "Instruments",
        "instrument",
        (
            Field(
                "class_",
                "Class",
                _class,
                lambda c: CLASS_WORDS[InstrumentClass(c)],
                "Antenna or network analyzer",
                "unstated",
                choices=tuple((c.value, w) for c, w in CLASS_WORDS.items()),
            ),
            _text("kind", "Kind", "one port, handheld"),
            _mhz("low_hz", "From", "0.05 MHz"),
            _mhz("high_hz", "To", "900 MHz"),
            _count("points", "Points per sweep", "points of one sweep, 2 to 200001", 2, 200001, 0, "201"),
            _count("ports", "Ports", "1 to 4 ports", 1, 4, 1, "1"),
            _count("memories", "Calibrations kept", "how many calibrations it keeps, 0 to 100", 0, 100, 0, "1"),
            _connector("connector", "Connector", "SMA female"),
            _number("max_input_dbm", "Largest safe input, dBm", "dBm, as in 10", -60, 80, example="10"),
            _number("noise_dbm", "Noise floor, dBm", "dBm, as in -100", -200, 50, example="-100"),
            Field("noise_rbw_hz", "in bandwidth", _rbw, lambda v: f"{v / 1e3:g} kHz", "10 kHz", figure=True),
            _number("level_u_db", "Level u, dB", "standard uncertainty of a level in dB, 0 to 10", 0, 10, 0.5),
            _number("second_intercept_dbm", "2nd intercept, dBm", "dBm, as in 40", -60, 120, example="40"),
            _number("third_intercept_dbm", "3rd intercept, dBm", "dBm, as in 15", -60, 120, example="15"),
            _number("directivity_db", "Directivity, dB", "effective directivity in dB, 10 to 80", 10, 80, 40.0),
            _number("tracking", "Tracking", "tracking as a share, 0 to 0.5", 0, 0.5, 0.01),
            _number("source_match_db", "Source match, dB", "source match in dB, 10 to 80", 10, 80, 35.0),
            _number("repeat_u", "Repeat u", "standard deviation of |Γ| over repeats, 0 to 0.5", 0, 0.5, 0.0),
            _number(
                "watt_accuracy", "Watt figures ±", "accuracy of each watt figure as a share, 0 to 0.5", 0, 0.5, 0.0
            ),
            _number(
                "full_scale_accuracy", "± of full scale", "accuracy as a share of the range, 0 to 0.5", 0, 0.5, 0.0
            ),
            _number("full_scale_w", "Full scale, W", "W, 0 to 100000", 0, 1e5, 0.0),
            _number("read_at_w", "read with, W forward", "W forward that it is read with, 0 to 100000", 0, 1e5, 0.0),
            _number("swr_division", "SWR scale mark", "distance of the marks of an SWR scale, 0 to 5", 0, 5, 0.0),
            _count("truncates", "Cuts digits off", "1 where its display cuts digits off, 0 where it rounds", 0, 1, 0),
            _text("figures_source", "Source of figures", "typical of the class", "typical of the class"),
            Field("checked_on", "Last check", _date, str, "2026-05-31", ""),
        ),
        _instrument,
        "What sweeps or reads. Range, points and accuracy decide what it can be planned for.",
    ),
    OwnedKind(
        "adapter",
        "Adapters and short leads",
        "adapter",
        (
            *_ENDS,
            _mhz("low_hz", "From", "0 MHz"),
            _TOP,
            _number("loss_db", "Loss, dB", "dB, 0 to 20", 0, 20, 0.0, "0.1"),
            _count("count", "How many", "how many alike, 1 to 99", 1, 99, 1, "2"),
        ),
        _adapter,
        "Both ends with their gender, so that the plan can find the shortest chain to the sample.",
    ),
    OwnedKind(
        "load",
        "Loads",
        "load",
        (
            _connector("connector", "Connector", "N male"),
            _number("resistance_ohm", "Resistance, Ω", "Ω, as in 50", 0.1, 1e5, 50.0),
            _number("return_loss_db", "Own return loss, dB", "dB, 10 to 80", 10, 80, example="36"),
            _TOP,
            _number("power_w", "Rated, W", "W, above 0", 0.001, 1e5, example="50"),
        ),
        _load,
        "A known good load at the plane proves the calibration; a large one takes the transmitter.",
    ),
    OwnedKind(
        "kit",
        "Calibration kits",
        "kit",
        (
            _connector("connector", "Connector", "SMA male"),
            _mhz("low_hz", "From", "0 MHz"),
            _TOP,
            Field("open_c", "Open's C0 to C3", _capacitances, _spaced, "50 -300 30 -0.2"),
            _number("open_delay_ps", "Open's delay, ps", "one-way delay in ps, -1000 to 1000", -1000, 1000, 0.0),
            _number("short_delay_ps", "Short's delay, ps", "one-way delay in ps, -1000 to 1000", -1000, 1000, 0.0),
            _number("load_ohm", "Load, Ω", "Ω, as in 50", 1, 1000, 50.0),
        ),
        _kit,
        "Open, short and load with the figures their maker states (C0 in 1e-15 F, C1 in 1e-27 F/Hz, C2 in 1e-36 F/Hz², "
        "C3 in 1e-45 F/Hz³); ideal where none are written.",
    ),
    OwnedKind(
        "pad",
        "Pads",
        "pad",
        (
            _number("nominal_db", "Label, dB", "dB, 0 to 120", 0, 120, 0.0, "40"),
            _number("power_w", "Rated, W", "W, above 0", 0.001, 1e5, 0.5, "25"),
            _curve("measured", "Measured, dB", "150 MHz 29.7; 300 MHz 30.2"),
            *_ENDS,
            _TOP,
        ),
        _pad,
        "The label is a promise; what counts is what was measured at each frequency.",
    ),
    OwnedKind(
        "line",
        "Feed lines",
        "feed line",
        (
            Field("type", "Type", lambda t: find_line_type(t).name, str, "RG-58", ""),
            _number("length_m", "Length, m", "metres, 0.05 to 1000", 0.05, 1000, 1.0, "20"),
            _curve("measured", "Measured loss, dB", "14 MHz 0.9; 51 MHz 1.9"),
            *_ENDS,
        ),
        _line,
        "Swept once with the far end open, a line shows whether it can be trusted.",
    ),
    OwnedKind(
        "radio",
        "Radios",
        "radio",
        (
            _curve("power_w", "Power by band, W", "14 MHz 100; 145 MHz 50"),
            _number("tolerates_swr", "Tolerates SWR", "an SWR above 1, as in 2", 1.01, 100, 2.0),
            _connector("connector", "Connector", "SO-239"),
        ),
        _radio,
        "The match a radio tolerates is its manual's to say.",
    ),
)
OWNED: dict[str, OwnedKind] = {kind.id: kind for kind in _KINDS}


def _needed(kept: str | None, what: str) -> Connector:
    connector = connector_from(kept)
    if connector is None:
        raise ValueError(f"the {what} is not written down")
    return connector


def piece(kind: str, ident: str, name: str, values: Mapping[str, Any]) -> Any:
    """The core's piece from kept values; fields that are not there are empty. None where it is not complete yet."""
    owned = OWNED[kind]
    filled = {f.name: values.get(f.name) if values.get(f.name) is not None else f.empty for f in owned.fields}
    try:
        return owned.make(ident, name, filled)
    except ValueError:
        return None


def kept_from(kind: str, core: Any) -> dict[str, Any]:
    """The kept values of a core's piece: what `piece` was made from."""
    figures = {**vars(core.figures), **vars(core)} if kind == "instrument" else dict(vars(core))
    if kind == "kit":
        scale = (1e-15, 1e-27, 1e-36, 1e-45)
        c = [round(value / unit, 9) for value, unit in zip(core.open_c, scale, strict=True)]
        figures["open_c"] = c if any(c) else None
        figures["open_delay_ps"] = round(core.open_delay_s * 1e12, 9)
        figures["short_delay_ps"] = round(core.short_delay_s * 1e12, 9)
    return {f.name: _kept(figures[f.name], f) for f in OWNED[kind].fields}


def _kept(value: Any, field: Field) -> Any:
    if value is None:
        return field.empty
    if isinstance(value, Connector):
        return str(value)
    if isinstance(value, Curve):
        return curve_data(value)
    return value.value if isinstance(value, InstrumentClass) else value
