"""Sign-ins kept on the server: a copied cookie is worth nothing once its sign-in has ended."""

import secrets
from collections.abc import Sequence
from datetime import timedelta

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.records.kept_acts import forget_old
from levelmoor.records.passwords import digest

UNSEEN_FOR = timedelta(days=14)
LONGEST = timedelta(days=60)
SEEN_EVERY = timedelta(minutes=10)


def begin(session: Session, user: t.User, address: str, device: str) -> str:
    """A new sign-in; gives the token for the browser's cookie."""
    forget_old(session, user.id)
    token, at = secrets.token_urlsafe(24), now()
    session.add(
        t.SignIn(
            user_id=user.id,
            token_sha256=digest(token),
            address=address[:60],
            device=device[:200],
            begun_at=at,
            seen_at=at,
        )
    )
    session.flush()
    return token


def standing(session: Session, token: str) -> t.SignIn | None:
    """The sign-in of a token, while it stands."""
    at = now()
    return session.scalar(
        select(t.SignIn).where(
            t.SignIn.token_sha256 == digest(token),
            t.SignIn.ended_at.is_(None),
            t.SignIn.seen_at > at - UNSEEN_FOR,
            t.SignIn.begun_at > at - LONGEST,
        )
    )


def of_user(session: Session, user_id: int) -> Sequence[t.SignIn]:
    """The sign-ins of a user that stand, the one seen last first."""
    query = select(t.SignIn).where(
        t.SignIn.user_id == user_id, t.SignIn.ended_at.is_(None), t.SignIn.seen_at > now() - UNSEEN_FOR
    )
    return session.scalars(query.order_by(t.SignIn.seen_at.desc(), t.SignIn.id.desc())).all()


def end(session: Session, user_id: int, sign_in_id: int | None = None, but: int | None = None) -> None:
    """End one sign-in of a user, or all but one."""
    query = update(t.SignIn).where(t.SignIn.user_id == user_id, t.SignIn.ended_at.is_(None)).values(ended_at=now())
    if sign_in_id is not None:
        query = query.where(t.SignIn.id == sign_in_id)
    if but is not None:
        query = query.where(t.SignIn.id != but)
    session.execute(query)
