"""The team's bench as the core knows it: instruments, equipment, calibrations and checks."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.core.model.bench_records import BenchCheck, CalibrationRecord, RawPart
from levelmoor.core.model.equipment import Equipment, Instrument
from levelmoor.formats.evidence_files import filled_check
from levelmoor.formats.owned_kinds import OWNED, piece
from levelmoor.records import tables as t
from levelmoor.records.by_name import core_from
from levelmoor.records.kept import Kept
from levelmoor.records.raw_files import raw_data

PLACES = {"adapter": "adapters", "load": "loads", "kit": "kits", "pad": "pads", "line": "lines", "radio": "radios"}
"""Where the core's equipment keeps each kind."""
_read: Kept[BenchCheck] = Kept(512)
"""Checks with their sweeps and traces, by everything that they are read from."""


@dataclass(frozen=True)
class TeamRows:
    """All that a team owns and has recorded, as rows, the oldest first."""

    instruments: Sequence[t.Instrument]
    owned: Sequence[t.Owned]
    calibrations: Sequence[t.Calibration]
    checks: Sequence[t.BenchCheck]


@dataclass(frozen=True)
class TeamBench:
    instruments: tuple[Instrument, ...]
    equipment: Equipment
    calibrations: tuple[CalibrationRecord, ...]
    checks: tuple[BenchCheck, ...]


def facts_of(row: t.Instrument | t.Owned) -> Mapping[str, Any]:
    """The kept values of a piece by their fields' names."""
    if isinstance(row, t.Owned):
        return row.facts
    return {f.name: getattr(row, f.name) for f in OWNED["instrument"].fields}


def keep_facts(row: t.Instrument | t.Owned, values: Mapping[str, Any]) -> None:
    """Put kept values into a row; fields that are not among them stay."""
    if isinstance(row, t.Owned):
        row.facts = {**row.facts, **values}
        return
    for name, value in values.items():
        setattr(row, name, value)


def rows_of(session: Session, team_id: int, kind: str) -> Sequence[Any]:
    """The rows of one kind of piece, the oldest first."""
    if kind == "instrument":
        instruments = select(t.Instrument).where(t.Instrument.team_id == team_id, t.Instrument.deleted_at.is_(None))
        return session.scalars(instruments.order_by(t.Instrument.id)).all()
    owned = select(t.Owned).where(t.Owned.team_id == team_id, t.Owned.kind == kind, t.Owned.deleted_at.is_(None))
    return session.scalars(owned.order_by(t.Owned.id)).all()


def calibration_rows(session: Session, team_id: int) -> Sequence[t.Calibration]:
    query = select(t.Calibration).where(t.Calibration.team_id == team_id, t.Calibration.deleted_at.is_(None))
    return session.scalars(query.order_by(t.Calibration.id)).all()


def check_rows(session: Session, team_id: int) -> Sequence[t.BenchCheck]:
    query = select(t.BenchCheck).where(t.BenchCheck.team_id == team_id, t.BenchCheck.deleted_at.is_(None))
    return session.scalars(query.order_by(t.BenchCheck.id)).all()


def instrument_of(row: t.Instrument) -> Instrument:
    found: Instrument = piece("instrument", str(row.id), row.name, facts_of(row))
    return found


def parts_of(kept: list[Any]) -> tuple[RawPart, ...]:
    return tuple(RawPart(**p) for p in kept)


def calibration_of(row: t.Calibration) -> CalibrationRecord:
    return core_from(CalibrationRecord, row)


def check_of(row: t.BenchCheck) -> BenchCheck:
    """A check without the arrays of its raw files."""
    pairs = tuple((float(a), float(b)) for a, b in row.pairs)
    return core_from(BenchCheck, row, figures=tuple(sorted(row.figures.items())), pairs=pairs)


def team_rows(session: Session, team_id: int) -> TeamRows:
    owned = select(t.Owned).where(t.Owned.team_id == team_id, t.Owned.deleted_at.is_(None)).order_by(t.Owned.id)
    return TeamRows(
        rows_of(session, team_id, "instrument"),
        session.scalars(owned).all(),
        calibration_rows(session, team_id),
        check_rows(session, team_id),
    )


def team_bench(session: Session, team_id: int, rows: TeamRows | None = None) -> TeamBench:
    """All that the team owns and has recorded, in four queries where the rows are not given, and one for raw files not
    read before."""
    rows = rows or team_rows(session, team_id)
    pieces: dict[str, list[Any]] = {place: [] for place in PLACES.values()}
    for row in rows.owned:
        made = piece(row.kind, str(row.id), row.name, row.facts)
        if made is not None:
            pieces[PLACES[row.kind]].append(made)
    return TeamBench(
        instruments=tuple(instrument_of(r) for r in rows.instruments),
        equipment=Equipment(**{place: tuple(found) for place, found in pieces.items()}),
        calibrations=tuple(calibration_of(r) for r in rows.calibrations),
        checks=_with_arrays(session, team_id, [check_of(r) for r in rows.checks]),
    )


def _with_arrays(session: Session, team_id: int, checks: list[BenchCheck]) -> tuple[BenchCheck, ...]:
    missing = {p.sha256 for c in checks if (c.kind, c.parts) not in _read for p in c.parts}
    files = raw_data(session, team_id, missing)
    found = []
    for check in checks:
        kept = _read.get((check.kind, check.parts), partial(_filled, session, team_id, check, files))
        found.append(replace(check, sweep=kept.sweep, traces=kept.traces))
    return tuple(found)


def _filled(session: Session, team_id: int, check: BenchCheck, files: Mapping[str, bytes]) -> BenchCheck:
    """With its arrays; files that were let go between two looks at what is kept are read again."""
    absent = {p.sha256 for p in check.parts} - files.keys()
    return filled_check(check, {**files, **raw_data(session, team_id, absent)} if absent else files)
