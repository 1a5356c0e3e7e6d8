"""What a team owns as CSV, one file for each kind: a row for each piece, headings in the first line."""

import csv
import io
import re
from collections.abc import Iterable, Mapping
from typing import Any

from levelmoor.core.words.counting import counted
from levelmoor.formats.headed_csv import csv_rows
from levelmoor.formats.owned_kinds import OWNED
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.rawtext import decode

Row = tuple[str, dict[str, Any]]
MOST_ROWS = 2000
_SIGNS = tuple("=+-@\t\r")
_NUMBER = re.compile(r"[+-]?\d+([.,]\d+)?([eE][+-]?\d+)?")


def write_equipment(kind: str, rows: Iterable[tuple[str, Mapping[str, Any]]]) -> str:
    """CSV of a kind's pieces, each a name and its kept values."""
    fields = OWNED[kind].fields
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(["Name", *(f.heading for f in fields)])
    for name, values in rows:
        writer.writerow([_plain(name), *(_plain(f.write(values.get(f.name))) for f in fields)])
    return out.getvalue()


def read_equipment(kind: str, file_name: str, data: bytes) -> list[Row]:
    """Names and kept values from CSV; the headings may come in any order, and any but the name may be missing.

    Raises
    ------
    FileProblem
        Naming line, column, what stands there and what would be right; nothing of the file is taken then.
    """
    lines = decode(file_name, data)
    separator = ";" if lines and lines[0].count(";") > lines[0].count(",") else ","
    rows = csv_rows(file_name, lines, separator)
    if not rows:
        raise FileProblem(file_name, 1, 1, "no headings", "the first line names the columns, as an export does")
    columns = _columns(kind, file_name, rows[0][1])
    if len(rows) > MOST_ROWS:
        raise FileProblem(file_name, MOST_ROWS, 1, f"{len(rows)} rows", f"at most {MOST_ROWS}")
    found = [_row(kind, file_name, n, row, columns) for n, row in rows[1:]]
    if not found:
        raise FileProblem(file_name, 2, 1, "no rows", "a row for each piece under the headings")
    return found


def _columns(kind: str, file_name: str, headings: list[str]) -> list[str]:
    names = {"name": "name"} | {f.heading.lower(): f.name for f in OWNED[kind].fields}
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
        raise FileProblem(file_name, 1, 1, "no column Name", "every piece has a name")
    return columns


def _row(kind: str, file_name: str, number: int, row: list[str], columns: list[str]) -> Row:
    if len(row) != len(columns):
        found, at = counted(len(row), "field"), min(len(row), len(columns)) + 1
        raise FileProblem(file_name, number, at, found, f"{len(columns)}, as the headings")
    name, values = "", {}
    for place, (column, text) in enumerate(zip(columns, row, strict=True), 1):
        bare = _typed(text.strip())
        if column == "name":
            name = " ".join(bare.split())[:200]
            if not name:
                raise FileProblem(file_name, number, place, "nothing", "the name of the piece")
            continue
        try:
            values[column] = OWNED[kind].field(column).read(bare)
        except ValueError as problem:
            raise FileProblem(file_name, number, place, shown(bare), str(problem)) from None
    return name, values


def _plain(text: str) -> str:
    """A cell that no spreadsheet takes for a formula: what begins with a sign and is no plain number is marked text."""
    return f"'{text}" if text[:1] in _SIGNS and not _NUMBER.fullmatch(text) else text


def _typed(cell: str) -> str:
    """What was marked as text, as it was before."""
    return cell[1:] if cell[:1] == "'" and cell[1:2] in _SIGNS else cell
