"""Which sweeps: one wide survey, then per window a sweep with room on both sides, fine enough for the judge."""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise

from levelmoor.core.model.equipment import Instrument
from levelmoor.core.plan.plan_model import Segment
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.coarseness import room_of, step_at, step_for_width, step_for_window, telling_widths

ROOM = 0.1
"""Room on each side of a window, as a share of its width."""
SURVEY_REACH = 1.3
"""The survey reaches this factor beyond the lowest and the highest window: dips lie outside their bands."""
USUAL_POINTS = 201
"""Points where an instrument leaves the choice, or where its number is not written down."""
MOST_PASSES = 40
"""More passes than this in one run are nobody's afternoon."""
FINER_THAN_NEEDED = 2.0
"""A width known from a survey is swept twice as fine as the gate asks, since the survey may have smoothed it."""


@dataclass(frozen=True)
class Wanted:
    """A window with the largest step in Hz that shows it, and the claims that ask for it with their tightest limit."""

    window: Window
    step_hz: float
    claim_ids: tuple[str, ...]
    limit_swr: float


def step_wanted(window: Window, limit_swr: float, known: Iterable[SweepAnalysis] = ()) -> float:
    """The largest step in Hz with which the judge's coarseness gate lets a verdict on the window count.

    Without a sweep of the same sample in the same setup that is the gate's own; with one, also what the widths of its
    dips need.
    """
    step = step_for_window(window)
    level = float(gamma_from_swr(limit_swr))
    for analysis in known:
        for _what, _frequency, low, high in telling_widths(analysis, window, level):
            step = min(step, step_for_width((high - low) / FINER_THAN_NEEDED))
    return step


def span_around(window: Window, instrument: Instrument | None = None) -> tuple[float, float]:
    """The window with room on both sides, in round figures, inside the instrument's range."""
    room = ROOM * (window.high_hz - window.low_hz) if not window.spot else room_of(window) / 2
    unit = 10.0 ** (math.floor(math.log10(room_of(window))) - 2)
    low = math.floor((window.low_hz - room) / unit) * unit
    high = math.ceil((window.high_hz + room) / unit) * unit
    if low <= 0:
        low = window.low_hz
    if instrument is not None:
        if instrument.low_hz:
            low = max(low, min(instrument.low_hz, window.low_hz))
        if instrument.high_hz:
            high = min(high, max(instrument.high_hz, window.high_hz))
    return low, high


def passes_needed(low_hz: float, high_hz: float, step_hz: float, most_points: int) -> int:
    """How many passes of an instrument's points a span takes at that step; one where its points are not known."""
    return max(1, math.ceil((high_hz - low_hz) / step_hz / (most_points - 1) * (1 - 1e-12))) if most_points else 1


def cut_into_segments(low_hz: float, high_hz: float, step_hz: float, most_points: int) -> tuple[Segment, ...]:
    """As few passes as the instrument's points allow, none with a step above `step_hz`; neighbours share their end.

    `most_points` 0 is a number that is not written down: one pass with as many as are needed.
    """
    span = high_hz - low_hz
    if not most_points:
        return (Segment(low_hz, high_hz, max(math.ceil(span / step_hz * (1 - 1e-12)) + 1, USUAL_POINTS)),)
    passes = passes_needed(low_hz, high_hz, step_hz, most_points)
    while True:
        ends = [low_hz + round(span * k / passes) for k in range(passes)] + [high_hz]
        pieces = list(pairwise(ends))
        longest = max(b - a for a, b in pieces)
        if longest <= step_hz * (most_points - 1) * (1 + 1e-12):
            points = min(most_points, max(math.ceil(longest / step_hz * (1 - 1e-12)) + 1, USUAL_POINTS))
            return tuple(Segment(a, b, points) for a, b in pieces)
        passes += 1


def cut_by_frequency(
    low_hz: float, high_hz: float, window: Window, step_hz: float, most_points: int
) -> tuple[Segment, ...]:
    """A span in passes whose step grows with the frequency as the gate lets it, where that takes fewer of them.

    Only where nothing but the frequency asks for `step_hz`: over 25 to 1300 MHz the low end asks for a step that the
    high end does not need.
    """
    uniform = cut_into_segments(low_hz, high_hz, step_hz, most_points)
    if not most_points or len(uniform) == 1 or step_hz < step_for_window(window):
        return uniform
    pieces: list[Segment] = []
    at = low_hz
    while at < high_hz and len(pieces) < len(uniform):
        step = step_at(window, max(at, window.low_hz))
        end = min(at + math.floor(step * (most_points - 1)), high_hz)
        points = min(most_points, max(math.ceil((end - at) / step * (1 - 1e-12)) + 1, USUAL_POINTS))
        pieces.append(Segment(at, end, points))
        at = end
    return tuple(pieces) if at >= high_hz else uniform


def survey_span(windows: Iterable[Window], instrument: Instrument) -> tuple[float, float]:
    """From below the lowest to above the highest window, inside the instrument's range, in round figures."""
    listed = list(windows)
    low = min(w.low_hz for w in listed) / SURVEY_REACH
    high = max(w.high_hz for w in listed) * SURVEY_REACH
    unit = 10.0 ** (math.floor(math.log10(high)) - 1)
    low, high = math.floor(low / unit) * unit or low, math.ceil(high / unit) * unit
    if instrument.low_hz:
        low = max(low, instrument.low_hz)
    if instrument.high_hz:
        high = min(high, instrument.high_hz)
    return low, high


def share_sweeps(wanted: list[Wanted], most_points: int) -> list[list[Wanted]]:
    """Windows that one pass shows together: those inside another's span, where its points still suffice for all."""
    groups: list[list[Wanted]] = []
    for one in sorted(wanted, key=lambda w: (w.window.low_hz - w.window.high_hz, w.window.low_hz)):
        for group in groups:
            low, high = span_around(group[0].window)
            inside = low <= one.window.low_hz and one.window.high_hz <= high
            step = min([one.step_hz, *(w.step_hz for w in group)])
            if inside and len(cut_into_segments(low, high, step, most_points)) == 1:
                group.append(one)
                break
        else:
            groups.append([one])
    return groups
