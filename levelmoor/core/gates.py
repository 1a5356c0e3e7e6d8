"""The gates of the bench: what must have been shown before a sweep counts, and what to do where it was not."""

from dataclasses import dataclass
from enum import StrEnum

from levelmoor.core.bench_records import BenchCheck, BenchRule, CalibrationRecord, CheckKind, age_obstacle
from levelmoor.core.check_results import Result, check_result
from levelmoor.core.equipment import Instrument, InstrumentClass
from levelmoor.core.evaluation import Calibration, Evaluation, Evidence, Plane, Setup
from levelmoor.core.frequency import format_range
from levelmoor.core.repeats import FEWEST
from levelmoor.core.spread import Spread, repeat_groups, spread_of
from levelmoor.core.windows import Window

REPEATS_SINCE = METERS_SINCE = 3
"""The edition of the rules since which repeats widen the uncertainty, and a meter is not asked for a calibration."""
METERS = (InstrumentClass.METER, InstrumentClass.WATTMETER, InstrumentClass.BRIDGE)

CABLE_HOLDS_H = 365 * 24.0
"""A feed line's check holds for a year, or until it is moved and bent more than usual (common practice, no source)."""


class GateState(StrEnum):
    PASSED = "passed"
    FAILED = "failed"
    MISSING = "missing"
    NOT_ASKED = "not_asked"


@dataclass(frozen=True)
class Gate:
    """One gate as a sweep stands before it. `words` say what was found; for failed or missing, what to do."""

    name: str
    state: GateState
    words: str

    @property
    def blocks(self) -> bool:
        return self.state in (GateState.FAILED, GateState.MISSING)


class BenchBook:
    """The calibrations and checks of an evaluation, by id, with each check's result found once."""

    def __init__(self, evaluation: Evaluation) -> None:
        self.rule, self.age_limit_h = evaluation.bench_rule, evaluation.age_limit_h
        self.calibrations = {c.id: c for c in evaluation.calibrations}
        self.checks = evaluation.checks
        self.equipment = evaluation.equipment
        self.instruments: dict[str, Instrument] = {i.id: i for i in evaluation.instruments}
        self._results: dict[str, Result | ValueError] = {}
        self.edition = evaluation.edition
        self._groups = repeat_groups(evaluation.sweeps) if evaluation.edition >= REPEATS_SINCE else []
        self._spreads: dict[tuple[str, ...], Spread] = {}

    def result(self, check: BenchCheck) -> Result:
        """The result of a check; raises ValueError where the check is not complete."""
        if check.id not in self._results:
            try:
                self._results[check.id] = check_result(check, self.equipment, self.instruments.get(check.instrument_id))
            except ValueError as problem:
                self._results[check.id] = problem
        found = self._results[check.id]
        if isinstance(found, ValueError):
            raise found
        return found

    def repeats(self, evidence: Evidence) -> tuple[Evidence, ...]:
        """The sweep with its repeats, in the order they came; by itself where there are none."""
        return next((g for g in self._groups if any(e.id == evidence.id for e in g)), (evidence,))

    def spread(self, evidence: Evidence) -> Spread:
        """Mean and spread of a sweep and its repeats, where it was read. A sweep that was not repeated itself spreads
        as others of the same sample, setup and instrument that overlap it, since all of them stand in the same wind.
        """
        found = self._spread(self.repeats(evidence))
        if found.sd is not None:
            return found
        for group in self._groups:
            if len({e.taken_on[:10] for e in (group[0], evidence) if e.taken_on}) > 1:
                continue  # another day, another wind
            kin = all(getattr(group[0], n) == getattr(evidence, n) for n in ("sample_id", "setup_id", "instrument_id"))
            if kin and len(group) >= FEWEST and group[0].sweep.cut(evidence.sweep.low_hz, evidence.sweep.high_hz):
                return self._spread(group)
        return found

    def _spread(self, group: tuple[Evidence, ...]) -> Spread:
        key = tuple(e.id for e in group)
        if key not in self._spreads:
            self._spreads[key] = spread_of({e.id: e.sweep for e in group})
        return self._spreads[key]

    def latest(self, kind: CheckKind, **wanted: str) -> BenchCheck | None:
        """The latest complete check of a kind with these ids, None where there is none."""
        for check in sorted(self.checks, key=lambda c: c.done_at, reverse=True):
            if check.kind is not kind or any(getattr(check, k) != v for k, v in wanted.items()):
                continue
            try:
                self.result(check)
            except ValueError:
                continue
            return check
        return None

    def of_calibration(self, kind: CheckKind, evidence: Evidence) -> BenchCheck | None:
        """The check of a residual that a sweep rests on: with its own calibration and instrument."""
        if not evidence.calibration_id:
            return None
        return self.latest(kind, calibration_id=evidence.calibration_id, instrument_id=evidence.instrument_id)

    def cable(self, setup: Setup) -> BenchCheck | None:
        return self.latest(CheckKind.CABLE, item_id=setup.line_id) if setup.line_id else None


