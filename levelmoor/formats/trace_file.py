"""A trace from the bytes of a file: a spectrum as CSV, or the through path of a two-port Touchstone file."""

import re

import numpy as np

from levelmoor.core.rf.frequency import UNITS_HZ
from levelmoor.core.rf.trace import Trace
from levelmoor.formats.capture_file import in_dbm, level_unit_named
from levelmoor.formats.columns import guess_unit, headings_of, unit_named
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.rawtext import decode
from levelmoor.formats.table import Table, read_table
from levelmoor.formats.touchstone import read_touchstone
from levelmoor.formats.touchstone_header import looks_like_touchstone

S21 = "s21"
LEVEL = "level"


def read_trace_file(name: str, data: bytes, unit: str = "") -> tuple[Trace, str]:
    """A trace and what it is: `level` of a spectrum in dBm, or `s21` of 20 log10|S21| in dB.

    A CSV without a unit in its headings is read in the unit that the size of its frequencies suggests.

    Raises
    ------
    FileProblem
        Naming file, line, column, what stands there and what would be right.
    """
    lines = decode(name, data)
    if looks_like_touchstone(name, lines):
        touchstone = read_touchstone(name, lines)
        if touchstone.ports < 2:
            raise FileProblem(name, 1, 1, "a one-port file", "a two-port file (.s2p) for the path through the pad")
        size = np.abs(touchstone.s[:, 1, 0])
        if not np.all(size > 0):
            raise FileProblem(name, 1, 1, "S21 of 0", "a path that lets something through")
        return Trace(touchstone.frequency_hz, 20 * np.log10(size)), S21
    table = read_table(name, lines)
    frequency, level = _columns(table)
    unit = unit or unit_named(table, frequency, headings_of(table)[frequency]) or guess_unit(table, frequency)
    f = np.round(np.array(table.numbers(frequency)) * UNITS_HZ[unit.lower()], 3)
    wrong = np.flatnonzero(np.diff(f) <= 0)
    if wrong.size:
        raise table.problem(int(wrong[0]) + 1, frequency, "a frequency not above the one before", "rising frequencies")
    named = level_unit_named(table, level)
    return Trace(f, in_dbm(table, level, named) if named else np.array(table.numbers(level))), LEVEL


def _columns(table: Table) -> tuple[int, int]:
    headings = [h.lower() for h in table.header]
    frequency = next((i for i, h in enumerate(headings) if re.search(r"freq|\bf\b|hz", h)), 0)
    level = next(
        (i for i, h in enumerate(headings) if i != frequency and re.search(r"dbm|level|ampl|power|mag|s21|db", h)), None
    )
    if level is None:
        if table.width < 2:
            raise table.problem(0, 0, "one column", "a frequency and a level in every row")
        level = 1 if frequency == 0 else 0
    return frequency, level
