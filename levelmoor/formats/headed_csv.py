"""A CSV whose first line names its columns, separated by semicolons, tabs or commas. Figures come in the unit that
their heading or cell names, and leave in the base unit of what they measure."""

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from levelmoor.formats.csv_out import unmarked
from levelmoor.formats.numerals import Numerals, TwoSigns, looks_like_number, numerals_of
from levelmoor.formats.preamble import not_as_measured, units_above
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.rawtext import decode
from levelmoor.formats.rows import REMARKS, UNCLOSED, Row, rows_of, separator_of, written
from levelmoor.formats.units import BASE, WITH_UNIT, Quantity, Unit, spelled, units_in

FREQUENCY = ("frequency", "freq", "f", "qrg", "hz", "khz", "mhz", "ghz")
_MEANS = {"before": "swr", "after": "swr", "resistance": "r", "reactance": "x"}
"""What lines over the headings call the figures of a field."""
MOST_BEFORE = 100
"""Lines that may stand over the headings."""


@dataclass(frozen=True)
class HeadedCsv:
    """`columns` are fields by place, empty where a heading is not known; `rows` have the number of their line; `units`
    are those that headings name, of the fields that `measure` something."""

    name: str
    head_line: int
    headings: Sequence[str]
    columns: Sequence[str]
    rows: Sequence[Row]
    units: Mapping[str, Unit] = field(default_factory=dict)
    measures: Mapping[str, Quantity] = field(default_factory=dict)
    numerals: Numerals = field(default_factory=Numerals)
    above: Sequence[str] = ()
    """The lines over the headings."""

    def typed(self, rest: str = "") -> Iterator[tuple[int, dict[str, str]]]:
        """What stands in each row by field, with the number of its line; figures in the base unit, frequencies with
        theirs. Cells beyond the headings belong to the last column where that is `rest`; elsewhere FileProblem is
        raised."""
        width = len(self.columns)
        for n, row in self.rows:
            cells = [unmarked(c.strip()) for c in row[:width]]
            beyond = [c.strip() for c in row[width:] if c.strip()]
            if beyond and self.columns[-1] == rest:
                cells[-1] = "; ".join((cells[-1], *beyond))
            elif beyond:
                raise FileProblem(self.name, n, width + 1, shown(beyond[0]), f"{width} cells, as in the headings")
            typed = {c: cell for c, cell in zip(self.columns, cells, strict=False) if c}
            yield n, {c: self._in_base(n, c, cell) if c in self.measures else cell for c, cell in typed.items()}

    def _in_base(self, n: int, field: str, cell: str) -> str:
        """A figure in the base unit; other text as it stands."""
        quantity, unit, bare = self.measures[field], self.units.get(field), cell
        if match := WITH_UNIT.fullmatch(cell):
            own = spelled(match[2])
            if own is not None and own.quantity is not quantity:
                found = f"{shown(cell)}: {own.name} measures {own.quantity.value}"
                raise FileProblem(self.name, n, self.columns.index(field) + 1, found, quantity.value)
            unit, bare = own or unit, match[1] if own else cell
        value = self.numerals.value(bare)
        if value is None:
            return cell
        if quantity is Quantity.FREQUENCY:  # a person's unit is told with it: what has none is asked about
            return f"{self.numerals.bare(bare)} {unit.name}" if unit else self.numerals.bare(bare)
        if unit is None or unit.name == BASE[quantity]:
            return self.numerals.bare(bare)
        return f"{float(unit([value])[0]):.12g}"

    def without_unit(self, field: str) -> list[tuple[int, float]]:
        """Line and value of each figure of a field whose unit neither it nor the heading names."""
        if field not in self.columns or field in self.units:
            return []
        at = self.columns.index(field)
        cells = [(n, self.numerals.value(row[at].strip())) for n, row in self.rows if at < len(row)]
        return [(n, value) for n, value in cells if value is not None]

    def in_watts(self, n: int, power: float) -> FileProblem:
        """The question in which unit the powers are."""
        right = "watts or dBm? Write Power W or Power dBm in the heading"
        return FileProblem(self.name, n, self.columns.index("power") + 1, shown(f"{power:g}"), right)

    def problem(self, n: int, field: str, typed: Mapping[str, str], right: object) -> FileProblem:
        """What is wrong with a field of a row."""
        column = self.columns.index(field) + 1 if field in self.columns else 1
        return FileProblem(self.name, n, column, shown(typed.get(field, "")), str(right))

    def all_known(self, right: str) -> None:
        """Raises FileProblem at a column that would be passed over."""
        for at, (heading, column) in enumerate(zip(self.headings, self.columns, strict=True)):
            if not column and (heading.strip() or any(len(row) > at and row[at].strip() for _, row in self.rows)):
                raise FileProblem(self.name, self.head_line, at + 1, shown(heading.strip()), right)


