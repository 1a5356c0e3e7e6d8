"""Who of the accounts somebody is whom an outside identity provider vouches for."""

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.records import tables as t
from levelmoor.records.accounts import find_user
from levelmoor.records.database import now


def known_as(session: Session, issuer: str, subject: str, email: str) -> t.User | None:
    """The account of a provider's subject: the one that it led to before, else the one with its address, which it
    leads to from now on. `email` is empty where the provider has not verified it."""
    found = session.scalar(
        select(t.User)
        .join(t.OutsideIdentity, t.OutsideIdentity.user_id == t.User.id)
        .where(t.OutsideIdentity.issuer == issuer, t.OutsideIdentity.subject == subject)
    )
    if found is None and email and (found := find_user(session, email)) is not None:
        session.add(t.OutsideIdentity(issuer=issuer, subject=subject, user_id=found.id, made_at=now()))
        session.flush()
    return found
