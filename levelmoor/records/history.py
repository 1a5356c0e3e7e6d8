"""The history: who changed which field of what, from what to what, kept with the change itself.

A change is noted as the database takes it, wherever in the program it was made. Only what a person does is: the
session then knows who.
"""

from collections.abc import Collection, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from operator import itemgetter
from typing import Any

from sqlalchemy import Date, event, func, insert, inspect, select
from sqlalchemy.orm import Session
from sqlalchemy.orm.base import NO_VALUE

from levelmoor.records import tables as t
from levelmoor.records.audit import Actor
from levelmoor.records.database import now
from levelmoor.records.kinds import KIND_WORDS, KINDS, kind_of, name_of

ACTOR = "actor"
"""Where a session keeps who acts by it."""
_OPEN: Mapping[type[Any], frozenset[str]] = {
    t.Setup: frozenset({"conditions"}),
    t.Owned: frozenset({"facts"}),
    t.Reading: frozenset({"typed"}),
    t.Evaluation: frozenset({"wishes"}),
    t.TunerNetwork: frozenset({"knobs"}),
}
"""Columns that hold several fields, each told apart."""
_ARRAYS = frozenset({"frequency", "gamma", "half_step", "content"})
_NOT_TOLD: Mapping[type[Any], frozenset[str]] = {
    t.Evaluation: frozenset({"card", "worst_verdict", "updated_at", "plan_seen", "opened_rounds", "report_sections"}),
    t.Sweep: _ARRAYS
    | {"guessed", "points", "low_hz", "high_hz", "largest_step_hz", "best_hz", "best_gamma", "worst_gamma"},
    t.Reading: frozenset({"answers"}),
    t.TimeStrip: frozenset({"points", "marks"}),
}
"""Columns that follow from others, or hold what no person reads."""
_TOGETHER = (("calibration", "calibration_id"), ("profile", "profile_limit"))


def together(field: str) -> tuple[str, ...]:
    """The fields that one act changes with a field, and one act puts back."""
    return next((group for group in _TOGETHER if field in group), (field,))


@dataclass(frozen=True)
class Change:
    """What one field was and became."""

    field: str
    old: Any
    new: Any


@contextmanager
def unnoted(session: Session) -> Iterator[None]:
    """For what is one act though it touches many rows, such as taking in a whole evaluation: it is noted by itself."""
    actor = session.info.pop(ACTOR, None)
    try:
        yield
        session.flush()
    finally:
        if actor is not None:
            session.info[ACTOR] = actor


@event.listens_for(Session, "after_flush")
def _note(session: Session, _context: object) -> None:
    """Keep what this flush changed, where a person is at work."""
    actor: Actor | None = session.info.get(ACTOR)
    if actor is None:
        return
    # what was changed in one flush has no order of its own
    changed = [e for row in session.dirty for e in _changed(session, row)]
    found = [*_added(session), *sorted(changed, key=itemgetter("row_kind", "row_id"))]
    if not found:
        return
    said = {"at": now(), "user_id": actor.user_id, "who": actor.name[:200], "address": actor.address[:60]}
    nothing = dict.fromkeys(("field", "old_value", "new_value"))
    session.connection().execute(insert(t.AuditEntry), [{**said, **nothing, **e} for e in found])


def _added(session: Session) -> Iterator[dict[str, Any]]:
    for row in session.new:
        if kind_of(row) and type(row) not in (t.Product, t.Team):
            yield {**_of(session, row), "kind": "addition"}


def _changed(session: Session, row: Any) -> Iterator[dict[str, Any]]:
    if not kind_of(row):
        return
    of: dict[str, Any] | None = None
    for change in changes_of(row):
        of = of or _of(session, row)
        kind = "change"
        if change.field == "deleted_at":
            kind = "removal" if change.new else "restored"
        yield {**of, "kind": kind, "field": change.field, "old_value": change.old, "new_value": change.new}


