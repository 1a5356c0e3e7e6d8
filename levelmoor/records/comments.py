"""What members say to one another about an evaluation, and what is to be done."""

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from levelmoor.records import tables as t

ABOUT = ("evaluation", "claim", "sweep", "figure")
"""What a comment can be about; of a figure it is the claim that the figure shows."""


def of_evaluation(session: Session, evaluation_id: int) -> Sequence[t.Comment]:
    query = select(t.Comment).where(t.Comment.evaluation_id == evaluation_id, t.Comment.deleted_at.is_(None))
    people = (joinedload(t.Comment.made_by), joinedload(t.Comment.for_user))
    return session.scalars(query.options(*people).order_by(t.Comment.id)).all()


def to_do(comments: Sequence[t.Comment]) -> list[t.Comment]:
    """Those that ask for something not done yet."""
    return [c for c in comments if c.to_do and c.done_at is None]
