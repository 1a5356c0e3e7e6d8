"""Settings of an article as a pasted table: one to a line, its name, the bands it is for, its mark as a number and in
words; and the settings card as CSV, whose first four columns are read the same way."""

from dataclasses import dataclass

from levelmoor.core.adjusting.settings_card import Card
from levelmoor.core.rf.window_text import parse_windows
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.bounds import LINE_LETTERS, NUMBERS, SETTINGS, TEXTS
from levelmoor.core.words.figures import format_mhz
from levelmoor.formats.csv_out import unmarked, write_csv
from levelmoor.formats.equipment_fields import number
from levelmoor.formats.rows import cells_of

HEADINGS = ("band", "bands", "for", "for bands")
COLUMNS = ("Setting", "Bands", "Mark", "Mark in words", "Dip MHz", "SWR", "Within the limit MHz", "Returns")


@dataclass(frozen=True)
class SettingLine:
    """A setting as a line has it."""

    name: str
    windows: tuple[Window, ...] = ()
    mark: float | None = None
    mark_words: str = ""


def write_card(card: Card) -> str:
    """The card as CSV, semicolons between: what is read again, then what was found."""
    rows: list[list[str]] = [list(COLUMNS)]
    for line in card.lines:
        s = line.setting
        rows.append(
            [
                *(s.name, ", ".join(w.name for w in s.windows), "" if s.mark is None else f"{s.mark:g}", s.mark_words),
                " ".join(format_mhz(round(b.shown.dip_hz, -3)) for b in line.bands if b.shown.dip_hz),
                " ".join(f"{b.shown.best_swr:.2f}" for b in line.bands if b.shown.best_swr),
                ", ".join(b.span for b in line.bands),
                ", ".join(b.returns.words for b in line.bands),
            ]
        )
    return write_csv(rows)


def _separator(line: str) -> str:
    """What parts a name from its bands; a comma only where nothing else does, since names may have decimals."""
    return next((s for s in ("\t", ";", ":", ", ") if s in line), ",")


def _cells(n: int, line: str, separator: str) -> list[str]:
    if len(line) > LINE_LETTERS:
        raise ValueError(f"line {n}: at most {LINE_LETTERS} characters")
    return list(cells_of(line, separator))


def read_settings(text: str, region: int) -> list[SettingLine]:
    """Settings from lines such as `mark 3; 40m; 3.2; second ring`; a tab, a semicolon, a colon or a comma parts name
    and bands, a tab or a semicolon the rest.

    A name alone is a setting for all bands.

    Raises
    ------
    ValueError
        Naming the line that cannot be read, or saying that there is none.
    """
    found: dict[str, SettingLine] = {}
    for n, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        separator = _separator(line)
        parted = _cells(n, line, separator) if separator in "\t;" else line.split(separator, 1)
        name, *bands = (unmarked(p.strip()) for p in parted)
        if n == 1 and bands and bands[0].lower() in HEADINGS:
            continue
        if not name or len(name) > TEXTS["setting.name"]:
            raise ValueError(f"line {n}: write the setting's name first, as in mark 3; 40m")
        try:
            windows = parse_windows(bands[0], region) if bands and bands[0] else ()
            typed = bands[1] if len(bands) > 1 else ""
            mark = number(typed, "a mark as a number, as in 6.5", *NUMBERS["setting.mark"]) if typed else None
        except ValueError as problem:
            raise ValueError(f"line {n}: {problem}") from None
        if name.lower() in (k.lower() for k in found):
            raise ValueError(f"line {n}: {name} appears twice")
        words = bands[2] if len(bands) > 2 else ""
        if len(words) > TEXTS["setting.mark_words"]:
            raise ValueError(f"line {n}: at most {TEXTS['setting.mark_words']} characters for the mark in words")
        found[name] = SettingLine(name, windows, mark, words)
        if len(found) > SETTINGS:
            raise ValueError(f"at most {SETTINGS} settings are allowed")
    if not found:
        raise ValueError("write one setting per line, as in mark 3; 40m")
    return list(found.values())
