"""What no measurement of a passive article says: held against every file before it is taken.

References
----------
.. [1] |Γ| <= 1 for any load whose resistance is not negative, any microwave text (memory).
"""

from collections.abc import Sequence

import numpy as np

from levelmoor.core.rf.frequency import HIGHEST_HZ
from levelmoor.core.rf.reflection import ComplexArray, FloatArray, swr_from_gamma
from levelmoor.formats.column_units import asked
from levelmoor.formats.problem import shown
from levelmoor.formats.table import Table

LARGEST_GAMMA = 1.05
"""What noise and the residual errors of a calibration may make of a total reflection."""
BURST = 0.01
"""The share of points that a disturbance may lift above it."""
FIRST_DAY, LAST_DAY = 36526, 73050
"""2000 and 2099 in the days that spreadsheets count dates by."""
LEAST_TOP_HZ = 9e3
"""No sweep of an antenna ends below: where radio begins."""
MAYBE_DBM = (20.0, 62.0)
"""Where all powers lie in it and nothing names their unit, they may be in dBm: 0.1 W to 1.5 kW."""
APART = 0.03
"""How far |Γ| of two columns that tell the same may be apart."""


def too_large(gamma: ComplexArray) -> int | None:
    """The first point whose reflection is more than all [1]_, where more of them are than a disturbance makes."""
    beyond = np.flatnonzero(~(np.abs(gamma) <= LARGEST_GAMMA))
    return int(beyond[0]) if beyond.size > BURST * gamma.size else None


def check_passive(table: Table, columns: Sequence[int], gamma: ComplexArray) -> None:
    """Raises FileProblem where the figures say that more comes back than went in."""
    row = too_large(gamma)
    if row is None:
        return
    said = ", ".join(shown(table.rows[row][c].strip()) for c in columns)
    found = f"{said}, a reflection of {abs(gamma[row]):.3g}"
    raise table.problem(row, columns[0], found, "at most 1; is the column or its unit wrong?")


def check_no_dates(table: Table, column: int, figures: FloatArray) -> None:
    """Raises FileProblem where a spreadsheet has made a date of a figure: 1.5 of the first of May."""
    days = (figures >= FIRST_DAY) & (figures <= LAST_DAY) & (figures == np.round(figures))
    others = np.abs(figures[~days])
    if not days.any() or not others.size or np.median(others) > FIRST_DAY / 100:
        return
    row = int(np.flatnonzero(days)[0])
    found = f"{shown(table.rows[row][column].strip())}, which is how a spreadsheet stores a date"
    raise table.problem(row, column, found, "the measured figure; export the table again, as text")


def check_agreeing(table: Table, others: Sequence[tuple[int, str, FloatArray]], magnitude: FloatArray) -> None:
    """Hold |Γ| of what was read against each other column that tells it: its place, its name, its |Γ|.

    Raises
    ------
    ColumnsProblem
        Where they are apart at more than a tenth of the points.
    """
    for column, name, other in others:
        apart = ~(np.abs(other - magnitude) <= APART)
        if np.mean(apart) > 0.1:
            row = int(np.flatnonzero(apart)[0])
            swr, said = (f"{float(swr_from_gamma(min(v, 1.0))):.3g}" for v in (magnitude[row], other[row]))
            found = f"in line {table.line_numbers[row]} {name} makes an SWR of {said} and the other columns {swr}"
            raise asked(table, found, "choose which columns count", column)


def frequency_in_range(table: Table, column: int, hz: FloatArray, unit: str) -> None:
    """Raises ColumnsProblem where frequencies are none that an antenna is measured at: the unit is another."""
    low, high = float(np.min(hz)), float(np.max(hz))
    if low < 0 or high > HIGHEST_HZ or 0 < high < LEAST_TOP_HZ:
        cell = shown(table.rows[0][column].strip())
        raise asked(
            table,
            f"{cell} {unit}, which is not a frequency for an antenna",
            "choose the unit of the frequencies",
            column,
        )
