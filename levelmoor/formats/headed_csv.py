"""A CSV whose first line names its columns, separated by semicolons, tabs or commas."""

import csv
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.rawtext import decode

FREQUENCY_HEADINGS = tuple(
    " ".join(filter(None, (name, unit)))
    for name in ("frequency", "freq", "f", "qrg", "")
    for unit in ("", "mhz", "khz", "hz")
    if name or unit
)


@dataclass(frozen=True)
class HeadedCsv:
    """`columns` are fields by place, empty where a heading is not known; `rows` have the number of their line."""

    name: str
    head_line: int
    headings: Sequence[str]
    columns: Sequence[str]
    rows: Sequence[tuple[int, Sequence[str]]]

    def typed(self, rest: str = "") -> Iterator[tuple[int, dict[str, str]]]:
        """What stands in each row by field, with the number of its line. Cells beyond the headings belong to the last
        column where that is `rest`; elsewhere FileProblem is raised."""
        width = len(self.columns)
        for n, row in self.rows:
            cells, beyond = [c.strip() for c in row[:width]], [c.strip() for c in row[width:] if c.strip()]
            if beyond and self.columns[-1] == rest:
                cells[-1] = "; ".join((cells[-1], *beyond))
            elif beyond:
                raise FileProblem(self.name, n, width + 1, shown(beyond[0]), f"{width} cells, as the headings")
            yield n, {c: cell for c, cell in zip(self.columns, cells, strict=False) if c}

    def heading(self, field: str) -> str:
        return self.headings[self.columns.index(field)]

    def frequency(self, typed: Mapping[str, str]) -> str:
        """The frequency of a row with the unit that its heading names."""
        text, heading = typed.get("frequency", ""), self.heading("frequency").lower()
        unit = next((u for u in (" kHz", " MHz", " Hz") if u.strip().lower() in heading), "")
        return text + unit if re.fullmatch(r"[\d.,]+", text) else text

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
    name: str, data: bytes, known: Mapping[str, Sequence[str]], needed: Sequence[str], right: str, most: int
) -> HeadedCsv:
    """The rows under their headings; `known` are the headings of each field in small letters, without brackets.

    Raises
    ------
    FileProblem
        Where a `needed` field has no column (`right` says how headings look), there are no rows, or over `most`.
    """
    lines = decode(name, data)
    for n, line in enumerate(lines):  # remarks above the headings
        if line.strip() and (line.lstrip()[0] not in "#!" or re.search(r"[;\t,]", line)):
            break
        lines[n] = ""
    head = next((line for line in lines if line.strip()), "")
    rows = csv_rows(name, lines, max(";\t,", key=head.count))
    columns = [_field(h, known) for h in rows[0][1]] if rows else []
    for field in needed:
        if field not in columns:
            raise FileProblem(
                name, rows[0][0] if rows else 1, 1, f"no {known[field][0]} among {shown(head.strip())}", right
            )
    twice = next((i for i, c in enumerate(columns) if c and c in columns[:i]), None)
    if twice is not None:
        raise FileProblem(name, rows[0][0], twice + 1, shown(rows[0][1][twice].strip()), "each column once")
    if len(rows) == 1:
        raise FileProblem(name, rows[0][0] + 1, 1, "nothing under the headings", "a row for each")
    if len(rows) - 1 > most:
        raise FileProblem(name, rows[-1][0], 1, f"{len(rows) - 1} rows", f"at most {most} are taken")
    return HeadedCsv(name, rows[0][0], rows[0][1], columns, rows[1:])


def csv_rows(name: str, lines: Sequence[str], separator: str) -> list[tuple[int, list[str]]]:
    """The rows that are not empty, each with the number of its line. Raises FileProblem where it is no CSV."""
    reader = csv.reader(lines, delimiter=separator)
    try:
        return [(reader.line_num, row) for row in reader if any(c.strip() for c in row)]
    except csv.Error as problem:
        raise FileProblem(name, max(reader.line_num, 1), 1, str(problem), "a CSV with its quotes closed") from None


def _field(heading: str, known: Mapping[str, Sequence[str]]) -> str:
    bare = " ".join(re.sub(r"[_()\[\],:]+", " ", heading.lower()).split())
    return next((field for field, names in known.items() if bare in names), "")
