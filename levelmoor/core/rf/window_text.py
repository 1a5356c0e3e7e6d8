"""Windows as people write them: band names and ranges in one line."""

import re

from levelmoor.core.rf.bandplan import find_band
from levelmoor.core.rf.frequency import UNITS_HZ, DoubtfulFrequency, parse_frequency
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.bounds import WINDOWS, one_line

_RANGE = re.compile(r"^(?:from\s+)?(.+?)\s*(?:\s-\s|[–—]|\bto\b|\.\.|(?<=[\dzkm])-(?=\d))\s*(.+)$", re.IGNORECASE)
_UNIT = re.compile(r"(?<![a-z])[a-z]+$", re.IGNORECASE)


def parse_windows(text: str, region: int) -> tuple[Window, ...]:
    """Windows from `2m, 70cm`, `144-146 MHz`, `3.5 to 3.8; 7 to 7.2`; a range's unit may stand once, at its end.
    A frequency alone, `145.5 MHz`, is a spot.

    Raises
    ------
    ValueError
        Naming the part that is neither a band of the region nor a range.
    """
    # A comma between two digits is a decimal comma.
    text = one_line(text.replace("\n", ";"))
    between = r";|/|(?<!\d),|,(?!\d)|\band\b|\s\+\s|(?:(?<=\dm)|(?<=\dcm))\s(?=\d)"
    parts = [p.strip() for p in re.split(between, text) if p.strip()]
    if len(parts) > WINDOWS:
        raise ValueError(f"at most {WINDOWS} bands and ranges are allowed; you wrote {len(parts)}")
    return tuple(_window(part, region) for part in parts)


def _spot(part: str) -> Window | None:
    """A single frequency, as `at 145.5`, `145.500 MHz`; `99m` is not a frequency, but a band that is not there."""
    bare = re.sub(r"^at\s+", "", part, flags=re.IGNORECASE)
    if bare == part and not re.search(r"[.,]|hz$", bare, re.IGNORECASE):
        return None
    try:
        at = parse_frequency(bare, asks=True)
    except DoubtfulFrequency:
        raise
    except ValueError:
        return None
    return Window(at, at)


def _window(part: str, region: int) -> Window:
    match = _RANGE.match(part)
    if not match:
        try:
            return find_band(part, region)
        except ValueError as problem:
            spot = _spot(part)
            if spot is None:
                raise ValueError(f"{problem}; or write a range such as 144 to 146 MHz") from None
            return spot
    first, last = match[1].strip(), match[2].strip()
    unit = _UNIT.search(last)
    if unit and unit[0].lower() in UNITS_HZ and not _UNIT.search(first):
        first += unit[0]
    try:
        low, high = parse_frequency(first, asks=True), parse_frequency(last, asks=True)
    except DoubtfulFrequency:
        raise
    except ValueError as problem:
        try:
            return find_band(part, region)
        except ValueError:
            raise ValueError(str(problem)) from None
    if not low < high:
        raise ValueError(f'"{part}" runs backwards; write the lower frequency first')
    return Window(low, high)
