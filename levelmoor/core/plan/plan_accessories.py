"""The sweeps through and the runs under power that the claims on chokes, pads, filters and adapters still ask for."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from levelmoor.core.evidence.findings import Findings
from levelmoor.core.evidence.swept_through import empty_of, wanted_fixture
from levelmoor.core.heat.duty import average_w, duty_of
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Instrument, InstrumentClass
from levelmoor.core.model.evaluation import Evaluation, Sample
from levelmoor.core.model.quantities import ShownBy
from levelmoor.core.model.through import Fixture
from levelmoor.core.plan.plan_sweeps import USUAL_POINTS
from levelmoor.core.rf.windows import Window
from levelmoor.core.through.through_verdict import finest_step
from levelmoor.core.words.counting import counted
from levelmoor.core.words.figures import brief_range

HEATED_MIN, COOLED_MIN = 40.0, 30.0
"""A run under power tells its end after half an hour or more; the next one begins cold (common practice, no source)."""
ROOM = 0.02
"""So far beyond a window, as a share of its ends, a sweep begins and ends, so that the edge has a point beside it."""
_OPEN = (Verdict.NOT_SHOWN, Verdict.OUTSIDE)


@dataclass(frozen=True)
class SweepThrough:
    """One sweep to be made: how the article stands, from where to where in Hz with how many points, and with which
    instrument. Of an empty fixture there is no sample; `points` is 0 where a claim names no range."""

    fixture: Fixture
    sample: Sample | None
    claims: tuple[Claim, ...]
    low_hz: float = 0.0
    high_hz: float = 0.0
    points: int = 0
    instrument: Instrument | None = None
    why_not: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class RunUnderPower:
    """One run to be made: the power that is claimed, in W, and what it is on average in its mode."""

    sample: Sample
    claim: Claim
    power_w: float
    average_w: float


@dataclass(frozen=True)
class AccessoryPlan:
    """What is left to be done, in its order: each empty fixture before what is put into it; heat last."""

    sweeps: tuple[SweepThrough, ...] = ()
    heats: tuple[RunUnderPower, ...] = ()
    minutes: float = 0.0

    def __bool__(self) -> bool:
        return bool(self.sweeps or self.heats)

    @property
    def words(self) -> str:
        """What is left, counted."""
        parts = [counted(len(self.sweeps), "sweep") + " through"] if self.sweeps else []
        parts += [counted(len(self.heats), "heat run")] if self.heats else []
        return ", ".join(parts)


def plan_accessories(evaluation: Evaluation, findings: Findings) -> AccessoryPlan:
    """What the claims still ask for; a claim that is decided, or that is not written whole, asks for nothing."""
    open_ = {(f.claim_id, f.sample_id) for f in findings.claims if f.verdict in _OPEN}
    samples = [s for s in evaluation.samples if not s.set_aside]
    asked = [(s, c) for s in samples for c in evaluation.claims if (c.id, s.id) in open_]
    sweeps: list[SweepThrough] = []
    for fixture in (Fixture.SERIES, Fixture.THROUGH):
        for sample in samples:
            claims = [c for s, c in asked if s is sample and _shown_in(c, fixture)]
            sweeps += _sweeps(evaluation, fixture, sample, claims)
    heats = [run for s, c in asked if (run := _heat(c, s))] if _between_lines(evaluation) else []
    sweeps = [*_empty_first(evaluation, sweeps), *sweeps]
    wishes = evaluation.wishes
    minutes = wishes.sweep_min * len(sweeps) + (wishes.calibration_min if sweeps else 0.0)
    minutes += HEATED_MIN * len(heats) + COOLED_MIN * max(len(heats) - 1, 0)
    return AccessoryPlan(tuple(sweeps), tuple(heats), minutes)


def _between_lines(evaluation: Evaluation) -> bool:
    """Whether what is evaluated is put between lines, or has run under power: nobody loads an antenna for half an hour
    because its leaflet names a power, unless it was begun."""
    others = any(c.quantity.spec.shown_by in (ShownBy.THROUGH, ShownBy.TRIAL) for c in evaluation.claims)
    return bool(others or evaluation.throughs or evaluation.trials or evaluation.networks or evaluation.heats)


def _shown_in(claim: Claim, fixture: Fixture) -> bool:
    through = claim.quantity.spec.shown_by is ShownBy.THROUGH
    return through and not claim.missing and wanted_fixture(claim) is fixture


def _heat(claim: Claim, sample: Sample) -> RunUnderPower | None:
    duty = claim.duty or duty_of(claim.mode)
    if claim.quantity.spec.shown_by is not ShownBy.HEAT or claim.limit is None or duty is None:
        return None
    return RunUnderPower(sample, claim, claim.limit, average_w(claim.limit, duty))


def _sweeps(evaluation: Evaluation, fixture: Fixture, sample: Sample, claims: Sequence[Claim]) -> list[SweepThrough]:
    """One sweep over all the windows where an instrument has the points for it, else one for each window."""
    windows = list(dict.fromkeys(w for c in claims for w in c.windows))
    anywhere = [SweepThrough(fixture, sample, (c,)) for c in claims if not c.windows]
    if not windows:
        return anywhere
    whole = _one(evaluation, fixture, sample, claims, windows)
    if whole.instrument is not None or len(windows) == 1:
        return [whole]
    return [_one(evaluation, fixture, sample, [c for c in claims if w in c.windows], [w]) for w in windows]


def _one(
    evaluation: Evaluation, fixture: Fixture, sample: Sample, claims: Sequence[Claim], windows: Sequence[Window]
) -> SweepThrough:
    low = min(w.low_hz for w in windows) * (1 - ROOM)
    high = max(w.high_hz for w in windows) * (1 + ROOM)
    step = min(finest_step(w) for w in windows)
    points = max(math.ceil((high - low) / step) + 1, USUAL_POINTS)
    chosen, why_not = _instrument(evaluation, low, high, points)
    return SweepThrough(fixture, sample, tuple(claims), low, high, points, chosen, tuple(why_not))


def _instrument(
    evaluation: Evaluation, low_hz: float, high_hz: float, points: int
) -> tuple[Instrument | None, list[tuple[str, str]]]:
    """The first analyzer of two ports that reaches, one whose fixture was swept empty before others; and why none of
    those before it."""
    why_not: list[tuple[str, str]] = []
    order = sorted(evaluation.instruments_in_use, key=lambda i: empty_of(evaluation, i.id) is None)
    for one in order:
        if one.instrument_class not in (InstrumentClass.ANALYZER, InstrumentClass.UNSTATED):
            continue
        if one.ports < 2:
            why_not.append((one.name, "it has one port"))
        elif one.low_hz > low_hz or 0 < one.high_hz < high_hz:
            why_not.append((one.name, f"it sweeps {brief_range(one.low_hz, one.high_hz)}"))
        elif 0 < one.points < points:
            why_not.append((one.name, f"it sweeps {counted(one.points, 'point')}, and {points} are needed"))
        else:
            return one, why_not
    return None, why_not


def _empty_first(evaluation: Evaluation, sweeps: Sequence[SweepThrough]) -> list[SweepThrough]:
    """The empty fixture, once for each instrument that was not swept so over the span."""
    found: dict[str, SweepThrough] = {}
    for one in sweeps:
        if one.fixture is not Fixture.SERIES or one.instrument is None:
            continue
        empty = empty_of(evaluation, one.instrument.id)
        if empty is not None and empty.two_port.covers(one.low_hz, one.high_hz):
            continue
        known = found.get(one.instrument.id)
        low, high, points = one.low_hz, one.high_hz, one.points
        if known is not None:
            low, high, points = min(low, known.low_hz), max(high, known.high_hz), max(points, known.points)
        found[one.instrument.id] = SweepThrough(Fixture.OPEN, None, (), low, high, points, one.instrument)
    return list(found.values())
