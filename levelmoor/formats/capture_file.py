"""A spectrum of a keyed radio from the bytes of a file: a trace or a list of peaks, in the units its headings name."""

import re
from dataclasses import dataclass

import numpy as np

from levelmoor.core.rf.curve import parse_curve
from levelmoor.core.rf.frequency import UNITS_HZ
from levelmoor.core.rf.levels import DBUV_AT_0_DBM
from levelmoor.core.rf.reflection import FloatArray
from levelmoor.core.rf.trace import Trace
from levelmoor.formats.columns import FREQUENCY_UNITS, ColumnsProblem, guess_unit, headings_of, unit_named
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.rawtext import decode
from levelmoor.formats.table import Table, read_table
from levelmoor.formats.touchstone_header import looks_like_touchstone

LEVEL_UNITS = ("dBm", "dBW", "dBµV", "W", "mW", "µW")
_LEVELS = (r"dbm|dbw|dbu|dbµ|\b[mµu]?w\b|watt", r"level|ampl|power|mag")
"""What headings of levels say, the surer first."""
_ALONE = r"peak|value|trace|max"
"""What they say where they stand beside the frequency alone; among others a "Peak" may be a peak's number."""


@dataclass(frozen=True)
class CaptureFile:
    """The trace in dBm by rising frequency, and the units it was written in."""

    trace: Trace
    frequency_unit: str
    level_unit: str
    headings: tuple[str, ...] = ()
    unit_named: bool = True
    """False where nothing names the levels' unit, so that dBm was taken for granted."""
    places: tuple[int, int] = (0, 1)
    """The columns of frequency and level."""

    def columns_with(self, level_unit: str) -> str:
        """What the columns are, as `read_capture_file` takes it, the levels in another unit."""
        return f"{self.places[0]}:frequency,{self.places[1]}:level {level_unit}"


def read_capture_file(name: str, data: bytes, unit: str = "", columns: str = "") -> CaptureFile:
    """A frequency and a level in every row, in any order. `columns` as `0:frequency,2:level dBW` says which they are.

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
        raise FileProblem(name, 1, 1, "a Touchstone file", "a spectrum as CSV; a sweep is dropped where sweeps are")
    try:
        table = read_table(name, lines)
    except FileProblem:
        table = read_table(name, lines, named_rows=True)
    frequency, level, named = _named(table, columns) if columns else (*_columns(table), "")
    unit = unit or unit_named(table, frequency, headings_of(table)[frequency]) or guess_unit(table, frequency)
    f = np.round(np.array(table.numbers(frequency)) * UNITS_HZ[unit.lower()], 3)
    low = np.flatnonzero(f <= 0)
    if low.size:
        raise table.problem(
            int(low[0]), frequency, f"a frequency of {table.rows[int(low[0])][frequency]}", "one above 0"
        )
    named = named or level_unit_named(table, level)
    level_unit = named or "dBm"
    dbm = in_dbm(table, level, level_unit)
    order = np.argsort(f, kind="stable")
    same = np.flatnonzero(np.diff(f[order]) == 0)
    if same.size:
        row = int(order[same[0] + 1])
        raise table.problem(row, frequency, f"{shown(table.rows[row][frequency])} a second time", "each frequency once")
    return CaptureFile(
        Trace(f[order], dbm[order]), unit, level_unit, headings_of(table), bool(named), (frequency, level)
    )


def _columns(table: Table) -> tuple[int, int]:
    headings = [h.lower() for h in table.header]
    frequency = next((i for i, h in enumerate(headings) if re.search(r"freq|\bf\b|hz", h)), None)
    others = [(i, h) for i, h in enumerate(headings) if i != frequency]
    level = next((i for words in _LEVELS for i, h in others if re.search(words, h)), None)
    if not headings and table.width == 2:
        return 0, 1
    if level is None and len(others) == 1 and re.search(_ALONE, others[0][1]):
        level = others[0][0]
    if frequency is None or level is None:
        said = shown(", ".join(table.header)) if table.header else f"{table.width} columns without headings"
        problem = ColumnsProblem(
            table.name, max(table.line_numbers[0] - 1, 1), 1, said, "headings that name a frequency and a level in dBm"
        )
        problem.headings = headings_of(table)
        raise problem
    return frequency, level


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
    """The unit of the levels that their heading or their cells name, or nothing."""
    in_cells = next((u for u in LEVEL_UNITS if u.lower() == table.level_unit.lower()), "")
    return _level_unit(table, column) or in_cells


def _level_unit(table: Table, column: int) -> str:
    heading = table.header[column] if table.header else ""
    plain = heading.lower().replace("μ", "µ").replace("dbu", "dbµ")
    words = re.findall(r"[a-zµ]+", plain)
    for unit, ways in (
        ("dBm", ("dbm",)), ("dBW", ("dbw",)), ("dBµV", ("dbµv",)), ("mW", ("mw",)), ("µW", ("µw", "uw")),
        ("W", ("w", "watt", "watts")),
    ):  # fmt: skip
        if any(w in ways for w in words):
            return unit
    return ""


def in_dbm(table: Table, column: int, unit: str) -> FloatArray:
    """The levels of a column in dBm."""
    values = np.array(table.numbers(column))
    if unit in ("W", "mW", "µW"):
        wrong = np.flatnonzero(values <= 0)
        if wrong.size:
            row = int(wrong[0])
            raise table.problem(row, column, f"a power of {shown(table.rows[row][column])}", "a power above 0")
        return np.asarray(10 * np.log10(values * {"W": 1e3, "mW": 1.0, "µW": 1e-3}[unit]))
    return np.asarray(values + {"dBm": 0.0, "dBW": 30.0, "dBµV": -DBUV_AT_0_DBM}[unit])


def typed_levels(text: str) -> bytes:
    """Levels typed by hand, `150 MHz 5.2; 300 MHz -41`, as the CSV they are kept as.

    Raises
    ------
    ValueError
        Naming the part that is not a frequency with a level.
    """
    curve = parse_curve(text)
    if curve is None:
        raise ValueError("type at least the carrier, as 150 MHz 5.2; 300 MHz -41")
    rows = (f"{f / 1e6:.9g},{v:g}" for f, v in zip(curve.frequency_hz, curve.value, strict=True))
    return "\n".join(("Frequency MHz,Level dBm", *rows, "")).encode()
