"""Units that stand in the cells instead of the headings, as lists of peaks have them: `M1; 291.0 MHz; -45.2 dBm`."""

import re
from collections.abc import Sequence
from decimal import Decimal

from levelmoor.formats.problem import FileProblem

_NUMBER = r"[+\-−]?+\d++(?:[.,]\d++)?+"
_FREQUENCY = re.compile(rf"(?<![\w.])({_NUMBER})\s*([GMk]?Hz)(?!\w)", re.IGNORECASE)
_LEVEL = re.compile(rf"(?<![\w.])({_NUMBER})\s*((?i:dBm|dBW|dB[uµμ]V)|[muµμ]?W)(?!\w)")
_MHZ = {"ghz": Decimal(1000), "mhz": Decimal(1), "khz": Decimal("1e-3"), "hz": Decimal("1e-6")}


def out_of_cells(name: str, lines: Sequence[str]) -> tuple[list[str], str, str]:
    """The lines with plain numbers, the frequencies in MHz, every field where it stood; the frequencies' unit and the
    levels' unit. Both are empty, and the lines as they were, where fewer than half of the lines have units in cells.

    Raises
    ------
    FileProblem
        Where levels are in different units.
    """
    if "hz" not in "\n".join(lines[len(lines) // 2 :]).lower():  # quick for long files, which have no units in cells
        return list(lines), "", ""
    rows = [i for i, line in enumerate(lines) if _FREQUENCY.search(line) and line.lstrip()[:1] not in "#!"]
    filled = [line for line in lines if re.search(r"\d", line) and line.lstrip()[:1] not in "#!"]
    if not rows or 2 * len(rows) < len(filled):
        return list(lines), "", ""
    bare = list(lines)
    seen = ""
    decimal = _decimal_commas([lines[i] for i in rows])
    for i in rows:
        in_mhz = _in_mhz if decimal or re.search(r"[;\t]", lines[i]) else _between_commas
        bare[i] = _FREQUENCY.sub(in_mhz, lines[i])
        for match in _LEVEL.finditer(lines[i]):
            unit = re.sub("[uμ]", "µ", match[2])
            if seen and unit.lower() != seen.lower():
                raise FileProblem(name, i + 1, match.start(2) + 1, f'"{match[2]}" after {seen}', "levels in one unit")
            seen = seen or unit
        bare[i] = _LEVEL.sub(lambda m: m[1].replace("−", "-").ljust(len(m[0])), bare[i])
    return bare, "MHz", seen


def _decimal_commas(rows: Sequence[str]) -> bool:
    """Whether commas in rows between blanks are decimal ones: each stands between two figures, and what stands before
    the first of them does not merely count the rows."""
    if any(re.search(r",(?!\d)|(?<!\d),", row) for row in rows) or not any("," in row for row in rows):
        return False
    first = [m[1] for row in rows if (m := re.match(r"\s*(\d+),", row))]
    return bool(first) and first != [str(n) for n in range(1, len(first) + 1)]


def places_of_units(line: str) -> list[tuple[int, str]]:
    """Where in a line (from 1) units stand behind their numbers: of a `frequency` or of a `level`."""
    units = {"frequency": _FREQUENCY, "level": _LEVEL}
    return [(m.start(2) + 1, of) for of, unit in units.items() for m in unit.finditer(line)]


def _in_mhz(match: re.Match[str]) -> str:
    """The number in MHz, in the room that it had with its unit."""
    return _told(match[1].replace(",", "."), match[2]).ljust(len(match[0]))


def _between_commas(match: re.Match[str]) -> str:
    """The same where the comma separates: `1,145 MHz` is a 1 and 145 MHz."""
    before, comma, number = match[1].rpartition(",")
    return (before + comma + _told(number, match[2])).ljust(len(match[0]))


def _told(number: str, unit: str) -> str:
    return format((Decimal(number) * _MHZ[unit.lower()]).normalize(), "f")
