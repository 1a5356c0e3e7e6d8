"""Weak-signal spots and contacts as CSV."""

import csv
import io
from collections.abc import Mapping, Sequence

from levelmoor.core.model.bench_records import moment
from levelmoor.core.model.contacts import Contact, ContactKind
from levelmoor.core.on_air.locator import position_of
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.words.bounds import FIELD_RECORDS, NUMBERS, TEXTS
from levelmoor.core.words.figures import format_mhz
from levelmoor.formats.equipment_fields import number
from levelmoor.formats.headed_csv import FREQUENCY_HEADINGS, read_headed
from levelmoor.formats.problem import FileProblem

COLUMNS = {
    "at": ("time utc", "time", "utc", "timestamp", "date time", "datetime"),
    "day": ("date", "day", "date utc"),
    "frequency": FREQUENCY_HEADINGS,
    "call": ("call", "station", "other call", "dx call", "dx"),
    "heard_by": ("reporter", "heard by", "rx call", "rx sign", "receiver", "spotter"),
    "own_locator": ("own locator", "my locator", "tx grid", "tx locator"),
    "locator": ("locator", "their locator", "grid"),
    "heard_at": ("rgrid", "r grid", "rx grid", "rx locator", "reporter grid", "reporter locator"),
    "mode": ("mode",),
    "power": ("power w", "power", "watts", "w"),
    "snr": ("snr db", "snr", "db"),
    "antenna": ("antenna", "setup"),
    "note": ("note", "notes"),
}


def read_spots(name: str, data: bytes, setups: Mapping[str, str]) -> list[Contact]:
    """Spots from a CSV with headings; `setups` are ids by name in small letters.

    Raises
    ------
    FileProblem
        Naming line, column, what stands there and what would be right.
    """
    right = "headings such as Time UTC; MHz; Call; Locator; SNR dB; Antenna"
    table = read_headed(name, data, COLUMNS, ("frequency", "snr"), right, FIELD_RECORDS)
    if "at" not in table.columns and "day" not in table.columns:
        raise FileProblem(name, table.head_line, 1, "no time among the headings", right)
    found: list[Contact] = []
    for n, cells in table.typed():
        typed = _sided(cells)
        field = "at" if "at" in table.columns else "day"
        try:
            at = " ".join(typed[f] for f in ("day", "at") if typed.get(f)).replace(" ", "T").removesuffix("Z")
            if moment(at[:16]) is None:
                raise ValueError("a time such as 2026-10-17 14:20")
            field = "frequency"
            frequency = parse_frequency(table.frequency(typed))
            for field in ("own_locator", "locator"):
                if typed.get(field):
                    position_of(typed[field])
            field = "snr"
            snr = number(typed["snr"], "dB, as in -12", *NUMBERS["contact.snr_db"])
            field = "power"
            power = number(typed["power"], "watts, as in 5", *NUMBERS["trial.power_w"]) if typed.get("power") else None
            for field in ("call", "mode", "note"):
                if len(typed.get(field, "")) > TEXTS[f"contact.{field}"]:
                    raise ValueError(f"at most {TEXTS[f'contact.{field}']} letters")
        except (ValueError, KeyError) as problem:
            raise table.problem(n, field, typed, problem) from None
        said = {k: typed.get(k, "") for k in ("call", "mode", "own_locator", "locator", "note")}
        setup = setups.get(typed.get("antenna", "").lower(), "")
        found.append(
            Contact(str(len(found) + 1), at[:16], frequency, kind=ContactKind.SPOT, snr_db=snr, power_w=power,
                    setup_id=setup, **said)
        )  # fmt: skip
    return found


def _sided(typed: dict[str, str]) -> dict[str, str]:
    """Where it says who heard whom, the one who heard is the other station, and what stands without a side is one's
    own."""
    if not (typed.get("heard_by") or typed.get("heard_at")):
        return typed
    own = typed.get("own_locator") or typed.get("locator", "")
    return {**typed, "call": typed.get("heard_by", ""), "own_locator": own, "locator": typed.get("heard_at", "")}


def write_spots(contacts: Sequence[Contact], setups: Mapping[str, str]) -> str:
    """The spots as `read_spots` takes them back; `setups` are names by id."""
    out = io.StringIO()
    table = csv.writer(out, delimiter=";", lineterminator="\n")
    table.writerow(
        ["Time UTC", "MHz", "Call", "Own locator", "Locator", "Mode", "Power W", "SNR dB", "Antenna", "Note"]
    )
    for c in contacts:
        if c.kind is ContactKind.SPOT:
            power = f"{c.power_w:g}" if c.power_w is not None else ""
            mhz, snr = format_mhz(c.frequency_hz).replace("\u202f", ""), f"{c.snr_db:g}" if c.snr_db is not None else ""
            antenna = setups.get(c.setup_id, "")
            row = [c.at.replace("T", " "), mhz, c.call, c.own_locator, c.locator, c.mode, power, snr, antenna, c.note]
            table.writerow(row)
    return out.getvalue()
