"""What waits for a person in the team's evaluations: comments for them, and reviews that they may give."""

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.core.words.counting import counted
from levelmoor.records import tables as t


def waits_for(session: Session, user_id: int, may_review: bool, evaluations: Sequence[int]) -> dict[int, list[str]]:
    """By evaluation, in short words; an evaluation in which nothing waits is left out."""
    waiting: dict[int, list[str]] = {}
    asked = select(t.Comment.evaluation_id).where(
        t.Comment.evaluation_id.in_(evaluations),
        t.Comment.for_id == user_id,
        t.Comment.to_do,
        t.Comment.done_at.is_(None),
        t.Comment.deleted_at.is_(None),
    )
    comments = list(session.scalars(asked))
    for one in dict.fromkeys(comments):
        waiting.setdefault(one, []).append(f"{counted(comments.count(one), 'comment')} for you")
    if may_review:
        reviews = select(t.Review.evaluation_id).where(
            t.Review.evaluation_id.in_(evaluations), t.Review.answered_at.is_(None), t.Review.asked_by_id != user_id
        )
        for one in dict.fromkeys(session.scalars(reviews)):
            waiting.setdefault(one, []).append("a review waits for you")
    return waiting
