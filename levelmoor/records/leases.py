"""An instrument belongs to one team at a time: whoever has its address keeps it as long as it is renewed."""

from datetime import timedelta

from sqlalchemy import case, func, select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.records import tables as t
from levelmoor.records.database import TRIES, asks_again, now, pause_before

HELD_FOR = timedelta(seconds=45)
"""Longer than a slow sweep lasts between two renewals, shorter than the patience of who waits for the instrument."""


class Leased(ValueError):
    """Another team has the instrument."""


def take(maker: sessionmaker[Session], address: str, team_id: int) -> int:
    """Have or renew an address for a team; the row's own key decides between two that ask at once.

    Gives the id up to which calibrations on record no longer stand for what the instrument holds, 0 where it has not
    changed hands.

    Raises
    ------
    Leased
        While another team has it.
    """
    for attempt in range(TRIES):
        try:
            return _take(maker, address, team_id)
        except OperationalError as problem:
            if not asks_again(problem) or attempt + 1 == TRIES:
                raise
            pause_before(attempt)
    raise AssertionError("unreachable")


def _take(maker: sessionmaker[Session], address: str, team_id: int) -> int:
    at, lease = now(), t.Lease
    with maker.begin() as session:
        last = session.scalar(select(func.max(t.Calibration.id))) or 0
        new = insert(lease).values(address=address, team_id=team_id, until=at + HELD_FOR, floor=0)
        changes = (lease.until < at) & (lease.team_id != team_id)
        # MariaDB sets the columns in this order, and each sees what the ones before it became.
        new = new.on_duplicate_key_update(
            [
                ("floor", case((changes, last), else_=lease.floor)),
                ("team_id", case((changes, new.inserted.team_id), else_=lease.team_id)),
                ("until", case((lease.team_id == team_id, new.inserted.until), else_=lease.until)),
            ]
        )
        session.execute(new)
        # A locking read sees the latest, also what another put there since this transaction's first look.
        latest = select(lease.team_id, lease.floor).where(lease.address == address).with_for_update()
        held = session.execute(latest).one()
        if held.team_id != team_id:
            raise Leased(
                f"the instrument at {address} is being used by another team; it becomes free "
                f"{HELD_FOR.seconds} s after they release it"
            )
        return int(held.floor)
