"""The coarseness gate: whether a sweep is fine enough for a window to be judged on it."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from levelmoor.core.dips import Dip, Width
from levelmoor.core.frequency import format_mhz, format_step
from levelmoor.core.sweep import Sweep
from levelmoor.core.sweep_reading import SweepReading
from levelmoor.core.windows import Window

LEAST_POINTS = 21
STEPS_PER_WIDTH = 3
LEAST_DEPTH = 0.05
"""Depth in |gamma| of the dips whose width counts; shallower ones cannot hide much between two points."""
SPOT_TOLERANCE = 1e-4
"""A point this close to a spot frequency, as a share of it, was taken at it."""
SPOT_STEP = 0.1
"""Between two points whose |gamma| differs by less than this a spot may be read by interpolation."""
LARGEST_SAG = 0.25
"""How far |gamma| may sink between two points below both of them before the path between them is a guess."""


@dataclass(frozen=True)
class Coarseness:
    """What the gate found; `reason` is empty where the sweep qualifies, else names the step that would do."""

    points_inside: int
    largest_step_hz: float
    step_needed_hz: float | None
    reason: str


def coarseness(reading: SweepReading, part: Sweep | None, window: Window, level: float) -> Coarseness:
    """Judge the fineness of a sweep for a limit `level` of |gamma|; `part` is what it has inside the window.

    At least 21 points inside; each dip of the window at least 3 steps wide at half its depth, and at the limit
    where it reaches well below (a dip that barely touches the limit is narrow there at any step); no leap
    between two points so wide that the path between them would invent a dip.
    """
    if window.spot:
        return _at_spot(reading.sweep, window.low_hz)
    sweep = reading.sweep
    inside = sweep.inside(window.low_hz, window.high_hz)
    count = int(inside.size)
    step = _largest_step(sweep, window.low_hz, window.high_hz)
    if count < LEAST_POINTS:
        needed = step_for_window(window)
        return Coarseness(
            count,
            step,
            needed,
            f"only {count} of the sweep's points fall inside the window, {LEAST_POINTS} are needed; "
            f"sweep again with a step of {format_step(needed)} or less",
        )
    for dip, width in telling_widths(reading, window, level):
        here = _largest_step(sweep, width.low_hz, width.high_hz)
        if width.width_hz < STEPS_PER_WIDTH * here:
            needed = step_for_width(width.width_hz)
            return Coarseness(
                count,
                step,
                needed,
                f"the dip at {format_mhz(dip.frequency_hz)} MHz is only {width.width_hz / here:.1f} steps wide, "
                f"{STEPS_PER_WIDTH} are needed; sweep again with a step of {format_step(needed)} or less",
            )
    leap = _leap(part)
    if leap is not None:
        needed = _round_down(step / 4)
        return Coarseness(
            count,
            step,
            needed,
            f"the reflection leaps between two points near {format_mhz(leap)} MHz, what lies between is unknown; "
            f"sweep again with a step of {format_step(needed)} or less",
        )
    return Coarseness(count, step, None, "")


def _at_spot(sweep: Sweep, frequency_hz: float) -> Coarseness:
    """A spot counts where a point was taken at it, or where the points on both sides of it nearly agree."""
    f = sweep.frequency_hz
    nearest = int(np.argmin(np.abs(f - frequency_hz)))
    step = _largest_step(sweep, frequency_hz, frequency_hz)
    if abs(f[nearest] - frequency_hz) <= SPOT_TOLERANCE * frequency_hz:
        return Coarseness(1, step, None, "")
    after = int(np.searchsorted(f, frequency_hz))
    if 0 < after < f.size and abs(sweep.magnitude[after] - sweep.magnitude[after - 1]) <= SPOT_STEP:
        return Coarseness(0, step, None, "")
    needed = SPOT_TOLERANCE * frequency_hz
    return Coarseness(
        0,
        step,
        needed,
        f"nothing was read at {format_mhz(frequency_hz)} MHz, and the values on both sides of it differ too much to "
        "read between them; take a reading at that frequency",
    )


def step_for_window(window: Window) -> float:
    """The largest step in Hz that puts 21 points into the window, wherever the points come to lie."""
    return _round_down(room_of(window) / LEAST_POINTS)


def room_of(window: Window) -> float:
    """The width of a window in Hz, of a spot what is swept around it: a hundredth of its frequency."""
    return window.high_hz - window.low_hz if not window.spot else 0.01 * window.low_hz


def step_for_width(width_hz: float) -> float:
    """The largest step in Hz with which a dip of that width is three steps wide."""
    return _round_down(width_hz / STEPS_PER_WIDTH)


def telling_widths(reading: SweepReading, window: Window, level: float) -> Iterator[tuple[Dip, Width]]:
    """The closed widths that meet the window of every dip deep enough to count, at the levels that count."""
    for dip in (d for d in reading.dips if d.depth >= LEAST_DEPTH):
        for at in _levels(dip, level):
            width = reading.width(dip, at)
            if width is None or width.low_open or width.high_open:
                continue
            if width.high_hz >= window.low_hz and width.low_hz <= window.high_hz:
                yield dip, width


def _round_down(step_hz: float) -> float:
    """Three digits, and never more than was needed: a step is asked for as it is told."""
    size = 10.0 ** (math.floor(math.log10(step_hz)) - 2)
    return math.floor(step_hz / size) * size


def _levels(dip: Dip, level: float) -> list[float]:
    half_depth = dip.magnitude + dip.depth / 2
    return [half_depth, level] if dip.magnitude <= level / 2 else [half_depth]


def _largest_step(sweep: Sweep, low_hz: float, high_hz: float) -> float:
    """Largest step among the segments that meet the range, 0 where there is none."""
    f = sweep.frequency_hz
    first = max(int(np.searchsorted(f, low_hz, side="right")) - 1, 0)
    last = int(np.searchsorted(f, high_hz, side="left"))
    return float(np.max(np.diff(f[first : last + 1]), initial=0.0))


def _leap(part: Sweep | None) -> float | None:
    """Frequency of the worst leap inside the part of the sweep in the window, or None."""
    if part is None or part.points < 2 or part.scalar:
        return None
    f, value = part.minima
    sag = np.minimum(part.magnitude[:-1], part.magnitude[1:]) - value
    worst = int(np.argmax(sag))
    return float(f[worst]) if sag[worst] > LARGEST_SAG else None
