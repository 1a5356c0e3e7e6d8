"""The unit gate: the unit of a column is one of what its role measures, is converted, or is asked about."""

from collections.abc import Mapping

import numpy as np

from levelmoor.core.rf.reflection import FloatArray
from levelmoor.formats.preamble import REFERENCE, not_as_measured, reference_above, telling, units_above
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.table import Table
from levelmoor.formats.units import UNITS, Quantity, Unit, spelled, units_in

ACCEPTED: Mapping[str, tuple[Quantity, ...]] = {
    "frequency": (Quantity.FREQUENCY,),
    "swr": (),
    "return_loss": (Quantity.DECIBEL,),
    **dict.fromkeys(("r", "x", "abs_x", "abs_z"), (Quantity.RESISTANCE,)),
    **dict.fromkeys(("re", "im", "abs_gamma"), (Quantity.RATIO,)),
    "phase": (Quantity.ANGLE,),
    **dict.fromkeys(("forward", "reflected", "level"), (Quantity.POWER, Quantity.VOLTAGE)),
    "s21": (Quantity.DECIBEL, Quantity.RATIO),
}
"""What the figures of a role may be in."""
ROLE_NAMES = {
    "frequency": "a frequency", "swr": "an SWR", "return_loss": "a return loss", "r": "R", "x": "X", "abs_x": "|X|",
    "abs_z": "|Z|", "re": "a real part of Γ", "im": "an imaginary part of Γ", "abs_gamma": "|Γ|", "phase": "a phase",
    "forward": "a forward power", "reflected": "a reflected power", "level": "a level", "s21": "S21",
}  # fmt: skip


class ColumnsProblem(FileProblem):
    """The headings do not say what the columns are, or in which unit; a person may. `headings` are those of the file,
    or numbers; the answer is remembered by `asked_of`."""

    headings: tuple[str, ...] = ()
    asked_of: tuple[str, ...] = ()


def headings_of(table: Table) -> tuple[str, ...]:
    """The headings of a file, or its columns by number."""
    return table.header or tuple(f"Column {i}" for i in range(1, table.width + 1))


def asked_of(table: Table) -> tuple[str, ...]:
    """What an answer on the columns of a file holds for: its headings, and lines over them that say what the figures
    are."""
    return (*headings_of(table), *telling(table.preamble))


def asked(table: Table, found: str, expected: str, column: int = 0) -> ColumnsProblem:
    """The question what a column holds."""
    problem = ColumnsProblem(table.name, *table.heading_place(column), found, expected)
    problem.headings, problem.asked_of = headings_of(table), asked_of(table)
    return problem


def full_headings(table: Table) -> tuple[str, ...]:
    """The headings, with the units that stand in a row over or under them."""
    if not table.above:
        return headings_of(table)
    bare = [h.strip(" -()[]") for h in table.header]
    if any(map(spelled, bare)) and all(not h or spelled(h) for h in bare):
        return tuple(" ".join(pair).strip() for pair in zip(table.above, table.header, strict=True))
    return table.header


def unit_of(table: Table, column: int, role: str, heading: str = "") -> Unit | None:
    """The unit of a column: as its cells, its heading, or the lines over the headings name it; None where none does.

    Raises
    ------
    ColumnsProblem
        Where what is named measures something else than the role, several units are named, or the figures are not
        what was measured.
    """
    accepted = ACCEPTED[role]
    heading = heading or (full_headings(table)[column] if table.header else "")
    named = [UNITS[u] for u in [table.cell_units.get(column, "")] if u] or units_in(REFERENCE.sub("", heading))
    wrong = next((u for u in named if u.quantity not in accepted), None)
    if wrong is not None:
        found = f"{shown(heading)}: {wrong.name} measures {wrong.quantity.value}, not {ROLE_NAMES[role]}"
        raise asked(table, found, f"choose what this column holds{_such_as(role)}", column)
    found = not_as_measured(heading, role, named, table.preamble, accepted)
    if found:
        raise asked(table, found, "choose what this column holds, or correct the file and add it again", column)
    if not named:
        named = units_above(table.preamble, role, accepted)
    if len(named) > 1:
        both = " and ".join(u.name for u in named)
        raise asked(table, f"{both} are both units of {ROLE_NAMES[role]}", "choose its unit", column)
    return named[0] if named else None


def _such_as(role: str) -> str:
    names = [u.name for u in dict.fromkeys(UNITS.values()) if u.quantity in ACCEPTED[role]]
    return f"; {ROLE_NAMES[role]} is in {', '.join(names[:6])}" if names else f"; {ROLE_NAMES[role]} has no unit"


def reference_of(table: Table, column: int) -> float | None:
    """The impedance in Ω to which a column's figures refer, as its heading or a line over the headings names it."""
    heading = full_headings(table)[column] if table.header else ""
    return reference_above((heading, *table.preamble))


def degrees_of(table: Table, column: int, unit: Unit | None) -> FloatArray:
    """The phases of a column in degrees.

    Raises
    ------
    FileProblem
        Where they are beyond a whole turn; ColumnsProblem where degrees or radians may be meant.
    """
    figures = np.array(table.numbers(column))
    widest = float(np.max(np.abs(figures)))
    if unit is None and widest <= np.pi + 1e-3 and np.any(figures != 0):
        raise asked(table, f"phases within ±{widest:.3g} without a unit", "choose degrees or radians", column)
    degrees = (unit or UNITS["deg"])(figures)
    unwrapped = "unwrap" in headings_of(table)[column].lower()
    beyond = np.flatnonzero(np.abs(degrees) > 360.5)
    if beyond.size and not unwrapped:
        row = int(beyond[0])
        found = f"a phase of {shown(table.rows[row][column].strip())}"
        raise table.problem(row, column, found, "a phase within one turn, or a heading that says unwrapped")
    return degrees
