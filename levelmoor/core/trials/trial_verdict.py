"""Verdicts from trials: matching range, residual SWR, times.

A claim over a range rests on trials at its edges and inside; what lies between is said as not shown. A repeat that came
out otherwise counts.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from levelmoor.core.metrology.decision import DecisionRule, Verdict, decide, guard_band
from levelmoor.core.metrology.uncertainty import Residuals, standard_uncertainty
from levelmoor.core.model.trials import OUTCOME_WORDS, STOPWATCH_U_S, Outcome, Trial
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.windows import Window
from levelmoor.core.trials.load_text import LoadRange
from levelmoor.core.trials.trial_grid import Cell, share_words, wanted_in
from levelmoor.core.words.counting import counted
from levelmoor.core.words.figures import brief_mhz
from levelmoor.core.words.said import said, together

FEWEST_TIMES = 3
"""So many times at least show a claim of time."""
NAMED = 6
"""So many gaps are named; of more the number is told."""


@dataclass(frozen=True)
class CellFinding:
    """What a frequency and a load came to, over its repeats: `good` of `tried` matched within the limit."""

    cell: Cell
    verdict: Verdict
    good: int
    tried: int
    words: str

    @property
    def place(self) -> str:
        return f"{brief_mhz(self.cell.frequency_hz)} MHz into {self.cell.load.words}"


@dataclass(frozen=True)
class TrialsFinding:
    """The verdict on a window with its grid."""

    verdict: Verdict
    reason: str
    cells: tuple[CellFinding, ...] = ()
    gaps: tuple[str, ...] = ()


def trial_verdict(
    trial: Trial, limit_swr: float, figures: Residuals | None, rule: DecisionRule, of: int = 1
) -> tuple[Verdict, str]:
    """Whether one trial, of so many that are held against the limit together, matched within an SWR, with the reading's
    uncertainty; `figures` are None where nobody says what it was read with."""
    if trial.outcome in (Outcome.GAVE_UP, Outcome.REFUSED):
        return Verdict.FAIL, OUTCOME_WORDS[trial.outcome]
    if trial.outcome is Outcome.STOPPED:
        return Verdict.NOT_SHOWN, "stopped by hand, which says nothing about the tuner"
    if trial.swr_after is None:
        return Verdict.NOT_SHOWN, "the tuner reported a match, but no SWR was read after it"
    if figures is None:
        return Verdict.NOT_SHOWN, "the instrument that read the SWR is not stated"
    gamma, limit = float(gamma_from_swr(trial.swr_after)), float(gamma_from_swr(limit_swr))
    step = trial.swr_step / 2
    half = (float(gamma_from_swr(trial.swr_after + step)) - float(gamma_from_swr(max(trial.swr_after - step, 1.0)))) / 2
    u = float(standard_uncertainty(gamma, figures, half, trial.frequency_hz))
    return decide(limit, gamma, u, rule, of), f"{trial.swr_after:.4g}:1"


def cell_finding(
    cell: Cell, limit_swr: float, figures: Mapping[str, Residuals], rule: DecisionRule, of: int = 1
) -> CellFinding:
    """Over its repeats: all good passes, all beyond fails, some of each is too close to call."""
    judged = [trial_verdict(t, limit_swr, figures.get(t.instrument_id), rule, of) for t in cell.trials if t.tried]
    shown = [(v, w) for v, w in judged if v is not Verdict.NOT_SHOWN]
    words = ", ".join(dict.fromkeys(w for _, w in judged)) or "nothing that counts"
    if not shown:
        return CellFinding(cell, Verdict.NOT_SHOWN, 0, 0, words)
    kinds = {v for v, _ in shown}
    good = sum(v is Verdict.PASS for v, _ in shown)
    verdict = kinds.pop() if len(kinds) == 1 else Verdict.TOO_CLOSE
    return CellFinding(cell, verdict, good, len(shown), words)


def judge_range(
    cells: Sequence[Cell],
    window: Window,
    of: LoadRange,
    limit_swr: float,
    figures: Mapping[str, Residuals],
    rule: DecisionRule,
    power_w: float | None = None,
) -> TrialsFinding:
    """A claim that loads of a range are matched within an SWR over a window; at a power, where one is claimed: with
    less a tuner's parts show nothing of it, unless it fails already."""
    inside = [c for c in cells if window.low_hz <= c.frequency_hz <= window.high_hz]
    unknown = [c for c in inside if of.holds(c.load) is None]
    tried_cells = [c for c in inside if of.holds(c.load)]
    many = sum(1 for c in tried_cells for t in c.trials if t.tried)
    found = [cell_finding(c, limit_swr, figures, rule, many) for c in tried_cells]
    tried, good = sum(f.tried for f in found), sum(f.good for f in found)
    gaps = _gaps(found, window, of)
    share = share_words(good, tried) if tried else ""
    told = said("trials.told", good=good, tried=tried, limit=limit_swr, share=share) if tried else ""

    def finding(verdict: Verdict, code: str, **more: object) -> TrialsFinding:
        return TrialsFinding(verdict, said(f"trials.{code}", told=told, **more), tuple(found), gaps)

    failed = [f for f in found if f.verdict is Verdict.FAIL]
    close = [f for f in found if f.verdict is Verdict.TOO_CLOSE]
    if len(failed) > 1 or any(f.tried > 1 for f in failed):
        return finding(Verdict.FAIL, "failed", places=_named(failed))
    if failed:
        return finding(Verdict.NOT_SHOWN, "failed_once", places=_named(failed))
    weak = [t for c in tried_cells for t in c.trials if t.tried and not _at_power(t, power_w)]
    if weak and power_w is not None:
        # What was tried with less does not count; what is left may still show gaps alone.
        strong = [replace(c, trials=tuple(t for t in c.trials if _at_power(t, power_w))) for c in tried_cells]
        rest = judge_range([c for c in strong if c.trials], window, of, limit_swr, figures, rule)
        if rest.verdict is not Verdict.NOT_SHOWN:
            return rest
        count = counted(len(weak), "trial was", "trials were")
        them = "it" if len(weak) == 1 else "them"
        reason = said("trials.at_power", power=power_w, unsaid=count, them=them, found=told)
        return TrialsFinding(Verdict.NOT_SHOWN, reason, tuple(found), gaps)
    if close:
        return finding(Verdict.TOO_CLOSE, "close", places=_named(close))
    if of.anything:
        return finding(Verdict.NOT_SHOWN, "any")
    if gaps:
        loads = said("trials.unknown", loads=counted(len(unknown), "load")) if unknown else ""
        return finding(Verdict.NOT_SHOWN, "gaps", gaps=_listed(gaps), unknown=loads)
    return finding(Verdict.PASS, "pass")


