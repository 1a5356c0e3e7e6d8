"""Weak-signal spots and contacts as CSV."""

import re
from collections.abc import Mapping, Sequence
from datetime import timedelta

from levelmoor.core.model.bench_records import moment
from levelmoor.core.model.contacts import Contact, ContactKind
from levelmoor.core.on_air.locator import position_of
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.words.bounds import FIELD_RECORDS, NUMBERS, TEXTS
from levelmoor.core.words.figures import format_mhz
from levelmoor.formats.csv_out import write_csv
from levelmoor.formats.equipment_fields import number
from levelmoor.formats.headed_csv import FREQUENCY, read_headed
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.units import Quantity

COLUMNS = {
    "at": ("time utc", "time", "utc", "timestamp", "date time", "datetime"),
    "day": ("date", "day", "date utc"),
    "frequency": FREQUENCY,
    "call": ("call", "station", "other call", "dx call", "dx"),
    "heard_by": ("reporter", "heard by", "rx call", "rx sign", "receiver", "spotter"),
    "own_locator": ("own locator", "my locator", "tx grid", "tx locator"),
    "locator": ("locator", "their locator", "grid"),
    "heard_at": ("rgrid", "r grid", "rx grid", "rx locator", "reporter grid", "reporter locator"),
    "mode": ("mode",),
    "power": ("power", "watts", "w", "dbm", "tx power", "tx pwr"),
    "snr": ("snr", "db"),
    "antenna": ("antenna", "setup"),
    "note": ("note", "notes"),
}

MEASURES = {"frequency": Quantity.FREQUENCY, "power": Quantity.POWER, "snr": Quantity.DECIBEL}
_SECONDS = re.compile(r"(?::\d\d(?:[.,]\d{1,9})?)?")
_OTHER_ZONE = re.compile(r"\b(?:UTC|GMT)\s?[+-]\s?\d|\blocal\b|\btime ?zone\b(?!\W{1,4}(?:UTC|GMT|Z)\b)", re.IGNORECASE)
"""What a line over the headings says where the times are not in UTC."""
_ZONE = re.compile(r"(?<=\d)\s*(?:([+-])(\d{2}):?(\d{2})?|Z|UTC|GMT)$", re.IGNORECASE)


def read_spots(name: str, data: bytes, setups: Mapping[str, str]) -> list[Contact]:
    """Spots from a CSV with headings; `setups` are ids by name in small letters.

    Raises
    ------
    FileProblem
        Naming line, column, what stands there and what would be right.
    """
    right = "headings such as Time UTC; MHz; Call; Locator; SNR dB; Antenna"
    table = read_headed(name, data, COLUMNS, ("frequency", "snr"), right, FIELD_RECORDS, MEASURES)
    if "at" not in table.columns and "day" not in table.columns:
        raise FileProblem(name, table.head_line, 1, "no heading for the time", right)
    if zoned := next((line for line in table.above if _OTHER_ZONE.search(line)), None):
        raise FileProblem(name, table.head_line, 1, f"the line {shown(zoned)}", "times in UTC, or each with its zone")
    if bare := table.without_unit("power"):
        raise table.in_watts(*bare[0])
    found: list[Contact] = []
    for n, cells in table.typed():
        typed = _sided(cells)
        field = "at" if "at" in table.columns else "day"
        try:
            at = _utc(" ".join(typed[f] for f in ("day", "at") if typed.get(f)))
            field = "frequency"
            frequency = parse_frequency(typed["frequency"], asks=True)
            for field in ("own_locator", "locator"):
                if typed.get(field):
                    position_of(typed[field])
            field = "snr"
            snr = number(typed["snr"], "dB, as in -12", *NUMBERS["contact.snr_db"])
            field = "power"
            power = number(typed["power"], "watts, as in 5", *NUMBERS["trial.power_w"]) if typed.get("power") else None
            for field in ("call", "mode", "note"):
                if len(typed.get(field, "")) > TEXTS[f"contact.{field}"]:
                    raise ValueError(f"at most {TEXTS[f'contact.{field}']} characters")
        except (ValueError, KeyError) as problem:
            raise table.problem(n, field, typed, problem) from None
        said = {k: typed.get(k, "") for k in ("call", "mode", "own_locator", "locator", "note")}
        setup = setups.get(typed.get("antenna", "").lower(), "")
        found.append(
            Contact(str(len(found) + 1), at[:16], frequency, kind=ContactKind.SPOT, snr_db=snr, power_w=power,
                    setup_id=setup, **said)
        )  # fmt: skip
    return found


def _utc(text: str) -> str:
    """A day and time in UTC; one with an hour's difference behind it is brought there.

    Raises
    ------
    ValueError
        Where it is not a day and a time.
    """
    zone = _ZONE.search(text) if ":" in text else None
    bare = (text[: zone.start()] if zone else text).strip().replace(" ", "T")
    known = moment(bare[:16])
    if known is None or not _SECONDS.fullmatch(bare[16:]):
        raise ValueError("a time such as 2026-10-17 14:20, or with its zone as 2026-10-17 16:20+02:00")
    if zone is None or not zone[1]:
        return bare[:16]
    ahead = timedelta(hours=int(zone[2]), minutes=int(zone[3] or 0))
    at, _ = known
    return (at - ahead if zone[1] == "+" else at + ahead).isoformat()[:16]


def _sided(typed: dict[str, str]) -> dict[str, str]:
    """Where it says who heard whom, the one who heard is the other station, and what stands without a side is one's
    own."""
    if not (typed.get("heard_by") or typed.get("heard_at")):
        return typed
    own = typed.get("own_locator") or typed.get("locator", "")
    return {**typed, "call": typed.get("heard_by", ""), "own_locator": own, "locator": typed.get("heard_at", "")}


def write_spots(contacts: Sequence[Contact], setups: Mapping[str, str]) -> str:
    """The spots as `read_spots` takes them back; `setups` are names by id."""
    table: list[list[str]] = [
        ["Time UTC", "MHz", "Call", "Own locator", "Locator", "Mode", "Power W", "SNR dB", "Antenna", "Note"]
    ]
    for c in contacts:
        if c.kind is ContactKind.SPOT:
            power = f"{c.power_w:g}" if c.power_w is not None else ""
            mhz, snr = format_mhz(c.frequency_hz).replace("\u202f", ""), f"{c.snr_db:g}" if c.snr_db is not None else ""
            antenna = setups.get(c.setup_id, "")
            row = [c.at.replace("T", " "), mhz, c.call, c.own_locator, c.locator, c.mode, power, snr, antenna, c.note]
            table.append(row)
    return write_csv(table)
