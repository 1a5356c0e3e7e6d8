"""A table in a text file: its separator, decimal sign, header and rows, each with its place."""

import re
from bisect import bisect_right
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import NoReturn

from levelmoor.core.words.bounds import CELLS, COLUMNS
from levelmoor.core.words.counting import counted
from levelmoor.formats.cell_units import out_of_cells, places_of_units
from levelmoor.formats.numerals import Numerals, TwoSigns, looks_like_number, numerals_of
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.rawtext import LARGEST_VALUE
from levelmoor.formats.rows import REMARKS, UNCLOSED, Row, cells_of, rows_of, separator_of, written
from levelmoor.formats.units import WITH_UNIT, spelled

_INFINITE = ("inf", "+inf", "infinity", "∞")
_MOMENT = re.compile(r"(\d{4}-\d\d-\d\d)?[T ]?(\d{1,2}:\d\d(:\d\d([.,]\d{1,6})?)?)?|\d{1,2}[./]\d{1,2}[./]\d{2,4}")
"""A day, a time, or both, as loggers begin their rows."""
OF_FREQUENCY = re.compile(r"freq|\bf\b|\bqrg\b|(?<![^\W\d_])[kmg]?hz", re.IGNORECASE)
"""What headings of frequencies say."""


@dataclass(frozen=True)
class Table:
    """Rows of text with the line each stands on (from 1); `header` is empty where there is none.

    `above` is the row over the header where it is as wide: some put the units in a row of their own. Units that stood
    in the cells are taken out of them and named in `cell_units`, by column. `preamble` is what stands over the header.
    """

    name: str
    separator: str
    header: tuple[str, ...]
    above: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    line_numbers: tuple[int, ...]
    lines: tuple[str, ...]
    cell_units: Mapping[int, str] = field(default_factory=dict)
    preamble: tuple[str, ...] = ()
    numerals: Numerals = field(default_factory=Numerals)
    in_mhz: frozenset[int] = frozenset()
    """Columns whose units were taken out, their figures written with points."""

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
        value = (Numerals() if column in self.in_mhz else self.numerals).value(bare)
        if value is not None:
            if abs(value) <= LARGEST_VALUE:
                return value
            raise self.problem(row, column, f"{shown(bare)} is too large", "a plausible value; check its exponent")
        if bare.startswith('"'):
            raise self.problem(row, column, *UNCLOSED)
        if infinite and bare.lower() in _INFINITE:
            return float("inf")
        if not bare:
            raise self.problem(row, column, "an empty cell", "a figure in this column in every row")
        if bare.lower().strip("+-") in ("nan", "inf", "infinity", "∞"):
            expected = "a finite number; the instrument had no reading here, so sweep again"
        else:
            expected = "a number such as 1.25 with one decimal sign and no unit"
        raise self.problem(row, column, f"{shown(bare)}, which is not a number", expected)

    def decimals(self, column: int) -> int:
        """The most digits after the decimal sign in a column, exponents counted in."""
        return max((self.numerals.decimals(row[column]) for row in self.rows), default=0)


def read_table(name: str, lines: list[str], named_rows: bool = False, short_rows: bool = False) -> Table:
    """Rows and header of a CSV: separator semicolon, tab, comma or blanks; lines before the header and a closing word
    are passed over.

    With `named_rows` a row may start with words, as the rows of a list of peaks do; with `short_rows` the last fields
    of a row may be missing, as a note that nobody wrote.

    Raises
    ------
    FileProblem
        Where there are no rows of figures, or a row is shorter or longer than the first.
    """
    raw = lines
    lines, frequency_unit, level_unit = out_of_cells(name, raw)
    text = written(lines)
    if not text:
        raise FileProblem(name, 1, 1, "no rows of figures", "a CSV with a frequency and a figure in every row")
    separator = separator_of([line for _, line in text])
    _bounded(name, text, separator)
    rows = [(n, _ended(cells)) for n, cells in rows_of(text, separator)]
    first = _first_row_of_figures(rows, named_rows)
    if first is None:
        number, _ = rows[min(1, len(rows) - 1)]
        raise FileProblem(
            name,
            number,
            1,
            f"{shown(lines[number - 1].strip())}, which is not a row of figures",
            "a CSV with a frequency and a figure in every row, below one line of headings",
        )
    # A closing word under the last row (END, say) is no row.
    while len(rows[-1][1]) != len(rows[first][1]) and not re.search(r"\d", " ".join(rows[-1][1])):
        rows.pop()
    if not named_rows:
        rows = rows[: first + _before_summary(rows[first:], lines)]
    # A row before it that has a figure in it is a row with a slip, not the headings.
    while first > 0 and len(rows[first - 1][1]) >= 2 and any(map(looks_like_number, rows[first - 1][1])):
        first -= 1
    if short_rows:
        wide = max(len(cells) for _, cells in rows[max(first - 1, 0) :])
        rows = [(n, (*cells, *("",) * (wide - len(cells)))) for n, cells in rows]
    header, above, rest = _headings(rows, first, lines, separator)
    table = Table(
        name,
        separator,
        header,
        above,
        tuple(fields for _, fields in rows[first:]),
        tuple(n for n, _ in rows[first:]),
        tuple(lines),
        preamble=tuple(line.strip(" \t#!") for line in raw[: rest - 1] if line.strip()),
    )
    table = replace(table, rows=tuple(_even(table, i) for i in range(len(table.rows))))
    if frequency_unit:
        starts = [table.place(0, column)[1] for column in range(table.width)]
        units = {"frequency": frequency_unit, "level": level_unit}
        at = places_of_units(raw[table.line_numbers[0] - 1])
        columns = {bisect_right(starts, place) - 1: of for place, of in at}
        of_frequency = frozenset(c for c, of in columns.items() if of == "frequency")
        table = replace(table, cell_units={c: units[of] for c, of in columns.items()}, in_mhz=of_frequency)
    table = _without_units(table)
    try:
        return replace(table, numerals=numerals_of(_written_with_signs(table)))
    except TwoSigns as doubtful:
        cell = str(doubtful)
        row, column = next((i, r.index(cell)) for i, r in enumerate(table.rows) if cell in r)
        right = "one decimal sign throughout the file, and no thousands separators"
        raise table.problem(row, column, f"{shown(cell)} with a different decimal sign", right) from None


