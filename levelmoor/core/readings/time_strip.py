"""What a time strip says: the numbers since each mark, and the sentence that a report needs."""

from dataclasses import dataclass
from statistics import median

from levelmoor.core.model.bench_records import moment
from levelmoor.core.model.time_strips import StripKind, StripMark, TimeStrip
from levelmoor.core.words import bounds
from levelmoor.core.words.bounds import unprintable
from levelmoor.core.words.counting import counted, duration
from levelmoor.core.words.figures import brief_mhz

LONGEST_S = 3600
MARK_LETTERS = 80
FEWEST = 2
"""Marks with figures that a rotation or a distance needs to say anything."""


@dataclass(frozen=True)
class Since:
    """What counted from one mark to the next: how many sweeps, and median, lowest and highest SWR."""

    mark: StripMark | None
    count: int
    middle: float
    low: float
    high: float


def check_strip(strip: TimeStrip) -> None:
    """Hold a strip that comes from outside against its bounds.

    Raises
    ------
    ValueError
        Naming the field and what would be right.
    """
    wanted = strip.wanted_hz
    if not 0 < len(wanted) <= bounds.STRIP_WANTED or not all(1e3 <= hz <= bounds.HIGHEST_HZ for hz in wanted):
        raise ValueError(f"wanted_hz: one to {bounds.STRIP_WANTED} frequencies from 1 kHz to 300 GHz")
    if not 0 < len(strip.points) <= bounds.STRIP_POINTS:
        raise ValueError(f"points: there are {len(strip.points)}; one to {bounds.STRIP_POINTS} are allowed")
    if strip.begun_at and (len(strip.begun_at) > 16 or moment(strip.begun_at) is None):
        raise ValueError(f"begun_at: {strip.begun_at[:40]!r} is not a date and time; write it like 2026-05-31T14:20")
    if len(strip.note) > bounds.TEXTS["strip.note"] or unprintable(strip.note):
        raise ValueError(f"note: at most {bounds.TEXTS['strip.note']} characters")
    if len(strip.marks) > bounds.STRIP_MARKS:
        raise ValueError(f"marks: there are {len(strip.marks)}; at most {bounds.STRIP_MARKS} are allowed")
    for n, p in enumerate(strip.points):
        whole = len(p.swr) == len(wanted) and all(s is None or 1 <= s < 1e6 for s in p.swr)
        if not whole or not 0 <= p.at_s <= LONGEST_S or (p.dip_hz is not None and not 0 < p.dip_hz < bounds.HIGHEST_HZ):
            raise ValueError(f"points.{n}: seconds up to {LONGEST_S}, an SWR from 1 for each target, a dip in Hz")
    for n, m in enumerate(strip.marks):
        figure = m.figure is None or abs(m.figure) <= 1e6
        if not (figure and 0 <= m.at_s <= LONGEST_S and len(m.words) <= MARK_LETTERS and not unprintable(m.words)):
            raise ValueError(f"marks.{n}: seconds up to {LONGEST_S}, at most {MARK_LETTERS} characters, a figure")


def since_marks(strip: TimeStrip, k: int = 0) -> list[Since]:
    """The numbers at a wanted frequency from the beginning and from each mark on, where anything counted."""
    edges: list[StripMark | None] = [None, *sorted(strip.marks, key=lambda m: m.at_s)]
    found = []
    for n, mark in enumerate(edges):
        begins = mark.at_s if mark else float("-inf")
        following = edges[n + 1] if n + 1 < len(edges) else None
        ends = following.at_s if following else float("inf")
        swrs = [s for p in strip.points if p.counts and begins <= p.at_s < ends and (s := p.swr[k]) is not None]
        if swrs:
            found.append(Since(mark, len(swrs), median(swrs), min(swrs), max(swrs)))
    return found


def placed(strip: TimeStrip, k: int = 0) -> list[tuple[float, Since]]:
    """The numbers by the figure of their mark: degrees from 0 to 360 of a rotation, metres of a distance."""
    turned = strip.kind is StripKind.ROTATION
    found = [
        (s.mark.figure % 360 if turned else s.mark.figure, s)
        for s in since_marks(strip, k)
        if s.mark is not None and s.mark.figure is not None
    ]
    return sorted(found, key=lambda pair: pair[0])


def strip_sentence(strip: TimeStrip, k: int = 0) -> str:
    """What the report says of it."""
    at = f"at {brief_mhz(strip.wanted_hz[k])} MHz"
    every = [s for p in strip.points if p.counts and (s := p.swr[k]) is not None]
    if not every:
        return f"No sweep counted {at}."
    where = placed(strip, k)
    still = max((s.high - s.low for _, s in where if s.count > 1), default=0.0)
    by_figure = strip.kind in (StripKind.ROTATION, StripKind.DISTANCE)
    if by_figure and len(where) >= FEWEST:
        ordered = sorted(where, key=lambda pair: pair[1].middle)
        least, most = ordered[0], ordered[-1]
        unit = "°" if strip.kind is StripKind.ROTATION else " m"
        what = "azimuths" if strip.kind is StripKind.ROTATION else "distances"
        change = most[1].middle - least[1].middle
        means = "it depends on the position" if change > 2 * still else "no more than while it was still"
        return (
            f"Over {len(where)} {what} {at} SWR is {least[1].middle:.2f} at {least[0]:g}{unit} to "
            f"{most[1].middle:.2f} at {most[0]:g}{unit}, a change of {change:.2f}; while it was still it varied by "
            f"{still:.2f}: {means}."
        )
    minutes = (strip.points[-1].at_s - strip.points[0].at_s) / 60
    left = sum(not p.counts for p in strip.points)
    out = f"; {counted(left, 'sweep')} with a hand at the antenna not counted" if left else ""
    return (
        f"Over {duration(minutes)} {at} SWR stayed between {min(every):.2f} and {max(every):.2f}, half the time below "
        f"{median(every):.2f}{out}."
    )
