"""The coarseness gate: whether a sweep is fine enough for a window to be judged on it."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from levelmoor.core.rf.dips import Dip, Peak, Width
from levelmoor.core.rf.frequency import format_mhz, format_step
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.rf.windows import Window

LEAST_POINTS = 21
STEPS_PER_WIDTH = 3
LEAST_DEPTH = 0.03
"""Depth in |gamma| of the dips, and height of the peaks, whose width counts; less cannot hide much between two
points."""
SHARE_OF_FREQUENCY = 1 / 140
"""The largest step as a share of its frequency. A parasitic resonance of Q 300 is three such steps wide to where its
reflection has fallen by half: what is narrower than that shows itself as a lone dip or peak, or not at all."""
SPOT_TOLERANCE = 1e-4
"""A point this close to a spot frequency, as a share of it, was taken at it."""
SPOT_STEP = 0.1
"""Between two points whose |gamma| differs by less than this a spot may be read by interpolation,"""
SPOT_SHARE = 1 / 1000
"""and whose step is no larger than this share of the frequency: a small loop is hardly wider."""
LARGEST_SAG = 0.25
"""How far |gamma| may sink between two points below both of them before the path between them is a guess."""


@dataclass(frozen=True)
class Coarseness:
    """What the gate found; `reason` is empty where the sweep qualifies, else names the step that would do."""

    points_inside: int
    largest_step_hz: float
    step_needed_hz: float | None
    reason: str


def coarseness(analysis: SweepAnalysis, part: Sweep | None, window: Window, level: float) -> Coarseness:
    """Judge the fineness of a sweep for a limit `level` of |gamma|; `part` is what it has inside the window.

    At least 21 points inside; no step that meets the window above a twentieth of its width, nor above a share of the
    frequency; each dip and each peak of the window at least 3 steps wide at half its depth, and a dip that reaches well
    below the limit also there; no leap between two points so wide that the path between them would invent a dip.
    """
    if window.spot:
        return _at_spot(analysis.sweep, window.low_hz)
    sweep = analysis.sweep
    count = int(sweep.inside(window.low_hz, window.high_hz).size)
    step = _largest_step(sweep, window.low_hz, window.high_hz)

    def too_coarse(needed: float, why: str) -> Coarseness:
        return Coarseness(count, step, needed, f"{why}; sweep again with a step of {format_step(needed)} or less")

    if count < LEAST_POINTS:
        why = f"only {count} of the sweep's points fall inside the window, {LEAST_POINTS} are needed"
        return too_coarse(step_for_window(window), why)
    if step > room_of(window) / (LEAST_POINTS - 1) * (1 + 1e-9):
        why = f"a step of {format_step(step)} in the window is more than a twentieth of it"
        return too_coarse(step_for_window(window), why)
    wide = _step_too_wide(sweep, window)
    if wide is not None:
        why = f"a step of {format_step(wide[1])} at {format_mhz(round(wide[0], -3))} MHz could hide a narrow resonance"
        return too_coarse(step_for_window(window), why)
    for what, frequency, low, high in telling_widths(analysis, window, level):
        here = _largest_step(sweep, low, high)
        if high - low < STEPS_PER_WIDTH * here:
            why = (
                f"the {what} at {format_mhz(frequency)} MHz is only {(high - low) / here:.1f} steps wide, "
                f"{STEPS_PER_WIDTH} are needed"
            )
            return too_coarse(step_for_width(high - low), why)
    leap = _leap(part)
    if leap is not None:
        why = f"the reflection leaps between two points near {format_mhz(leap)} MHz, what lies between is unknown"
        return too_coarse(_round_down(step / 4), why)
    return Coarseness(count, step, None, "")


def _at_spot(sweep: Sweep, frequency_hz: float) -> Coarseness:
    """A spot counts where a point was taken at it, or where the points on both sides of it nearly agree."""
    f = sweep.frequency_hz
    nearest = int(np.argmin(np.abs(f - frequency_hz)))
    step = _largest_step(sweep, frequency_hz, frequency_hz)
    if abs(f[nearest] - frequency_hz) <= SPOT_TOLERANCE * frequency_hz:
        return Coarseness(1, step, None, "")
    after = int(np.searchsorted(f, frequency_hz))
    agree = 0 < after < f.size and abs(sweep.magnitude[after] - sweep.magnitude[after - 1]) <= SPOT_STEP
    if agree and f[after] - f[after - 1] <= SPOT_SHARE * frequency_hz:
        return Coarseness(0, step, None, "")
    needed = SPOT_TOLERANCE * frequency_hz
    return Coarseness(
        0,
        step,
        needed,
        f"nothing was read at {format_mhz(frequency_hz)} MHz, and what lies on both sides of it is too far off to read "
        "between; take a reading at that frequency",
    )


def step_for_window(window: Window) -> float:
    """The largest step in Hz that puts 21 points into the window, wherever they come to lie, and hides nothing narrow
    at its lower end."""
    return step_at(window, window.low_hz)


def step_at(window: Window, frequency_hz: float) -> float:
    """The largest step in Hz that the gate takes at one frequency of a window."""
    return _round_down(min(room_of(window) / LEAST_POINTS, SHARE_OF_FREQUENCY * frequency_hz))


def room_of(window: Window) -> float:
    """The width of a window in Hz, of a spot what is swept around it: a hundredth of its frequency."""
    return window.high_hz - window.low_hz if not window.spot else 0.01 * window.low_hz


def step_for_width(width_hz: float) -> float:
    """The largest step in Hz with which a dip of that width is three steps wide."""
    return _round_down(width_hz / STEPS_PER_WIDTH)


def telling_widths(analysis: SweepAnalysis, window: Window, level: float) -> Iterator[tuple[str, float, float, float]]:
    """What is narrow in or beside a window: `dip` or `peak`, its frequency, and from where to where it reaches, in Hz,
    at half its depth and at the level where that counts."""
    for dip in (d for d in analysis.dips if d.depth >= LEAST_DEPTH):
        for at in _levels(dip, level):
            width = analysis.width(dip, at)
            if width is not None and not (width.low_open or width.high_open) and _meets(width, window):
                yield "dip", dip.frequency_hz, width.low_hz, width.high_hz
    for peak in analysis.peaks:
        if peak.height >= LEAST_DEPTH and _meets(peak, window):
            yield "peak", peak.frequency_hz, peak.low_hz, peak.high_hz


def _meets(feature: Width | Peak, window: Window) -> bool:
    return feature.high_hz >= window.low_hz and feature.low_hz <= window.high_hz


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


def _step_too_wide(sweep: Sweep, window: Window) -> tuple[float, float] | None:
    """Where a step that meets the window exceeds its share of the frequency, with that step, both in Hz."""
    f = sweep.frequency_hz
    first = max(int(np.searchsorted(f, window.low_hz, side="right")) - 1, 0)
    last = int(np.searchsorted(f, window.high_hz, side="left"))
    at, step = f[first : last + 1], np.diff(f[first : last + 1])
    wide = np.flatnonzero(step > SHARE_OF_FREQUENCY * at[1:] * (1 + 1e-9))
    return (float(at[wide[0]]), float(step[wide[0]])) if wide.size else None


def _leap(part: Sweep | None) -> float | None:
    """Frequency of the worst leap inside the part of the sweep in the window, or None."""
    if part is None or part.points < 2 or part.scalar:
        return None
    f, value = part.minima
    sag = np.minimum(part.magnitude[:-1], part.magnitude[1:]) - value
    worst = int(np.argmax(sag))
    return float(f[worst]) if sag[worst] > LARGEST_SAG else None