def _headings(
    rows: Sequence[Row], first: int, lines: Sequence[str], separator: str
) -> tuple[tuple[str, ...], tuple[str, ...], int]:
    """The headings over the first row of figures, the row over them where it is as wide, and the line they stand on.

    A remark right over the figures is one that names a frequency and has as many fields.
    """
    number, fields = rows[first]
    headed = first > 0 and len(rows[first - 1][1]) >= 2
    above = rows[first - 1][0] if headed else 0
    remarks = [n for n in range(above + 1, number) if lines[n - 1].strip()]
    if remarks:
        header = _ended(cells_of(lines[remarks[-1] - 1].strip().lstrip(REMARKS + " \t"), separator))
        prose = any(len(re.findall(r"[^\W\d]{2,}", h)) > 3 or re.search("[:=]", h) for h in header)
        if len(header) == len(fields) >= 2 and any(map(OF_FREQUENCY.search, header)) and not prose:
            return header, (), remarks[-1]
    if not headed:
        return (), (), number
    header = rows[first - 1][1]
    over = rows[first - 2][1] if first > 1 and len(rows[first - 2][1]) == len(header) else ()
    if not over and above > 1 and any(spelled(h.strip("()[]")) for h in header):  # units alone: a remark may name them
        marked = _ended(cells_of(lines[above - 2].strip().lstrip(REMARKS + " \t"), separator))
        over = marked if len(marked) == len(header) else ()
    return header, over, above


def _before_summary(rows: Sequence[Row], lines: Sequence[str]) -> int:
    """How many rows stand before what is summed up below an empty line: there each line begins with words."""
    end = len(rows)
    while end > 1 and not looks_like_number(rows[end - 1][1][0]) and not re.match(r"[-+.]?\d", rows[end - 1][1][0]):
        end -= 1
        if not lines[rows[end][0] - 2].strip():
            return end
    return len(rows)


def _ended(cells: tuple[str, ...]) -> tuple[str, ...]:
    """The cells up to the last that is not empty, two at least: separators at the end of a line part nothing."""
    width = next((i for i in range(len(cells), 2, -1) if cells[i - 1]), 2)
    return cells[:width]


def _even(table: Table, row: int) -> tuple[str, ...]:
    """A row as wide as the headings: a separator may stand at the end of either."""
    fields = table.rows[row]
    if len(fields) == table.width:
        return fields
    while len(fields) > table.width and not fields[-1]:
        fields = fields[:-1]
    ended = table.separator != " " and table.lines[table.line_numbers[row] - 1].rstrip(" ").endswith(table.separator)
    if len(fields) == table.width - 1 and ended:
        fields = (*fields, "")
    if len(fields) != table.width:
        _uneven(table, row, len(fields))
    return fields


def _without_units(table: Table) -> Table:
    """The table with the units taken out of its cells, where all of a column have one.

    Raises
    ------
    FileProblem
        Where the cells of one column have different units.
    """
    first = table.rows[0]
    matches = {c: WITH_UNIT.fullmatch(first[c]) for c in range(table.width) if not looks_like_number(first[c])}
    found = {c: unit for c, match in matches.items() if match and (unit := spelled(match[2])) is not None}
    if not found:
        return table
    units = dict(table.cell_units)
    rows = [list(row) for row in table.rows]
    for column, unit in found.items():
        for i, row in enumerate(rows):
            one = WITH_UNIT.fullmatch(row[column])
            if one is None:
                break
            if spelled(one[2]) is not unit:
                raise table.problem(i, column, f"{shown(one[2])} after {unit.name}", "one unit per column")
            row[column] = one[1]
        units[column] = unit.name
    return replace(table, rows=tuple(map(tuple, rows)), cell_units=units)


def _written_with_signs(table: Table) -> Iterable[str]:
    """The cells that may tell which sign parts decimals; none where there are no commas in them."""
    if table.separator == "," and not any('"' in table.lines[n - 1] for n in table.line_numbers):
        return ()
    columns = [i for i in range(table.width) if i not in table.in_mhz]
    cells = [row[i] for row in table.rows for i in columns]
    if not any("," in c or c.count(".") > 1 for c in cells):
        return ()
    return cells


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
        raise FileProblem(name, text[0][0], 1, found, "fewer columns or fewer points; split the file")


def _uneven(table: Table, row: int, count: int) -> NoReturn:
    expected = f"{table.width} fields, as in the line before"
    if table.separator == "," and count == 2 * table.width:
        expected += "; a decimal comma needs semicolons or tabs between the columns"
    raise table.problem(row, min(count, table.width), f"{counted(count, 'field')} in this row", expected)


def _first_row_of_figures(rows: Sequence[Row], named: bool) -> int | None:
    """The first row of two or more fields that starts with a number, or has two of them after its name, day or time."""
    for i, (_, fields) in enumerate(rows):
        figures = [looks_like_number(f) or bool(WITH_UNIT.fullmatch(f)) for f in fields]
        if len(fields) >= 2 and (figures[0] or ((named or _MOMENT.fullmatch(fields[0])) and sum(figures) >= 2)):
            return i
    return None
