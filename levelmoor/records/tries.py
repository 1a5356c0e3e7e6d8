"""Tries to sign in, counted before the password is looked at: for an account, for an address, and for a device that the
account was signed in on before; by all servers together."""

from collections.abc import Mapping, Sequence
from datetime import timedelta

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.records import tables as t
from levelmoor.records.database import now

WITHIN = timedelta(minutes=15)
MOST_BY_ACCOUNT = 10
MOST_BY_ADDRESS = 40


class TooManyTries(ValueError):
    """So many tries failed lately that none is taken for a while."""


def counted_under(account: str, address: str, device: str = "") -> dict[str, int]:
    """What a try counts under, and how many may fail there. A device that is known to the account counts by itself:
    what strangers try keeps nobody out of it."""
    name = f"account {account.strip().lower()[:60]}"
    if device:
        return {f"{name} device {device[:30]}": MOST_BY_ACCOUNT}
    return {name: MOST_BY_ACCOUNT, f"address {address[:60]}": MOST_BY_ADDRESS}


def take_try(maker: sessionmaker[Session], account: str, address: str, device: str = "") -> Sequence[int]:
    """Count a try as failed before it is made, and keep that whatever becomes of the request; what `give_back` needs
    once it has succeeded. So many at once count as so many after another.

    Raises
    ------
    TooManyTries
        Where the account, the address or the device has had its tries, whether or not there is the account.
    """
    return _count(maker, counted_under(account, address, device))


def take_use(maker: sessionmaker[Session], what: str, most: int) -> None:
    """Count a use of something that strangers may use, such as trying a file.

    Raises
    ------
    TooManyTries
        Where it was used more than `most` times lately.
    """
    _count(maker, {what[:80]: most})


def _count(maker: sessionmaker[Session], keys: Mapping[str, int]) -> Sequence[int]:
    with maker.begin() as session:
        session.execute(delete(t.Attempt).where(t.Attempt.at < now() - 4 * WITHIN))
        rows = [t.Attempt(counted_under=key, at=now()) for key in keys]
        session.add_all(rows)
        session.flush()
        taken = [row.id for row in rows]
    with maker() as session:
        for key, most in keys.items():
            query = select(func.count()).where(t.Attempt.counted_under == key, t.Attempt.at > now() - WITHIN)
            if (session.scalar(query) or 0) > most:
                raise TooManyTries(f"Too many tries; wait {WITHIN.seconds // 60} minutes and try again.")
    return taken


def give_back(maker: sessionmaker[Session], taken: Sequence[int]) -> None:
    """A try that succeeded does not count."""
    with maker.begin() as session:
        session.execute(delete(t.Attempt).where(t.Attempt.id.in_(taken)))
