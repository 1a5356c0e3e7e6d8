"""Bands and channels of a team's own: named ranges and frequencies, understood wherever a band is."""

import csv
import re
from collections.abc import Iterable, Sequence
from dataclasses import replace

from levelmoor.core.rf.frequency import DOUBTFUL_FROM, parse_frequency
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.bounds import WINDOWS, one_line, unprintable
from levelmoor.core.words.figures import format_mhz

LONGEST_NAME = 40
_PLAIN: tuple[int, int, int | None] = (0, 1, 2)
_NAMES = ("name", "label", "alpha tag", "channel", "ch", "band")
_LOWER = ("from", "low", "start", "freq", "tx", "rx", "mhz", "khz", "hz")
_UPPER = ("to", "high", "upper", "end", "stop")


def read_own_bands(text: str) -> tuple[Window, ...]:
    """Ranges and channels, one to a line: `Fell relay; 35.00; 35.20`, `Channel 3; 35.125`. Of a list with headings the
    columns that they name count, and the unit of a heading; `3` alone is Channel 3.

    Raises
    ------
    ValueError
        Naming the line that is neither.
    """
    lines = text.splitlines()
    separator = next((s for s in ";\t," if any(s in line for line in lines)), ";")
    found: list[Window] = []
    columns, unit = _PLAIN, ""
    for n, raw in enumerate(lines, 1):
        if not raw.strip():
            continue
        cells = _cells(raw.strip(), separator)
        if (
            not found
            and columns is _PLAIN
            and len(cells) > 1
            and not any(re.search(r"\d[.,]?\d*", c) for c in cells[1:])
        ):
            columns, unit = _headed(cells)
            continue
        try:
            found.append(_own(cells, columns, unit))
        except ValueError as problem:
            raise ValueError(f"line {n}: {problem}") from None
        if any(w.name.lower() == found[-1].name.lower() for w in found[:-1]):
            raise ValueError(f"line {n}: {found[-1].name} appears twice; give each a different name")
    if len(found) > WINDOWS:
        raise ValueError(f"at most {WINDOWS} bands and channels are allowed; you wrote {len(found)}")
    return tuple(found)


def _cells(line: str, separator: str) -> list[str]:
    try:
        cells = next(csv.reader([line], delimiter=separator, skipinitialspace=True))
    except csv.Error:  # a zero byte, say
        cells = line.split(separator)
    return [one_line(c) for c in cells]


def _headed(headings: Sequence[str]) -> tuple[tuple[int, int, int | None], str]:
    """Where name, lower and upper frequency stand, and the unit that the frequency's heading names."""
    said = [h.lower() for h in headings]
    name = next((i for h in _NAMES for i, s in enumerate(said) if re.search(rf"\b{h}\b", s)), 0)
    free = [i for i in range(len(said)) if i != name]
    low = next((i for h in _LOWER for i in free if re.search(rf"\b{h}", said[i])), free[0])
    rest = [i for i in free if i != low]
    upper = [i for h in _UPPER for i in rest if re.search(rf"\b{h}\b", said[i])]
    upper += [i for i in rest if said[i] == said[low]]
    high = upper[0] if upper else None
    unit = re.search(r"\b([kmg]?hz)\b", said[low])
    return (name, low, high), f" {unit[1]}" if unit else ""


def _own(cells: Sequence[str], columns: tuple[int, int, int | None], unit: str) -> Window:
    name_at, low_at, high_at = columns
    if (columns is _PLAIN and len(cells) not in (2, 3)) or len(cells) <= max(name_at, low_at) or not cells[name_at]:
        raise ValueError("write a name, then one or two frequencies, as in Fell relay; 35.00; 35.20")
    name = f"Channel {cells[name_at]}" if cells[name_at].isdigit() else cells[name_at]
    if len(name) > LONGEST_NAME or unprintable(name) or not re.search(r"[^\W\d_]", name):
        raise ValueError(f"a name must have 1 to {LONGEST_NAME} characters, not {name[:60]!r}")
    low = _hz(cells[low_at], unit)
    high = _hz(cells[high_at], unit) if high_at is not None and len(cells) > high_at and cells[high_at] else low
    return Window(low, high, name)


def _hz(text: str, unit: str) -> float:
    return parse_frequency(text + unit if re.fullmatch(r"[\d.,]+", text) else text, asks=True)


def own_bands_text(own: Iterable[Window]) -> str:
    """The lines that are read back as the same."""
    return "\n".join(f"{w.name}; {_mhz(w.low_hz)}" + ("" if w.spot else f"; {_mhz(w.high_hz)}") for w in own)


def _mhz(hz: float) -> str:
    bare = format_mhz(hz).replace("\u202f", "")
    return bare.rstrip("0").rstrip(".") if hz < DOUBTFUL_FROM * 1e6 else bare


def with_ranges(text: str, own: Iterable[Window]) -> str:
    """A line with the names of own bands written as their ranges, the longest name first."""
    for window in sorted(own, key=lambda w: -len(w.name)):
        said = f"{_mhz(window.low_hz)} MHz" if window.spot else f"{_mhz(window.low_hz)} - {_mhz(window.high_hz)} MHz"
        text = re.sub(rf"(?<!\w){re.escape(window.name)}(?!\w)", said, text, flags=re.IGNORECASE)
    return text


def with_names(windows: Iterable[Window], own: Sequence[Window]) -> tuple[Window, ...]:
    """Windows that are an own band's range, by its name."""
    names = {(w.low_hz, w.high_hz): w.name for w in own}
    return tuple(replace(w, name=names.get((w.low_hz, w.high_hz), w.name)) for w in windows)
