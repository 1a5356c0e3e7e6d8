"""Slips of the pen: what in a reading cannot be, or hardly can. Each is asked about, none is corrected.

The thresholds are common practice, no source.
"""

from dataclasses import dataclass
from enum import StrEnum

from levelmoor.core.readings.readings import Reading, Shown
from levelmoor.core.rf.reflection import gamma_from_impedance, swr_agrees_with_resistance, swr_from_gamma
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.figures import brief_mhz, brief_range, format_swr

FAR_OFF = 0.25
"""Distance in |gamma| from its neighbours beyond which a reading is asked about."""
LEAP = 0.4
"""The same for a reading with a neighbour on one side only: curves may be steep."""
FLAT_COUNT = 5
FLAT_SWR = 1.05
"""That many readings, none above that: a dummy load reads like that, an antenna hardly ever."""
ROOM = 0.25
"""How far outside its windows a reading is expected, as a share of the frequency."""
FACTORS = (10.0, 0.1, 1000.0, 0.001, 100.0, 0.01)
"""Decimal slips, and kHz for MHz or the other way round."""


class SlipKind(StrEnum):
    PLACE = "place"
    INSTRUMENT = "instrument"
    TRANSMIT = "transmit"
    RESISTANCE = "resistance"
    IMPEDANCE = "impedance"
    REFLECTED = "reflected"
    NEIGHBOURS = "neighbours"
    FLAT = "flat"


@dataclass(frozen=True)
class Slip:
    """A doubt: the field it is about, the question, and what may have been meant, as it would be typed."""

    kind: SlipKind
    field: str
    question: str
    meant: str = ""


@dataclass(frozen=True)
class Expected:
    """Where and with what the readings are taken.

    `windows` are where readings are expected; `range_hz` what the instrument can make, zeros where not written down;
    `may_transmit` are the windows that a meter behind a transmitter can be read in, None for one that needs none;
    `radio` names the one whose ranges they are.
    """

    windows: tuple[Window, ...] = ()
    range_hz: tuple[float, float] = (0.0, 0.0)
    may_transmit: tuple[Window, ...] | None = None
    radio: str = ""
    z0_ohm: float = 50.0


def slips(reading: Reading, expected: Expected, others: tuple[Reading, ...] = ()) -> tuple[Slip, ...]:
    """All doubts about a reading among the others of its sheet."""
    found = [
        _place(reading, expected, others),
        _instrument(reading, expected),
        _transmit(reading, expected),
        _resistance(reading, expected.z0_ohm),
        _impedance(reading, expected.z0_ohm),
        _reflected(reading),
        _neighbours(reading, others, expected.z0_ohm),
        _flat(reading, others, expected.z0_ohm),
    ]
    return tuple(s for s in found if s)


def _near(frequency_hz: float, places: tuple[tuple[float, float], ...]) -> bool:
    return any(low * (1 - ROOM) <= frequency_hz <= high * (1 + ROOM) for low, high in places)


def _place(reading: Reading, expected: Expected, others: tuple[Reading, ...]) -> Slip | None:
    f = reading.frequency_hz
    places = tuple((w.low_hz, w.high_hz) for w in expected.windows)
    if others:
        places += ((min(o.frequency_hz for o in others), max(o.frequency_hz for o in others)),)
    if not places or _near(f, places):
        return None
    meant = next((f * x for x in FACTORS if _near(f * x, places)), None)
    if meant is None:
        return None
    said = f"{brief_mhz(meant)} MHz"
    question = f"{brief_mhz(f)} MHz is far from what you measure here; did you mean {said}?"
    return Slip(SlipKind.PLACE, "frequency", question, said.replace("\u202f", ""))


def _instrument(reading: Reading, expected: Expected) -> Slip | None:
    low, high = expected.range_hz
    f = reading.frequency_hz
    if (not low or f >= low) and (not high or f <= high):
        return None
    reach = brief_range(low, high) if low and high else f"{brief_mhz(low or high)} MHz"
    return Slip(
        SlipKind.INSTRUMENT,
        "frequency",
        f"{brief_mhz(f)} MHz is outside the instrument's range ({reach}); is the frequency right?",
    )


def _transmit(reading: Reading, expected: Expected) -> Slip | None:
    if expected.may_transmit is None:
        return None
    f = reading.frequency_hz
    if any(w.low_hz <= f <= w.high_hz for w in expected.may_transmit):
        return None
    outside = f"where {expected.radio} does not transmit" if expected.radio else "not in a band of the region"
    return Slip(
        SlipKind.TRANSMIT,
        "frequency",
        f"a radio's meter can only be read where its owner may transmit, and {brief_mhz(f)} MHz is {outside}; is the "
        "frequency right?",
    )


