"""The gates of the bench: what must have been shown before evidence counts, and what to do where it was not."""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

from levelmoor.core.bench.book import BenchBook
from levelmoor.core.bench.cable_check import CableCheck
from levelmoor.core.bench.load_check import ResidualCheck
from levelmoor.core.bench.meter_check import MeterCheck
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.bench_records import (
    CHECK_WORDS,
    BenchCheck,
    BenchRule,
    CalibrationRecord,
    CheckKind,
    age_obstacle,
    days_apart,
    moment,
)
from levelmoor.core.model.equipment import InstrumentClass
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Plane, Setup
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.said import said

METERS = (InstrumentClass.METER, InstrumentClass.WATTMETER, InstrumentClass.BRIDGE)

CABLE_HOLDS_H = 365 * 24.0
"""A feed line's check holds for a year, or until it is moved and bent more than usual (common practice, no source)."""
AT_A_FREQUENCY = 0.2
"""A meter's check at one frequency speaks of others no farther off than this share (common practice, no source)."""


class GateState(StrEnum):
    PASSED = "passed"
    FAILED = "failed"
    MISSING = "missing"
    NOT_ASKED = "not_asked"


@dataclass(frozen=True)
class Gate:
    """One gate as evidence stands before it. `words` say what was found; for failed or missing, what to do. What was
    `assumed` because nothing is stated is told with the verdict."""

    name: str
    state: GateState
    words: str
    assumed: bool = False

    @property
    def blocks(self) -> bool:
        return self.state in (GateState.FAILED, GateState.MISSING)

    @property
    def told(self) -> bool:
        """Whether it belongs to what a verdict rests on."""
        return self.state is GateState.PASSED or self.assumed


def gates_of(book: BenchBook, evidence: Evidence, setup: Setup, window: Window | None = None) -> tuple[Gate, ...]:
    """The gates that a sweep passes or not, for a window or for all that it spans."""
    low, high = (window.low_hz, window.high_hz) if window else (evidence.sweep.low_hz, evidence.sweep.high_hz)
    cable = _cable_gate(book, evidence, setup)
    lines = (cable,) if cable else ()
    if is_meter(book, evidence.instrument_id):
        at = Window(low, high, window.name if window else "")
        return (*meter_gates(book, evidence.instrument_id, evidence.taken_on, at), *lines)
    gates = [_calibration_gate(book, evidence, setup), _load_gate(book, evidence, low, high)]
    for result in _full_results(book, evidence):
        gates.append(Gate("Open or short", _state(result.sound), said("gate.found", found=result.words)))
    return (*gates, *lines)


def _full_results(book: BenchBook, evidence: Evidence) -> Iterator[ResidualCheck]:
    kind = CheckKind.OPEN_OR_SHORT
    check = book.failed(kind, evidence.calibration_id, evidence.instrument_id) or book.of_calibration(kind, evidence)
    result = book.result(check) if check else None
    if isinstance(result, ResidualCheck):
        yield result


def obstacle(gates: tuple[Gate, ...]) -> str:
    """The first gate that keeps evidence from counting, as a reason; nothing where all are passed."""
    return next((g.words for g in gates if g.blocks), "")


def _state(sound: bool) -> GateState:
    return GateState.PASSED if sound else GateState.FAILED


def is_meter(book: BenchBook, instrument_id: str) -> bool:
    """Whether something was read off a meter, which has no calibration at a plane."""
    instrument = book.instruments.get(instrument_id)
    return instrument is not None and instrument.instrument_class in METERS


def meter_gates(book: BenchBook, instrument_id: str, taken_on: str, window: Window | None) -> tuple[Gate, ...]:
    """The gates of a meter: its check against an analyzer, near the frequency and not too old, and its figures."""
    name = "Meter"
    check = book.latest(CheckKind.METER, instrument_id=instrument_id)
    asked = book.rule is BenchRule.PROVEN
    unsettled = GateState.MISSING if asked else GateState.NOT_ASKED
    result = book.result(check) if check else None
    if check is None or not isinstance(result, MeterCheck) or not result.sound:
        words = said("gate.meter_unchecked") if asked else said("gate.meter_stated")
        return (Gate(name, unsettled, words), *figures_gates(book, instrument_id))
    done, taken = moment(check.done_at), moment(taken_on)
    if done and taken and days_apart(done, taken) * 24 > book.age_limit_h:
        return (Gate(name, unsettled, said("gate.meter_old", at=check.done_at, hours=book.age_limit_h)),)
    at = check.figure("frequency_hz")
    if at and window and not window.low_hz * (1 - AT_A_FREQUENCY) <= at <= window.high_hz * (1 + AT_A_FREQUENCY):
        return (Gate(name, unsettled, said("gate.meter_elsewhere", at=at, window=window.name)),)
    return (Gate(name, GateState.PASSED, said("gate.meter_checked", at=check.done_at)),)


