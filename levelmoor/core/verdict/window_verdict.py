"""One window of one sweep against one SWR limit: what is read off it, and the verdict with its reason."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.metrology.uncertainty import Residuals, swr_interval
from levelmoor.core.metrology.window_guard import DecidingPoint, decide_window
from levelmoor.core.rf.dips import Width, dip_outside_words
from levelmoor.core.rf.frequency import format_mhz, format_range
from levelmoor.core.rf.reflection import gamma_from_swr, swr_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.coarseness import coarseness
from levelmoor.core.words.sentence import sentence


@dataclass(frozen=True)
class Spot:
    """An SWR at a frequency, infinite where |gamma| reaches 1."""

    frequency_hz: float
    swr: float


@dataclass(frozen=True)
class WindowFinding:
    """What a sweep shows in a window. Best, worst and share are None where the sweep does not reach the window.

    `swr_low` and `swr_high` are the ends of the worst SWR's interval of +-2u, u being half of the guard band on the
    side of the limit where it stands. `outside` says where the nearest dip lies if the window holds none, and
    `unfit` why the sweep could not pass there.
    """

    window: Window
    points_inside: int
    largest_step_hz: float
    step_needed_hz: float | None = None
    best: Spot | None = None
    worst: Spot | None = None
    share_within_limit: float | None = None
    widths: tuple[Width, ...] = ()
    limit_swr: float = 2.0
    u_gamma: float | None = None
    swr_low: float | None = None
    swr_high: float | None = None
    verdict: Verdict = Verdict.NOT_SHOWN
    probability: float | None = None
    reason: str = ""
    outside: str = ""
    unfit: str = ""


def format_swr(swr: float) -> str:
    """An SWR with the digits that mean something: two decimals, one above 10, none above 100."""
    if math.isinf(swr):
        return "infinite"
    return f"{swr:.2f}" if swr < 10 else f"{swr:.1f}" if swr < 100 else f"{swr:.0f}"


def judge_window(
    analysis: SweepAnalysis,
    window: Window,
    limit_swr: float,
    bench: Residuals,
    rule: DecisionRule,
    disqualified: str = "",
    repeats: Sequence[Sweep] = (),
) -> WindowFinding:
    """Judge `SWR at most limit_swr in the whole window`.

    All points of the window decide, in |gamma|, with guard bands that hold for the largest of them. A point beyond its
    guard band fails however coarse the sweep is, where it is not the only one and the sweep spans the window; a Pass
    needs a sweep that is fine enough. `disqualified` is a reason from outside the sweep (no calibration, a condition
    not met) for which the evidence cannot count; `repeats` are the sweeps that the one judged is the mean of.

    Raises
    ------
    ValueError
        If the limit is not above 1.
    """
    if not limit_swr > 1:
        raise ValueError(f"an SWR limit is above 1, not {limit_swr:g}")
    sweep = analysis.sweep
    level = float(gamma_from_swr(limit_swr))
    part = sweep.cut(window.low_hz, window.high_hz)
    gate = coarseness(analysis, part, window, level)
    found = WindowFinding(
        window=window,
        points_inside=gate.points_inside,
        largest_step_hz=gate.largest_step_hz,
        step_needed_hz=gate.step_needed_hz if part is not None else None,
        widths=analysis.widths(window),
        limit_swr=limit_swr,
        outside=dip_outside_words(analysis.dips, window.low_hz, window.high_hz),
    )
    if part is None:
        gap = sweep.gap_in(window.low_hz, window.high_hz)
        where = f"has a gap from {format_range(*gap)} where the window lies" if gap else "does not reach the window"
        unfit = f"the sweep ({format_range(sweep.low_hz, sweep.high_hz)}) {where}"
        return replace(found, reason=sentence(disqualified or unfit), unfit=unfit)
    coarse = _not_covered(sweep, window) or gate.reason
    noisy = replace(bench, noise=max(bench.noise, analysis.noise))
    point = decide_window(part, sweep, window, level, noisy, rule, repeats, fine=not coarse)
    beyond = not sweep.spans(window.low_hz, window.high_hz)
    return _decided(found, part, point, disqualified, coarse, beyond)


def _decided(
    found: WindowFinding, part: Sweep, point: DecidingPoint, disqualified: str, coarse: str, beyond: bool
) -> WindowFinding:
    """The finding with what the deciding point says; where the sweep is too coarse, a point beyond the limit alone."""
    level = float(gamma_from_swr(found.limit_swr))
    best_f, best = part.best()
    low, high = swr_interval(point.magnitude, 2 * point.u)
    worst = Spot(point.frequency_hz, float(swr_from_gamma(point.magnitude)))
    verdict = point.verdict
    probability: float | None = point.probability
    if disqualified or (coarse and (verdict is not Verdict.FAIL or beyond)) or point.lone:
        verdict, probability = Verdict.NOT_SHOWN, None
        reason = disqualified or coarse or _lone(worst, found.limit_swr)
    else:
        reason = _reason(verdict, worst, found.limit_swr, level, point.guard, probability)
        if coarse:
            reason += "; a measured point decides, though the sweep is not one that could pass"
    return replace(
        found,
        best=Spot(best_f, float(swr_from_gamma(best))),
        worst=worst,
        share_within_limit=part.share_within(level),
        u_gamma=point.u,
        swr_low=low,
        swr_high=high,
        verdict=verdict,
        probability=probability,
        reason=sentence(reason),
        unfit=coarse,
    )


def _lone(worst: Spot, limit: float) -> str:
    return (
        f"one point alone, {format_swr(worst.swr)} at {format_mhz(worst.frequency_hz)} MHz, stands beyond the limit of "
        f"{limit:.4g}, as a signal on the air would make it; sweep again, or take a second reading there"
    )


def _not_covered(sweep: Sweep, window: Window) -> str:
    """Why the sweep does not show the whole window, or nothing."""
    again = f"sweep {format_range(window.low_hz, window.high_hz)} with room on both sides"
    if not sweep.spans(window.low_hz, window.high_hz):
        span = format_range(sweep.low_hz, sweep.high_hz)
        return f"the sweep ({span}) does not cover the whole window; {again}"
    gap = sweep.gap_in(window.low_hz, window.high_hz)
    if gap is None:
        return ""
    return f"nothing was measured between {format_mhz(gap[0])} and {format_mhz(gap[1])} MHz; {again} in one go"


def _reason(verdict: Verdict, worst: Spot, limit: float, level: float, guard: float, probability: float | None) -> str:
    where = f"the worst SWR in the window is {format_swr(worst.swr)} at {format_mhz(worst.frequency_hz)} MHz"
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