def _of(session: Session, row: Any) -> dict[str, Any]:
    """Which row it is, where it belongs, and what it is called."""
    evaluation_id, team_id = home_of(session, row)
    kind = kind_of(row)
    what = f"{KIND_WORDS[kind]} {name_of(row)}".strip()
    return {"team_id": team_id, "evaluation_id": evaluation_id, "row_kind": kind, "row_id": row.id, "what": what}


def home_of(session: Session, row: Any) -> tuple[int | None, int | None]:
    """The evaluation that a row is a part of, where it is of one, and the team."""
    if isinstance(row, t.Team):
        return None, row.id
    if isinstance(row, t.Evaluation):
        return row.id, row.team_id
    if isinstance(row, t.Product):
        query = select(t.Evaluation.id).where(t.Evaluation.product_id == row.id)
        return session.scalar(query), row.team_id
    evaluation_id = getattr(row, "evaluation_id", None)
    if isinstance(row, t.Reading):
        sheet = session.get(t.ReadingSheet, row.sheet_id)
        evaluation_id = sheet.evaluation_id if sheet else None
    if evaluation_id is None:
        return None, getattr(row, "team_id", None)
    evaluation = session.get(t.Evaluation, evaluation_id)
    return evaluation_id, evaluation.team_id if evaluation else None


def changes_of(row: Any) -> Iterator[Change]:
    """What of a row is other than it was read."""
    state, skip = inspect(row), _NOT_TOLD.get(type(row), frozenset())
    for attribute in state.mapper.column_attrs:
        name = attribute.key
        if name == "id" or name in skip:
            continue
        history = state.attrs[name].history
        if not history.has_changes() or not history.deleted or history.deleted[0] is NO_VALUE:
            continue
        old, new = history.deleted[0], history.added[0] if history.added else None
        if name in _OPEN.get(type(row), frozenset()):
            yield from _within(old or {}, new or {})
        elif old != new:
            yield Change(name, _plain(old), _plain(new))


def _within(old: Mapping[str, Any], new: Mapping[str, Any]) -> Iterator[Change]:
    for name in sorted({*old, *new}):
        if old.get(name) != new.get(name):
            yield Change(name, old.get(name), new.get(name))


def _plain(value: Any) -> Any:
    """As JSON keeps it."""
    return value.isoformat() if hasattr(value, "isoformat") else value


# -- Reading it ------------------------------------------------------------------------------------------------------

A_PAGE = 100


def latest(session: Session, team_id: int, evaluation_id: int | None = None) -> int:
    """The number of the latest entry of an evaluation, or of the team: a page has seen the changes up to it."""
    query = select(t.AuditEntry.id).where(t.AuditEntry.team_id == team_id)
    if evaluation_id is not None:
        query = query.where(t.AuditEntry.evaluation_id == evaluation_id)
    return session.scalar(query.order_by(t.AuditEntry.id.desc()).limit(1)) or 0


def latest_of_each(session: Session, evaluations: Collection[int]) -> dict[int, int]:
    """The same of several evaluations; one without entries is missing."""
    entry = t.AuditEntry
    query = select(entry.evaluation_id, func.max(entry.id)).where(entry.evaluation_id.in_(evaluations))
    found = session.execute(query.group_by(entry.evaluation_id)).tuples() if evaluations else ()
    return {evaluation_id: latest for evaluation_id, latest in found if evaluation_id is not None}


def removal_of(session: Session, kind: str, row_id: int) -> t.AuditEntry | None:
    """Who removed a row last."""
    query = select(t.AuditEntry).where(
        t.AuditEntry.row_kind == kind, t.AuditEntry.row_id == row_id, t.AuditEntry.kind == "removal"
    )
    return session.scalar(query.order_by(t.AuditEntry.id.desc()).limit(1))


