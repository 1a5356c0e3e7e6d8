"""Lines of a text file cut into cells: what parts them, quotes, remarks, and the line on which each row begins."""

import csv
import re
from collections.abc import Iterator, Sequence
from contextlib import suppress

REMARKS = "#!"
"""What lines begin with that are said and not measured."""
UNCLOSED = ("an unclosed quote", "a CSV with closed quotes")
"""What is wrong with a cell that still begins with a quote, and what would be right."""
MOST_JOINED = 20
"""Lines that a quoted cell may run over."""
BAR = "|"
_RULE = re.compile(r"\A(?=.*(?:--|==|__))[-=_+|: \t]++")
"""A line of dashes and such, as stands under headings."""
_BLANKS = re.compile(r"\A\s*+[+-]?+\d++(?:[.,]\d++)?+(?:\s++[+-]?+\d++(?:,\d++)?+(?:[eE][+-]?+\d++)?+)++\s*+")
"""A row between blanks whose commas are decimal signs."""

Row = tuple[int, tuple[str, ...]]
"""The line (from 1) on which a row begins, and its cells."""


def written(lines: Sequence[str], remarks: str = REMARKS) -> list[tuple[int, str]]:
    """The lines with something in them that are no remarks and no rule between rows, and their numbers."""
    return [
        (n, line)
        for n, line in enumerate(lines, 1)
        if line.strip() and line.lstrip()[0] not in remarks and not _RULE.fullmatch(line)
    ]


def separator_of(lines: Sequence[str], blanks: re.Pattern[str] = _BLANKS) -> str:
    """What parts the cells of most lines in the second half: a semicolon, a tab, a comma, bars around each cell, or
    else blanks.

    Where `blanks` is what every line looks like, its commas are decimal signs.
    """
    last = lines[len(lines) // 2 :] or lines
    if all(line.lstrip().startswith(BAR) for line in last):
        return BAR
    for separator in (";", "\t", ","):
        if sum(separator in line for line in last) * 2 >= len(last):
            if separator == "," and all(blanks.fullmatch(line) for line in last):
                return " "
            return separator
    return " "


def cells_of(line: str, separator: str) -> tuple[str, ...]:
    """The cells of a line without the blanks around them."""
    if separator == " ":
        return tuple(line.split())
    if separator == BAR:
        line = line.strip().strip(BAR)
    cells = line.split(separator)
    if '"' in line and line.count('"') % 2 == 0:  # all are closed
        with suppress(csv.Error):  # a zero byte, a cell beyond what the reader takes
            cells = next(csv.reader([line], delimiter=separator, skipinitialspace=True))
    return tuple(cell.strip() for cell in cells)


def rows_of(text: Sequence[tuple[int, str]], separator: str) -> list[Row]:
    """The rows of the lines; a cell in quotes may run over several lines."""
    return [(n, cells_of(line, separator)) for n, line in _joined(text)]


def _joined(text: Sequence[tuple[int, str]]) -> Iterator[tuple[int, str]]:
    at = 0
    while at < len(text):
        n, line = text[at]
        if line.count('"') % 2:
            ends = (i for i in range(at + 1, min(at + MOST_JOINED, len(text))) if text[i][1].count('"') % 2)
            end = next(ends, at)
            line, at = "\n".join(one for _, one in text[at : end + 1]), end
        yield n, line
        at += 1
