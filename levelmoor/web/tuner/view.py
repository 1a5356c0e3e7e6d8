"""What the tuner's page shows: the grid of trials against what is claimed, times, what a match leaves, what is next."""

from collections.abc import Sequence
from dataclasses import dataclass

from levelmoor.core.evidence.behind_trials import behind_trial
from levelmoor.core.heat.ratings import too_weak
from levelmoor.core.matching.behind_match import Behind
from levelmoor.core.matching.preset_card import noted_matches
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.trials import Outcome, Trial
from levelmoor.core.rf.bandplan import band_plan
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.windows import Window
from levelmoor.core.trials.load_text import Load, parse_load_range
from levelmoor.core.trials.trial_grid import alike, by_load, cells_of
from levelmoor.core.trials.trial_plan import TrialPlan, plan_trials, tuner_claims
from levelmoor.core.trials.trial_verdict import CellFinding, cell_finding
from levelmoor.core.words.figures import format_mhz
from levelmoor.figures.shore import seconds_figure, shore
from levelmoor.services.findings import behind_of, long_work
from levelmoor.web.in_parts import part_at, parts_of

TRIALS_A_PART, MOST_LOADS, MOST_WINDOWS = 40, 40, 40
"""Trials that are shown at once, the latest first; loads and windows that the table of bands has room for."""


@dataclass(frozen=True)
class GridRow:
    """A band with what each load came to: None where it was not tried."""

    window: Window
    cells: Sequence[CellFinding | None]


@dataclass(frozen=True)
class TunerPage:
    """The trials of one sample, those of a part of them: `count` there are in all. `behind` is what each of those shown
    leaves for its load, by the trial's id."""

    claim: Claim | None
    limit_swr: float
    loads: Sequence[Load]
    grid: Sequence[GridRow]
    shore: str
    shore_small: str
    seconds: tuple[str, str]
    trials: Sequence[Trial]
    count: int
    part: slice
    behind: dict[str, Behind]
    plan: TrialPlan
    more: bool
    """Whether more was tried than the table of bands has room for."""
    weak: str
    has_card: bool

    @property
    def parts(self) -> list[slice]:
        """The parts that many trials are shown in."""
        return parts_of(self.count, TRIALS_A_PART)

    @property
    def reach_words(self) -> str:
        """What share of the power reaches the loads of the matches, for the first line beside them."""
        shares = [b.share for b in self.behind.values() if b.share is not None]
        if not shares:
            return "The share of the power that reaches the antenna is unknown."
        low, high = 100 * min(shares), 100 * max(shares)
        known = f"{low:.2g} %" if f"{low:.2g}" == f"{high:.2g}" else f"{low:.2g} to {high:.2g} %"
        of = "" if len(shares) == len(self.behind) else f", known of {len(shares)} of {len(self.behind)} matches"
        those = " in the trials shown" if len(self.parts) > 1 else ""
        return f"{known} of the power gets through tuner and line{those}{of}."

    def reaches(self, trial: Trial) -> str:
        """What of the power reaches the load, in few words."""
        behind = self.behind.get(trial.id)
        return behind.reach if behind else "–"


def page_of(evaluation: Evaluation, sample_id: str, part: int = 1) -> TunerPage:
    """The page of one sample, with a part of its trials; of a long evaluation made apart."""
    return long_work(evaluation, (sample_id, part), build, evaluation, sample_id, part)


def build(evaluation: Evaluation, sample_id: str, part: int = 1) -> TunerPage:
    """The page of one sample, with a part of its trials."""
    behind = behind_of(evaluation)
    sweeps = {e.id: e.sweep for e in evaluation.sweeps}
    mine = [t for t in evaluation.trials if t.sample_id == sample_id]
    claims = tuner_claims(evaluation)
    ranges = [c for c in claims if c.quantity is Quantity.TUNER_RANGE]
    claim = next(iter(ranges), None)
    limit = claim.limit if claim is not None and claim.limit is not None else evaluation.profile.limit_swr
    figures = {i.id: i.figures for i in evaluation.instruments}
    cells = cells_of([t for t in mine if not t.set_aside], sweeps)
    found = [cell_finding(c, limit, figures, evaluation.rule) for c in cells]
    every_window, every_load = _windows(evaluation, ranges, found), by_load(cells)
    windows = sorted(every_window[:MOST_WINDOWS], key=lambda w: w.low_hz)
    loads = every_load[:MOST_LOADS]
    grid = [GridRow(w, [_at(found, w, load) for load in loads]) for w in windows]
    bands = [(w, inside) for w in windows if (inside := _inside(found, w))]
    known = any(f.cell.load.gamma is not None for f in found)
    wide, small = (shore(bands, _claimed(claim), across) if known else "" for across in (5, 2))
    plan = plan_trials(evaluation, sample_id, sweeps)
    in_hand = part_at(parts_of(len(mine), TRIALS_A_PART), part)
    shown = list(reversed(mine))[in_hand]
    return TunerPage(
        claim,
        limit,
        loads,
        grid,
        wide,
        small,
        _seconds(mine, claims),
        shown,
        len(mine),
        in_hand,
        {t.id: behind_trial(evaluation, behind, t) for t in shown if t.outcome is Outcome.MATCHED},
        plan,
        len(every_load) > len(loads) or len(every_window) > len(windows),
        too_weak(evaluation.equipment, plan.average_w),
        bool(noted_matches(mine)),
    )


def _windows(evaluation: Evaluation, ranges: Sequence[Claim], found: Sequence[CellFinding]) -> list[Window]:
    """The windows that claims name, then the bands that were tried besides, then what lies in none of them."""
    windows = list(dict.fromkeys(w for c in ranges for w in c.windows))
    for band in (*(b.window for b in band_plan(evaluation.region).bands), *evaluation.own_bands):
        tried = any(band.low_hz <= f.cell.frequency_hz <= band.high_hz for f in found)
        if tried and not any(w.low_hz <= band.low_hz and band.high_hz <= w.high_hz for w in windows):
            windows.append(band)
    held = [f for f in found if not any(w.low_hz <= f.cell.frequency_hz <= w.high_hz for w in windows)]
    return windows + [Window(f.cell.frequency_hz, f.cell.frequency_hz) for f in held]


def _inside(found: Sequence[CellFinding], window: Window) -> list[CellFinding]:
    return [f for f in found if window.low_hz <= f.cell.frequency_hz <= window.high_hz]


WORST = ("fail", "too_close", "not_shown", "pass")


def _at(found: Sequence[CellFinding], window: Window, load: Load) -> CellFinding | None:
    """Of several frequencies in a band the one that came out worst."""
    mine = [f for f in _inside(found, window) if alike(f.cell.load, load)]
    return min(mine, key=lambda f: WORST.index(f.verdict.value), default=None)


def _claimed(claim: Claim | None) -> float | None:
    of = parse_load_range(claim.stated) if claim else None
    return float(gamma_from_swr(of.most_swr)) if of and of.most_swr else None


def _seconds(mine: Sequence[Trial], claims: Sequence[Claim]) -> tuple[str, str]:
    timed = [t for t in mine if t.tried and t.outcome is Outcome.MATCHED and t.seconds is not None]
    if not timed:
        return "", ""
    limit = next((c.limit for c in claims if c.quantity is Quantity.TUNER_TIME), None)
    order = sorted(timed, key=lambda t: (t.frequency_hz, t.load, t.memory))
    bars = [(f"{format_mhz(t.frequency_hz)} into {t.load or 'its load'}", t.seconds or 0.0, t.memory) for t in order]
    return seconds_figure(bars, limit), seconds_figure(bars, limit, 350.0)
