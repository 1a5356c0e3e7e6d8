"""Levels and temperatures as they are typed, pasted or logged."""

import re

from levelmoor.core.model.bench_records import moment
from levelmoor.core.model.through import LEVEL_UNITS, LevelKind
from levelmoor.core.words.bounds import HEAT_POINTS, LEVEL_VALUES, NUMBERS
from levelmoor.formats.equipment_fields import number

_CLOCK = re.compile(r"(?:(\d+):)?(\d{1,2}):(\d{2})(?:[.,]\d+)?")


def read_values(text: str, kind: LevelKind) -> tuple[tuple[float, ...], str]:
    """Readings one after the other, and their unit where it is written with one of them: `S7 S6.5 S7`, `-104 -103 dBm`,
    `31 28 30 mA`; without one the first of the kind.

    Raises
    ------
    ValueError
        Naming what is no reading.
    """
    unit = next((u for u in LEVEL_UNITS[kind] if re.search(rf"(?<![A-Za-z]){u}(?![A-Za-z])", text)), "")
    if not unit and kind is LevelKind.NOISE and re.search(r"\bS\s*\d", text):
        unit = "S"
    bare = re.sub(r"\bdBm?\b|\bmA\b|\bS\s*(?=\d)", " ", text)
    found = []
    for part in re.split(r"[;\s]+|,\s+", bare.strip()):
        if part:
            found.append(number(part, "readings, as in 31 28 30 mA", *NUMBERS["level.value"]))
    if not found:
        raise ValueError("write the readings one after the other, as in S7 S6.5 S7")
    if len(found) > LEVEL_VALUES:
        raise ValueError(f"at most {LEVEL_VALUES} readings are taken; these are {len(found)}")
    return tuple(found), unit or LEVEL_UNITS[kind][0]


def read_heat(text: str) -> tuple[tuple[float, float], ...]:
    """Times and temperatures, a pair to a line or between semicolons: seconds, minutes and seconds as 4:30, or the time
    of day of a logger, then °C. Headings and other columns behind are passed over.

    Raises
    ------
    ValueError
        Naming the line that is no pair, or a time that does not rise.
    """
    lines = [line for line in re.split(r"\n", text) if line.strip()]
    if len(lines) == 1:
        lines = [part for part in lines[0].split(";") if part.strip()]
    if len(lines) > HEAT_POINTS + 1:
        raise ValueError(f"at most {HEAT_POINTS} temperatures are taken; these are {len(lines)}")
    found: list[tuple[float, float]] = []
    day = 0.0
    for n, line in enumerate(lines, 1):
        between = r"[;\t]" if re.search(r"[;\t]", line) else r",\s|,(?=\s*-?\d+\.)|\s+(?=[-\d])"
        cells = [c.strip() for c in re.split(between, line.strip()) if c.strip()]
        if len(cells) < 2 or not re.search(r"\d", cells[0]):
            if n == 1 and not found:
                continue  # headings
            raise ValueError(f'line {n}: "{line.strip()[:40]}" is no time with a temperature, as in 60; 24.5')
        at = _seconds(cells[0], n)
        celsius = number(re.sub(r"°?\s*C$", "", cells[1]), f"line {n}: °C, as in 24.5", *NUMBERS["heat.celsius"])
        if found and at + day <= found[-1][0] and ":" in cells[0] and found[-1][0] - at - day > 43_200:
            day += 86_400  # a logger past midnight
        if found and at + day <= found[-1][0]:
            raise ValueError(f"line {n}: {cells[0]} is not after the time before it")
        found.append((at + day, celsius))
    if len(found) < 2:
        raise ValueError("write at least two temperatures, a time and °C in every line, as in 60; 24.5")
    begin = found[0][0]
    return tuple((round(at - begin, 3), c) for at, c in found)


def _seconds(text: str, line: int) -> float:
    if (clock := _CLOCK.fullmatch(text)) is not None:
        return 3600.0 * int(clock[1] or 0) + 60.0 * int(clock[2]) + int(clock[3])
    if moment(text.replace(" ", "T")[:16]) is not None:
        clock = _CLOCK.search(text)
        return 3600.0 * int(clock[1] or 0) + 60.0 * int(clock[2]) + int(clock[3]) if clock else 0.0
    return number(text, f"line {line}: seconds, as in 60, or 4:30", *NUMBERS["heat.seconds"])
