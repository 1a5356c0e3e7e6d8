"""The notebook of widths as CSV: one reading a line, semicolons between; what was typed comes back as it was."""

from collections.abc import Sequence

from levelmoor.core.readings.width_text import TypedWidth, read_width
from levelmoor.core.words.bounds import LINE_LETTERS
from levelmoor.formats.csv_out import unmarked, write_csv
from levelmoor.formats.rows import cells_of

COLUMNS = ("Day", "Band", "Lower MHz", "Upper MHz", "SWR", "Best MHz", "Best SWR", "Round", "Note")


def write_widths(rows: Sequence[tuple[str, TypedWidth, int, str]]) -> str:
    """Day, width, round and note of each reading."""
    table: list[list[object]] = [list(COLUMNS)]
    for day, w, round_, note in rows:
        decimals = 0 if w.step_hz <= 0 else max(0, len(f"{w.step_hz / 1e6:.9f}".rstrip("0").partition(".")[2]))
        best = f"{w.best_hz / 1e6:.9g}" if w.best_hz else ""
        edges = [f"{hz / 1e6:.{decimals}f}" if decimals else f"{hz / 1e6:.9g}" for hz in (w.low_hz, w.high_hz)]
        table.append([day, w.band, *edges, f"{w.swr:g}", best, f"{w.best_swr:g}" if w.best_swr else "", round_, note])
    return write_csv(table)


def read_widths(text: str, region: int) -> list[tuple[str, TypedWidth, int, str]]:
    """The readings of such a table, or lines as a notebook has them.

    Raises
    ------
    ValueError
        Naming the line.
    """
    found = []
    for n, line in enumerate(text.splitlines(), 1):
        if len(line) > LINE_LETTERS:
            raise ValueError(f"line {n}: at most {LINE_LETTERS} characters")
        cells = [unmarked(c) for c in cells_of(line, ";")]
        if not any(cells) or cells[:2] == list(COLUMNS[:2]):
            continue
        try:
            found.append(_of_table(cells, region) if len(cells) >= 5 else ("", read_width(line, region), 0, ""))
        except ValueError as problem:
            raise ValueError(f"line {n}: {problem}") from None
    if not found:
        raise ValueError("write one width per line, as in 40m 7.012 to 7.174 at 2:1")
    return found


def _of_table(cells: list[str], region: int) -> tuple[str, TypedWidth, int, str]:
    day, band, low, high, swr, best, best_swr, round_, note = (*cells, "", "", "", "")[:9]
    said = f"{band} {low} to {high} at {swr}" + (f", best {best} {best_swr}" if best else "")
    if round_ and not round_.isdigit():
        raise ValueError(f'"{round_}" is not a round; count from 1')
    return day, read_width(said.strip(), region), int(round_ or 0), note[:2000]
