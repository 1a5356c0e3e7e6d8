"""Bands and channels of a team's own: named ranges and frequencies, understood wherever a band is."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import replace

from levelmoor.core.rf.frequency import format_mhz, parse_frequency
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.bounds import WINDOWS, one_line, unprintable

LONGEST_NAME = 40
_BETWEEN = re.compile(r"\s*(?:;|\t)\s*")


def read_own_bands(text: str) -> tuple[Window, ...]:
    """Ranges and channels, one to a line: `Fell relay; 35.00; 35.20`, `Channel 3; 35.125`; headings are passed over.

    Raises
    ------
    ValueError
        Naming the line that is neither.
    """
    found: list[Window] = []
    for n, raw in enumerate(text.splitlines(), 1):
        line = raw.strip()
        if not line:
            continue
        cells = [one_line(c) for c in _BETWEEN.split(line)]
        if len(cells) == 1 and "," in line:
            cells = [c.strip() for c in line.split(",")]
        if n == 1 and len(cells) > 1 and not any(re.search(r"\d[.,]?\d*", c) for c in cells[1:]):
            continue
        try:
            found.append(_own(cells))
        except ValueError as problem:
            raise ValueError(f"line {n}: {problem}") from None
        if any(w.name.lower() == found[-1].name.lower() for w in found[:-1]):
            raise ValueError(f"line {n}: {found[-1].name} stands twice; each has a name of its own")
    if len(found) > WINDOWS:
        raise ValueError(f"at most {WINDOWS} bands and channels are kept; these are {len(found)}")
    return tuple(found)


def _own(cells: Sequence[str]) -> Window:
    if len(cells) not in (2, 3) or not cells[0]:
        raise ValueError("a name, then one frequency or two, as in Fell relay; 35.00; 35.20")
    name = cells[0]
    if len(name) > LONGEST_NAME or unprintable(name) or not re.search(r"[^\W\d_]", name):
        raise ValueError(f"a name has letters, at most {LONGEST_NAME}; {name[:60]!r} will not do")
    low = parse_frequency(cells[1])
    high = parse_frequency(cells[2]) if len(cells) == 3 and cells[2] else low
    return Window(low, high, name)


def own_bands_text(own: Iterable[Window]) -> str:
    """The lines that are read back as the same."""
    return "\n".join(f"{w.name}; {_mhz(w.low_hz)}" + ("" if w.spot else f"; {_mhz(w.high_hz)}") for w in own)


def _mhz(hz: float) -> str:
    return format_mhz(hz).replace("\u202f", "").rstrip("0").rstrip(".")


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
