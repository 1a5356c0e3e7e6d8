"""The windows of a claim as they are written: bands side by side or from one to another, ranges, frequencies."""

import re
from dataclasses import dataclass

from levelmoor.core.claims.quantity_text import NUMBER, number_of
from levelmoor.core.rf.bandplan import REGIONS, band_plan, find_band
from levelmoor.core.rf.frequency import UNITS_HZ
from levelmoor.core.rf.window_text import parse_windows
from levelmoor.core.rf.windows import Window


@dataclass(frozen=True)
class Doubt:
    """What could mean more than one thing, with each meaning as a text to put in its place."""

    words: str
    answers: tuple[tuple[str, str], ...]
    """Each answer's words and the whole line rewritten that way."""


def doubtful_bands(text: str, rest: str) -> tuple[Doubt, ...]:
    """A bare number where a band belongs: a wavelength, or a frequency."""
    found = re.search(
        r"(?:^|[\s;]|(?<!\d),)(\d{1,3})(?=$|[\s;]|,(?!\d))(?!\s*(?:-|–|to\b|\.\.|m\b|cm\b|[kMG]?Hz|dB|min\b|s\b|h\b|%|°))",
        rest,
        re.IGNORECASE,
    )
    if not found or re.search(r"(?:-|–|to|\.\.)\s*$", rest[: found.start(1)]):
        return ()
    number = found[1]
    line = " ".join(text.split())
    at = line.rindex(number)
    answers = []
    for unit, words in (("m", f"the {number} m band"), ("cm", f"the {number} cm band"), (" MHz", f"{number} MHz")):
        answers.append((words, f"{line[:at]}{number}{unit}{line[at + len(number) :]}"))
    known = {b.name for r in REGIONS for b in band_plan(r).bands}
    kept = [
        a
        for a in answers
        if a[0].endswith("MHz") or a[0].removeprefix("the ").removesuffix(" band").replace(" ", "") in known
    ]
    return (Doubt(f'Does "{number}" mean {" or ".join(words for words, _ in kept)}?', tuple(kept)),)


def windows_in(rest: str, region: int) -> tuple[tuple[Window, ...], str]:
    """Windows from what is left, bands side by side or from one to another; then the words that are none."""
    rest = re.sub(r"\b(\d{1,3})\s*(m|cm)\b", r"\1\2", rest, flags=re.IGNORECASE)
    spanned = re.sub(
        r"\b(\d+)(m|cm)?\s*(?:-|–|to|\.\.)\s*(\d+)(m|cm)\b", lambda m: _spanned(m, region), rest, flags=re.IGNORECASE
    )
    bands: list[Window] = []
    names = sorted((n for b in band_plan(region).bands for n in (b.name, *b.aliases)), key=len, reverse=True)
    pieces = re.split(r"\s*[;&+]\s*|(?<!\d),\s*|,(?!\d)\s*|\s+and\s+", spanned)
    words: list[str] = []
    for piece in (p for p in pieces if p):
        whole = _try(piece, region)
        if whole:
            bands += whole
            continue
        for token in piece.split():
            one = _try(token, region) if any(token.lower() == n.lower().replace(" ", "") for n in names) else ()
            bands += one
            if not one:
                words.append(token)
    leftover = " ".join(words)
    range_in_it = re.search(
        r"(?<![\d.,])\d[\d.,]*+\s*(?:[kMG]?Hz)?\s*(?:-|–|to|\.\.)\s*\d[\d.,]*\s*(?:[kMG]?Hz)?", leftover, re.IGNORECASE
    )
    if range_in_it:
        bands += parse_windows(range_in_it[0], region)
        leftover = f"{leftover[: range_in_it.start()]} {leftover[range_in_it.end() :]}"
    leftover = " ".join(leftover.split())
    if re.search(r"\d\s*(?:m|cm|[kMG]?Hz)\b|\d[.,]\d", leftover, re.IGNORECASE):
        bands += parse_windows(leftover, region)  # a spot; or a band that is none: says which, and what there is
        leftover = ""
    return tuple(dict.fromkeys(bands)), leftover


def _try(text: str, region: int) -> tuple[Window, ...]:
    try:
        return (find_band(text, region),)
    except ValueError:
        alone = re.fullmatch(rf"{NUMBER}\s*[kMG]?Hz", text.strip(), re.IGNORECASE)
        if not alone and not re.search(r"\d[^\d]*(?:-|–|\bto\b|\.\.)[^\d]*\d", text):
            return ()
    try:
        return parse_windows(text, region)
    except ValueError:
        return ()


def _spanned(match: "re.Match[str]", region: int) -> str:
    """`160-10m`: every band of the region from one to the other, by name."""
    first, last = f"{match[1]}{match[2] or match[4]}", f"{match[3]}{match[4]}"
    bands = band_plan(region).bands
    names = [b.name for b in bands]
    if first not in names or last not in names:
        return match[0]
    i, j = sorted((names.index(first), names.index(last)))
    return ", ".join(names[i : j + 1])


def band_around(window: Window, region: int) -> Window:
    """A width is claimed in a band: where one frequency is named, the band that it lies in."""
    bands = band_plan(region).bands
    return next((b.window for b in bands if window.spot and b.low_hz <= window.low_hz <= b.high_hz), window)


def tolerances_as_ranges(rest: str) -> str:
    """A frequency with how near it is claimed, `14.2 MHz ±50 kHz` or `145 MHz ± 1 %`, as the range it stands for."""

    def span(match: "re.Match[str]") -> str:
        at, unit = number_of(match[1]), match[2] or "MHz"
        by = number_of(match[3])
        hz = at * UNITS_HZ[unit.lower()]
        away = hz * by / 100 if match[4] == "%" else by * UNITS_HZ[match[4].lower()]
        return f"{(hz - away) / 1e6:.9g} - {(hz + away) / 1e6:.9g} MHz"

    pattern = rf"{NUMBER}\s*([kMG]?Hz)?\s*(?:±|\+/-|\+-)\s*{NUMBER}\s*(%|[kMG]?Hz)"
    return re.sub(pattern, span, rest, flags=re.IGNORECASE)
