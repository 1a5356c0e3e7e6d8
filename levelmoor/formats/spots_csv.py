"""Weak-signal spots and contacts as CSV."""

import csv
import io
from collections.abc import Mapping, Sequence

from levelmoor.core.model.bench_records import moment
from levelmoor.core.model.contacts import Contact, ContactKind
from levelmoor.core.on_air.locator import position_of
from levelmoor.core.rf.frequency import format_mhz, parse_frequency
from levelmoor.core.words.bounds import FIELD_RECORDS, NUMBERS, TEXTS
from levelmoor.formats.equipment_fields import number
from levelmoor.formats.headed_csv import read_headed

COLUMNS = {
    "at": ("time utc", "time", "utc", "timestamp", "date"),
    "frequency": ("mhz", "frequency mhz", "frequency", "freq"),
    "call": ("call", "reporter", "heard by", "station", "other call"),
    "own_locator": ("own locator", "my locator", "tx grid", "tx locator"),
    "locator": ("locator", "their locator", "rx grid", "rx locator", "grid", "reporter grid"),
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
    table = read_headed(name, data, COLUMNS, ("at", "frequency", "snr"), right, FIELD_RECORDS)
    found: list[Contact] = []
    for n, typed in table.typed():
        field = "at"
        try:
            at = typed["at"].replace(" ", "T").removesuffix("Z")
            if moment(at[:16]) is None:
                raise ValueError("a time such as 2026-10-17 14:20")
            field = "frequency"
            frequency = parse_frequency(typed["frequency"])
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
