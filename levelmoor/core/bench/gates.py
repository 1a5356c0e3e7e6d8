"""The gates of the bench: what must have been shown before a sweep counts, and what to do where it was not."""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from levelmoor.core.bench.cable_check import CableCheck
from levelmoor.core.bench.check_results import Result, check_result
from levelmoor.core.bench.load_check import ResidualCheck
from levelmoor.core.model.bench_records import (
    CHECK_WORDS,
    BenchCheck,
    BenchRule,
    CalibrationRecord,
    CheckKind,
    age_obstacle,
)
from levelmoor.core.model.equipment import Instrument, InstrumentClass
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Plane, Setup
from levelmoor.core.rf.frequency import format_range
from levelmoor.core.rf.line_types import find_line_type
from levelmoor.core.rf.windows import Window

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

    def result(self, check: BenchCheck) -> Result:
        """The result of a check; raises ValueError where the check is not complete."""
        if check.id not in self._results:
            try:
                instrument, record = (
                    self.instruments.get(check.instrument_id),
                    self.calibrations.get(check.calibration_id),
                )
                self._results[check.id] = check_result(check, self.equipment, instrument, record)
            except ValueError as problem:
                self._results[check.id] = problem
        found = self._results[check.id]
        if isinstance(found, ValueError):
            raise found
        return found

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

    def drift(self, evidence: Evidence) -> float | None:
        """What drifted with the sweep's calibration, as a share of the directivity: by a load that was read twice."""
        loads = [
            c.sweep
            for c in self.checks
            if c.kind is CheckKind.LOAD and c.calibration_id == evidence.calibration_id and c.sweep is not None
        ]
        instrument = self.instruments.get(evidence.instrument_id)
        if len(loads) < 2 or instrument is None:
            return None
        first, last = loads[0], loads[-1]
        f = first.inside(max(first.low_hz, last.low_hz), min(first.high_hz, last.high_hz))
        if not f.size:
            return None
        moved = float(np.max(np.abs(first.gamma_at(f) - last.referred_to(first.z0_ohm).gamma_at(f))))
        return min(moved / 10 ** (-instrument.figures.directivity_db / 20), 1.0)

    def line_z0_ohm(self, setup: Setup) -> float | None:
        """The impedance of the setup's feed line by its type, None where no line is noted."""
        line = next((x for x in self.equipment.lines if x.id == setup.line_id), None)
        return find_line_type(line.type).z0_ohm if line else None

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
    full = book.of_calibration(CheckKind.OPEN_OR_SHORT, evidence)
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
    return instrument is not None and instrument.instrument_class in METERS


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
    renew = "calibrate and sweep again"
    return age_obstacle(record.done_at, evidence.taken_on, book.age_limit_h, "the calibration", renew)


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
    asked = book.rule is BenchRule.PROVEN
    said = result.words[:1].lower() + result.words[1:]
    if asked and isinstance(result, ResidualCheck) and not result.proves:
        return Gate(name, GateState.MISSING, said)
    if not check.sweep.covers(low_hz, high_hz):
        span = format_range(check.sweep.low_hz, check.sweep.high_hz)
        words = f"the known load was swept over {span} only; {todo}, over the whole window"
        return Gate(name, GateState.MISSING if asked else GateState.NOT_ASKED, words)
    return Gate(name, GateState.PASSED, said)


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
    if isinstance(result, CableCheck) and not result.sound:
        return Gate(name, GateState.FAILED, f"{line} is bad: {'; '.join(result.reasons)}; use another one")
    # A line checked after the sweep says as much about it as one checked before.
    first, second = sorted((check.done_at, evidence.taken_on or check.done_at))
    if age_obstacle(first, second, CABLE_HOLDS_H, line):
        return Gate(
            name,
            GateState.MISSING if needed else GateState.NOT_ASKED,
            f"the check of {line} is over a year old; sweep it again",
        )
    return Gate(name, GateState.PASSED, f"{line}: {result.words[:1].lower()}{result.words[1:]}")


def checks_in_words(book: BenchBook, evaluation: Evaluation) -> Iterator[tuple[str, str]]:
    """What was checked and when, and what it showed."""
    owned = book.equipment
    names = (
        {x.id: x.name for x in owned.lines} | {x.id: x.name for x in owned.loads} | {x.id: x.name for x in owned.pads}
    )
    for check in evaluation.checks:
        try:
            words = book.result(check).words
        except ValueError as problem:
            words = f"not complete: {problem}"
        name = f"{CHECK_WORDS[check.kind]} {names.get(check.item_id, '')}".strip()
        yield f"{name}, {check.done_at.replace('T', ' ')}", words