def figures_gates(book: BenchBook, instrument_id: str) -> tuple[Gate, ...]:
    """What was assumed of an instrument of which nothing is stated; nothing where something is."""
    instrument = book.instruments.get(instrument_id)
    if instrument is None or instrument.figures != Residuals():
        return ()
    figures = instrument.figures
    words = said(
        "gate.assumed",
        name=instrument.name,
        directivity=figures.directivity_db,
        tracking=100 * figures.tracking,
    )
    return (Gate("Figures", GateState.NOT_ASKED, words, assumed=True),)


def reading_gates(book: BenchBook, instrument_id: str, taken_on: str, window: Window | None) -> tuple[Gate, ...]:
    """The gates of single figures that were read with an instrument and have no calibration of their own: of a meter
    its check, of an analyzer under a proven bench a calibration of that day with a known load."""
    if is_meter(book, instrument_id):
        return meter_gates(book, instrument_id, taken_on, window)
    if book.rule is not BenchRule.PROVEN:
        return figures_gates(book, instrument_id)
    instrument = book.instruments.get(instrument_id)
    if instrument is None:
        return (Gate("Instrument", GateState.MISSING, said("gate.instrument_unsaid", what="the instrument")),)
    return calibration_gates(book, instrument_id, "", taken_on, window.ends if window else None)


def calibration_gates(
    book: BenchBook,
    instrument_id: str,
    calibration_id: str,
    taken_on: str,
    span: tuple[float, float] | None,
    fixture_on: str = "",
) -> tuple[Gate, ...]:
    """The gates of what rests on a calibration that it need not name: one on record of its instrument, that day and
    span, and with it a known load; or instead of the load the empty fixture, swept `fixture_on`."""
    name = "Calibration"
    records = [c for c in book.calibrations.values() if c.instrument_id == instrument_id]
    holding = [
        c
        for c in records
        if (c.id == calibration_id or not calibration_id)
        and (span is None or c.covers(*span))
        and not age_obstacle(c.done_at, taken_on, book.age_limit_h, "")
    ]
    instrument = book.instruments.get(instrument_id)
    if not holding:
        words = said("gate.through_missing", instrument=instrument.name if instrument else "", span=span or (0.0, 0.0))
        return (Gate(name, GateState.MISSING, words),)
    record = max(holding, key=lambda c: (c.done_at, c.id))
    failed = book.failed(CheckKind.LOAD, record.id, instrument_id)
    if failed is not None:
        return (Gate("Known load", GateState.FAILED, said("gate.found", found=book.result(failed).words)),)
    passed = Gate(name, GateState.PASSED, _record_words(record))
    rested = _Rested(instrument_id, record.id, taken_on)
    load = book.of_calibration(CheckKind.LOAD, rested)
    if load is not None:
        return (passed, Gate("Known load", GateState.PASSED, said("gate.found", found=book.result(load).words)))
    if fixture_on:
        return (passed, Gate("Empty fixture", GateState.PASSED, said("gate.through_fixture", at=fixture_on)))
    words = said("gate.through_unproven", span=span or (record.low_hz, record.high_hz))
    return (passed, Gate("Empty fixture", GateState.MISSING, words))


@dataclass(frozen=True)
class _Rested:
    instrument_id: str
    calibration_id: str
    taken_on: str


def _record_words(record: CalibrationRecord) -> str:
    span = (record.low_hz, record.high_hz)
    return said("gate.cal_passed", standards=record.standards, span=span, at=record.done_at)


def _calibration_gate(book: BenchBook, evidence: Evidence, setup: Setup) -> Gate:
    name = "Calibration"
    if evidence.calibration_id:
        record = book.calibrations.get(evidence.calibration_id)
        if record is None:
            return Gate(name, GateState.MISSING, said("gate.cal_gone"))
        problem = _calibration_obstacle(record, book, evidence, setup)
        if problem:
            return Gate(name, GateState.FAILED, problem)
        return Gate(name, GateState.PASSED, _record_words(record))
    if evidence.calibration is Calibration.NONE:
        return Gate(name, GateState.FAILED, said("gate.cal_none"))
    if evidence.calibration is Calibration.UNSTATED:
        return Gate(name, GateState.MISSING, said("gate.cal_unstated"))
    if evidence.calibration is Calibration.ACCEPTED:
        return Gate(name, GateState.PASSED, said("gate.cal_accepted"))
    if book.rule is BenchRule.PROVEN:
        return Gate(name, GateState.MISSING, said("gate.cal_not_recorded"))
    return Gate(name, GateState.PASSED, said("gate.cal_stated"))


