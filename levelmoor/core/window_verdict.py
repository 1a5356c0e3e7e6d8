"""One window of one sweep against one SWR limit: what is read off it, and the verdict with its reason."""

import math
from dataclasses import dataclass

import numpy as np

from levelmoor.core.coarseness import Coarseness, coarseness
from levelmoor.core.decision import Rule, Verdict, conformity_probability, decide, guard_band
from levelmoor.core.dips import Width, dip_of_window
from levelmoor.core.frequency import format_mhz, format_range
from levelmoor.core.reflection import gamma_from_swr, swr_from_gamma
from levelmoor.core.sentence import sentence
from levelmoor.core.sweep import Sweep
from levelmoor.core.sweep_reading import SweepReading
from levelmoor.core.uncertainty import BenchFigures, standard_uncertainty, swr_interval
from levelmoor.core.windows import Window


@dataclass(frozen=True)
class Spot:
    """An SWR at a frequency, infinite where |gamma| reaches 1."""

    frequency_hz: float
    swr: float


@dataclass(frozen=True)
class WindowFinding:
    """What a sweep shows in a window. Best, worst and share are None where the sweep does not reach the window.

    `swr_low` and `swr_high` are the ends of the worst SWR's interval of +-2u.
    """

    window: Window
    points_inside: int
    largest_step_hz: float
    step_needed_hz: float | None
    best: Spot | None
    worst: Spot | None
    share_within_limit: float | None
    widths: tuple[Width, ...]
    limit_swr: float
    u_gamma: float | None
    swr_low: float | None
    swr_high: float | None
    verdict: Verdict
    probability: float | None
    reason: str


def format_swr(swr: float) -> str:
    """An SWR with the digits that mean something: two decimals, one above 10, none above 100."""
    if math.isinf(swr):
        return "infinite"
    return f"{swr:.2f}" if swr < 10 else f"{swr:.1f}" if swr < 100 else f"{swr:.0f}"


def judge_window(
    reading: SweepReading,
    window: Window,
    limit_swr: float,
    bench: BenchFigures,
    rule: Rule,
    disqualified: str = "",
) -> WindowFinding:
    """Judge `SWR at most limit_swr in the whole window`.

    The worst point of the window decides, in |gamma|, with the guard band of the rule. `disqualified` is a reason
    from outside the sweep (no calibration, a condition not met) for which the evidence cannot count.

    Raises
    ------
    ValueError
        If the limit is not above 1.
    """
    if not limit_swr > 1:
        raise ValueError(f"an SWR limit is above 1, not {limit_swr:g}")
    sweep = reading.sweep
    level = float(gamma_from_swr(limit_swr))
    part = sweep.cut(window.low_hz, window.high_hz)
    gate = coarseness(reading, part, window, level)
    dip = dip_of_window(reading.dips, window.low_hz, window.high_hz)
    widths = reading.widths(dip)
    if part is None:
        reason = disqualified or f"the sweep ({format_range(sweep.low_hz, sweep.high_hz)}) does not reach the window"
        return WindowFinding(
            window,
            0,
            gate.largest_step_hz,
            None,
            None,
            None,
            None,
            widths,
            limit_swr,
            None,
            None,
            None,
            Verdict.NOT_SHOWN,
            None,
            sentence(reason),
        )
    best_f, best = part.best()
    worst_f, worst = _deciding_point(part, bench, level, rule)
    u = float(standard_uncertainty(worst, bench, part.half_step_at(worst_f), worst_f))
    low, high = swr_interval(worst, 2 * u)
    probability: float | None = conformity_probability(level, worst, u)
    obstacle = disqualified or _obstacle(sweep, window, gate)
    if obstacle:
        verdict, reason, probability = Verdict.NOT_SHOWN, obstacle, None
    else:
        verdict = decide(level, worst, u, rule)
        reason = _reason(verdict, Spot(worst_f, float(swr_from_gamma(worst))), limit_swr, level, u, rule, probability)
    return WindowFinding(
        window=window,
        points_inside=gate.points_inside,
        largest_step_hz=gate.largest_step_hz,
        step_needed_hz=gate.step_needed_hz,
        best=Spot(best_f, float(swr_from_gamma(best))),
        worst=Spot(worst_f, float(swr_from_gamma(worst))),
        share_within_limit=part.share_within(level),
        widths=widths,
        limit_swr=limit_swr,
        u_gamma=u,
        swr_low=low,
        swr_high=high,
        verdict=verdict,
        probability=probability,
        reason=sentence(reason),
    )


def _deciding_point(part: Sweep, bench: BenchFigures, level: float, rule: Rule) -> tuple[float, float]:
    """The point that decides: the largest |gamma|, or, where the uncertainty differs over frequency, the one that
    fails most surely, else the one that is least surely within.
    """
    if not bench.varies:
        return part.worst()
    g = part.magnitude
    half = 0.0 if part.half_step_gamma is None else part.half_step_gamma
    guard = guard_band(1.0, rule) * standard_uncertainty(g, bench, half, part.frequency_hz)
    surest = int(np.argmax(g - guard))
    i = surest if g[surest] - guard[surest] > level else int(np.argmax(g + guard))
    return float(part.frequency_hz[i]), float(g[i])


def _obstacle(sweep: Sweep, window: Window, gate: Coarseness) -> str:
    """Why the sweep itself does not qualify for the window, or nothing."""
    if not sweep.covers(window.low_hz, window.high_hz):
        return (
            f"the sweep ({format_range(sweep.low_hz, sweep.high_hz)}) does not cover the whole window; "
            f"sweep {format_range(window.low_hz, window.high_hz)} with room on both sides"
        )
    return gate.reason


def _reason(
    verdict: Verdict, worst: Spot, limit: float, level: float, u: float, rule: Rule, probability: float | None
) -> str:
    where = f"the worst SWR in the window is {format_swr(worst.swr)} at {format_mhz(worst.frequency_hz)} MHz"
    guard = guard_band(u, rule)
    with_guard = " with its guard band" if guard else ""
    if verdict is Verdict.PASS:
        edge = f" (up to {format_swr(float(swr_from_gamma(max(level - guard, 0))))} passes)" if guard else ""
        return f"{where}, within the limit of {limit:.4g}{with_guard}{edge}"
    if verdict is Verdict.FAIL:
        edge = f" (above {format_swr(float(swr_from_gamma(level + guard)))} fails)" if guard else ""
        return f"{where}, beyond the limit of {limit:.4g}{with_guard}{edge}"
    chance = 100 * (probability or 0.0)
    doubt = f"the limit of {limit:.4g} lies within the uncertainty"
    return f"{where}; {doubt}, and the probability that it is met is {chance:.0f} %"
