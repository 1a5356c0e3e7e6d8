"""Contacts as ADIF 3, in and out.

References
----------
.. [1] Amateur Data Interchange Format, ADIF 3.1.4 (memory): fields `<NAME:LENGTH:TYPE>data`, <EOH>, <EOR>; the
   enumeration of bands.
"""

import math
import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from levelmoor.core.model.bench_records import moment
from levelmoor.core.model.contacts import Contact, ContactKind
from levelmoor.core.on_air.locator import position_of
from levelmoor.core.words.bounds import FIELD_RECORDS, NUMBERS, TEXTS, unprintable
from levelmoor.core.words.counting import counted
from levelmoor.formats.numerals import Numerals
from levelmoor.formats.problem import FileProblem, shown

_FIELD = re.compile(r"<([A-Za-z0-9_]+)(?::(\d+)(?::[A-Za-z])?)?>")
_END = re.compile(r"<EOR>", re.IGNORECASE)
ANTENNA = "MY_ANTENNA"
LENGTH_DIGITS = 8
BANDS_MHZ = {
    "2190m": (0.1357, 0.1378), "630m": (0.472, 0.479), "560m": (0.501, 0.504), "160m": (1.8, 2.0), "80m": (3.5, 4.0),
    "60m": (5.06, 5.45), "40m": (7.0, 7.3), "30m": (10.1, 10.15), "20m": (14.0, 14.35), "17m": (18.068, 18.168),
    "15m": (21.0, 21.45), "12m": (24.89, 24.99), "10m": (28.0, 29.7), "8m": (40.0, 45.0), "6m": (50.0, 54.0),
    "5m": (54.000001, 69.9), "4m": (70.0, 71.0), "2m": (144.0, 148.0), "1.25m": (222.0, 225.0), "70cm": (420.0, 450.0),
    "33cm": (902.0, 928.0), "23cm": (1240.0, 1300.0), "13cm": (2300.0, 2450.0), "9cm": (3300.0, 3500.0),
    "6cm": (5650.0, 5925.0), "3cm": (10000.0, 10500.0), "1.25cm": (24000.0, 24250.0), "6mm": (47000.0, 47200.0),
    "4mm": (75500.0, 81000.0), "2.5mm": (119980.0, 123000.0), "2mm": (134000.0, 149000.0), "1mm": (241000.0, 250000.0),
}  # fmt: skip
"""Bands by the names that ADIF has for them, with their ends [1]_."""
LISTED = 20
"""Contacts that could not be read and are named; more are counted."""


@dataclass(frozen=True)
class AdifFile:
    """The contacts of a file, and why others of it were left out."""

    contacts: tuple[Contact, ...]
    left_out: tuple[FileProblem, ...] = ()

    @property
    def told(self) -> str:
        """Which contacts were left out, or nothing."""
        if not self.left_out:
            return ""
        places = "; ".join(f"line {p.line}: {p.told}" for p in self.left_out[:LISTED])
        more = f"; and {len(self.left_out) - LISTED} more" if len(self.left_out) > LISTED else ""
        return f"{counted(len(self.left_out), 'contact')} left out: {places}{more}."


def read_adif(name: str, data: bytes, setups: Mapping[str, str]) -> AdifFile:
    """The contacts of a file [1]_, record by record: one that cannot be read is left out and told, one that is there
    twice comes once. `setups` are ids by name: the antenna that a contact names, where it is one of them.

    Raises
    ------
    FileProblem
        Naming line, column, what stands there and what would be right, where there is no contact that can be read.
    """
    text = _decoded(data)
    end = re.search(r"<EOH>", text, re.IGNORECASE)
    at = end.end() if end else 0
    if end is None and not text.lstrip().startswith("<"):
        raise _problem(name, text, 0, shown(text.strip()[:40]), "an ADIF header must end with <EOH>")
    found: dict[Any, Contact] = {}
    wrong: list[FileProblem] = []
    while match := _FIELD.search(text, at):
        begins, at = match.start(), match.start()
        try:
            fields, at = _record(name, text, at)
            if fields:
                one = _contact(name, text, begins, fields, setups)
                found.setdefault(replace(one, note=""), replace(one, id=str(len(found) + 1)))
        except FileProblem as problem:
            wrong.append(problem)
            after = _END.search(text, begins)
            at = max(at, after.end()) if after else len(text)
        if len(found) > FIELD_RECORDS:
            raise _problem(name, text, at, "more contacts", f"at most {FIELD_RECORDS}")
    if not found:
        right = "fields such as <CALL:4>... and <EOR> after every contact"
        raise wrong[0] if wrong else _problem(name, text, 0, "no contacts", right)
    return AdifFile(tuple(found.values()), tuple(wrong))


def _decoded(data: bytes) -> str:
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("cp1252", errors="replace")


def _record(name: str, text: str, at: int) -> tuple[dict[str, str], int]:
    """The fields from one place to the end of their record, and where that is."""
    fields: dict[str, str] = {}
    begins = at
    while match := _FIELD.search(text, at):
        tag, length, at = match[1].upper(), match[2], match.end()
        if tag == "EOR":
            return fields, at
        if length is None:
            continue
        value = _value(text, at, int(length)) if len(length) <= LENGTH_DIGITS else None
        if value is None:
            raise _problem(
                name,
                text,
                match.start(),
                f"{match[0][:60]} states the wrong length",
                "the length of its data",
            )
        fields[tag] = value.strip()
        at += len(value)
    raise _problem(name, text, begins, "a contact without an end", "<EOR> after every contact")


