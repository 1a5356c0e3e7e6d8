"""A spectrum of a keyed radio from the bytes of a file: a trace or a list of peaks, in the units its headings name."""

import math
import re
from dataclasses import dataclass

import numpy as np

from levelmoor.core.rf.curve import parse_curve
from levelmoor.core.rf.frequency import UNITS_HZ
from levelmoor.core.rf.reflection import FloatArray
from levelmoor.core.rf.trace import Trace
from levelmoor.formats.column_units import ColumnsProblem, asked, asked_of, full_headings, reference_of, unit_of
from levelmoor.formats.columns import FREQUENCY_UNITS, frequency_unit, guess_unit
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.rawtext import decode
from levelmoor.formats.table import OF_FREQUENCY, Table, read_table
from levelmoor.formats.touchstone_header import looks_like_touchstone
from levelmoor.formats.units import UNITS, Quantity, units_in

LEVEL_UNITS = ("dBm", "dBW", "dBµV", "dBmV", "dBV", "W", "mW", "µW", "nW", "pW", "V", "mV", "µV")
LEAST_DBM, MOST_DBM = -200.0, 90.0
"""No analyzer shows less than the thermal noise in 1 Hz, -174 dBm, by much; nor has anybody a megawatt."""
_LEVEL = re.compile(r"level|ampl|power|mag|\bdb\w?", re.IGNORECASE)
"""What headings of levels say where they name no unit."""
_ALONE = re.compile(r"peak|value|trace|max|noise|floor|hold|limit", re.IGNORECASE)
"""What they say where they stand beside the frequency alone; among others a "Peak" may be a peak's number."""


@dataclass(frozen=True)
class CaptureFile:
    """The trace in dBm by rising frequency, and the units it was written in."""

    trace: Trace
    frequency_unit: str
    level_unit: str
    asked_of: tuple[str, ...] = ()
    """What an answer on its columns is remembered by."""
    unit_named: bool = True
    """False where nothing names the levels' unit, so that dBm was assumed."""
    places: tuple[int, int] = (0, 1)
    """The columns of frequency and level."""

    def columns_with(self, level_unit: str) -> str:
        """What the columns are, as `read_capture_file` takes it, the levels in another unit."""
        return f"{self.places[0]}:frequency,{self.places[1]}:level {level_unit}"


def read_capture_file(name: str, data: bytes, unit: str = "", columns: str = "", first: bool = False) -> CaptureFile:
    """A frequency and a level in every row, in any order. `columns` as `0:frequency,2:level dBW` says which they are;
    of several that may be levels the `first` is taken only where that was done when the file came in.

    Raises
    ------
    FileProblem
        Naming file, line, column, what stands there and what would be right; ColumnsProblem where the headings do not
        tell frequency and level.
    """
    if unit not in ("", *FREQUENCY_UNITS):
        raise FileProblem(name, 1, 1, f"{shown(unit)} was chosen", f"one of {', '.join(FREQUENCY_UNITS)}")
    lines = decode(name, data)
    if looks_like_touchstone(name, lines):
        raise FileProblem(
            name, 1, 1, "a Touchstone file", "a spectrum as CSV; add a sweep on the page of the evaluation"
        )
    try:
        table = read_table(name, lines)
    except FileProblem:
        table = read_table(name, lines, named_rows=True)
    frequency, level, named = _named(table, columns) if columns else (*_columns(table, first), "")
    unit = unit or frequency_unit(table, frequency) or guess_unit(table, frequency, asks=not columns and not first)
    f = np.round(np.array(table.numbers(frequency)) * UNITS_HZ[unit.lower()], 3)
    low = np.flatnonzero(f <= 0)
    if low.size:
        raise table.problem(
            int(low[0]), frequency, f"a frequency of {table.rows[int(low[0])][frequency]}", "a frequency above 0"
        )
    try:
        named = named or level_unit_named(table, level)
    except ColumnsProblem:
        if not first:
            raise
    level_unit = named or "dBm"
    dbm = in_dbm(table, level, level_unit)
    if named and (far := np.flatnonzero((dbm < LEAST_DBM) | (dbm > MOST_DBM))).size:
        row = int(far[0])
        found = f"a level of {shown(table.rows[row][level].strip())} {level_unit}"
        raise asked(table, f"{found} in line {table.line_numbers[row]}", "a level that an analyzer shows", level)
    order = np.argsort(f, kind="stable")
    same = np.flatnonzero(np.diff(f[order]) == 0)
    if same.size:
        row = int(order[same[0] + 1])
        raise table.problem(row, frequency, f"{shown(table.rows[row][frequency])} a second time", "each frequency once")
    return CaptureFile(Trace(f[order], dbm[order]), unit, level_unit, asked_of(table), bool(named), (frequency, level))


