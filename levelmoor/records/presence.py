"""Who has an evaluation before them just now."""

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from datetime import timedelta

from sqlalchemy import select, tuple_, update
from sqlalchemy.orm import Session

from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.records.in_hand import in_hand

HERE_FOR = timedelta(seconds=40)
"""A page tells every ten seconds that it is open; one that was silent for so long is closed."""


def note_here(session: Session, evaluation: t.Evaluation, sign_in: t.SignIn) -> None:
    """Keep that a device shows the evaluation."""
    hand = in_hand(session, evaluation, sign_in)
    hand.here_at = now()
    session.add(hand)


def still_here(session: Session, pages: Collection[tuple[int, int]], gone: bool = False) -> None:
    """Keep of devices, each a sign-in and an evaluation, that they still show it, or no longer do."""
    if pages:
        key = tuple_(t.InHand.sign_in_id, t.InHand.evaluation_id)
        session.execute(
            update(t.InHand).where(key.in_(pages)).values(here_at=None if gone else now()),
            execution_options={"synchronize_session": False},
        )


def here_in(session: Session, evaluations: Collection[int]) -> Mapping[int, Sequence[t.User]]:
    """The people who have each of these evaluations before them, by name."""
    query = (
        select(t.InHand.evaluation_id, t.User)
        .join(t.SignIn, t.SignIn.user_id == t.User.id)
        .join(t.InHand, t.InHand.sign_in_id == t.SignIn.id)
        .where(
            t.InHand.evaluation_id.in_(evaluations),
            t.InHand.here_at > now() - HERE_FOR,
            t.SignIn.ended_at.is_(None),
        )
        .distinct()
        .order_by(t.User.name, t.User.id)
    )
    found: dict[int, list[t.User]] = defaultdict(list)
    for evaluation_id, person in session.execute(query) if evaluations else ():
        found[evaluation_id].append(person)
    return found


def initials(name: str) -> str:
    """Up to three letters that a name is known by."""
    return "".join(word[0] for word in name.replace("-", " ").split()[:3]).upper() or "?"
