"""Entries of the run sheet: made in the field, sent once or twice, at once or late, kept once and in order."""

from collections.abc import Sequence
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


@dataclass(frozen=True)
class Standing:
    """How a run stands: ticked off or not, by whom and when; the note of who asks, and those of the others, by name."""

    done: bool
    made_at: str
    by: str
    note: str
    others: tuple[tuple[str, str], ...] = ()


def keep_entries(session: Session, evaluation_id: int, entries: Sequence[TickEntry], by: str) -> list[TickEntry]:
    """Keep each entry unless it is there already: the database's own unique key decides, whoever is first. Gives those
    that were not."""
    of = t.Tick.evaluation_id == evaluation_id, t.Tick.entry_id.in_([entry.entry_id for entry in entries])
    before = set(session.scalars(select(t.Tick.entry_id).where(*of)))
    rows = [{"evaluation_id": evaluation_id, **vars(entry), "made_by": by, "received_at": now()} for entry in entries]
    if rows:
        session.execute(insert(t.Tick).prefix_with("IGNORE"), rows)
    return [entry for entry in entries if entry.entry_id not in before]


def entries(session: Session, evaluation_id: int) -> Sequence[t.Tick]:
    """All entries in the order they were made, whenever they came in."""
    query = select(t.Tick).where(t.Tick.evaluation_id == evaluation_id)
    return session.scalars(query.order_by(t.Tick.made_at, t.Tick.id)).all()


def standing(rows: Sequence[t.Tick], who: str) -> dict[str, Standing]:
    """How each run stands by its entries in the order they were made: the latest tick, and each person's own note."""
    notes: dict[str, dict[str, str]] = {}
    for row in rows:
        notes.setdefault(row.run_key, {})[row.made_by] = row.note
    last = {row.run_key: row for row in rows}
    return {
        key: Standing(
            row.done,
            row.made_at,
            row.made_by,
            notes[key].get(who, ""),
            tuple((by, note) for by, note in notes[key].items() if note and by != who),
        )
        for key, row in last.items()
    }
