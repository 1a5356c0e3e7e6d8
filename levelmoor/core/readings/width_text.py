"""A width as a notebook has it: `40m 7.012 to 7.174 at 2:1, best 7.09 1.2`."""

import re
from dataclasses import dataclass

from levelmoor.core.rf.bandplan import band_plan, find_band
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.words.bounds import one_line
from levelmoor.core.words.digits import FIGURE
from levelmoor.core.words.figures import brief_range, format_range

_NUMBER = rf"{FIGURE}\s*(?:[kmg]?hz)?"
_LINE = re.compile(
    rf"(?P<band>[a-z][\w-]{{0,11}}|\S{{1,9}}?m)?:?\s*(?P<low>{_NUMBER})\s*(?:to|-|–|\.\.)\s*(?P<high>{_NUMBER})"
    rf"(?:\s*(?:at|@)\s*(?P<swr>{FIGURE})(?:\s*:\s*1)?)?"
    rf"(?:\s*[,;]?\s*best\s*(?:at)?\s*(?P<best>{_NUMBER})(?:\s*[,;]?\s*(?:swr)?\s*(?P<best_swr>{FIGURE})(?:\s*:\s*1)?)?)?",
    re.IGNORECASE,
)
USUAL_SWR = 2.0
RIGHT = "write it like 40m 7.012 to 7.174 at 2:1, best 7.09 1.2"


@dataclass(frozen=True)
class TypedWidth:
    """What a line says; the band by its name."""

    band: str
    low_hz: float
    high_hz: float
    swr: float
    best_hz: float | None
    best_swr: float | None
    step_hz: float


def read_width(text: str, region: int) -> TypedWidth:
    """What a line says; without a band the one that holds both edges' middle.

    Raises
    ------
    ValueError
        Saying what is not understood, and what would be right.
    """
    line = one_line(text)
    found = _LINE.fullmatch(line)
    if found is None:
        raise ValueError(f'"{line[:60]}" is not a width; {RIGHT}')
    low, high = (_frequency(found[k]) for k in ("low", "high"))
    if not low < high:
        raise ValueError(f"write the lower edge first: {found['low'].strip()} is not below {found['high'].strip()}")
    swr = _figure(found["swr"]) if found["swr"] else USUAL_SWR
    best, best_swr = (found[k] for k in ("best", "best_swr"))
    best_hz = _frequency(best) if best else None
    if swr <= 1 or (best_swr and not 1 <= _figure(best_swr) <= swr):
        raise ValueError(f"the SWR at the edges must be above 1, and the best no higher than that; {RIGHT}")
    if best_hz is not None and not low <= best_hz <= high:
        raise ValueError(f"the best must lie between the edges, {brief_range(low, high)}")
    band = found["band"] or ""
    if band:
        window = find_band(band, region)
        if high < window.low_hz or low > window.high_hz:
            raise ValueError(f"{brief_range(low, high)} is not on {window.name}")
        name = window.name
    else:
        middle = (low + high) / 2
        home = next((b for b in band_plan(region).bands if b.low_hz <= middle <= b.high_hz), None)
        name = home.name if home else format_range(low, high)
    step = max(_step(found["low"]), _step(found["high"]))
    return TypedWidth(name, low, high, swr, best_hz, _figure(best_swr) if best_swr else None, step)


def _figure(text: str) -> float:
    return float(text.replace(",", "."))


def _frequency(text: str) -> float:
    return parse_frequency(text.replace(",", "."), asks=True)


def _step(text: str) -> float:
    """The last digit of a frequency as it was typed, in Hz."""
    bare = re.sub(r"[^\d.,]", "", text).replace(",", ".")
    decimals = len(bare.partition(".")[2])
    one = parse_frequency(text.replace(",", ".")) / float(bare)
    return one * 10.0**-decimals