def _resistance(reading: Reading, z0_ohm: float) -> Slip | None:
    swr, r = reading.swr, reading.r
    if swr is None or r is None or swr_agrees_with_resistance(swr.value, swr.half, r.value, r.half, z0_ohm):
        return None
    least = max(r.value / z0_ohm, z0_ohm / r.value) if r.value > 0 else float("inf")
    return Slip(
        SlipKind.RESISTANCE,
        "swr",
        f"with R = {r.text} Ω the SWR is at least {format_swr(least)} whatever X is, and {swr.text} was read; which of "
        "the two is right?",
    )


def _impedance(reading: Reading, z0_ohm: float) -> Slip | None:
    swr, r, x = reading.swr, reading.r, reading.x
    if swr is None or r is None or x is None or _resistance(reading, z0_ohm):
        return None
    found = [_swr_of(a, b, z0_ohm) for a in _ends(r) for b in _ends(x)]
    if min(found) <= swr.high and max(found) >= swr.low:
        return None
    middle = format_swr(_swr_of(r.value, x.value, z0_ohm))
    return Slip(
        SlipKind.IMPEDANCE,
        "swr",
        f"R = {r.text} Ω and X = {x.text} Ω make an SWR of {middle}, and {swr.text} was read; which of them is right?",
    )


def _ends(shown: Shown) -> tuple[float, float, float]:
    return shown.low, shown.value, shown.high


def _swr_of(r: float, x: float, z0_ohm: float) -> float:
    return float(swr_from_gamma(complex(gamma_from_impedance(complex(max(r, 0.0), x), z0_ohm))))


def _reflected(reading: Reading) -> Slip | None:
    forward, reflected = reading.forward, reading.reflected
    if forward is None or reflected is None or reflected.value <= forward.value:
        return None
    return Slip(
        SlipKind.REFLECTED,
        "reflected",
        f"{reflected.text} W reflected of {forward.text} W forward; no antenna reflects more than it "
        f"receives. Were the two swapped?",
        forward.text,
    )


def _neighbours(reading: Reading, others: tuple[Reading, ...], z0_ohm: float) -> Slip | None:
    """Far above both neighbours, or above the only near one; or far below readings that do not fall towards it."""
    below = sorted((o for o in others if o.frequency_hz < reading.frequency_hz), key=lambda o: -o.frequency_hz)
    above = sorted((o for o in others if o.frequency_hz > reading.frequency_hz), key=lambda o: o.frequency_hz)
    value = reading.magnitude(z0_ohm)[0]
    sides = [[o.magnitude(z0_ohm)[0] for o in side[:2]] for side in (below, above) if side]
    if not sides or len(others) < 2 or not _close_by(reading, below, above):
        return None
    nearest = [s[0] for s in sides]
    peak = value - max(nearest) > (FAR_OFF if len(sides) == 2 else LEAP)
    # A dip is no slip: towards one the readings on either side fall.
    level = all(len(s) == 2 and s[0] > s[1] - 0.02 for s in sides)
    hole = len(sides) == 2 and level and min(nearest) - value > FAR_OFF
    if not (peak or hole):
        return None
    beside = " and ".join(format_swr(float(swr_from_gamma(n))) for n in nearest)
    shown = format_swr(reading.swr_value(z0_ohm))
    return Slip(
        SlipKind.NEIGHBOURS,
        "swr" if reading.swr else "reflected" if reading.reflected else "r",
        f"an SWR of {shown} is next to {beside}; is it right?",
        _decimal(reading, nearest),
    )


def _close_by(reading: Reading, below: list[Reading], above: list[Reading]) -> bool:
    """Whether the neighbours are as near as the sheet's readings usually are: across a gap nothing is expected."""
    f = reading.frequency_hz
    return all(abs(side[0].frequency_hz - f) <= 0.1 * f for side in (below, above) if side)


def _decimal(reading: Reading, nearest: list[float]) -> str:
    """A tenth of the SWR, where that is what its neighbours read: 13 for 1.3."""
    if reading.swr is None or reading.swr.value < 10:
        return ""
    tenth = reading.swr.value / 10
    likely = any(abs((tenth - 1) / (tenth + 1) - n) < FAR_OFF for n in nearest)
    return f"{tenth:g}" if likely else ""


def _flat(reading: Reading, others: tuple[Reading, ...], z0_ohm: float) -> Slip | None:
    """Asked of the last reading of the sheet alone, once there are enough of them."""
    if len(others) + 1 < FLAT_COUNT or any(o.id > reading.id for o in others):
        return None
    if any(r.swr_value(z0_ohm) > FLAT_SWR for r in (*others, reading)):
        return None
    return Slip(
        SlipKind.FLAT,
        "swr",
        f"all {len(others) + 1} readings are 1:1, as with a dummy load. Is the antenna connected, and is "
        f"there enough power for the meter?",
    )
