"""CSV that goes out: no spreadsheet takes a cell of it for a formula, and what is read back is what was written."""

import csv
import io
import re
from collections.abc import Iterable, Sequence

_SIGNS = ("=", "+", "-", "@", "\t", "\r")
_NUMBER = re.compile(r"[+-]?+\d++(?:[.,]\d++)?+(?:[eE][+-]?+\d++)?+")


def marked(cell: object) -> str:
    """The cell, with an apostrophe in front where a spreadsheet would take it for a formula."""
    text = str(cell)
    return f"'{text}" if text.lstrip("'").startswith(_SIGNS) and not _NUMBER.fullmatch(text) else text


def unmarked(cell: str) -> str:
    """What was marked as text, as it was before."""
    return cell[1:] if cell[:1] == "'" and cell.lstrip("'").startswith(_SIGNS) else cell


def write_csv(rows: Iterable[Sequence[object]], separator: str = ";", line_end: str = "\n") -> str:
    """The rows as CSV, every cell marked where it needs it."""
    out = io.StringIO()
    table = csv.writer(out, delimiter=separator, lineterminator=line_end)
    table.writerows([marked(cell) for cell in row] for row in rows)
    return out.getvalue()