def _value(text: str, at: int, length: int) -> str | None:
    """A field's data; its length may be in characters or in bytes, whichever ends where another field begins."""
    by_characters = text[at : at + length]
    by_bytes = by_characters.encode()[:length].decode(errors="ignore")
    whole = [v for v in (by_characters, by_bytes) if length in (len(v), len(v.encode())) and not _END.search(v)]
    ends = (v for v in whole if text[at + len(v) : at + len(v) + 200].lstrip()[:1] in ("", "<"))
    return next(ends, whole[0] if whole else None)


def _problem(name: str, text: str, at: int, found: str, right: str) -> FileProblem:
    line = text.count("\n", 0, at) + 1
    return FileProblem(name, line, at - (text.rfind("\n", 0, at) + 1) + 1, found, right)


def _contact(name: str, text: str, at: int, fields: Mapping[str, str], setups: Mapping[str, str]) -> Contact:
    def wrong(tag: str, right: str) -> FileProblem:
        where = re.compile(rf"<{tag}\b", re.IGNORECASE).search(text, at)
        stands = shown(fields.get(tag, "")) if tag in fields else f"a contact without {tag}"
        return _problem(name, text, where.start() if where else at, stands, right)

    day, time = fields.get("QSO_DATE", ""), fields.get("TIME_ON", "0000")
    if not re.fullmatch(r"\d{8}", day) or not re.fullmatch(r"\d{4}(\d\d)?", time):
        tag = "QSO_DATE" if not re.fullmatch(r"\d{8}", day) else "TIME_ON"
        raise wrong(tag, "a day as YYYYMMDD, a time as HHMM or HHMMSS")
    band = ""
    if moment(f"{day[:4]}-{day[4:6]}-{day[6:]}T{time[:2]}:{time[2:4]}") is None:
        raise wrong("QSO_DATE", "a real day and time")
    if "FREQ" in fields:
        frequency = _number(fields["FREQ"], lambda: wrong("FREQ", "a frequency in MHz, as in 7.032"), 1e6)
        if not NUMBERS["evaluation.wanted_hz"][0] <= frequency <= NUMBERS["evaluation.wanted_hz"][1]:
            raise wrong("FREQ", "a frequency in MHz, as in 7.032")
    else:
        band = fields.get("BAND", "").lower().replace(" ", "")
        if band not in BANDS_MHZ:
            raise wrong("BAND", "a frequency in FREQ, or a band such as 40m")
        low, high = BANDS_MHZ[band]
        frequency = round((low + high) / 2 * 1e6, 3)
    for tag in ("GRIDSQUARE", "MY_GRIDSQUARE"):
        if fields.get(tag):
            try:
                position_of(fields[tag])
            except ValueError:
                raise wrong(tag, "a locator such as IM06pn") from None
    power = _number(fields["TX_PWR"], lambda: wrong("TX_PWR", "watts, as in 10"), 1.0) if fields.get("TX_PWR") else None
    if power is not None and not NUMBERS["trial.power_w"][0] <= power <= NUMBERS["trial.power_w"][1]:
        raise wrong("TX_PWR", "watts, as in 10")
    kept = {"CALL": "call", "MODE": "mode", "RST_SENT": "sent", "RST_RCVD": "received"}
    texts: dict[str, Any] = {field: fields.get(tag, "") for tag, field in kept.items()}
    for tag, field in kept.items():
        if len(texts[field]) > TEXTS[f"contact.{field}"] or unprintable(texts[field]):
            raise wrong(tag, f"at most {TEXTS[f'contact.{field}']} characters")
    return Contact(
        "",
        f"{day[:4]}-{day[4:6]}-{day[6:]}T{time[:2]}:{time[2:4]}",
        frequency,
        own_locator=fields.get("MY_GRIDSQUARE", ""),
        locator=fields.get("GRIDSQUARE", ""),
        power_w=power,
        setup_id=setups.get(fields.get(ANTENNA, "").lower(), ""),
        note=fields.get("COMMENT", "")[: TEXTS["contact.note"]],
        band=band,
        **texts,
    )


def _number(text: str, wrong: Callable[[], FileProblem], scale: float) -> float:
    value = Numerals().value(text)
    if value is None or not math.isfinite(value):
        raise wrong()
    return round(value * scale, 3)


def write_adif(contacts: Sequence[Contact], setups: Mapping[str, str], version: str) -> str:
    """The contacts, spots left out; `setups` are names by id [1]_."""
    out = [
        f"Contacts from Levelmoor {version}\n",
        _field("ADIF_VER", "3.1.4"),
        _field("PROGRAMID", "Levelmoor"),
        "<EOH>\n",
    ]
    for c in contacts:
        if c.kind is not ContactKind.CONTACT:
            continue
        mhz = c.frequency_hz / 1e6
        band = c.band or next((name for name, (low, high) in BANDS_MHZ.items() if low <= mhz <= high), "")
        values = {
            "CALL": c.call, "QSO_DATE": c.at[:10].replace("-", ""), "TIME_ON": c.at[11:16].replace(":", "") or "0000",
            "BAND": band, "FREQ": "" if c.band else f"{mhz:.6f}".rstrip("0").rstrip("."), "MODE": c.mode,
            "RST_SENT": c.sent, "RST_RCVD": c.received, "GRIDSQUARE": c.locator, "MY_GRIDSQUARE": c.own_locator,
            "TX_PWR": f"{c.power_w:g}" if c.power_w is not None else "", ANTENNA: setups.get(c.setup_id, ""),
            "COMMENT": c.note.replace("\n", " "),
        }  # fmt: skip
        out.append(" ".join(_field(tag, value) for tag, value in values.items() if value) + " <EOR>\n")
    return "".join(out)


def _field(tag: str, value: str) -> str:
    return f"<{tag}:{len(value)}>{value}"
