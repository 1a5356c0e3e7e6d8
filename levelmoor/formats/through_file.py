"""A sweep through an article from the bytes of a file: a two-port Touchstone file, or S21 alone as CSV."""

import numpy as np

from levelmoor.core.rf.frequency import UNITS_HZ
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.formats.columns import frequency_unit, guess_unit
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.rawtext import decode
from levelmoor.formats.s21_columns import RIGHT, frequency_column, s21_of_table
from levelmoor.formats.table import Table, read_table
from levelmoor.formats.touchstone import read_touchstone
from levelmoor.formats.touchstone_header import looks_like_touchstone


def read_through(name: str, data: bytes, unit: str = "", first: bool = False) -> TwoPort:
    """The sweep; of a CSV S21 in whichever form its headings name. What may have two meanings is taken as it was when
    the file came in where `first` says that it is kept evidence.

    Raises
    ------
    FileProblem
        Naming file, line, column, what stands there and what would be right.
    """
    lines = decode(name, data)
    if looks_like_touchstone(name, lines):
        found = read_touchstone(name, lines)
        if found.ports < 2:
            raise FileProblem(name, 1, 1, "a one-port file", RIGHT)
        one, other = found.reference_ohm[:2]
        if abs(one - other) > 1e-6:
            raise FileProblem(name, 1, 1, f"ports of {one:g} and {other:g} Ω", "both ports with the same impedance")
        try:
            return TwoPort(found.frequency_hz, found.s[:, 1, 0], found.s[:, 0, 0], found.s[:, 1, 1], one)
        except ValueError as problem:
            raise FileProblem(name, 1, 1, str(problem), RIGHT) from None
    return _from_table(read_table(name, lines), unit, first)


def _from_table(table: Table, unit: str, first: bool) -> TwoPort:
    frequency = frequency_column(table)
    if table.width < 2:
        raise table.problem(0, 0, "one column", RIGHT)
    unit = unit or frequency_unit(table, frequency) or guess_unit(table, frequency, asks=not first)
    f = np.round(np.array(table.numbers(frequency)) * UNITS_HZ[unit.lower()], 3)
    wrong = np.flatnonzero(np.diff(f) <= 0)
    if wrong.size:
        raise table.problem(int(wrong[0]) + 1, frequency, "a frequency that does not rise", "rising frequencies")
    s21, scalar = s21_of_table(table, first)
    try:
        return TwoPort(f, s21, scalar=scalar)
    except ValueError as problem:
        raise FileProblem(table.name, table.line_numbers[0], 1, str(problem), RIGHT) from None
