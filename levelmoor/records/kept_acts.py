"""Acts that browsers send until they are acknowledged: each is done once, however often it comes."""

from datetime import timedelta

from sqlalchemy import delete
from sqlalchemy.orm import Session

from levelmoor.records import tables as t
from levelmoor.records.database import now

KEPT_FOR = timedelta(days=90)
"""Longer than a browser stays signed in: what waits on a device longer than that has to be sent by hand."""


def first_time(session: Session, name: str, user_id: int) -> bool:
    """Whether an act comes for the first time; it is known from then on, if what it does is kept."""
    if session.get(t.KeptAct, name) is not None:
        return False
    session.add(t.KeptAct(id=name, user_id=user_id, at=now()))
    return True


def forget_old(session: Session, user_id: int) -> None:
    """Forget the acts of a user that no device sends any more."""
    session.execute(delete(t.KeptAct).where(t.KeptAct.user_id == user_id, t.KeptAct.at < now() - KEPT_FOR))
