"""A table in a text file: its separator, decimal sign, header and rows, each with its place."""

import csv
import re
from bisect import bisect_right
from dataclasses import dataclass, replace

from levelmoor.core.words.bounds import CELLS, COLUMNS
from levelmoor.core.words.counting import counted
from levelmoor.formats.cell_units import out_of_cells, places_of_units
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.rawtext import LARGEST_VALUE

_PLAIN = re.compile(r"[+-]?(\d+\.?\d*|\.\d+)([eEdD][+-]?\d+)?$")
_COMMA = re.compile(r"[+-]?(\d+,?\d*|,\d+)([eEdD][+-]?\d+)?$")
_INFINITE = ("inf", "+inf", "infinity", "∞")


@dataclass(frozen=True)
class Table:
    """Rows of text with the line each stands on (from 1); `header` is empty where there is none.

    `above` is the row over the header where it is as wide: some put the units in a row of their own. Units that stood
    in the cells are taken out of them, and named here.
    """

    name: str
    separator: str
    header: tuple[str, ...]
    above: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    line_numbers: tuple[int, ...]
    lines: tuple[str, ...]
    frequency_unit: str = ""
    level_unit: str = ""
    unit_columns: frozenset[int] = frozenset()
    """The columns in whose cells the unit of frequencies stood."""

    @property
    def width(self) -> int:
        return len(self.header) or len(self.rows[0])

    def place(self, row: int, column: int) -> tuple[int, int]:
        """Line and column (from 1) of a field."""
        number = self.line_numbers[row]
        return number, self._start(number, column)

    def heading_place(self, column: int) -> tuple[int, int]:
        """Line and column (from 1) of a heading; of a table without, of its first row."""
        number = self.line_numbers[0]
        above = [n for n in range(1, number) if self.lines[n - 1].strip() and self.lines[n - 1].lstrip()[0] not in "#!"]
        number = above[-1] if self.header and above else number
        return number, self._start(number, column)

    def _start(self, number: int, column: int) -> int:
        """Where a field begins on a line, from 1."""
        text = self.lines[number - 1]
        if self.separator == " ":
            starts = [m.start() for m in re.finditer(r"\S+", text)]
        else:
            starts = [0] + [m.end() for m in re.finditer(re.escape(self.separator), text)]
        if column >= len(starts):
            return len(text) + 1
        start = starts[column]
        return start + len(text[start:]) - len(text[start:].lstrip()) + 1

    def problem(self, row: int, column: int, found: str, expected: str) -> FileProblem:
        return FileProblem(self.name, *self.place(row, column), found, expected)

    def numbers(self, column: int, infinite: bool = False) -> list[float]:
        """A column as numbers; a decimal comma counts where the comma does not separate. Infinity only on request."""
        return [self._number(i, column, row[column], infinite) for i, row in enumerate(self.rows)]

    def _number(self, row: int, column: int, text: str, infinite: bool) -> float:
        bare = text.strip()
        if bare.endswith(":1"):
            bare = bare[:-2].rstrip()
        if _PLAIN.match(bare) or (self.separator != "," and _COMMA.match(bare)):
            value = float(bare.replace(",", ".").replace("D", "E").replace("d", "e"))
            if abs(value) <= LARGEST_VALUE:
                return value
            raise self.problem(row, column, f"{shown(bare)} is too large", "a measured value; look at its exponent")
        if infinite and bare.lower() in _INFINITE:
            return float("inf")
        if not bare:
            raise self.problem(row, column, "nothing where a number belongs", "every row needs a figure in this column")
        if bare.lower().strip("+-") in ("nan", "inf", "infinity", "∞"):
            expected = "a finite number; the instrument had no reading here, sweep again"
        else:
            expected = "a number such as 1.25 with one decimal sign and no unit"
        raise self.problem(row, column, f"{shown(bare)} where a number belongs", expected)

    def decimals(self, column: int) -> int:
        """The most digits after the decimal sign in a column, exponents counted in."""
        most = 0
        for row in self.rows:
            text = row[column].strip().removesuffix(":1").rstrip().lower().replace("d", "e")
            mantissa, _, exponent = text.partition("e")
            places = len(re.split(r"[.,]", mantissa)[1]) if re.search(r"[.,]", mantissa) else 0
            most = max(most, places - (int(exponent) if exponent.lstrip("+-").isdigit() else 0))
        return most


def _is_number(text: str, separator: str) -> bool:
    bare = text.strip().removesuffix(":1").rstrip()
    return bool(_PLAIN.match(bare) or (separator != "," and _COMMA.match(bare)))


