"""Readings as a file: a CSV with one reading a line, each figure as it was displayed.

A first heading `Reading` marks the sheet that Levelmoor writes; `levelmoor readings` takes any CSV that names its
columns.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from levelmoor.core.readings.readings import FIELD_WORDS, FieldProblem, Reading, ReadingKind, reading_of
from levelmoor.formats.column_units import asked
from levelmoor.formats.columns import LARGEST_HZ, Kind, columns_of, role_of
from levelmoor.formats.csv_out import write_csv
from levelmoor.formats.plausible import MAYBE_DBM
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.rawtext import decode
from levelmoor.formats.table import Table, read_table
from levelmoor.formats.units import UNITS, Quantity, Unit, spelled

HEADINGS = {
    "frequency": "Frequency",
    "swr": "SWR",
    "r": "R ohm",
    "x": "X ohm",
    "abs_x": "|X| ohm",
    "forward": "Forward W",
    "reflected": "Reflected W",
}
COLUMNS = {
    ReadingKind.SWR: ("swr",),
    ReadingKind.R_X: ("swr", "r", "x"),
    ReadingKind.R_ABS_X: ("swr", "r", "abs_x"),
    ReadingKind.POWERS: ("forward", "reflected"),
}
_OF_TABLES = {
    Kind.SWR: ReadingKind.SWR,
    Kind.R_X: ReadingKind.R_X,
    Kind.R_ABS_X: ReadingKind.R_ABS_X,
    Kind.POWERS: ReadingKind.POWERS,
}


@dataclass(frozen=True)
class ReadingsFile:
    """Readings in the order of their lines, what was typed for each, and the line each stands on."""

    kind: ReadingKind
    readings: tuple[Reading, ...]
    typed: tuple[dict[str, str], ...]
    lines: tuple[int, ...]


def is_readings(table: Table) -> bool:
    return bool(table.header) and role_of(table.header[0]) == "reading"


def read_readings(name: str, data: bytes) -> ReadingsFile:
    """Readings from any CSV whose headings name frequency and SWR, R and X, or forward and reflected power.

    Raises
    ------
    FileProblem
        Naming file, line, column, what stands there and what would be right.
    """
    return readings_of(read_table(name, decode(name, data), short_rows=True))


def read_pasted(text: str, kind: ReadingKind) -> ReadingsFile:
    """Readings of one kind from typed or pasted text; without a line of headings they stand in the order of the fields.

    Raises
    ------
    FileProblem
        As `read_readings`, and where the headings name another kind.
    """
    name, bare = "the table", text.strip()
    if not bare:
        raise FileProblem(name, 1, 1, "nothing", "one reading per line, frequency first, as in 7.100 1.5")
    if bare[:1].isdigit() or bare.startswith((".", "-")):
        first = bare.splitlines()[0]
        separator = next((s for s in (";", "\t") if s in first), "," if "," in first and "." in first else " ")
        names = [n for n in COLUMNS[kind] if n != "swr" or kind is ReadingKind.SWR]
        head = separator.join(["Frequency_MHz", *(HEADINGS[n].replace(" ", "_") for n in names)])
        try:
            found = read_readings(name, f"{head}\n{bare}".encode())
        except FileProblem as problem:
            raise FileProblem(name, problem.line - 1, problem.column, problem.found, problem.expected) from None
        for line, reading in zip(found.lines, found.readings, strict=True):
            if reading.frequency_hz > LARGEST_HZ and "hz" not in bare.splitlines()[line - 2].lower():
                right = "the frequency in MHz, or with its unit, as in 7100 kHz"
                raise FileProblem(name, line - 1, 1, shown(f"{reading.frequency_hz / 1e6:g}"), right)
        return found
    found = read_readings(name, bare.encode())
    if found.kind is not kind:
        wanted = ", ".join(HEADINGS[n] for n in COLUMNS[kind])
        raise FileProblem(name, 1, 1, "headings of another kind of reading", f"headings for this sheet: {wanted}")
    return found


def readings_of(table: Table) -> ReadingsFile:
    kind, places, unit, units = _layout(table)
    readings, typed = [], []
    nameless = [c for c, heading in enumerate(table.header) if not heading.strip()]
    for i, row in enumerate(table.rows):
        stray = next((c for c in nameless if spelled(row[c].strip())), None)
        if stray is not None:
            raise table.problem(i, stray, shown(row[stray].strip()), "the figures alone; a unit belongs in the heading")
        fields = {name: row[column].strip() for name, column in places.items()}
        for name, of in units.items():
            fields[name] = _in_base(table, i, places[name], of)
        bare = fields["frequency"]
        if unit and bare.replace(".", "").replace(",", "").isdigit():
            fields["frequency"] = f"{bare} {unit}"
        try:
            readings.append(reading_of(f"{i + 1:06d}", kind, fields))
        except FieldProblem as problem:
            column = places.get(problem.field, 0)
            typed_here = row[column].strip()
            found = shown(typed_here) if typed_here else f"no {FIELD_WORDS[problem.field]} in this row"
            raise table.problem(
                i, column, found, str(problem) if typed_here else "a figure in each of its fields"
            ) from None
        typed.append(fields)
    return ReadingsFile(kind, tuple(readings), tuple(typed), table.line_numbers)


def _in_base(table: Table, row: int, column: int, unit: Unit) -> str:
    """A figure in W or Ω with as many digits as were displayed."""
    cell = table.rows[row][column].strip()
    if not table.numerals.is_number(cell):
        raise table.problem(row, column, shown(cell), f"a figure in {unit.name}")
    return format(Decimal(table.numerals.bare(cell)) * Decimal(repr(float(unit(1.0)))), "f")


def _layout(table: Table) -> tuple[ReadingKind, dict[str, int], str, dict[str, Unit]]:
    """The kind, the column of each figure, the unit of the frequencies, and those of figures that are to be converted.

    Raises
    ------
    ColumnsProblem
        Where powers are levels or voltages, or may be.
    """
    columns = columns_of(table)
    kind = _OF_TABLES.get(columns.kind)
    if kind is None:
        raise FileProblem(
            table.name,
            table.line_numbers[0],
            1,
            "no readings of SWR, R and X, or powers",
            "readings as a display shows them; for a sweep, use levelmoor check",
        )
    names = ("r", "x") if kind in (ReadingKind.R_X, ReadingKind.R_ABS_X) else COLUMNS[kind]
    places = {"frequency": columns.frequency, **dict(zip(names, columns.values, strict=False))}
    if kind in (ReadingKind.R_X, ReadingKind.R_ABS_X):
        beside = next((i for i, h in enumerate(table.header) if role_of(h) == "swr"), None)
        if beside is not None:
            places["swr"] = beside
    named = {n: UNITS[u] for n, u in zip(names, columns.units, strict=False) if u}
    for name, unit in named.items():
        # The last digit of a larger unit would be lost among those of W and Ω.
        if unit.name.startswith("dB") or unit.quantity is Quantity.VOLTAGE or unit(1.0) > 1.0:
            raise asked(
                table,
                f"readings in {unit.name}",
                "choose W or Ω for the sheet, or add the file as a sweep",
                places[name],
            )
    if kind is ReadingKind.POWERS and not named:
        cells = [table.numerals.value(row[places[n]].strip()) for row in table.rows for n in names]
        figures = [w for w in cells if w is not None]
        if figures and all(MAYBE_DBM[0] <= w <= MAYBE_DBM[1] for w in figures):
            found = f"powers from {min(figures):g} to {max(figures):g} without a unit"
            raise asked(
                table, found, "choose W in the headings, as in Forward W, or add dBm as a sweep", places["forward"]
            )
    return kind, places, columns.unit, {n: u for n, u in named.items() if u.name not in ("W", "Ω")}


def write_readings(kind: ReadingKind, rows: Sequence[dict[str, str]]) -> bytes:
    """The sheet as a CSV: each reading numbered, with its note and its figures as typed, MHz."""
    names = COLUMNS[kind]
    table: list[list[object]] = [["Reading", "Note", "Frequency MHz", *(HEADINGS[n] for n in names)]]
    for number, typed in enumerate(rows, 1):
        figures = [typed.get("x" if n == "abs_x" else n, "").replace(",", ".") for n in names]
        table.append([number, typed.get("note", ""), typed["frequency"], *figures])
    return write_csv(table, ",").encode()


assert set(FIELD_WORDS) <= set(HEADINGS)
