"""A trace from the bytes of a file: a spectrum as CSV, or S21 of the path through a pad or a filter."""

import re
from collections.abc import Sequence

from levelmoor.core.rf.trace import Trace
from levelmoor.formats.capture_file import read_capture_file
from levelmoor.formats.column_units import ColumnsProblem
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.rawtext import decode
from levelmoor.formats.s21_columns import names_s21
from levelmoor.formats.table import read_table
from levelmoor.formats.through_file import read_through
from levelmoor.formats.touchstone_header import looks_like_touchstone

S21 = "s21"
LEVEL = "level"


def read_trace_file(name: str, data: bytes, unit: str = "", levels: bool = False) -> tuple[Trace, str]:
    """A trace and what it is: `level` of a spectrum in dBm, or `s21` of 20 log10|S21| in dB. A CSV that was taken as
    `levels` is read so whatever its headings say.

    A CSV without a unit in its headings is read in the unit that the size of its frequencies suggests.

    Raises
    ------
    FileProblem
        Naming file, line, column, what stands there and what would be right.
    """
    if _of_s21(name, data, levels):
        through = read_through(name, data, unit).referred_to(50.0)
        return Trace(through.frequency_hz, -through.loss_db), S21
    try:
        return read_capture_file(name, data, unit).trace, LEVEL
    except ColumnsProblem as problem:
        if not levels or len(problem.headings) < 2:
            raise
        return read_capture_file(name, data, unit, _first_in_db(problem.headings)).trace, LEVEL


def _first_in_db(headings: Sequence[str]) -> str:
    """The columns of levels that were taken before headings had to name them."""
    said = [h.lower() for h in headings]
    frequency = next((i for i, h in enumerate(said) if re.search(r"freq|\bf\b|hz", h)), 0)
    others = [i for i in range(len(said)) if i != frequency]
    return f"{frequency}:frequency,{next((i for i in others if 'db' in said[i]), others[0])}:level dBm"


def _of_s21(name: str, data: bytes, levels: bool) -> bool:
    lines = decode(name, data)
    if looks_like_touchstone(name, lines) or levels:
        return looks_like_touchstone(name, lines)
    try:
        return names_s21(read_table(name, lines))
    except FileProblem:  # said once it is read as what it is
        return False