def read_table(name: str, lines: list[str], named_rows: bool = False) -> Table:
    """Rows and header of a CSV: separator semicolon, tab, comma or blanks; lines before the header and a closing word
    are passed over.

    With `named_rows` a row may start with words, as the rows of a list of peaks do.

    Raises
    ------
    FileProblem
        Where there are no rows of figures, or a row is shorter or longer than the first.
    """
    raw = lines
    lines, frequency_unit, level_unit = out_of_cells(name, raw)
    text = [(n, line) for n, line in enumerate(lines, 1) if line.strip() and line.lstrip()[0] not in "#!"]
    if not text:
        raise FileProblem(name, 1, 1, "no rows of figures", "a CSV holds a frequency and a figure in every row")
    separator = _separator([line for _, line in text])
    _bounded(name, text, separator)
    rows = [(n, _fields(line, separator)) for n, line in text]
    first = _first_row_of_figures(rows, separator, named_rows)
    if first is None:
        number, _ = rows[min(1, len(rows) - 1)]
        raise FileProblem(
            name,
            number,
            1,
            f"{shown(lines[number - 1].strip())}, no row of figures",
            "a CSV holds a frequency and a figure in every row, under one line of headings",
        )
    # A closing word under the last row (END, say) is no row.
    while len(rows[-1][1]) != len(rows[first][1]) and not re.search(r"\d", " ".join(rows[-1][1])):
        rows.pop()
    # A row before it that has a figure in it is a row with a slip, not the headings.
    while first > 0 and len(rows[first - 1][1]) >= 2 and any(_is_number(f, separator) for f in rows[first - 1][1]):
        first -= 1
    header = rows[first - 1][1] if first > 0 and len(rows[first - 1][1]) >= 2 else ()
    above = rows[first - 2][1] if first > 1 and len(rows[first - 2][1]) == len(header) else ()
    table = Table(
        name,
        separator,
        header,
        above,
        tuple(fields for _, fields in rows[first:]),
        tuple(n for n, _ in rows[first:]),
        tuple(lines),
        frequency_unit,
        level_unit,
    )
    for i, row in enumerate(table.rows):
        if len(row) != table.width:
            _uneven(table, i, len(row))
    if not frequency_unit:
        return table
    starts = [table.place(0, column)[1] for column in range(table.width)]
    at = places_of_units(raw[table.line_numbers[0] - 1])
    return replace(table, unit_columns=frozenset(bisect_right(starts, place) - 1 for place in at))


def _bounded(name: str, text: list[tuple[int, str]], separator: str) -> None:
    """Before the lines are cut into fields: neither a row nor the table has more than anything measured has."""
    cells = 0
    for number, line in text:
        fields = line.count(separator) + 1
        # Blanks come in runs, so that only what they part counts.
        if fields > COLUMNS and (separator != " " or len(line.split()) > COLUMNS):
            raise FileProblem(name, number, 1, f"more than {COLUMNS} columns", "a frequency and a few figures in a row")
        cells += fields if separator != " " else 0
    if cells > CELLS:
        found = f"the table has more than {CELLS} cells"
        raise FileProblem(name, text[0][0], 1, found, "fewer columns or fewer points; cut the file")


def _uneven(table: Table, row: int, count: int) -> None:
    expected = f"{table.width} are expected, as in the line before"
    if table.separator == "," and count == 2 * table.width:
        expected += "; a decimal comma needs semicolons or tabs between the columns"
    raise table.problem(row, min(count, table.width), f"{counted(count, 'field')} in this row", expected)


def _fields(line: str, separator: str) -> tuple[str, ...]:
    if separator == " ":
        return tuple(line.split())
    try:
        fields = next(csv.reader([line], delimiter=separator))
    except csv.Error:  # a quote that is not closed, or a zero byte
        fields = line.split(separator)
    while len(fields) > 2 and not fields[-1].strip():  # a separator at the end of the line
        fields.pop()
    return tuple(field.strip() for field in fields)


def _separator(lines: list[str]) -> str:
    last = lines[len(lines) // 2 :] or lines
    for separator in (";", "\t", ","):
        if sum(separator in line for line in last) * 2 >= len(last):
            # "7,1 1,5": the comma is the decimal sign and blanks separate.
            if separator == "," and all(
                re.fullmatch(r"\s*[+-]?\d+(?:[.,]\d+)?(\s+[+-]?\d+(,\d+)?)+\s*", line) for line in last
            ):
                return " "
            return separator
    return " "


def _first_row_of_figures(rows: list[tuple[int, tuple[str, ...]]], separator: str, named: bool) -> int | None:
    """The first row of two or more fields that starts with a number, or has two of them after its name."""
    for i, (_, fields) in enumerate(rows):
        figures = [_is_number(f, separator) for f in fields]
        if len(fields) >= 2 and (figures[0] or (named and sum(figures) >= 2)):
            return i
    return None