def gates_of(book: BenchBook, evidence: Evidence, setup: Setup, window: Window | None = None) -> tuple[Gate, ...]:
    """The gates that a sweep passes or not, for a window or for all that it spans."""
    if _is_meter(book, evidence):
        cable = _cable_gate(book, evidence, setup)
        return (_meter_gate(book, evidence), cable) if cable else (_meter_gate(book, evidence),)
    gates = [_calibration_gate(book, evidence, setup)]
    low, high = (window.low_hz, window.high_hz) if window else (evidence.sweep.low_hz, evidence.sweep.high_hz)
    gates.append(_load_gate(book, evidence, low, high))
    full = book.of_calibration(CheckKind.FULL, evidence)
    if full is not None:
        result = book.result(full)
        gates.append(Gate("Open or short", _state(result.sound), result.words[:1].lower() + result.words[1:]))
    cable = _cable_gate(book, evidence, setup)
    return (*gates, cable) if cable else tuple(gates)


def obstacle(gates: tuple[Gate, ...]) -> str:
    """The first gate that keeps a sweep from counting, as a reason; nothing where all are passed."""
    return next((g.words for g in gates if g.blocks), "")


def _state(sound: bool) -> GateState:
    return GateState.PASSED if sound else GateState.FAILED


def _is_meter(book: BenchBook, evidence: Evidence) -> bool:
    """Whether the sweep was read off a meter, which has no calibration at a plane."""
    instrument = book.instruments.get(evidence.instrument_id)
    return book.edition >= METERS_SINCE and instrument is not None and instrument.class_ in METERS


def _meter_gate(book: BenchBook, evidence: Evidence) -> Gate:
    name = "Meter"
    check = book.latest(CheckKind.METER, instrument_id=evidence.instrument_id)
    if check is not None:
        done = check.done_at.replace("T", " ")
        return Gate(name, GateState.PASSED, f"checked against the analyzer on known loads, {done}")
    if book.rule is BenchRule.PROVEN:
        words = "the meter was not checked against an analyzer on known loads; add that check on the bench"
        return Gate(name, GateState.MISSING, words)
    return Gate(name, GateState.NOT_ASKED, "a meter has no calibration at the plane; its stated accuracy counts")


def _calibration_gate(book: BenchBook, evidence: Evidence, setup: Setup) -> Gate:
    name = "Calibration"
    if evidence.calibration_id:
        record = book.calibrations.get(evidence.calibration_id)
        if record is None:
            return Gate(name, GateState.MISSING, "the calibration record of this sweep is gone; choose another")
        problem = _calibration_obstacle(record, book, evidence, setup)
        if problem:
            return Gate(name, GateState.FAILED, problem)
        said = f"calibration on record: {record.standards}, {format_range(record.low_hz, record.high_hz)}"
        return Gate(name, GateState.PASSED, f"{said}, {record.done_at.replace('T', ' ')}")
    if evidence.calibration is Calibration.NONE:
        words = (
            "the sweep has no calibration of its own span and plane; calibrate at the reference plane and sweep again"
        )
        return Gate(name, GateState.FAILED, words)
    if evidence.calibration is Calibration.UNSTATED:
        words = "it is not stated whether the analyzer was calibrated at the reference plane; state it with the sweep"
        return Gate(name, GateState.MISSING, words)
    if book.rule is BenchRule.PROVEN:
        words = (
            "the calibration is stated but not on record; record it on the bench with its standards, span, plane, "
            "instrument and time, and choose it for this sweep"
        )
        return Gate(name, GateState.MISSING, words)
    return Gate(name, GateState.PASSED, "calibrated at the reference plane, as stated; not on record")


