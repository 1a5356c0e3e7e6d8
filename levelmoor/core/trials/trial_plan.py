"""Which trials decide the claims on a tuner, in the fewest keyings and walks."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from levelmoor.core.heat.duty import average_w, duty_of_times
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Radio
from levelmoor.core.model.evaluation import Evaluation, Sample
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.trials import Outcome, Trial
from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.trials.load_text import format_load, parse_load, parse_load_range
from levelmoor.core.trials.trial_grid import Wanted, cells_of, wanted_in
from levelmoor.core.trials.trial_verdict import FEWEST_TIMES

TUNING_W = 10.0
"""The carrier that is keyed for a tuner (common practice, no source)."""
KEYED_S = 15.0
"""The longest that is keyed for one trial; then the radio rests."""
REST_S = 45.0
"""So long it rests: a quarter of the time keyed is what handhelds and small sets stand (common practice, no source)."""
SAME_GAMMA = 0.02


@dataclass(frozen=True)
class PlannedTrial:
    """One trial that is still to be made: frequency, load, fresh or from memory, and for which claims."""

    frequency_hz: float
    load_ohm: complex
    load: str
    memory: bool
    claim_ids: tuple[str, ...]
    radio: str = ""
    power_w: float = TUNING_W
    problem: str = ""


@dataclass(frozen=True)
class TrialPlan:
    """The trials in order, load by load; `keyed` says that the tuner needs a carrier. `minutes` is what they take."""

    trials: tuple[PlannedTrial, ...] = ()
    keyed: bool = True
    loads: tuple[str, ...] = ()

    @property
    def minutes(self) -> float:
        each = (KEYED_S + REST_S) / 60 if self.keyed else 3.0
        return len(self.trials) * each + 2.0 * len(self.loads)

    @property
    def average_w(self) -> float:
        """What the load turns to heat on average, keyed and resting as planned; 0 where nothing is keyed."""
        highest = max((t.power_w for t in self.trials), default=0.0) if self.keyed else 0.0
        return average_w(highest, duty_of_times(KEYED_S, REST_S))


def tuner_claims(evaluation: Evaluation) -> list[Claim]:
    """The claims that trials decide."""
    kinds = (Quantity.TUNER_RANGE, Quantity.TUNER_TIME, Quantity.RECALL)
    return [c for c in evaluation.claims if c.quantity in kinds]


def plan_trials(evaluation: Evaluation, sample_id: str, sweeps: dict[str, Sweep]) -> TrialPlan:
    """The trials that the claims on a sample still ask for: at the edges of each range and inside, each place once for
    all claims; times are taken with them, and each fresh match is recalled where a claim speaks of memory."""
    manual = bool(evaluation.networks)
    mine = [t for t in evaluation.trials if t.sample_id == sample_id and t.tried]
    asked = _asked(evaluation)
    made = cells_of([t for t in mine if not t.memory], sweeps)
    open_: dict[tuple[float, complex], list[str]] = {}
    for claim, window, wanted in asked:
        if any(wanted.met_by(c, window) for c in made):
            continue
        key = _near(open_, wanted)
        ids = open_.setdefault(key, [])
        if claim.id not in ids:
            ids.append(claim.id)
    planned = [_planned(evaluation, hz, load, False, ids) for (hz, load), ids in open_.items()]
    planned += _timed(evaluation, mine, asked, len(planned))
    order = sorted(planned, key=lambda p: (p.load_ohm.real, p.load_ohm.imag, p.memory, p.frequency_hz))
    loads = tuple(dict.fromkeys(p.load for p in order))
    return TrialPlan(tuple(order), not manual, loads)


def trials_to_make(evaluation: Evaluation) -> list[tuple[Sample, TrialPlan]]:
    """What each sample's claims still ask for; samples with nothing to try, or set aside, are not named."""
    if not tuner_claims(evaluation):
        return []
    sweeps = {e.id: e.sweep for e in evaluation.sweeps}
    each = [(s, plan_trials(evaluation, s.id, sweeps)) for s in evaluation.samples if not s.set_aside]
    return [(s, plan) for s, plan in each if plan.trials]


def _asked(evaluation: Evaluation) -> list[tuple[Claim, Window, Wanted]]:
    found = []
    for claim in tuner_claims(evaluation):
        of = parse_load_range(claim.stated) if claim.quantity is Quantity.TUNER_RANGE else None
        if of is not None:
            found += [(claim, w, wanted) for w in claim.windows for wanted in wanted_in(w, of)]
    return found


def _near(open_: dict[tuple[float, complex], list[str]], wanted: Wanted) -> tuple[float, complex]:
    """A place of another claim that will do for this one too."""
    mine = complex(gamma_from_impedance(wanted.load_ohm, 50.0))
    for hz, load in open_:
        other = complex(gamma_from_impedance(load, 50.0))
        if abs(hz / wanted.frequency_hz - 1) <= 0.02 and abs(other - mine) <= SAME_GAMMA:
            return hz, load
    return wanted.frequency_hz, wanted.load_ohm


def _timed(
    evaluation: Evaluation, mine: Sequence[Trial], asked: Sequence[tuple[Claim, Window, Wanted]], coming: int
) -> list[PlannedTrial]:
    """What claims of time ask for beyond the range's own trials."""
    found = []
    for claim in tuner_claims(evaluation):
        if claim.quantity is Quantity.TUNER_RANGE:
            continue
        memory = claim.quantity is Quantity.RECALL
        timed = [t for t in mine if t.outcome is Outcome.MATCHED and t.seconds is not None]
        have = sum(t.memory is memory for t in timed)
        lacking = FEWEST_TIMES - have - (0 if memory else coming)
        windows = claim.windows or tuple(w for _, w, _ in asked)
        for i in range(max(lacking, 0)):
            window = windows[i % len(windows)] if windows else Window(7.1e6, 7.1e6)
            hz = math.sqrt(window.low_hz * window.high_hz)
            known = [t.load for t in mine if window.low_hz <= t.frequency_hz <= window.high_hz and t.load]
            z = parse_load(known[0]).impedance_ohm if known else None
            found.append(_planned(evaluation, hz, z or 150 + 0j, memory, [claim.id]))
    return found


def _planned(evaluation: Evaluation, hz: float, load: complex, memory: bool, ids: list[str]) -> PlannedTrial:
    hz = round(hz, -3)
    words = format_load(load)
    if evaluation.networks:
        return PlannedTrial(hz, load, words, memory, tuple(ids))
    radio = next((r for r in evaluation.equipment.radios if _reaches(r, hz)), None)
    problem = "" if radio or not evaluation.equipment.radios else "none of the team's radios transmits there"
    most = float(radio.power_w.at(hz)) if radio and radio.power_w else TUNING_W
    power = min(TUNING_W, most)
    return PlannedTrial(hz, load, words, memory, tuple(ids), radio.name if radio else "", power, problem)


def _reaches(radio: Radio, hz: float) -> bool:
    curve = radio.power_w
    return curve is not None and curve.frequency_hz[0] * 0.999 <= hz <= curve.frequency_hz[-1] * 1.001
