"""Spreadsheets (.xlsx): the one table that a workbook holds, as the lines of a text file."""

import io
import warnings
from collections.abc import Iterator
from datetime import date, datetime, time
from typing import Any

from levelmoor.core.words.bounds import EXPANDED_BYTES, LINE_LETTERS
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.zip_in import ZipProblem, members_of

SHEETS_PART, OPEN_DOCUMENT = b"xl/workbook.xml", b"opendocument"
OLD_BINARY = b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"
"""What a workbook in the older binary form begins with."""
MOST_ROWS = 250_000
_RIGHT = "a workbook (.xlsx) with one table, or the table saved as CSV"


def is_spreadsheet(data: bytes) -> bool:
    """Whether the bytes are a workbook of this form, by the part that each of them has."""
    return data.startswith(b"PK\x03\x04") and SHEETS_PART in data


def lines_of_spreadsheet(name: str, data: bytes) -> list[str]:
    """The rows of its only table, cells between tabs, numbers with a decimal point and all their digits.

    Raises
    ------
    FileProblem
        Where it is damaged or too large, or more than one sheet has figures: then it is not clear which is meant.
    """
    from openpyxl import load_workbook

    try:
        members_of(data, EXPANDED_BYTES)
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # styles and extensions that are not read here
            book = load_workbook(io.BytesIO(data), read_only=True, data_only=True, keep_links=False)
        sheets = {sheet.title: list(_lines(name, sheet)) for sheet in book.worksheets}
    except ZipProblem as problem:
        raise FileProblem(name, 1, 1, str(problem), _RIGHT) from None
    except FileProblem:
        raise
    except Exception as problem:  # the library raises whatever a damaged part leads it to
        raise FileProblem(name, 1, 1, f"the workbook is damaged ({type(problem).__name__})", _RIGHT) from None
    tables = {title: lines for title, lines in sheets.items() if sum(_has_figures(line) for line in lines) > 1}
    if len(tables) > 1:
        found = f"tables on {len(tables)} sheets: {', '.join(list(tables)[:6])}"
        raise FileProblem(name, 1, 1, found, "one; save the sheet that is meant as a file of its own")
    lines = next(iter(tables.values()), next(iter(sheets.values()), []))
    if not any(lines):
        raise FileProblem(name, 1, 1, "the workbook is empty", _RIGHT)
    return lines


def _lines(name: str, sheet: Any) -> Iterator[str]:
    """Each row from the first column on that has anything in it."""
    rows = []
    for n, row in enumerate(sheet.iter_rows(values_only=True), 1):
        if n > MOST_ROWS:
            raise FileProblem(name, n, 1, f"more than {MOST_ROWS} rows", "fewer points; split the file")
        rows.append([_written(cell) for cell in row])
    first = min((next((i for i, c in enumerate(r) if c), len(r)) for r in rows if any(r)), default=0)
    for n, cells in enumerate(rows, 1):
        line = "\t".join(cells[first:]).rstrip("\t")
        if len(line) > LINE_LETTERS:
            raise FileProblem(name, n, 1, f"a row of {len(line)} characters", f"at most {LINE_LETTERS}")
        yield line


def _written(cell: object) -> str:
    if cell is None:
        return ""
    if isinstance(cell, bool):
        return str(cell)
    if isinstance(cell, int | float):
        return f"{cell:.15g}"
    if isinstance(cell, datetime | date | time):
        return cell.isoformat(" ") if isinstance(cell, datetime) else cell.isoformat()
    return " ".join(str(cell).split())


def _has_figures(line: str) -> bool:
    """Whether two of its cells begin with a digit, as a row of a table does."""
    return sum(cell.lstrip("+-").lstrip()[:1].isdigit() for cell in line.split("\t")) > 1
