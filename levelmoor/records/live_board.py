"""What servers tell each other of an instrument that is swept live: who sweeps it, how it stands, what came.

One server holds the run and says every second that it is there; a server that is silent for `HELD_S` has lost it, and
another may take it. All times are those of the database's clock.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import ColumnElement, delete, func, literal_column, select, true, update
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.records import tables as t

HELD_S = 6.0
LINGER_S = 10.0
"""How long the instrument is swept on after the last screen has gone."""
MOST_KEPT = 60
"""Sweeps that can still be kept as evidence after they went by."""
WISHES_S = 600.0
"""After which what was asked is forgotten."""
BEGUN_WITHIN_S = 20.0
"""Who asks waits no longer until it is begun; what was asked before that is not done any more."""


def _clock() -> ColumnElement[float]:
    return func.unix_timestamp(func.sysdate(literal_column("3")))


@dataclass(frozen=True)
class Stands:
    """How a run stands: whether a server holds it, whether anybody looks, its settings, and what it last told."""

    holder: str
    held: bool
    watched: bool
    span: dict[str, Any]
    corrected: bool
    between_ports: bool
    status: dict[str, Any]
    progress: float
    said: dict[str, Any]
    number: int


@dataclass(frozen=True)
class Wish:
    id: int
    what: dict[str, Any]
    done: bool = False
    words: str = ""
    trouble: str = ""
    body: bytes | None = field(default=None, repr=False)


class LiveBoard:
    """The board of one instrument as a team uses it, with the driver that `driver_key` tells from others."""

    def __init__(self, maker: sessionmaker[Session], address: str, team_id: int, driver_key: str) -> None:
        self._maker, self._address, self._team_id, self._driver_key = maker, address, team_id, driver_key

    def open(self, span: Mapping[str, Any]) -> None:
        """Make the run where there is none. One of another team, or of another driver, ends: its sweeps go, and who
        holds it notices and lets go."""
        if self.stands() is not None:
            return
        run = t.LiveRun
        new = {
            "team_id": self._team_id, "driver_key": self._driver_key, "span": dict(span), "corrected": True,
            "between_ports": False, "status": {"state": "connecting", "words": f"Asking {self._address}."},
            "progress": 1.0, "said": {},
        }  # fmt: skip
        with self._maker.begin() as session:
            free = {"number": 0, "holder": "", "beat_at": 0.0}
            session.execute(insert(run).values(address=self._address, **free, **new).prefix_with("IGNORE"))
            others = (run.address == self._address) & ~self._mine()
            if session.execute(update(run).where(others).values(**new)).rowcount:  # type: ignore[attr-defined]
                session.execute(delete(t.LiveSweep).where(t.LiveSweep.address == self._address))

    def _mine(self) -> ColumnElement[bool]:
        return (t.LiveRun.team_id == self._team_id) & (t.LiveRun.driver_key == self._driver_key)

    def stands(self) -> Stands | None:
        """None where there is no run of this team and driver."""
        run, look = t.LiveRun, t.LiveLook
        seen = select(func.max(look.seen_at)).where(look.address == self._address).scalar_subquery()
        clock = _clock()
        query = select(
            run, (run.holder != "") & (run.beat_at > clock - HELD_S), func.coalesce(seen, 0.0) > clock - LINGER_S
        ).where(run.address == self._address, self._mine())
        with self._maker() as session:
            found = session.execute(query).one_or_none()
        if found is None:
            return None
        row, held, watched = found
        return Stands(
            row.holder, bool(held), bool(watched), row.span, row.corrected, row.between_ports, row.status,
            row.progress, row.said, row.number,
        )  # fmt: skip

    def look(self, server: str) -> None:
        """A screen of this server follows the run."""
        new = insert(t.LiveLook).values(address=self._address, server=server, seen_at=_clock())
        with self._maker.begin() as session:
            session.execute(new.on_duplicate_key_update(seen_at=_clock()))
            session.execute(delete(t.LiveLook).where(t.LiveLook.seen_at < _clock() - WISHES_S))

    def claim(self, server: str) -> bool:
        """Hold the run from now on, where nobody does; of two servers that ask at once one gets it."""
        free = (t.LiveRun.holder == "") | (t.LiveRun.beat_at < _clock() - HELD_S)
        return self._update(free, holder=server, beat_at=_clock())

    def beat(self, server: str, **told: Any) -> bool:
        """Say that the holder is there, and what is new; False where the run is another's by now."""
        return self._update(t.LiveRun.holder == server, beat_at=_clock(), **told)

    def release(self, server: str) -> None:
        """Let go, whosever it is by now."""
        run = t.LiveRun
        mine = update(run).where(run.address == self._address, run.holder == server)
        with self._maker.begin() as session:
            session.execute(mine.values(holder="", beat_at=0.0, between_ports=False))

    def set(self, **wanted: Any) -> None:
        """Other settings, from the next sweep on."""
        self._update(true(), **wanted)

    def _update(self, where: ColumnElement[bool], **values: Any) -> bool:
        change = update(t.LiveRun).where(t.LiveRun.address == self._address, self._mine(), where).values(**values)
        with self._maker.begin() as session:
            return bool(session.execute(change).rowcount)  # type: ignore[attr-defined]

    def keep(self, number: int, body: bytes) -> bool:
        """Keep a sweep, and forget those that went by long ago; True once that is done."""
        sweep = t.LiveSweep
        new = insert(sweep).values(address=self._address, number=number, team_id=self._team_id, body=body)
        with self._maker.begin() as session:
            session.execute(new.on_duplicate_key_update(body=new.inserted.body, team_id=new.inserted.team_id))
            session.execute(delete(sweep).where(sweep.address == self._address, sweep.number <= number - MOST_KEPT))
        return True

    def sweep(self, number: int) -> bytes | None:
        """A sweep of this team's that went by."""
        sweep = t.LiveSweep
        mine = (sweep.address == self._address) & (sweep.number == number) & (sweep.team_id == self._team_id)
        with self._maker() as session:
            return session.scalar(select(sweep.body).where(mine))

    def wish(self, what: Mapping[str, Any]) -> int:
        """Ask something of the instrument; `answer` says what became of it."""
        with self._maker.begin() as session:
            session.execute(delete(t.LiveWish).where(t.LiveWish.made_at < _clock() - WISHES_S))
            row = t.LiveWish(address=self._address, team_id=self._team_id, what=dict(what), made_at=_clock(), body=None)
            session.add(row)
            session.flush()
            return row.id

    def wishes(self) -> list[Wish]:
        """What this team has asked just now, and is not done."""
        wish = t.LiveWish
        query = select(wish).where(
            wish.address == self._address, wish.team_id == self._team_id, wish.done.is_(False),
            wish.made_at > _clock() - BEGUN_WITHIN_S,
        )  # fmt: skip
        with self._maker() as session:
            return [Wish(row.id, row.what) for row in session.scalars(query.order_by(wish.id))]

    def grant(self, wish_id: int, words: str, trouble: str = "", body: bytes | None = None) -> None:
        """Say what became of a wish; one that is done, or was given up, stays as it is."""
        wish = t.LiveWish
        change = update(wish).where(wish.id == wish_id, wish.done.is_(False))
        with self._maker.begin() as session:
            session.execute(change.values(done=True, words=words, trouble=trouble, body=body))

    def answer(self, wish_id: int) -> Wish | None:
        """What became of a wish, None while it is not done."""
        with self._maker() as session:
            row = session.get(t.LiveWish, wish_id)
        return Wish(row.id, row.what, row.done, row.words, row.trouble, row.body) if row and row.done else None
