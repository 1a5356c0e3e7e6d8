"""A sweep through an article from the bytes of a file: a two-port Touchstone file, or S21 alone as CSV."""

import re

import numpy as np

from levelmoor.core.rf.frequency import UNITS_HZ
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.formats.columns import guess_unit, headings_of, unit_named
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.rawtext import decode
from levelmoor.formats.table import Table, read_table
from levelmoor.formats.touchstone import read_touchstone
from levelmoor.formats.touchstone_header import looks_like_touchstone

RIGHT = "a two-port file (.s2p), or a CSV with a frequency and S21 in dB in every row"


def read_through(name: str, data: bytes) -> TwoPort:
    """The sweep; of a CSV the size of S21 in dB, with its phase in degrees where a column has it.

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
        first, second = found.reference_ohm[:2]
        if abs(first - second) > 1e-6:
            raise FileProblem(name, 1, 1, f"ports of {first:g} and {second:g} Ω", "both ports in one impedance")
        try:
            return TwoPort(found.frequency_hz, found.s[:, 1, 0], found.s[:, 0, 0], found.s[:, 1, 1], first)
        except ValueError as problem:
            raise FileProblem(name, 1, 1, str(problem), RIGHT) from None
    return _from_table(read_table(name, lines))


def _from_table(table: Table) -> TwoPort:
    headings = headings_of(table)
    frequency = next((i for i, h in enumerate(headings) if re.search(r"freq|\bf\b|hz", h.lower())), 0)
    others = [i for i in range(table.width) if i != frequency]
    phase = next((i for i in others if re.search(r"phase|deg|°|ang", headings[i].lower())), None)
    sizes = [i for i in others if i != phase]
    level = next((i for i in sizes if re.search(r"s\s*21|db|loss|att|through|mag", headings[i].lower())), None)
    level = level if level is not None else next(iter(sizes), None)
    if level is None:
        raise table.problem(0, 0, "one column", RIGHT)
    unit = unit_named(table, frequency, headings[frequency]) or guess_unit(table, frequency)
    f = np.round(np.array(table.numbers(frequency)) * UNITS_HZ[unit.lower()], 3)
    wrong = np.flatnonzero(np.diff(f) <= 0)
    if wrong.size:
        raise table.problem(int(wrong[0]) + 1, frequency, "a frequency not above the one before", "rising frequencies")
    db = np.array(table.numbers(level))
    # Written as a loss or as a level: an article that amplifies is none of ours, so the sign most figures have tells.
    db = db if np.median(db) < 0 else -db
    too_much = np.flatnonzero(db > 3)
    if too_much.size:
        i = int(too_much[0])
        raise table.problem(i, level, shown(table.rows[i][level].strip()), "S21 in dB of what only takes away")
    size = 10 ** (db / 20)
    turn = np.exp(1j * np.deg2rad(np.array(table.numbers(phase)))) if phase is not None else np.ones(f.size)
    try:
        return TwoPort(f, np.asarray(size * turn, dtype=np.complex128), scalar=phase is None)
    except ValueError as problem:
        raise FileProblem(table.name, table.line_numbers[0], 1, str(problem), RIGHT) from None