def _columns(table: Table, first: bool) -> tuple[int, int]:
    headings = full_headings(table) if table.header else ()
    at = [i for i, h in enumerate(headings) if OF_FREQUENCY.search(h)]
    others = [i for i in range(len(headings)) if i not in at]
    levels = [i for i in others if _names_level(table, i, headings[i])]
    levels = levels or [i for i in others if _LEVEL.search(headings[i])]
    if not headings and table.width == 2:
        return 0, 1
    if levels and len(levels) < len(others):
        rest = [i for i in others if i not in levels and _ALONE.search(headings[i]) and not _counts(table, i)]
        levels += rest
    if not levels and all(_ALONE.search(headings[i]) for i in others):
        levels = others
    if not at or not levels:
        said = shown(", ".join(table.header)) if table.header else f"{table.width} columns without headings"
        raise asked(table, said, "headings that name a frequency and a level in dBm")
    if len(levels) > 1 and not first and any(table.numbers(i) != table.numbers(levels[0]) for i in levels[1:]):
        both = " and ".join(shown(headings[i]) for i in levels)
        raise asked(table, f"{both} could each be meant", "choose which of them is the level", levels[1])
    if len(at) > 1 and not first and any(table.numbers(i) != table.numbers(at[0]) for i in at[1:]):
        at = [i for i in at if re.search("freq", headings[i], re.IGNORECASE)]
        if len(at) != 1:
            raise asked(table, "several frequency columns", "choose which of them counts")
    return at[0], levels[0]


def _names_level(table: Table, column: int, heading: str) -> bool:
    """Whether the heading or the cells of a column name a unit of levels."""
    named = [UNITS[u] for u in [table.cell_units.get(column, "")] if u] or units_in(heading)
    return any(u.quantity in (Quantity.POWER, Quantity.VOLTAGE) for u in named)


def _counts(table: Table, column: int) -> bool:
    """Whether a column holds text or row numbers rather than levels."""
    cells = [row[column].strip() for row in table.rows]
    return not all(map(table.numerals.is_number, cells)) or cells == [str(i) for i in range(1, len(cells) + 1)]


def _named(table: Table, columns: str) -> tuple[int, int, str]:
    parts = [p.partition(":") for p in columns.split(",")]
    said = {role.split()[0]: (int(place), role) for place, _, role in parts if place.isdigit() and role.strip()}
    roles = {name: place for name, (place, _) in said.items()}
    unit = said["level"][1].removeprefix("level").strip() if "level" in said else ""
    wrong = not {"frequency", "level"} <= set(roles) or max(roles.values()) >= table.width
    if wrong or roles["frequency"] == roles["level"] or (unit and unit not in LEVEL_UNITS):
        raise FileProblem(
            table.name,
            table.line_numbers[0],
            1,
            f"columns named as {shown(columns)}",
            f"one column as the frequency, another as the level in {', '.join(LEVEL_UNITS)}",
        )
    return roles["frequency"], roles["level"], unit


def level_unit_named(table: Table, column: int) -> str:
    """The unit of the levels that their heading, their cells or a line over the headings names, or nothing."""
    unit = unit_of(table, column, "level")
    return unit.name if unit else ""


def in_dbm(table: Table, column: int, unit: str) -> FloatArray:
    """The levels of a column in dBm; of voltages across the impedance that the file names, else 50 Ω."""
    values = np.array(table.numbers(column))
    of = UNITS[unit]
    if not unit.startswith("dB"):
        wrong = np.flatnonzero(values <= 0)
        if wrong.size:
            row = int(wrong[0])
            raise table.problem(
                row, column, f"a level of {shown(table.rows[row][column])} {unit}", "a frequency above 0"
            )
    if of.quantity is Quantity.VOLTAGE:
        across = reference_of(table, column) or 50.0
        return np.asarray(20 * np.log10(of(values)) - 10 * math.log10(across) + 30.0)
    return np.asarray(values if unit == "dBm" else 10 * np.log10(of(values)) + 30.0)


def typed_levels(text: str) -> bytes:
    """Levels typed by hand, `150 MHz 5.2; 300 MHz -41`, as the CSV they are kept as.

    Raises
    ------
    ValueError
        Naming the part that is not a frequency with a level.
    """
    curve = parse_curve(text)
    if curve is None:
        raise ValueError("type at least the carrier, such as 150 MHz 5.2; 300 MHz -41")
    rows = (f"{f / 1e6:.9g},{v:g}" for f, v in zip(curve.frequency_hz, curve.value, strict=True))
    return "\n".join(("Frequency MHz,Level dBm", *rows, "")).encode()
