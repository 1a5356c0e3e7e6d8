"""The verdict on a claim of bandwidth by edges that were typed.

References
----------
.. [1] JCGM 100:2008, 5.1: u of an edge is u(|gamma|) over the slope of |gamma| there (memory).
.. [2] Around a dip |gamma|^2 = m^2 + (s (f - f0))^2, as for a series circuit near resonance (memory).
"""

import math
from dataclasses import replace

from levelmoor.core.metrology.decision import DecisionRule, Verdict, guard_band
from levelmoor.core.metrology.uncertainty import Residuals, standard_uncertainty
from levelmoor.core.model.widths import WidthReading
from levelmoor.core.rf.frequency import format_range, format_step
from levelmoor.core.rf.reflection import gamma_from_swr


def width_uncertainty(reading: WidthReading, figures: Residuals) -> float:
    """Standard uncertainty in Hz: both edges by the instrument's figures [1]_, the slope there from the width itself
    [2]_, and the digits as typed."""
    level = float(gamma_from_swr(reading.swr))
    least = float(gamma_from_swr(reading.best_swr)) if reading.best_swr else 0.0
    slope = (level**2 - least**2) / (level * reading.width_hz / 2)
    middle = (reading.low_hz + reading.high_hz) / 2
    u = float(standard_uncertainty(level, replace(figures, repeat=None, repeat_u=0.0), 0.0, middle))
    edge = u / slope if slope > 0 else math.inf
    return math.sqrt(2) * math.hypot(edge, reading.step_hz / 2 / math.sqrt(3))


def judge_width(
    reading: WidthReading, claimed_hz: float, figures: Residuals, rule: DecisionRule
) -> tuple[Verdict, str]:
    """Verdict on `at least claimed_hz wide` by one reading."""
    guard = guard_band(width_uncertainty(reading, figures), rule)
    when = f" on {reading.taken_on[:10]}" if reading.taken_on else ""
    said = (
        f"Edges typed{when}: {format_step(reading.width_hz)} wide at {reading.swr:g}:1, "
        f"{format_range(reading.low_hz, reading.high_hz)}"
    )
    if reading.width_hz - guard >= claimed_hz:
        return Verdict.PASS, f"{said}, at least the {format_step(claimed_hz)} claimed."
    if reading.width_hz + guard < claimed_hz:
        return Verdict.FAIL, f"{said}; less than the {format_step(claimed_hz)} claimed."
    return Verdict.TOO_CLOSE, f"{said}; the {format_step(claimed_hz)} claimed lie within the uncertainty."
