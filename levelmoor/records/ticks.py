"""Entries of the run sheet: made in the field, sent once or twice, at once or late, kept once and in order."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session

from levelmoor.records import tables as t
from levelmoor.records.database import now


@dataclass(frozen=True)
class TickEntry:
    """An entry as the telephone made it; `made_at` is its own ISO time."""

    entry_id: str
    run_key: str
    done: bool
    note: str
    made_at: str


def keep_entries(session: Session, evaluation_id: int, entries: Iterable[TickEntry], by: str) -> None:
    """Keep each entry unless it is there already: the database's own unique key decides, whoever is first."""
    rows = [{"evaluation_id": evaluation_id, **vars(entry), "made_by": by, "received_at": now()} for entry in entries]
    if rows:
        session.execute(insert(t.Tick).prefix_with("IGNORE"), rows)


def entries(session: Session, evaluation_id: int) -> Sequence[t.Tick]:
    """All entries in the order they were made, whenever they came in."""
    query = select(t.Tick).where(t.Tick.evaluation_id == evaluation_id)
    return session.scalars(query.order_by(t.Tick.made_at, t.Tick.id)).all()


def standing(rows: Sequence[t.Tick]) -> dict[str, t.Tick]:
    """The latest entry of each run."""
    return {row.run_key: row for row in rows}
