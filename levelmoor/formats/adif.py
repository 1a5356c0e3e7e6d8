"""Contacts as ADIF 3, in and out.

References
----------
.. [1] Amateur Data Interchange Format, ADIF 3.1.4 (memory): fields `<NAME:LENGTH:TYPE>data`, <EOH>, <EOR>.
"""

import math
import re
from collections.abc import Callable, Mapping, Sequence
from typing import Any

from levelmoor.core.model.bench_records import moment
from levelmoor.core.model.contacts import Contact, ContactKind
from levelmoor.core.on_air.locator import position_of
from levelmoor.core.rf.bandplan import band_plan, find_band
from levelmoor.core.words.bounds import FIELD_RECORDS, NUMBERS, TEXTS, unprintable
from levelmoor.formats.numerals import Numerals
from levelmoor.formats.problem import FileProblem, shown

_FIELD = re.compile(r"<([A-Za-z0-9_]+)(?::(\d+)(?::[A-Za-z])?)?>")
ANTENNA = "MY_ANTENNA"
LENGTH_DIGITS = 8


def read_adif(name: str, data: bytes, region: int, setups: Mapping[str, str]) -> list[Contact]:
    """The contacts of a file [1]_. `setups` are ids by name: the antenna that a contact names, where it is one of them.

    Raises
    ------
    FileProblem
        Naming line, column, what stands there and what would be right; nothing of the file is taken then.
    """
    text = data.decode("utf-8-sig", errors="replace")
    end = re.search(r"<EOH>", text, re.IGNORECASE)
    at = end.end() if end else 0
    if end is None and not text.lstrip().startswith("<"):
        raise _problem(name, text, 0, shown(text.strip()[:40]), "an ADIF header must end with <EOH>")
    found: list[Contact] = []
    fields: dict[str, str] = {}
    begins = at
    while match := _FIELD.search(text, at):
        tag, length = match[1].upper(), match[2]
        at = match.end()
        if tag == "EOR":
            if fields:
                found.append(_contact(name, text, begins, fields, region, setups, len(found)))
            fields, begins = {}, at
            if len(found) > FIELD_RECORDS:
                raise _problem(name, text, at, "more contacts", f"at most {FIELD_RECORDS}")
            continue
        if length is None:
            continue
        begins = begins if fields else match.start()
        value = text[at : at + int(length)] if len(length) <= LENGTH_DIGITS else ""
        if len(length) > LENGTH_DIGITS or len(value) < int(length):
            raise _problem(
                name, text, match.start(), f"{match[0][:60]} is longer than the file", "the length of its data"
            )
        fields[tag] = value.strip()
        at += int(length)
    if fields:
        raise _problem(name, text, begins, "a contact without an end", "<EOR> after every contact")
    if not found:
        raise _problem(name, text, 0, "no contacts", "fields such as <CALL:4>... and <EOR> after every contact")
    return found


def _problem(name: str, text: str, at: int, found: str, right: str) -> FileProblem:
    line = text.count("\n", 0, at) + 1
    return FileProblem(name, line, at - (text.rfind("\n", 0, at) + 1) + 1, found, right)


def _contact(
    name: str, text: str, at: int, fields: Mapping[str, str], region: int, setups: Mapping[str, str], number: int
) -> Contact:
    def wrong(tag: str, right: str) -> FileProblem:
        where = re.compile(rf"<{tag}\b", re.IGNORECASE).search(text, at)
        stands = shown(fields.get(tag, "")) if tag in fields else f"a contact without {tag}"
        return _problem(name, text, where.start() if where else at, stands, right)

    day, time = fields.get("QSO_DATE", ""), fields.get("TIME_ON", "0000")
    if not re.fullmatch(r"\d{8}", day) or not re.fullmatch(r"\d{4}(\d\d)?", time):
        tag = "QSO_DATE" if not re.fullmatch(r"\d{8}", day) else "TIME_ON"
        raise wrong(tag, "a day as YYYYMMDD, a time as HHMM or HHMMSS")
    if moment(f"{day[:4]}-{day[4:6]}-{day[6:]}T{time[:2]}:{time[2:4]}") is None:
        raise wrong("QSO_DATE", "a real day and time")
    if "FREQ" in fields:
        frequency = _number(fields["FREQ"], lambda: wrong("FREQ", "a frequency in MHz, as in 7.032"), 1e6)
        if not NUMBERS["evaluation.wanted_hz"][0] <= frequency <= NUMBERS["evaluation.wanted_hz"][1]:
            raise wrong("FREQ", "a frequency in MHz, as in 7.032")
    else:
        try:
            window = find_band(fields.get("BAND", ""), region)
        except ValueError:
            raise wrong("BAND", "a frequency in FREQ, or a band such as 40m") from None
        frequency = (window.low_hz + window.high_hz) / 2
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
        str(number + 1),
        f"{day[:4]}-{day[4:6]}-{day[6:]}T{time[:2]}:{time[2:4]}",
        frequency,
        own_locator=fields.get("MY_GRIDSQUARE", ""),
        locator=fields.get("GRIDSQUARE", ""),
        power_w=power,
        setup_id=setups.get(fields.get(ANTENNA, "").lower(), ""),
        note=fields.get("COMMENT", "")[: TEXTS["contact.note"]],
        **texts,
    )


def _number(text: str, wrong: Callable[[], FileProblem], scale: float) -> float:
    value = Numerals().value(text)
    if value is None or not math.isfinite(value):
        raise wrong()
    return round(value * scale, 3)


def write_adif(contacts: Sequence[Contact], setups: Mapping[str, str], region: int, version: str) -> str:
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
        band = next((b.name for b in band_plan(region).bands if b.low_hz <= c.frequency_hz <= b.high_hz), "")
        values = {
            "CALL": c.call, "QSO_DATE": c.at[:10].replace("-", ""), "TIME_ON": c.at[11:16].replace(":", "") or "0000",
            "BAND": band, "FREQ": f"{c.frequency_hz / 1e6:.6f}".rstrip("0").rstrip("."), "MODE": c.mode,
            "RST_SENT": c.sent, "RST_RCVD": c.received, "GRIDSQUARE": c.locator, "MY_GRIDSQUARE": c.own_locator,
            "TX_PWR": f"{c.power_w:g}" if c.power_w is not None else "", ANTENNA: setups.get(c.setup_id, ""),
            "COMMENT": c.note.replace("\n", " "),
        }  # fmt: skip
        out.append(" ".join(_field(tag, value) for tag, value in values.items() if value) + " <EOR>\n")
    return "".join(out)


def _field(tag: str, value: str) -> str:
    return f"<{tag}:{len(value)}>{value}"
