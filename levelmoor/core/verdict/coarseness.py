"""The coarseness gate: whether a sweep is fine enough for a window to be judged on it."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from levelmoor.core.rf.dips import Dip, Peak, Width
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.said import said

LEAST_POINTS = 21
LEAST_SMOOTH = 10
"""So many points do where the curve"""
LARGEST_BEND = 0.01
"""bends by no more than this in gamma from one step to the next."""
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
    few: bool = False
    """Whether it is the points inside that are too few and nothing that a look around would not show."""


def coarseness(analysis: SweepAnalysis, part: Sweep | None, window: Window, level: float) -> Coarseness:
    """Judge the fineness of a sweep for a limit `level` of |gamma|; `part` is what it has inside the window.

    At least 21 points inside; no step that meets the window above a twentieth of its width, nor above a share of the
    frequency; each dip and each peak of the window at least 3 steps wide at half its depth, and a dip that reaches well
    below the limit also there; no leap between two points so wide that the path between them would invent a dip.

    A narrow window inside a stretch that is fine enough is fine enough itself, and so is one with fewer points where
    the curve runs smoothly from each to the next: what is true of many points is true of some of them.
    """
    found = _at_spot(analysis.sweep, window.low_hz) if window.spot else _in_window(analysis, part, window, level)
    if not found.reason or not found.few:
        return found
    around = _around(analysis.sweep, window)
    if around is not None and not _in_window(analysis, analysis.sweep.cut(*around.ends), around, level).reason:
        return replace(found, step_needed_hz=None, reason="")
    return replace(found, step_needed_hz=None, reason="") if _runs_smoothly(analysis, window, level) else found


def _in_window(analysis: SweepAnalysis, part: Sweep | None, window: Window, level: float) -> Coarseness:
    sweep = analysis.sweep
    count = int(sweep.inside(window.low_hz, window.high_hz).size)
    step = _largest_step(sweep, window.low_hz, window.high_hz)

    def too_coarse(wanted_hz: float, why: str, few: bool = False, **figures: object) -> Coarseness:
        again = said("coarse.again", step=wanted_hz)
        return Coarseness(count, step, wanted_hz, said(f"coarse.{why}", again=again, **figures), few)

    wide = _step_too_wide(sweep, window)
    if count < LEAST_POINTS:
        return too_coarse(step_for_window(window), "points", wide is None, count=count, needed=LEAST_POINTS)
    if step > room_of(window) / (LEAST_POINTS - 1) * (1 + 1e-9):
        return too_coarse(step_for_window(window), "step", wide is None, step=step)
    if wide is not None:
        return too_coarse(step_for_window(window), "share", at=wide[0], step=wide[1])
    for what, frequency, low, high in telling_widths(analysis, window, level):
        here = _largest_step(sweep, low, high)
        if high - low < STEPS_PER_WIDTH * here:
            steps = (high - low) / here
            return too_coarse(step_for_width(high - low), what, at=frequency, steps=steps, needed=STEPS_PER_WIDTH)
    leap = _leap(part)
    if leap is not None:
        return too_coarse(_round_down(step / 4), "leap", at=leap)
    return Coarseness(count, step, None, "")


def _around(sweep: Sweep, window: Window) -> Window | None:
    """The window with as many points on both sides as make it one that can be looked at by itself; None where the sweep
    has not so many there."""
    f = sweep.frequency_hz
    below, above = int(np.searchsorted(f, window.low_hz)), int(np.searchsorted(f, window.high_hz, side="right"))
    beside = LEAST_POINTS // 2 + 1
    first, last = max(below - beside, 0), min(above + beside, f.size) - 1
    if last - first + 1 < LEAST_POINTS:
        return None
    return Window(min(float(f[first]), window.low_hz), max(float(f[last]), window.high_hz))


def _runs_smoothly(analysis: SweepAnalysis, window: Window, level: float) -> bool:
    """Whether ten points or more of a window, none of them rounded, lie on a curve that hardly bends from each to the
    next, and its dips are far wider than a step."""
    sweep = analysis.sweep
    if window.spot or sweep.half_step_gamma is not None or not sweep.covers(window.low_hz, window.high_hz):
        return False
    inside = sweep.inside(window.low_hz, window.high_hz)
    if inside.size < LEAST_SMOOTH or _step_too_wide(sweep, window) is not None:
        return False
    first = max(int(np.searchsorted(sweep.frequency_hz, inside[0])) - 1, 0)
    g = sweep.gamma[first : first + inside.size + 2]
    bends = np.abs(g[2:] - 2 * g[1:-1] + g[:-2])
    if float(bends.max()) > LARGEST_BEND:
        return False
    widths = telling_widths(analysis, window, level)
    return all(high - low >= 2 * STEPS_PER_WIDTH * _largest_step(sweep, low, high) for _, _, low, high in widths)


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
    between = 0 < after < f.size and not sweep.in_gap(frequency_hz, frequency_hz)
    return Coarseness(0, step, needed, said("coarse.spot", at=frequency_hz), few=between)


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
