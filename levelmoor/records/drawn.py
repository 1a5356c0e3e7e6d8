"""What is drawn from published bundles, kept as bytes in the database, so that each thing is drawn once."""

from collections.abc import Callable

from sqlalchemy import insert, select
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.records import tables as t
from levelmoor.records.database import now


def drawn(made: sessionmaker[Session], key: str, draw: Callable[[], bytes]) -> bytes:
    """The bytes under a key, drawn and kept where they are not there yet; of two drawn at once the first is kept. Kept
    in a transaction of its own: who only looks at a page changes nothing else."""
    with made() as session:
        kept = session.scalar(select(t.Drawn.body).where(t.Drawn.key == key))
    if kept is None:
        kept = draw()
        with made.begin() as session:
            session.execute(insert(t.Drawn).prefix_with("IGNORE").values(key=key, made_at=now(), body=kept))
    return kept
