"""One window of one sweep against one SWR limit: what is read off it, and the verdict with its reason."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.metrology.uncertainty import Residuals, swr_interval
from levelmoor.core.metrology.window_guard import DecidingPoint, decide_window
from levelmoor.core.rf.dips import Width, dip_outside_words
from levelmoor.core.rf.reflection import gamma_from_swr, swr_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.coarseness import coarseness
from levelmoor.core.words.said import as_sentence, said

SURVEY_SWR = 10.0
"""What a survey reads above this says no more than that it is high."""


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


def judge_window(
    analysis: SweepAnalysis,
    window: Window,
    limit_swr: float,
    bench: Residuals,
    rule: DecisionRule,
    disqualified: str = "",
    repeats: Sequence[Sweep] = (),
    facts: bool = False,
) -> WindowFinding:
    """Judge `SWR at most limit_swr in the whole window`.

    All points of the window decide, in |gamma|, with guard bands that hold for the largest of them. A point beyond its
    guard band fails however coarse the sweep is and however little of the window it covers, where it is not the only
    one; a Pass needs a sweep that is fine enough. `disqualified` is a reason from outside the sweep (no calibration, a
    condition not met) for which the evidence cannot count; `repeats` are the sweeps that the one judged is the mean of.
    Points that are `facts` were read one by one by a person: a single one fails.

    Raises
    ------
    ValueError
        If the limit is not above 1.
    """
    if not limit_swr > 1:
        raise ValueError(f"an SWR limit must be above 1, not {limit_swr:g}")
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
        gap, span = sweep.gap_in(window.low_hz, window.high_hz), (sweep.low_hz, sweep.high_hz)
        unfit = said("window.gap_there", span=span, gap=gap) if gap else said("window.not_reached", span=span)
        return replace(found, reason=as_sentence(disqualified or unfit), unfit=unfit)
    coarse = _not_covered(sweep, window) or gate.reason
    noisy = replace(bench, noise=max(bench.noise, analysis.noise))
    point = decide_window(part, sweep, window, level, noisy, rule, repeats, fine=not coarse, facts=facts)
    return _decided(found, part, point, disqualified, coarse)


def _decided(found: WindowFinding, part: Sweep, point: DecidingPoint, disqualified: str, coarse: str) -> WindowFinding:
    """The finding with what the deciding point says; where the sweep is too coarse, a point beyond the limit alone."""
    level = float(gamma_from_swr(found.limit_swr))
    best_f, best = part.best()
    low, high = swr_interval(point.magnitude, 2 * point.u)
    worst = Spot(point.frequency_hz, float(swr_from_gamma(point.magnitude)))
    verdict = point.verdict
    probability: float | None = point.probability
    reason: str
    if disqualified or (coarse and verdict is not Verdict.FAIL) or point.lone:
        verdict, probability = Verdict.NOT_SHOWN, None
        reason = disqualified or _survey(coarse, worst) or _lone(worst, found.limit_swr)
    else:
        reason = _reason(verdict, worst, found.limit_swr, level, point.guard, probability)
        if coarse:
            reason = said("window.coarse_fail", found=reason)
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
        reason=as_sentence(reason),
        unfit=coarse,
    )


def _survey(coarse: str, worst: Spot) -> str:
    """Why a sweep is too coarse, with what it reads all the same."""
    tells = coarse and worst.swr < SURVEY_SWR
    return said("coarse.survey", why=coarse, swr=worst.swr) if tells else coarse


def _lone(worst: Spot, limit: float) -> str:
    return said("window.lone", swr=worst.swr, at=worst.frequency_hz, limit=limit)


def _not_covered(sweep: Sweep, window: Window) -> str:
    """Why the sweep does not show the whole window, or nothing."""
    again = said("window.sweep_all", window=window.ends)
    if not sweep.spans(window.low_hz, window.high_hz):
        return said("window.not_covered", span=(sweep.low_hz, sweep.high_hz), again=again)
    gap = sweep.gap_in(window.low_hz, window.high_hz)
    return said("window.hole", low=gap[0], high=gap[1], again=again) if gap is not None else ""


def _reason(verdict: Verdict, worst: Spot, limit: float, level: float, guard: float, probability: float | None) -> str:
    where = said("window.worst", swr=worst.swr, at=worst.frequency_hz)
    if verdict is Verdict.TOO_CLOSE:
        return said("window.too_close", where=where, limit=limit, chance=probability or 0.0)
    end = max(level - guard, 0) if verdict is Verdict.PASS else level + guard
    code = "window.passes" if verdict is Verdict.PASS else "window.fails"
    edge = said(code, swr=float(swr_from_gamma(end))) if guard else ""
    return said(f"window.{verdict.value}", where=where, limit=limit, guard=guard, edge=edge)
