"""Levels as they are typed."""

import re

from levelmoor.core.model.through import LEVEL_UNITS, LevelKind
from levelmoor.core.words.bounds import LEVEL_VALUES, NUMBERS
from levelmoor.formats.equipment_fields import number


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