def later_change(session: Session, kind: str, row_id: int, fields: Sequence[str], seen: int) -> t.AuditEntry | None:
    """The last change of a row's field that came after what a page has seen."""
    query = select(t.AuditEntry).where(
        t.AuditEntry.row_kind == kind,
        t.AuditEntry.row_id == row_id,
        t.AuditEntry.id > seen,
        t.AuditEntry.kind == "change",
    )
    if fields:
        query = query.where(t.AuditEntry.field.in_(fields))
    return session.scalar(query.order_by(t.AuditEntry.id.desc()).limit(1))


@dataclass(frozen=True)
class Wanted:
    """Which entries of the history: all, or those of a person, of a kind of doing, of a kind of thing."""

    who: str = ""
    kind: str = ""
    of: str = ""
    before: int | None = None


def entries(session: Session, evaluation_id: int, wanted: Wanted = Wanted()) -> Sequence[t.AuditEntry]:
    """The entries of an evaluation, the latest first; one more than a page where there are more."""
    query = select(t.AuditEntry).where(t.AuditEntry.evaluation_id == evaluation_id)
    for column, value in ((t.AuditEntry.who, wanted.who), (t.AuditEntry.kind, wanted.kind)):
        if value:
            query = query.where(column == value)
    if wanted.of:
        query = query.where(t.AuditEntry.row_kind == wanted.of)
    if wanted.before is not None:
        query = query.where(t.AuditEntry.id < wanted.before)
    return session.scalars(query.order_by(t.AuditEntry.id.desc()).limit(A_PAGE + 1)).all()


def people_of(session: Session, evaluation_id: int) -> Sequence[str]:
    query = select(t.AuditEntry.who).where(t.AuditEntry.evaluation_id == evaluation_id).distinct()
    return session.scalars(query.order_by(t.AuditEntry.who)).all()


# -- Putting it back -------------------------------------------------------------------------------------------------


class CannotRestore(ValueError):
    """Why a field is not put back."""


def put_back(session: Session, entry: t.AuditEntry) -> Any:
    """Give a field what it had before an entry, with what was changed together with it; the row.

    Raises
    ------
    CannotRestore
        Where the row is gone, or what the field named is.
    """
    kind = entry.row_kind or ""
    row = session.get(KINDS[kind], entry.row_id)
    if row is None or getattr(row, "deleted_at", None) is not None:
        raise CannotRestore(f"the {KIND_WORDS[kind]} was removed; restore it first")
    group = together(entry.field or "")
    query = select(t.AuditEntry).where(
        t.AuditEntry.row_kind == entry.row_kind,
        t.AuditEntry.row_id == entry.row_id,
        t.AuditEntry.id.between(entry.id - len(group) + 1, entry.id + len(group) - 1),  # of the same act
        t.AuditEntry.at == entry.at,
        t.AuditEntry.field.in_(group),
        t.AuditEntry.kind == "change",
    )
    for one in session.scalars(query.order_by(t.AuditEntry.id.desc())):
        _set(session, row, str(one.field), one.old_value)
    return row


def _set(session: Session, row: Any, name: str, value: Any) -> None:
    columns = {a.key: a.columns[0] for a in inspect(type(row)).column_attrs}
    if name in _OPEN.get(type(row), frozenset()):
        raise CannotRestore("it was recorded as a whole then, and its facts are separate now; write them again")
    if name not in columns:
        holder = next(iter(_OPEN[type(row)]))
        kept = {**getattr(row, holder), name: value}
        setattr(row, holder, {k: v for k, v in kept.items() if v is not None})
        return
    for key in columns[name].foreign_keys:
        target = next(m for m in t.Base.registry.mappers if m.local_table is key.column.table).class_
        named = session.get(target, value) if value is not None else None
        if value is not None and (named is None or getattr(named, "deleted_at", None) is not None):
            raise CannotRestore(
                f"the {name.removesuffix('_id').replace('_', ' ')} it belonged to was removed; restore that first"
            )
    if isinstance(columns[name].type, Date) and value:
        value = Date().python_type.fromisoformat(value)
    setattr(row, name, value)
