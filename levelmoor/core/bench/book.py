"""The bench as it was written down: calibrations and checks by id, each result found once, and what each speaks of."""

from collections.abc import Hashable, Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Protocol

import numpy as np

from levelmoor.core.bench.check_results import Result, check_result
from levelmoor.core.model.bench_records import (
    BenchCheck,
    CalibrationRecord,
    CheckKind,
    Moment,
    earlier,
    hours_apart,
    moment,
)
from levelmoor.core.model.equipment import Equipment, Instrument
from levelmoor.core.model.evaluation import Evaluation, Evidence, Setup
from levelmoor.core.rf.line_types import find_line_type


@dataclass(frozen=True)
class _Asked:
    """A check and what its result rests on; for its arrays stand the digests of its raw files."""

    content: Hashable
    equipment: Equipment
    instrument: Instrument | None
    record: CalibrationRecord | None
    check: BenchCheck = field(compare=False)


def _content(check: BenchCheck) -> Hashable:
    return tuple(v for k, v in vars(check).items() if k not in ("sweep", "traces"))


@lru_cache(maxsize=512)
def _result(asked: _Asked) -> Result | ValueError:
    """The bench is the team's: all its evaluations ask for the same."""
    try:
        return check_result(asked.check, asked.equipment, asked.instrument, asked.record)
    except ValueError as problem:
        return problem


class Rested(Protocol):
    """Evidence that rests on a calibration: of an instrument, on a day."""

    @property
    def instrument_id(self) -> str: ...
    @property
    def calibration_id(self) -> str: ...
    @property
    def taken_on(self) -> str: ...


class BenchBook:
    """The calibrations and checks of an evaluation, by id, with each check's result found once."""

    def __init__(self, evaluation: Evaluation) -> None:
        self.rule, self.age_limit_h = evaluation.bench_rule, evaluation.age_limit_h
        self.calibrations = {c.id: c for c in evaluation.calibrations}
        self.checks = evaluation.checks
        self.equipment = evaluation.equipment
        self.instruments: dict[str, Instrument] = {i.id: i for i in evaluation.instruments}
        self._results: dict[str, Result | ValueError] = {}
        self._in_time = sorted(evaluation.checks, key=lambda c: (c.done_at, len(c.id), c.id), reverse=True)

    def result(self, check: BenchCheck) -> Result:
        """The result of a check; raises ValueError where the check is not complete."""
        if check.id not in self._results:
            instrument, record = self.instruments.get(check.instrument_id), self.calibrations.get(check.calibration_id)
            asked = _Asked(_content(check), self.equipment, instrument, record, check)
            # Arrays that came from no raw file have no digest to be known by.
            self._results[check.id] = _result(asked) if check.parts else _result.__wrapped__(asked)
        found = self._results[check.id]
        if isinstance(found, ValueError):
            raise found
        return found

    def latest(self, kind: CheckKind, **wanted: str) -> BenchCheck | None:
        """The latest complete check of a kind with these ids, None where there is none."""
        return next(iter(self.complete(kind, **wanted)), None)

    def complete(self, kind: CheckKind, **wanted: str) -> list[BenchCheck]:
        """The complete checks of a kind with these ids, the latest first."""
        return [c for c in self._in_time if c.kind is kind and self._is(c, wanted) and self._complete(c)]

    def _is(self, check: BenchCheck, wanted: Mapping[str, str]) -> bool:
        return all(getattr(check, k) == v for k, v in wanted.items())

    def _complete(self, check: BenchCheck) -> bool:
        try:
            self.result(check)
        except ValueError:
            return False
        return True

    def failed(self, kind: CheckKind, calibration_id: str, instrument_id: str) -> BenchCheck | None:
        """A check with a calibration that failed, the latest: whatever another showed, only a new calibration opens its
        gate again."""
        every = self.complete(kind, calibration_id=calibration_id, instrument_id=instrument_id)
        return next((c for c in every if not self.result(c).sound), None) if calibration_id else None

    def of_calibration(self, kind: CheckKind, evidence: Rested) -> BenchCheck | None:
        """The check of a residual that a sweep rests on: a sound one with its own calibration and instrument, taken
        between that and the next one, and no other day than the sweep."""
        record = self.calibrations.get(evidence.calibration_id)
        if record is None or self.failed(kind, record.id, evidence.instrument_id):
            return None
        every = self.complete(kind, calibration_id=record.id, instrument_id=evidence.instrument_id)
        return next((c for c in every if self._speaks_of(c, record, evidence.taken_on)), None)

    def _speaks_of(self, check: BenchCheck, record: CalibrationRecord, taken_on: str) -> bool:
        """Whether a check was taken with the calibration as it still was for what was measured then."""
        done, begun, taken = moment(check.done_at), moment(record.done_at), moment(taken_on)
        if done is None or begun is None:
            return False
        until = self._next(record)
        if earlier(done, begun) or (until is not None and earlier(until, done)):
            return False
        return taken is None or hours_apart(done, taken) <= self.age_limit_h

    def _next(self, record: CalibrationRecord) -> Moment | None:
        """When the instrument was calibrated again."""
        begun = moment(record.done_at)
        if begun is None:
            return None
        others = (moment(c.done_at) for c in self.calibrations.values() if c.instrument_id == record.instrument_id)
        return min((m for m in others if m is not None and earlier(begun, m)), default=None, key=lambda m: m[0])

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
