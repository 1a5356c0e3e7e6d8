"""Sweeps through an article and records of the field as rows, and as the core knows them."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass, fields
from enum import Enum
from typing import Any, TypeAlias

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.core.model.contacts import Contact, ContactKind
from levelmoor.core.model.through import FieldLevel, Fixture, HeatRun, LevelKind, Through
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.core.words.bounds import EVALUATION_POINTS, FIELD_RECORDS, THROUGHS
from levelmoor.formats.through_file import read_through
from levelmoor.records import tables as t
from levelmoor.records.apart import read_apart
from levelmoor.records.article_state import latest_round
from levelmoor.records.by_name import core_from
from levelmoor.records.kept import Kept
from levelmoor.records.place import Place
from levelmoor.records.raw_files import keep_raw, raw_data

Record: TypeAlias = FieldLevel | HeatRun | Contact
LEVEL, HEAT, CONTACT = "level", "heat", "contact"
KINDS: Mapping[str, type[Any]] = {LEVEL: FieldLevel, HEAT: HeatRun, CONTACT: Contact}
_APART = ("id", "sample_id", "setup_id", "setting_id", "instrument_id", "round", "set_aside", "who", "note")
"""What a row keeps in columns of its own."""
_read: Kept[TwoPort] = Kept(64, lambda p: p.frequency_hz.size, EVALUATION_POINTS)


class FieldProblem(ValueError):
    """What is wrong with a record; nothing is stored then."""


def add_through(
    session: Session, row: t.Evaluation, file_name: str, data: bytes, fixture: Fixture, place: Place, taken_on: str = ""
) -> t.ThroughSweep:
    """Read a sweep through what is on the bench, and keep it with its raw file.

    Raises
    ------
    FileProblem
        Where it cannot be read; nothing is kept then.
    FieldProblem
        Where there are too many.
    """
    if len(row.throughs) >= THROUGHS:
        raise FieldProblem(f"At most {THROUGHS} port-to-port sweeps are allowed.")
    read_apart(read_through, file_name, data)
    made = t.ThroughSweep(
        sample_id=place.sample_id,
        setup_id=place.setup_id,
        instrument_id=place.instrument_id,
        raw_file=keep_raw(session, row.team_id, data),
        name=file_name.rsplit(".", 1)[0][:200],
        file_name=file_name[-200:],
        fixture=fixture.value,
        taken_on=taken_on,
        setting_id=place.setting_id,
        round=place.round_of(row),
        calibration_id=place.calibration_id,
    )
    row.throughs.append(made)
    session.flush()
    return made


def throughs_of(session: Session, rows: Sequence[t.ThroughSweep]) -> tuple[Through, ...]:
    """The core's sweeps through; each file is read once."""
    absent = [r for r in rows if r.raw_file.sha256 not in _read]
    data = (
        raw_data(session, absent[0].raw_file.team_id, {r.raw_file.sha256: r.file_name for r in absent})
        if absent
        else {}
    )
    found = []
    for row in rows:
        sha256 = row.raw_file.sha256
        two_port = _read.get(sha256, lambda: read_through(row.file_name, data[sha256], first=True))  # noqa: B023
        found.append(core_from(Through, row, two_port=two_port, sha256=sha256))
    return tuple(found)


RECORDS_OF = ("sample_id", "setup_id", "setting_id", "instrument_id")
"""What a record names; of a contact or a level some are not asked for."""


def record_row(kind: str, core: Record, entry_id: str, words: str, **ids: int | None) -> t.FieldRecord:
    """A row of a record, what is of its kind alone as plain data."""
    data = {k: _plain(v) for k, v in asdict(core).items() if k not in _APART}
    of_run = {"round": core.round, "set_aside": core.set_aside} if isinstance(core, HeatRun) else {}
    return t.FieldRecord(
        entry_id=entry_id[:40],
        kind=kind,
        data=data,
        words=words[:200],
        who=core.who[:200],
        note=core.note,
        **of_run,
        **ids,
    )


def _plain(value: Any) -> Any:
    if isinstance(value, Enum):
        return value.value
    if isinstance(value, tuple):
        return [_plain(v) for v in value]
    return value


def record_of(row: t.FieldRecord) -> Record:
    data = {**row.data, "id": str(row.id), "who": row.who, "note": row.note}
    data |= {"sample_id": str(row.sample_id or ""), "setup_id": str(row.setup_id or "")}
    if row.kind == LEVEL:
        data |= {"kind": LevelKind(data["kind"]), "values": tuple(data["values"])}
    elif row.kind == HEAT:
        data["points"] = tuple((s, c) for s, c in data["points"])
        data |= {"setting_id": str(row.setting_id or ""), "instrument_id": str(row.instrument_id or "")}
        data |= {"round": row.round, "set_aside": row.set_aside}
    else:
        data["kind"] = ContactKind(data["kind"])
    made: Record = KINDS[row.kind](**data)
    return made


@dataclass(frozen=True)
class Noted:
    """The core's records by their place in the evaluation."""

    levels: tuple[FieldLevel, ...]
    heats: tuple[HeatRun, ...]
    contacts: tuple[Contact, ...]


def records_of(rows: Iterable[t.FieldRecord]) -> Noted:
    """What was noted in the field, by its kind."""
    every = [record_of(r) for r in rows]
    return Noted(
        tuple(r for r in every if isinstance(r, FieldLevel)),
        tuple(r for r in every if isinstance(r, HeatRun)),
        tuple(r for r in every if isinstance(r, Contact)),
    )


def add_records(
    session: Session, row: t.Evaluation, kind: str, records: Sequence[tuple[str, Record, str]], who: str
) -> list[t.FieldRecord]:
    """Records with the entry each came as and what it is called; one that is there already changes nothing.

    Raises
    ------
    FieldProblem
        Where there are too many.
    """
    wanted = (t.FieldRecord.evaluation_id == row.id, t.FieldRecord.entry_id.in_([e for e, _, _ in records]))
    known = set(session.scalars(select(t.FieldRecord.entry_id).where(*wanted)))
    fresh = [r for r in records if r[0] not in known]
    if len(row.field_records) + len(fresh) > FIELD_RECORDS:
        raise FieldProblem(f"At most {FIELD_RECORDS} records are allowed.")
    made = []
    for entry, core, words in fresh:
        ids = {n: int(v) if (v := getattr(core, n, "")) else None for n in RECORDS_OF}
        new = record_row(kind, core, entry, words, **ids)
        new.who = who[:200]
        if isinstance(core, HeatRun):
            new.round = max(core.round, latest_round(row, ids["sample_id"], ids["setup_id"], ids["setting_id"]))
        row.field_records.append(new)
        made.append(new)
    return made


assert all({"id", "who", "note"} <= {f.name for f in fields(k)} for k in KINDS.values())