def read_headed(
    name: str,
    data: bytes,
    known: Mapping[str, Sequence[str]],
    needed: Sequence[str],
    right: str,
    most: int,
    measures: Mapping[str, Quantity],
) -> HeadedCsv:
    """The rows under their headings; `known` are the headings of each field in small letters, without brackets and
    units, `measures` the fields whose figures have a unit.

    Raises
    ------
    FileProblem
        Where a `needed` field has no column (`right` says how headings look), there are no rows, or over `most`; where
        a heading's unit measures something else, or figures have two decimal signs.
    """  # fmt: skip
    lines = decode(name, data)
    at = _head_line(lines, known, needed)
    head, above = lines[at].lstrip(REMARKS + " \t"), [line for line in lines[:at] if line.strip()]
    rows = rows_of([(at + 1, head), *((n, line) for n, line in written(lines) if n > at + 1)], separator_of([head]))
    for n, cells in rows:
        if (unclosed := next((i for i, cell in enumerate(cells) if cell.startswith('"')), None)) is not None:
            raise FileProblem(name, n, unclosed + 1, *UNCLOSED)
    columns = [_field(h, known) for h in rows[0][1]] if rows else []
    while len(rows) > 2 and len(columns) > 1 and not re.search(r"\d", "".join(rows[-1][1])) and len(rows[-1][1]) == 1:
        rows.pop()  # a closing word
    for wanted in needed:
        if wanted not in columns:
            raise FileProblem(
                name, rows[0][0] if rows else 1, 1, f"no {known[wanted][0]} among {shown(head.strip())}", right
            )
    twice = next((i for i, c in enumerate(columns) if c and c in columns[:i]), None)
    if twice is not None:
        raise FileProblem(name, rows[0][0], twice + 1, shown(rows[0][1][twice].strip()), "each column once")
    if len(rows) == 1:
        raise FileProblem(name, rows[0][0] + 1, 1, "nothing under the headings", "a row for each")
    if len(rows) - 1 > most:
        raise FileProblem(name, rows[-1][0], 1, f"{len(rows) - 1} rows", f"at most {most}")
    units = {}
    for i, (column, heading) in enumerate(zip(columns, rows[0][1], strict=True)):
        named = units_in(heading) if column in measures else []
        wrong = next((u for u in named if u.quantity is not measures[column]), None)
        if wrong is not None or len(named) > 1:
            found = f"{shown(heading.strip())}, which names {' and '.join(u.name for u in named)}"
            raise FileProblem(name, rows[0][0], i + 1, found, f"one unit of {measures[column].value}")
        if column not in measures:
            continue
        accepted = (measures[column],)
        if found := not_as_measured(heading, _MEANS.get(column, column), named, above, accepted):
            raise FileProblem(name, rows[0][0], i + 1, found, "the figures as measured")
        named = named or units_above(above, column, accepted)
        if len(named) > 1:
            both = " and ".join(u.name for u in named)
            raise FileProblem(name, rows[0][0], i + 1, f"{both} are named above it", "its unit in the heading")
        if named:
            units[column] = named[0]
    table = HeadedCsv(name, rows[0][0], rows[0][1], columns, rows[1:], units, measures, above=above)
    return replace(table, numerals=_numerals(table))


def _numerals(table: HeadedCsv) -> Numerals:
    """How the figures of the file are written, by the columns that measure something."""
    places = [i for i, c in enumerate(table.columns) if c in table.measures]
    cells = [(n, i, row[i].strip()) for n, row in table.rows for i in places if i < len(row)]
    figures = [(n, i, m[1] if (m := WITH_UNIT.fullmatch(c)) else c) for n, i, c in cells]
    try:
        return numerals_of(c for _, _, c in figures if looks_like_number(c))
    except TwoSigns as doubtful:
        n, i, _ = next(f for f in figures if f[2] == str(doubtful))
        right = "one decimal sign throughout the file, and no thousands separators"
        raise FileProblem(
            table.name, n, i + 1, f"{shown(str(doubtful))} with a different decimal sign", right
        ) from None


def _head_line(lines: Sequence[str], known: Mapping[str, Sequence[str]], needed: Sequence[str]) -> int:
    """The line of the headings: the first that names every needed field, else the first that is not a remark."""
    for n, line in enumerate(lines[:MOST_BEFORE]):
        fields = [_field(h, known) for h in re.split(r"[;\t,]", line.lstrip(REMARKS + " \t"))]
        if all(f in fields for f in needed):
            return n
    return next((n - 1 for n, _ in written(lines)), 0)


def _field(heading: str, known: Mapping[str, Sequence[str]]) -> str:
    """The field of a heading: by all of it, or without its unit."""
    bare = " ".join(re.sub(r"[_()\[\],:/]+", " ", heading.lower()).split())
    without = " ".join(w for w in bare.split() if spelled(w) is None and w != "in")
    for said in (bare, without):
        found = next((field for field, names in known.items() if said in names), "")
        if found:
            return found
    return ""
