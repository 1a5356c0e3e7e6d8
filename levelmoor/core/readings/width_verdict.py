"""The verdict on a claim of bandwidth by edges that were typed.

References
----------
.. [1] JCGM 100:2008, 5.1: u of an edge is u(|gamma|) over the slope of |gamma| there (memory).
.. [2] Around the dip of a series circuit |gamma|^2/(1 - |gamma|^2) = t0 + (s (f - f0))^2 exactly, which follows from
   gamma = (z - 1)/(z + 1) with z = r (1 + j x).
"""

import math
from dataclasses import replace

from levelmoor.core.metrology.decision import DecisionRule, Verdict, guard_band
from levelmoor.core.metrology.uncertainty import Residuals, standard_uncertainty
from levelmoor.core.model.widths import WidthReading
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.said import said


def width_uncertainty(reading: WidthReading, figures: Residuals) -> float:
    """Standard uncertainty in Hz: both edges by the instrument's figures [1]_, the slope there from the width itself
    [2]_, and the digits as typed."""
    level = float(gamma_from_swr(reading.swr))
    least = float(gamma_from_swr(reading.best_swr)) if reading.best_swr else 0.0
    rise = level**2 / (1 - level**2) - least**2 / (1 - least**2)
    slope = rise * (1 - level**2) ** 2 / (level * reading.width_hz / 2)
    middle = (reading.low_hz + reading.high_hz) / 2
    u = float(standard_uncertainty(level, replace(figures, repeat=None, repeat_u=0.0), 0.0, middle))
    edge = u / slope if slope > 0 else math.inf
    return math.sqrt(2) * math.hypot(edge, reading.step_hz / 2 / math.sqrt(3))


def width_inside(reading: WidthReading, window: Window | None, claimed_hz: float) -> float:
    """What of a width counts for a claim on a window, in Hz: what lies inside it, or all of it where more is claimed
    than the window is wide."""
    if window is None or claimed_hz > window.high_hz - window.low_hz:
        return reading.width_hz
    return max(min(reading.high_hz, window.high_hz) - max(reading.low_hz, window.low_hz), 0.0)


def judge_width(
    reading: WidthReading, claimed_hz: float, figures: Residuals, rule: DecisionRule, window: Window | None = None
) -> tuple[Verdict, str]:
    """Verdict on `at least claimed_hz wide` in a window by one reading."""
    guard = guard_band(width_uncertainty(reading, figures), rule)
    inside = width_inside(reading, window, claimed_hz)
    cut = window is not None and inside < reading.width_hz
    found = said(
        "width.typed",
        day=reading.taken_on[:10],
        width=reading.width_hz,
        swr=reading.swr,
        span=(reading.low_hz, reading.high_hz),
        inside=said("width.inside", width=inside, window=window.name) if cut and window is not None else "",
    )
    # An edge beyond the window is surely beyond it; what is cut off there has no uncertainty.
    sure = inside if window is not None and inside >= window.high_hz - window.low_hz else inside - guard
    if sure >= claimed_hz:
        return Verdict.PASS, said("width.pass", found=found, claimed=claimed_hz)
    if inside + guard < claimed_hz:
        return Verdict.FAIL, said("width.fail", found=found, claimed=claimed_hz)
    return Verdict.TOO_CLOSE, said("width.too_close", found=found, claimed=claimed_hz)
