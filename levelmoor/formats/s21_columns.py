"""Which columns of a table hold S21, and in which form: dB, a ratio, real and imaginary part, with a phase or without.

Nothing else may pass for it: what another column holds, read as dB, is a figure that looks right and is not.
"""

import re
from collections.abc import Sequence

import numpy as np

from levelmoor.core.rf.reflection import ComplexArray, FloatArray
from levelmoor.formats.column_units import full_headings, headings_of, unit_of
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.table import Table
from levelmoor.formats.units import Quantity

RIGHT = "a two-port file (.s2p), or a CSV with a frequency and S21 in dB in every row"
LARGEST_DB = 3.0
"""What only takes away may seem to give so much, by the calibration that it was swept with."""
NEAR_NOTHING_DB = 0.5
"""What noise may seem to give to a part that takes nothing away."""
_S = re.compile(r"s[\s_(]*([12])[\s_,]*([12])")
_OTHER = re.compile(
    r"\b(v?swr|rl|return loss|z[a-z0-9]?|r|x|rs|xs|y|impedance|resistance|reactance|[km]?ohms?|temp\w*|q|noise|floor|"
    r"level|power|dbm|limit\w*|mask|target|spec|reference|s11|s22|s12)\b|ω"
)
_SAYS = re.compile(
    r"s\W?21|loss|\batt|gain|trans|through|\bdb\b|mag|\blin\b|\babs\b|ratio|\bnp\b|chok|reject|pass|\bre\b|\bim\b|real|imag|"
    r"phase|\bdeg|°|\bang|\barg\b|\bm?rad|theta"
)
"""What headings of a sweep through say where S21 is not named."""
_FREQUENCY = re.compile(r"freq|\bf\b|hz")
_PHASE = re.compile(r"phase|\bdeg|°|\bang|\barg\b|\bm?rad|\bgon\b|\bturns?\b|theta|φ|θ")
_REAL, _IMAGINARY = re.compile(r"\bre\b|real"), re.compile(r"\bim\b|imag")
_DECIBEL = re.compile(r"\bdb\b|log\s*mag|\(db\)|\[db\]|loss|\batt|\bnp\b")
_GAIN = re.compile(r"s\W?21|\bgain\b")
_SQUARED = re.compile(r"\^\s*2|²|power ratio")
_RATIO = re.compile(r"\|\s*s|mag|\blin|\babs\b|ratio|\bamp")


def frequency_column(table: Table) -> int:
    """The first column whose heading says so, else the first."""
    return next((i for i, h in enumerate(_plain(table)) if _FREQUENCY.search(h)), 0)


def names_s21(table: Table) -> bool:
    """Whether a heading says that S21 stands under it."""
    return any((m := _S.search(h)) and m[1] + m[2] == "21" for h in _plain(table))


def s21_of_table(table: Table, first: bool = False) -> tuple[ComplexArray, bool]:
    """S21 of every row, (n,) complex, and whether its size alone is known.

    Raises
    ------
    FileProblem
        Where no column holds it, one of another quantity stands in its place, or its form has two meanings.
    """
    headings = _plain(table)
    if not table.header and table.width > 2:
        found = f"{table.width} columns without headings"
        raise table.problem(0, 1, found, "headings that name S21 and its form: S21 dB, phase deg")
    columns = _of_s21(table, headings, frequency_column(table))
    real = next((i for i in columns if _REAL.search(headings[i])), None)
    imaginary = next((i for i in columns if _IMAGINARY.search(headings[i])), None)
    if real is not None and imaginary is not None:
        parts = [_scaled(table, c, headings[c]) for c in (real, imaginary)]
        s = parts[0] + 1j * parts[1]
        _passive(table, real, 20 * np.log10(np.maximum(np.abs(s), 1e-30)))
        return s, False
    phase = next((i for i in columns if _PHASE.search(headings[i])), None)
    sizes = [i for i in columns if i != phase]
    if not sizes:
        raise table.problem(0, min(columns, default=0), "no magnitude of S21", RIGHT)
    decibel = [i for i in sizes if _DECIBEL.search(headings[i])]
    at, *others = decibel or sizes
    if not first and any(table.numbers(i) != table.numbers(at) for i in others):
        both = " and ".join(shown(headings_of(table)[i]) for i in (at, *others))
        raise FileProblem(table.name, *table.heading_place(others[0]), f"{both} could each be meant", RIGHT)
    size = _size(table, at, headings[at])
    if phase is None:
        return size.astype(np.complex128), True
    return size * np.exp(1j * _radians(table, phase, headings[phase])), False


