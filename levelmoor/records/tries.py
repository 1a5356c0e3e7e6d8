"""Tries that failed, counted for an account and for an address, by all servers together."""

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


def counted_under(account: str, address: str) -> dict[str, int]:
    """What a try counts under, and how many may fail there."""
    return {f"account {account.strip().lower()[:100]}": MOST_BY_ACCOUNT, f"address {address[:60]}": MOST_BY_ADDRESS}


def check_tries(session: Session, account: str, address: str) -> None:
    """Raises TooManyTries where the account or the address has had its tries, whether or not there is the account."""
    since = now() - WITHIN
    for key, most in counted_under(account, address).items():
        query = select(func.count()).where(t.Attempt.counted_under == key, t.Attempt.at > since)
        if (session.scalar(query) or 0) >= most:
            raise TooManyTries(f"Too many tries; wait {WITHIN.seconds // 60} minutes and try again.")


def count_failure(maker: sessionmaker[Session], account: str, address: str) -> None:
    """Keep that a try failed, whatever becomes of the request; forgets what no longer counts."""
    with maker.begin() as session:
        session.execute(delete(t.Attempt).where(t.Attempt.at < now() - 4 * WITHIN))
        session.add_all(t.Attempt(counted_under=key, at=now()) for key in counted_under(account, address))
