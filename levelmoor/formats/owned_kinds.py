"""The kinds of pieces a team owns: their fields, and the core's piece from what is kept of one."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.connectors import Connector
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
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.line_types import find_line_type
from levelmoor.core.rf.windows import Window
from levelmoor.formats.equipment_fields import (
    Field,
    bandwidth_of,
    capacitances_of,
    class_of,
    connector_field,
    connector_from,
    count_field,
    curve_data,
    curve_field,
    curve_from,
    date_of,
    figure_field,
    fold_back_field,
    frequency_field,
    power_field,
    ranges_field,
    spaced,
    text_field,
)


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


_ENDS = (connector_field("end_a", "One end", "BNC male"), connector_field("end_b", "Other end", "N female"))
_TOP = frequency_field("high_hz", "Up to", "1000 MHz")


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
        ident, name, v["description"], figures, v["figures_source"], InstrumentClass(v["instrument_class"]),
        v["low_hz"], v["high_hz"],
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
    return FeedLine(ident, name, v["type"], v["length_m"], curve_from(v["measured"]), *ends, v["power_w"])


def _radio(ident: str, name: str, v: Mapping[str, Any]) -> Radio:
    return Radio(
        ident,
        name,
        curve_from(v["power_w"]),
        v["tolerates_swr"],
        connector_from(v["connector"]),
        tuple(Window(low, high) for low, high in v["ranges"] or ()),
        tuple((swr, share) for swr, share in v["fold_back"] or ()),
        v["fold_back_source"],
        v["tuner_swr"],
        v["meter"],
    )


_KINDS = (
    OwnedKind(
        "instrument",
        "Instruments",
        "instrument",
        (
            Field(
                "instrument_class",
                "Class",
                class_of,
                lambda c: CLASS_WORDS[InstrumentClass(c)],
                "Antenna or network analyzer",
                "unstated",
                choices=tuple((c.value, w) for c, w in CLASS_WORDS.items()),
            ),
            text_field("description", "Description", "one port, handheld"),
            frequency_field("low_hz", "From", "0.05 MHz"),
            frequency_field("high_hz", "To", "900 MHz"),
            count_field("points", "Points per sweep", "points per sweep, 2 to 200001", 2, 200001, 0, "201"),
            count_field("ports", "Ports", "1 to 4 ports", 1, 4, 1, "1"),
            count_field("memories", "Stored calibrations", "number of stored calibrations, 0 to 100", 0, 100, 0, "1"),
            connector_field("connector", "Connector", "SMA female"),
            figure_field("max_input_dbm", "Maximum safe input, dBm", "dBm, as in 10", -60, 80, example="10"),
            figure_field("noise_dbm", "Noise floor, dBm", "dBm, as in -100", -200, 50, example="-100"),
            Field("noise_rbw_hz", "in bandwidth", bandwidth_of, lambda v: f"{v / 1e3:g} kHz", "10 kHz", figure=True),
            figure_field("level_u_db", "Level u, dB", "standard uncertainty of a level in dB, 0 to 10", 0, 10, 0.5),
            figure_field("second_intercept_dbm", "2nd intercept, dBm", "dBm, as in 40", -60, 120, example="40"),
            figure_field("third_intercept_dbm", "3rd intercept, dBm", "dBm, as in 15", -60, 120, example="15"),
            figure_field("directivity_db", "Directivity, dB", "effective directivity in dB, 10 to 80", 10, 80, 40.0),
            figure_field("tracking", "Tracking", "tracking as a fraction, 0 to 0.5", 0, 0.5, 0.01),
            figure_field("source_match_db", "Source match, dB", "source match in dB, 10 to 80", 10, 80, 35.0),
            figure_field("repeat_u", "Repeat u", "standard deviation of |Γ| over repeats, 0 to 0.5", 0, 0.5, 0.0),
            figure_field(
                "watt_accuracy",
                "Wattmeter accuracy ±",
                "accuracy of each power reading as a fraction, 0 to 0.5",
                0,
                0.5,
                0.0,
            ),
            figure_field(
                "full_scale_accuracy", "± of full scale", "accuracy as a fraction of full scale, 0 to 0.5", 0, 0.5, 0.0
            ),
            figure_field("full_scale_w", "Full scale, W", "W, 0 to 100000", 0, 1e5, 0.0),
            figure_field(
                "read_at_w", "Forward power when read, W", "forward power in W when reading, 0 to 100000", 0, 1e5, 0.0
            ),
            figure_field(
                "swr_division", "SWR scale mark", "distance between the marks of its SWR scale, 0 to 5", 0, 5, 0.0
            ),
            count_field("truncates", "Display truncates", "1 if its display truncates, 0 if it rounds", 0, 1, 0),
            text_field("figures_source", "Source of these figures", "typical of the class", "typical of the class"),
            Field("checked_on", "Last check", date_of, str, "2026-05-31", ""),
        ),
        _instrument,
        "Everything that sweeps or reads. The plan uses its range, points and accuracy.",
    ),
    OwnedKind(
        "adapter",
        "Adapters and short leads",
        "adapter",
        (
            *_ENDS,
            frequency_field("low_hz", "From", "0 MHz"),
            _TOP,
            figure_field("loss_db", "Loss, dB", "dB, 0 to 20", 0, 20, 0.0, "0.1"),
            count_field("count", "How many", "how many of them, 1 to 99", 1, 99, 1, "2"),
        ),
        _adapter,
        "Enter both ends with their gender, and the plan finds the shortest chain to the sample.",
    ),
    OwnedKind(
        "load",
        "Loads",
        "load",
        (
            connector_field("connector", "Connector", "N male"),
            figure_field("resistance_ohm", "Resistance, Ω", "Ω, as in 50", 0.1, 1e5, 50.0),
            figure_field("return_loss_db", "Own return loss, dB", "dB, 10 to 80", 10, 80, example="36"),
            _TOP,
            figure_field("power_w", "Rated, W", "W, above 0", 0.001, 1e5, example="50"),
        ),
        _load,
        "A known load at the plane proves the calibration; a large one takes a transmitter.",
    ),
    OwnedKind(
        "kit",
        "Calibration kits",
        "kit",
        (
            connector_field("connector", "Connector", "SMA male"),
            frequency_field("low_hz", "From", "0 MHz"),
            _TOP,
            Field("open_c", "Open's C0 to C3", capacitances_of, spaced, "50 -300 30 -0.2"),
            figure_field("open_delay_ps", "Open's delay, ps", "one-way delay in ps, -1000 to 1000", -1000, 1000, 0.0),
            figure_field("short_delay_ps", "Short's delay, ps", "one-way delay in ps, -1000 to 1000", -1000, 1000, 0.0),
            figure_field("load_ohm", "Load, Ω", "Ω, as in 50", 1, 1000, 50.0),
        ),
        _kit,
        "Open, short and load with their maker's figures (C0 in 1e-15 F, C1 in 1e-27 F/Hz, C2 in 1e-36 F/Hz², "
        "C3 in 1e-45 F/Hz³); blank means ideal.",
    ),
    OwnedKind(
        "pad",
        "Pads",
        "pad",
        (
            figure_field("nominal_db", "Label, dB", "dB, 0 to 120", 0, 120, 0.0, "40"),
            figure_field("power_w", "Rated, W", "W, above 0", 0.001, 1e5, 0.5, "25"),
            curve_field("measured", "Measured, dB", "150 MHz 29.7; 300 MHz 30.2"),
            *_ENDS,
            _TOP,
        ),
        _pad,
        "The label is a promise; the attenuation measured at each frequency counts.",
    ),
    OwnedKind(
        "line",
        "Feed lines",
        "feed line",
        (
            Field("type", "Type", lambda t: find_line_type(t).name, str, "RG-58", ""),
            figure_field("length_m", "Length, m", "metres, 0.05 to 1000", 0.05, 1000, 1.0, "20"),
            curve_field("measured", "Measured loss, dB", "14 MHz 0.9; 51 MHz 1.9"),
            *_ENDS,
            figure_field(
                "power_w",
                "Withstands, W",
                "average power it withstands at its highest frequency, in W, 0.001 to 10000",
                0.001,
                1e4,
                None,
            ),
        ),
        _line,
        "Sweep a line once with its far end open to see whether it can be trusted.",
    ),
    OwnedKind(
        "radio",
        "Radios",
        "radio",
        (
            power_field("power_w", "Power by band, W", "2m 50; 70cm 40"),
            figure_field("tolerates_swr", "Tolerates SWR", "an SWR above 1, as in 2", 1.01, 100, 2.0),
            connector_field("connector", "Connector", "SO-239"),
            ranges_field("ranges", "Transmits on", "1.8 to 30; 2m, 70cm"),
            fold_back_field("fold_back", "Power at SWR, %", "2 100; 2.5 70; 3 50"),
            text_field("fold_back_source", "Source of these figures", "manual, page 12"),
            figure_field("tuner_swr", "Its tuner matches up to, SWR", "an SWR above 1, as in 3", 1.01, 1000, None, "3"),
            text_field("meter", "Its own meter", "the instrument's name"),
        ),
        _radio,
        "See the radio's manual for the SWR it tolerates.",
    ),
)
OWNED: dict[str, OwnedKind] = {kind.id: kind for kind in _KINDS}


def _needed(kept: str | None, what: str) -> Connector:
    connector = connector_from(kept)
    if connector is None:
        raise ValueError(f"the {what} is missing")
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
    if value is None or value == ():
        return field.empty
    if field.name == "ranges":
        return [[w.low_hz, w.high_hz] for w in value]
    if field.name == "fold_back":
        return [[swr, share] for swr, share in value]
    if isinstance(value, Connector):
        return str(value)
    if isinstance(value, Curve):
        return curve_data(value)
    return value.value if isinstance(value, InstrumentClass) else value