def calibrations_that_hold(book: BenchBook, evidence: Evidence, setup: Setup) -> list[CalibrationRecord]:
    """The calibrations on record that a sweep may rest on, the latest first."""
    holding = [c for c in book.calibrations.values() if not _calibration_obstacle(c, book, evidence, setup)]
    return sorted(holding, key=lambda c: c.done_at, reverse=True)


def _calibration_obstacle(record: CalibrationRecord, book: BenchBook, evidence: Evidence, setup: Setup) -> str:
    sweep = evidence.sweep
    if record.instrument_id != evidence.instrument_id:
        other = book.instruments.get(record.instrument_id)
        who = f"of {other.name}" if other else "of another instrument"
        return f"the calibration is {who}, and the sweep is not; calibrate the instrument that sweeps"
    if not record.covers(sweep.low_hz, sweep.high_hz):
        return (
            f"the calibration spans {format_range(record.low_hz, record.high_hz)} and the sweep "
            f"{format_range(sweep.low_hz, sweep.high_hz)}; calibrate over the span that is swept, and sweep again"
        )
    if record.plane != setup.plane.value:
        return "the calibration was done at another plane than the setup's; calibrate at the plane and sweep again"
    problem = age_obstacle(record.done_at, evidence.taken_on, book.age_limit_h, "the calibration")
    return f"{problem}; calibrate and sweep again" if "old when" in problem else problem


def _load_gate(book: BenchBook, evidence: Evidence, low_hz: float, high_hz: float) -> Gate:
    name = "Known load"
    check = book.of_calibration(CheckKind.LOAD, evidence)
    todo = "sweep a known good load at the plane with this calibration, and drop the file on the bench"
    if check is None or check.sweep is None:
        asked = book.rule is BenchRule.PROVEN
        words = f"no known load was swept with this calibration; {todo}" if asked else "no known load; typical figures"
        return Gate(name, GateState.MISSING if asked else GateState.NOT_ASKED, words)
    result = book.result(check)
    if not result.sound:
        return Gate(name, GateState.FAILED, result.words[:1].lower() + result.words[1:])
    if not check.sweep.covers(low_hz, high_hz):
        span = format_range(check.sweep.low_hz, check.sweep.high_hz)
        words = f"the known load was swept over {span} only; {todo}, over the whole window"
        return Gate(name, GateState.MISSING if book.rule is BenchRule.PROVEN else GateState.NOT_ASKED, words)
    return Gate(name, GateState.PASSED, result.words[:1].lower() + result.words[1:])


def _cable_gate(book: BenchBook, evidence: Evidence, setup: Setup) -> Gate | None:
    if not setup.line_id:
        return None
    name = "Feed line"
    line = next((x.name for x in book.equipment.lines if x.id == setup.line_id), "the feed line")
    check = book.cable(setup)
    needed = setup.plane is Plane.SHACK and book.rule is BenchRule.PROVEN
    if check is None:
        words = f"{line} was not checked; sweep it with its far end open or shorted, and drop the file on the bench"
        return Gate(name, GateState.MISSING if needed else GateState.NOT_ASKED, words)
    result = book.result(check)
    if not result.sound:
        return Gate(name, GateState.FAILED, f"{line} is bad: {result.words.removeprefix('Bad: ')}; use another one")
    # A line checked after the sweep says as much about it as one checked before.
    first, second = sorted((check.done_at, evidence.taken_on or check.done_at))
    if age_obstacle(first, second, CABLE_HOLDS_H, line):
        return Gate(
            name,
            GateState.MISSING if needed else GateState.NOT_ASKED,
            f"the check of {line} is over a year old; sweep it again",
        )
    return Gate(name, GateState.PASSED, f"{line}: {result.words[:1].lower()}{result.words[1:]}")
