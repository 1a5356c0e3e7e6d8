"""Verdicts from trials: matching range, residual SWR, times.

A claim over a range rests on trials at its edges and inside; what lies between is said as not shown. A repeat that came
out otherwise counts.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from levelmoor.core.metrology.decision import DecisionRule, Verdict, decide, guard_band
from levelmoor.core.metrology.uncertainty import Residuals, standard_uncertainty
from levelmoor.core.model.trials import OUTCOME_WORDS, STOPWATCH_U_S, Outcome, Trial
from levelmoor.core.rf.frequency import format_mhz
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.windows import Window
from levelmoor.core.trials.load_text import LoadRange
from levelmoor.core.trials.trial_grid import Cell, share_words, wanted_in
from levelmoor.core.words.counting import counted

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
        return f"{format_mhz(self.cell.frequency_hz)} MHz into {self.cell.load.words}"


@dataclass(frozen=True)
class TrialsFinding:
    """The verdict on a window with its grid."""

    verdict: Verdict
    reason: str
    cells: tuple[CellFinding, ...] = ()
    gaps: tuple[str, ...] = ()


def trial_verdict(trial: Trial, limit_swr: float, figures: Residuals | None, rule: DecisionRule) -> tuple[Verdict, str]:
    """Whether one trial matched within an SWR, with the reading's uncertainty; `figures` are None where nobody says
    what it was read with."""
    if trial.outcome in (Outcome.GAVE_UP, Outcome.REFUSED):
        return Verdict.FAIL, OUTCOME_WORDS[trial.outcome]
    if trial.outcome is Outcome.STOPPED:
        return Verdict.NOT_SHOWN, "stopped by hand, which says nothing of the tuner"
    if trial.swr_after is None:
        return Verdict.NOT_SHOWN, "matched by its own word; no SWR was read after it"
    if figures is None:
        return Verdict.NOT_SHOWN, "nobody says what the SWR was read with"
    gamma, limit = float(gamma_from_swr(trial.swr_after)), float(gamma_from_swr(limit_swr))
    step = trial.swr_step / 2
    half = (float(gamma_from_swr(trial.swr_after + step)) - float(gamma_from_swr(max(trial.swr_after - step, 1.0)))) / 2
    u = float(standard_uncertainty(gamma, figures, half, trial.frequency_hz))
    return decide(limit, gamma, u, rule), f"{trial.swr_after:.4g}:1"


def cell_finding(cell: Cell, limit_swr: float, figures: Mapping[str, Residuals], rule: DecisionRule) -> CellFinding:
    """Over its repeats: all good passes, all beyond fails, some of each is too close to call."""
    judged = [trial_verdict(t, limit_swr, figures.get(t.instrument_id), rule) for t in cell.trials if t.tried]
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
) -> TrialsFinding:
    """A claim that loads of a range are matched within an SWR over a window."""
    inside = [c for c in cells if window.low_hz <= c.frequency_hz <= window.high_hz]
    unknown = [c for c in inside if of.holds(c.load) is None]
    found = [cell_finding(c, limit_swr, figures, rule) for c in inside if of.holds(c.load)]
    tried, good = sum(f.tried for f in found), sum(f.good for f in found)
    gaps = _gaps(found, window, of)
    share = f" ({share_words(good, tried)})" if tried else ""
    told = f"{good} of {tried} matched within {limit_swr:g}:1{share}." if tried else ""
    failed = [f for f in found if f.verdict is Verdict.FAIL]
    close = [f for f in found if f.verdict is Verdict.TOO_CLOSE]
    if len(failed) > 1 or any(f.tried > 1 for f in failed):
        return TrialsFinding(Verdict.FAIL, f"{_named('Not matched', failed)} {told}", tuple(found), gaps)
    if failed:
        again = f"{_named('Not matched once', failed)} Try it again: one trial alone does not fail a claim. {told}"
        return TrialsFinding(Verdict.NOT_SHOWN, again, tuple(found), gaps)
    if close:
        return TrialsFinding(Verdict.TOO_CLOSE, f"{_named('Either way', close)} {told}", tuple(found), gaps)
    if of.anything:
        reason = f"{told} No number of trials shows any load; what was tried stands in the grid.".strip()
        return TrialsFinding(Verdict.NOT_SHOWN, reason, tuple(found))
    if gaps:
        said = f"{told} Not shown: {_listed(gaps)}.".strip()
        if unknown:
            said += f" Of {counted(len(unknown), 'load')} it is not known whether the range holds them."
        return TrialsFinding(Verdict.NOT_SHOWN, said, tuple(found), gaps)
    return TrialsFinding(Verdict.PASS, f"{told} Tried at the edges and inside; what lies between is not shown.",
                         tuple(found))  # fmt: skip


def _gaps(found: Sequence[CellFinding], window: Window, of: LoadRange) -> tuple[str, ...]:
    shown = [f.cell for f in found if f.verdict is not Verdict.NOT_SHOWN]
    open_ = [w for w in wanted_in(window, of) if not any(w.met_by(c, window) for c in shown)]
    return tuple(f"{format_mhz(round(w.frequency_hz, -3))} MHz into {w.words}" for w in open_)


def _named(what: str, found: Sequence[CellFinding]) -> str:
    said = [f"{f.place} ({f.words}{f', {f.good} of {f.tried} within' if f.tried > 1 else ''})" for f in found]
    return f"{what}: {_listed(said)}."


def _listed(said: Sequence[str]) -> str:
    if len(said) <= NAMED:
        return "; ".join(said)
    return f"{'; '.join(said[:NAMED])}; and {len(said) - NAMED} more"


def judge_time(trials: Sequence[Trial], limit_s: float, rule: DecisionRule, memory: bool) -> TrialsFinding:
    """A claim that a match takes no longer, from fresh trials or from those recalled from memory."""
    what = "recalled" if memory else "fresh"
    timed = [t for t in trials if t.tried and t.outcome is Outcome.MATCHED and t.seconds is not None]
    heard = [(t, t.seconds) for t in timed if t.memory is memory and t.seconds is not None]
    if not heard:
        return TrialsFinding(Verdict.NOT_SHOWN, f"No {what} match was timed yet.")
    longest, took = max(heard, key=lambda h: h[1])
    guard = guard_band(STOPWATCH_U_S, rule)
    within = sum(s + guard <= limit_s for _, s in heard)
    beyond = sum(s - guard > limit_s for _, s in heard)
    where = f"{format_mhz(longest.frequency_hz)} MHz into {longest.load or 'its load'}"
    told = (
        f"{within} of {counted(len(heard), f'{what} match', f'{what} matches')} within {limit_s:g} s "
        f"({share_words(within, len(heard))}); the longest {took:.3g} s at {where}."
    )
    if beyond > 1 or (beyond and len(heard) == 1):
        return TrialsFinding(Verdict.FAIL if beyond > 1 else Verdict.NOT_SHOWN, told)
    if beyond:
        return TrialsFinding(Verdict.TOO_CLOSE, f"{told} Only one took longer: repeat it.")
    if len(heard) < FEWEST_TIMES:
        return TrialsFinding(Verdict.NOT_SHOWN, f"{told} {FEWEST_TIMES} times at least show a claim of time.")
    return TrialsFinding(Verdict.PASS if within == len(heard) else Verdict.TOO_CLOSE, told)