POWER_WITHIN = 0.05
"""A power that was set by hand and its meter is what was claimed to so much of it (common practice, no source)."""


def _at_power(trial: Trial, power_w: float | None) -> bool:
    return power_w is None or (trial.power_w is not None and trial.power_w >= power_w * (1 - POWER_WITHIN))


def _gaps(found: Sequence[CellFinding], window: Window, of: LoadRange) -> tuple[str, ...]:
    shown = [f.cell for f in found if f.verdict is not Verdict.NOT_SHOWN]
    open_ = [w for w in wanted_in(window, of) if not any(w.met_by(c, window) for c in shown)]
    return tuple(f"{brief_mhz(round(w.frequency_hz, -3))} MHz into {w.words}" for w in open_)


def _named(found: Sequence[CellFinding]) -> str:
    def place(f: CellFinding) -> str:
        repeats = said("trials.repeats", good=f.good, tried=f.tried) if f.tried > 1 else ""
        return said("trials.place", place=f.place, words=f.words, repeats=repeats)

    return _listed([place(f) for f in found])


def _listed(places: Sequence[str]) -> str:
    if len(places) <= NAMED:
        return together(*places, between="; ")
    first = together(*places[:NAMED], between="; ")
    return said("trials.more", places=first, count=len(places) - NAMED)


def judge_time(trials: Sequence[Trial], limit_s: float, rule: DecisionRule, memory: bool) -> TrialsFinding:
    """A claim that a match takes no longer, from fresh trials or from those recalled from memory; the longest of so
    many is guarded for as many."""
    what = "recalled" if memory else "fresh"
    timed = [t for t in trials if t.tried and t.outcome is Outcome.MATCHED and t.seconds is not None]
    heard = [(t, t.seconds) for t in timed if t.memory is memory and t.seconds is not None]
    if not heard:
        return TrialsFinding(Verdict.NOT_SHOWN, said("time.none", what=what))
    longest, took = max(heard, key=lambda h: (h[1], h[0].frequency_hz, h[0].load))
    guard, of = guard_band(STOPWATCH_U_S, rule), len(heard)
    within = sum(s + guard <= limit_s for _, s in heard)
    read = sum(s <= limit_s for _, s in heard)
    beyond = sum(s - guard_band(STOPWATCH_U_S, rule, of) > limit_s for _, s in heard)
    figures = {
        "matches": counted(of, f"{what} match", f"{what} matches"),
        "limit": limit_s,
        "took": took,
        "where": f"{brief_mhz(longest.frequency_hz)} MHz into {longest.load or 'its load'}",
    }
    told = said("time.told", within=within, share=share_words(within, of), **figures)
    if within < read:
        told = said("time.unsure", read=read, guard=guard, open=read - within, **figures)
    if beyond > 1 or (beyond and of == 1):
        return TrialsFinding(Verdict.FAIL if beyond > 1 else Verdict.NOT_SHOWN, told)
    if beyond:
        return TrialsFinding(Verdict.TOO_CLOSE, said("time.once", told=told))
    if of < FEWEST_TIMES:
        return TrialsFinding(Verdict.NOT_SHOWN, said("time.few", told=told, fewest=FEWEST_TIMES))
    return TrialsFinding(Verdict.PASS if within == of else Verdict.TOO_CLOSE, told)
