"""Sheets of readings as rows: the queries, which the mapping needs as well as what works on them."""

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from levelmoor.records import tables as t


def sheets_of(session: Session, evaluation_id: int) -> Sequence[t.ReadingSheet]:
    """The sheets of an evaluation with their readings, the oldest first."""
    query = select(t.ReadingSheet).where(
        t.ReadingSheet.evaluation_id == evaluation_id, t.ReadingSheet.deleted_at.is_(None)
    )
    return session.scalars(query.order_by(t.ReadingSheet.id).options(selectinload(t.ReadingSheet.readings))).all()
