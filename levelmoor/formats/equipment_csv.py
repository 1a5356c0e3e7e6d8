"""What a team owns as CSV, one file for each kind: a row for each piece, headings in the first line."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from levelmoor.core.words.counting import counted
from levelmoor.formats.csv_out import unmarked, write_csv
from levelmoor.formats.owned_kinds import OWNED
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.rawtext import decode
from levelmoor.formats.rows import rows_of, separator_of, written

Row = tuple[str, dict[str, Any]]
MOST_ROWS = 2000


EARLIER = {
    "calibrations kept": "memories",
    "largest safe input, dbm": "max_input_dbm",
    "watt figures ±": "watt_accuracy",
    "read with, w forward": "read_at_w",
    "cuts digits off": "truncates",
    "source of figures": "figures_source",
    "stands, w": "power_w",
    "whose figures": "fold_back_source",
    "its tuner reaches, swr": "tuner_swr",
}
"""Headings of earlier exports, which stay readable."""


def write_equipment(kind: str, rows: Iterable[tuple[str, Mapping[str, Any]]]) -> str:
    """CSV of a kind's pieces, each a name and its kept values."""
    fields = OWNED[kind].fields
    table = [["Name", *(f.heading for f in fields)]]
    table += [[name, *(f.write(values.get(f.name)) for f in fields)] for name, values in rows]
    return write_csv(table, ",", "\r\n")


def read_equipment(kind: str, file_name: str, data: bytes) -> list[Row]:
    """Names and kept values from CSV; the headings may come in any order, and any but the name may be missing.

    Raises
    ------
    FileProblem
        Naming line, column, what stands there and what would be right; nothing of the file is taken then.
    """
    lines = decode(file_name, data)
    text = written(lines, remarks="")
    rows = rows_of(text, separator_of([line for _, line in text[:1]]))
    if not rows:
        raise FileProblem(file_name, 1, 1, "no headings", "column names in the first line, as in an export")
    columns = _columns(kind, file_name, rows[0][1])
    if len(rows) > MOST_ROWS:
        raise FileProblem(file_name, MOST_ROWS, 1, f"{len(rows)} rows", f"at most {MOST_ROWS}")
    found = [_row(kind, file_name, n, row, columns) for n, row in rows[1:]]
    if not found:
        raise FileProblem(file_name, 2, 1, "no rows", "one row for each item, below the headings")
    return found


def _columns(kind: str, file_name: str, headings: Sequence[str]) -> list[str]:
    fields = OWNED[kind].fields
    names = {"name": "name"} | {f.heading.lower(): f.name for f in fields}
    names |= {heading: name for heading, name in EARLIER.items() if name in {f.name for f in fields}}
    columns = []
    for n, heading in enumerate(headings, 1):
        name = names.get(heading.strip().lower())
        if name is None:
            known = ", ".join(["Name", *(f.heading for f in OWNED[kind].fields)])
            raise FileProblem(
                file_name, 1, n, f"a column {shown(heading)}", f"the columns of {OWNED[kind].words.lower()}: {known}"
            )
        columns.append(name)
    if "name" not in columns:
        raise FileProblem(file_name, 1, 1, "no column Name", "a name for every item")
    return columns


def _row(kind: str, file_name: str, number: int, row: Sequence[str], columns: list[str]) -> Row:
    if len(row) != len(columns):
        found, at = counted(len(row), "field"), min(len(row), len(columns)) + 1
        raise FileProblem(file_name, number, at, found, f"{len(columns)}, as in the headings")
    name, values = "", {}
    for place, (column, text) in enumerate(zip(columns, row, strict=True), 1):
        bare = unmarked(text.strip())
        if column == "name":
            name = " ".join(bare.split())[:200]
            if not name:
                raise FileProblem(file_name, number, place, "nothing", "the name of the item")
            continue
        try:
            values[column] = OWNED[kind].field(column).read(bare)
        except ValueError as problem:
            raise FileProblem(file_name, number, place, shown(bare), str(problem)) from None
    return name, values
