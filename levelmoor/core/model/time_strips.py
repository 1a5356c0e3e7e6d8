"""Minutes of SWR as they went by, with what was done meanwhile: a rotation, a hand coming near, wind."""

from dataclasses import dataclass
from enum import StrEnum


class StripKind(StrEnum):
    """What a strip was kept for."""

    ROTATION = "rotation"
    DISTANCE = "distance"
    WIND = "wind"
    OTHER = "other"


STRIP_WORDS = {
    StripKind.ROTATION: "rotation, marks in degrees",
    StripKind.DISTANCE: "something approaching, marks in m",
    StripKind.WIND: "wind and weather",
    StripKind.OTHER: "something else",
}


@dataclass(frozen=True)
class StripPoint:
    """One sweep: seconds from the beginning, SWR at each wanted frequency, None where everything was reflected, the dip
    in Hz, and whether it counts: not while a hand was at the article."""

    at_s: float
    swr: tuple[float | None, ...]
    dip_hz: float | None = None
    counts: bool = True


@dataclass(frozen=True)
class StripMark:
    """What was done at a moment, in words, with its figure: degrees of a rotation, metres of a distance."""

    at_s: float
    words: str
    figure: float | None = None


@dataclass(frozen=True)
class TimeStrip:
    """Up to ten minutes of sweeps at up to four wanted frequencies."""

    id: str
    sample_id: str
    setup_id: str
    instrument_id: str
    kind: StripKind
    wanted_hz: tuple[float, ...]
    points: tuple[StripPoint, ...] = ()
    marks: tuple[StripMark, ...] = ()
    setting_id: str = ""
    begun_at: str = ""
    who: str = ""
    note: str = ""