def calibrations_that_hold(book: BenchBook, evidence: Evidence, setup: Setup) -> list[CalibrationRecord]:
    """The calibrations on record that a sweep may rest on, the latest first."""
    holding = [c for c in book.calibrations.values() if not _calibration_obstacle(c, book, evidence, setup)]
    return sorted(holding, key=lambda c: c.done_at, reverse=True)


def _calibration_obstacle(record: CalibrationRecord, book: BenchBook, evidence: Evidence, setup: Setup) -> str:
    sweep = evidence.sweep
    if record.instrument_id != evidence.instrument_id:
        other = book.instruments.get(record.instrument_id)
        return said("gate.cal_other_instrument", who=other.name if other else "another instrument")
    if not record.covers(sweep.low_hz, sweep.high_hz):
        span = (record.low_hz, record.high_hz)
        return said("gate.cal_span", span=span, swept=(sweep.low_hz, sweep.high_hz))
    if record.plane != setup.plane.value:
        return said("gate.cal_plane")
    renew = "calibrate and sweep again"
    return age_obstacle(record.done_at, evidence.taken_on, book.age_limit_h, "the calibration", renew)


def _load_gate(book: BenchBook, evidence: Evidence, low_hz: float, high_hz: float) -> Gate:
    name, todo = "Known load", said("gate.load_todo")
    failed = book.failed(CheckKind.LOAD, evidence.calibration_id, evidence.instrument_id)
    if failed is not None:
        return Gate(name, GateState.FAILED, said("gate.found", found=book.result(failed).words))
    accepted = evidence.calibration is Calibration.ACCEPTED and not evidence.calibration_id
    asked = book.rule is BenchRule.PROVEN and not accepted
    unsettled = GateState.MISSING if asked else GateState.NOT_ASKED
    check = book.of_calibration(CheckKind.LOAD, evidence)
    if check is None or check.sweep is None:
        ids = {"calibration_id": evidence.calibration_id, "instrument_id": evidence.instrument_id}
        if evidence.calibration_id and book.complete(CheckKind.LOAD, **ids):
            return Gate(name, unsettled, said("gate.load_other_day", todo=todo))
        return Gate(name, unsettled, said("gate.load_missing", todo=todo) if asked else said("gate.load_typical"))
    result = book.result(check)
    found = said("gate.found", found=result.words)
    if asked and isinstance(result, ResidualCheck) and not result.proves:
        return Gate(name, GateState.MISSING, found)
    if not check.sweep.covers(low_hz, high_hz):
        span = (check.sweep.low_hz, check.sweep.high_hz)
        return Gate(name, unsettled, said("gate.load_span", span=span, todo=todo))
    return Gate(name, GateState.PASSED, found)


def _cable_gate(book: BenchBook, evidence: Evidence, setup: Setup) -> Gate | None:
    if not setup.line_id:
        return None
    name = "Feed line"
    line = next((x.name for x in book.equipment.lines if x.id == setup.line_id), "the feed line")
    check = book.cable(setup)
    needed = setup.plane is Plane.SHACK and book.rule is BenchRule.PROVEN
    unsettled = GateState.MISSING if needed else GateState.NOT_ASKED
    if check is None:
        return Gate(name, unsettled, said("gate.line_unchecked", line=line))
    result = book.result(check)
    if isinstance(result, CableCheck) and not result.sound:
        return Gate(name, GateState.FAILED, said("gate.line_bad", line=line, reasons=result.reasons))
    # A line checked after the sweep says as much about it as one checked before.
    first, second = sorted((check.done_at, evidence.taken_on or check.done_at))
    if age_obstacle(first, second, CABLE_HOLDS_H, line):
        return Gate(name, unsettled, said("gate.line_old", line=line))
    return Gate(name, GateState.PASSED, said("gate.line_passed", line=line, found=result.words))


def checks_in_words(book: BenchBook, evaluation: Evaluation) -> Iterator[tuple[str, str]]:
    """What was checked and when, and what it showed."""
    owned = book.equipment
    names = (
        {x.id: x.name for x in owned.lines} | {x.id: x.name for x in owned.loads} | {x.id: x.name for x in owned.pads}
    )
    for check in evaluation.checks:
        yield _check_name(check, names.get(check.item_id, "")), _check_words(book, check)


def _check_name(check: BenchCheck, item: str) -> str:
    kind = f"{CHECK_WORDS[check.kind]} {item}".strip()
    return said("check.name", kind=kind, at=check.done_at)


def _check_words(book: BenchBook, check: BenchCheck) -> str:
    try:
        return book.result(check).words
    except ValueError as problem:
        return said("check.incomplete", why=str(problem))