def _plain(table: Table) -> list[str]:
    """The headings in small letters, underlines as blanks; where a row of units stands over or under, with it."""
    heads = headings_of(table)
    if table.above and full_headings(table) == table.header:
        heads = tuple(" ".join(pair) for pair in zip(table.above, heads, strict=True))
    else:
        heads = full_headings(table)
    return [" ".join(h.lower().replace("_", " ").split()) for h in heads]


def _of_s21(table: Table, headings: Sequence[str], frequency: int) -> list[int]:
    """The columns of S21: those that name it with what follows each of them, or where none is named all that are of
    nothing else."""
    named = {i: m[1] + m[2] for i, h in enumerate(headings) if (m := _S.search(h))}
    if named:
        found, current = [], ""
        for i in range(table.width):
            current = named.get(i, current)
            if i != frequency and current == "21":
                found.append(i)
        if not found:
            raise FileProblem(table.name, *table.heading_place(min(named)), "no S21 among the headings", RIGHT)
        return found
    others = [i for i in range(table.width) if i != frequency]
    found = [i for i in others if not _OTHER.search(headings[i]) and (not table.header or _SAYS.search(headings[i]))]
    if others and not found:
        found_there = f"{shown(headings_of(table)[others[0]])}, which is not S21"
        raise FileProblem(table.name, *table.heading_place(others[0]), found_there, RIGHT)
    return found


def _scaled(table: Table, column: int, heading: str) -> FloatArray:
    """Figures of a ratio, per cent and per mille converted."""
    unit = unit_of(table, column, "s21", heading)
    figures = np.array(table.numbers(column))
    return unit(figures) if unit is not None else figures


def _size(table: Table, column: int, heading: str) -> FloatArray:
    """|S21| of what stands there as level, as loss, or as a ratio."""
    unit = unit_of(table, column, "s21", heading)
    figures = _scaled(table, column, heading)
    squared = _SQUARED.search(heading) is not None
    if unit is not None and unit.quantity is Quantity.RATIO:
        return np.asarray(np.sqrt(figures) if squared else figures)
    decibel = unit is not None or _DECIBEL.search(heading) is not None
    between = bool(np.all((figures > 0) & (figures <= 1.0)))
    if between and not decibel and (squared or _RATIO.search(heading)):
        return np.asarray(np.sqrt(figures) if squared else figures)
    if squared and not decibel:
        raise table.problem(0, column, shown(table.rows[0][column].strip()), "a fraction of the power, at most 1")
    if not decibel and _RATIO.search(heading) and np.all(figures > 1):
        right = "a heading that says which: S21 dB, or S21 % for a fraction"
        raise table.problem(0, column, f"{shown(table.rows[0][column].strip())}, too large for a ratio", right)
    if between and not decibel:
        right = "a heading that says which: S21 dB, or |S21| for a ratio"
        raise table.problem(0, column, f"{shown(table.rows[0][column].strip())}, which could be dB or a ratio", right)
    # Written as a loss or as a level: an article that amplifies is none of ours, so the sign most figures have tells,
    # but where the heading says that what it gains is told.
    gains = _GAIN.search(heading) is not None and not re.search("loss", heading)
    if gains and np.median(figures) > 0 and np.max(figures) > NEAR_NOTHING_DB:
        row = int(np.argmax(figures))
        right = "S21 in dB of a passive part, which is not above 0, or a heading that says loss"
        raise table.problem(row, column, shown(table.rows[row][column].strip()), right)
    db = figures if gains or np.median(figures) < 0 else -figures
    _passive(table, column, db)
    return np.asarray(10 ** (db / 20))


def _passive(table: Table, column: int, db: FloatArray) -> None:
    too_much = np.flatnonzero(db > LARGEST_DB)
    if too_much.size:
        i = int(too_much[0])
        raise table.problem(
            i, column, shown(table.rows[i][column].strip()), "S21 in dB of a passive part, which is not above 0"
        )


def _radians(table: Table, column: int, heading: str) -> FloatArray:
    unit = unit_of(table, column, "phase", heading)
    figures = np.array(table.numbers(column))
    if unit is None and float(np.max(np.abs(figures))) <= np.pi + 1e-3 and np.any(figures != 0):
        right = "a heading that says which: phase deg, or phase rad"
        raise table.problem(
            0, column, f"{shown(table.rows[0][column].strip())}, which could be degrees or radians", right
        )
    return np.asarray(np.deg2rad(unit(figures) if unit is not None else figures))
