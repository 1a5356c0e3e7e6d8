"""Who has an evaluation before them just now."""

from collections.abc import Sequence
from datetime import timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.records.in_hand import in_hand

HERE_FOR = timedelta(seconds=40)
"""A page tells every ten seconds that it is open; one that was silent for so long is closed."""


def note_here(session: Session, evaluation: t.Evaluation, sign_in: t.SignIn, gone: bool = False) -> None:
    """Keep that a device shows the evaluation, or no longer does."""
    hand = in_hand(session, evaluation, sign_in)
    hand.here_at = None if gone else now()
    session.add(hand)


def here(session: Session, evaluation_id: int) -> Sequence[t.User]:
    """The people who have it before them, by name."""
    query = (
        select(t.User)
        .join(t.SignIn, t.SignIn.user_id == t.User.id)
        .join(t.InHand, t.InHand.sign_in_id == t.SignIn.id)
        .where(
            t.InHand.evaluation_id == evaluation_id,
            t.InHand.here_at > now() - HERE_FOR,
            t.SignIn.ended_at.is_(None),
        )
        .distinct()
        .order_by(t.User.name, t.User.id)
    )
    return session.scalars(query).all()


def initials(name: str) -> str:
    """Up to three letters that a name is known by."""
    return "".join(word[0] for word in name.replace("-", " ").split()[:3]).upper() or "?"
