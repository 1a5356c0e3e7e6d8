"""A second member's review of a report before it is published."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from hashlib import sha256

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from levelmoor.core.model.evaluation import Evaluation
from levelmoor.formats.exchange import to_document
from levelmoor.records import tables as t
from levelmoor.records.database import now


class ReviewProblem(ValueError):
    """What stands against asking for a review, or answering one."""


def content_of(evaluation: Evaluation) -> str:
    """The digest of what a report would hold: a review is of exactly that."""
    return sha256(json.dumps(to_document(evaluation), sort_keys=True).encode()).hexdigest()


@dataclass(frozen=True)
class Reviewed:
    """How the review of an evaluation stands."""

    reviews: Sequence[t.Review]
    content: str

    @property
    def last(self) -> t.Review | None:
        return self.reviews[-1] if self.reviews else None

    @property
    def waits(self) -> t.Review | None:
        """The review that was asked for and not answered."""
        return self.last if self.last is not None and self.last.approved is None else None

    @property
    def is_of_this(self) -> bool:
        """Whether the last review is of what the report holds now."""
        return self.last is not None and self.last.content_sha256 == self.content

    @property
    def approved_by(self) -> str:
        """Who approved what the report holds now, or nobody."""
        last = self.last
        return last.answered_by.name if last and last.approved and self.is_of_this and last.answered_by else ""


def reviewed(session: Session, evaluation_id: int, content: str) -> Reviewed:
    query = select(t.Review).where(t.Review.evaluation_id == evaluation_id)
    people = (joinedload(t.Review.asked_by), joinedload(t.Review.answered_by))
    return Reviewed(session.scalars(query.options(*people).order_by(t.Review.id)).all(), content)


def ask(session: Session, evaluation_id: int, content: str, by: int) -> t.Review:
    """Ask for a review of what the report holds now.

    Raises
    ------
    ReviewProblem
        Where one of just that waits already, or it is approved.
    """
    stands = reviewed(session, evaluation_id, content)
    if stands.waits and stands.is_of_this:
        raise ReviewProblem("A review has already been requested.")
    if stands.approved_by:
        raise ReviewProblem(f"{stands.approved_by} approved this; you can publish it.")
    review = t.Review(
        evaluation_id=evaluation_id, asked_by_id=by, asked_at=now(), content_sha256=content, words="", approved=None
    )
    session.add(review)
    return review


def answer(session: Session, evaluation_id: int, content: str, by: int, approved: bool, words: str) -> t.Review:
    """Approve what the report holds now, or return it with words.

    Raises
    ------
    ReviewProblem
        Where nothing waits, it has changed since it was asked about, it is the own, or it is returned without words.
    """
    stands = reviewed(session, evaluation_id, content)
    waits = stands.waits
    if waits is None:
        raise ReviewProblem("Nobody has asked for a review.")
    if waits.asked_by_id == by:
        raise ReviewProblem("You asked for this review, so another member must answer it.")
    if approved and not stands.is_of_this:
        raise ReviewProblem("The evaluation changed since you asked for the review; ask again.")
    if not approved and not words.strip():
        raise ReviewProblem("Write what should be changed.")
    waits.answered_by_id, waits.answered_at, waits.approved, waits.words = by, now(), approved, words.strip()[:2000]
    session.flush()
    session.refresh(waits)
    return waits
