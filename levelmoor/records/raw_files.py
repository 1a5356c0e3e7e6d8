"""Raw files: kept once per team as they came, and what was read from them kept in memory, since they never change."""

from collections.abc import Iterable, Mapping
from hashlib import sha256

from sqlalchemy import select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session

from levelmoor.records import tables as t


def keep_raw(session: Session, team_id: int, data: bytes) -> t.RawFile:
    """The file as it came, kept once per team, also where it comes several times at the same moment."""
    digest = sha256(data).hexdigest()
    query = select(t.RawFile).where(t.RawFile.team_id == team_id, t.RawFile.sha256 == digest)
    row = session.scalar(query)
    if row is None:
        # The unique key decides who is first; whoever is not finds the other's row by a read that sees the latest.
        new = insert(t.RawFile).prefix_with("IGNORE")
        session.execute(new.values(team_id=team_id, sha256=digest, size=len(data), data=data))
        row = session.scalars(query.with_for_update(read=True)).one()
    return row


def raw_data(session: Session, team_id: int, digests: Iterable[str]) -> Mapping[str, bytes]:
    """The bytes of raw files of the team by SHA-256."""
    wanted = set(digests)
    if not wanted:
        return {}
    query = select(t.RawFile.sha256, t.RawFile.data).where(t.RawFile.team_id == team_id, t.RawFile.sha256.in_(wanted))
    return {row.sha256: row.data for row in session.execute(query)}
