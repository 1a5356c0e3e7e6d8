"""How the servers of an installation answer, kept for whoever runs it: minutes, what was late or wrong, backups."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import delete, func, select, text
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session

from levelmoor.records import tables as t
from levelmoor.records.database import now

LATE_S = 1.0
"""An answer that takes longer is looked at."""
KEPT_FOR = timedelta(days=7)
MOST_SHOWN = 20


@dataclass(frozen=True)
class Answered:
    """One answer: of which route, with which status, in how many seconds; of an error its kind and its place."""

    request: str
    route: str
    status: int
    seconds: float
    error: str = ""
    place: str = ""

    @property
    def wrong(self) -> bool:
        """An error; 503 is none, it asks to come again: what is being judged, a stream too many."""
        return self.status >= 500 and self.status != 503

    @property
    def trouble(self) -> bool:
        return self.wrong or self.seconds > LATE_S


def keep_minute(session: Session, server: str, minute: datetime, answers: Sequence[Answered]) -> None:
    """Keep how a minute went, and forget those of long ago."""
    times = sorted(a.seconds for a in answers)
    row = {
        "minute": minute, "server": server, "answers": len(times), "errors": sum(a.wrong for a in answers),
        "median_s": times[len(times) // 2], "most_s": times[int(0.95 * (len(times) - 1))], "slowest_s": times[-1],
    }  # fmt: skip
    new = insert(t.ServerMinute).values(row)
    kept, more = t.ServerMinute, new.inserted
    # A minute that was looked at before its end comes in two parts; of their medians the larger is kept.
    session.execute(
        new.on_duplicate_key_update(
            answers=kept.answers + more.answers, errors=kept.errors + more.errors,
            **{name: func.greatest(getattr(kept, name), more[name]) for name in ("median_s", "most_s", "slowest_s")},
        )
    )  # fmt: skip
    session.execute(delete(t.ServerMinute).where(t.ServerMinute.minute < now() - KEPT_FOR))
    session.execute(delete(t.Trouble).where(t.Trouble.at < now() - KEPT_FOR))
    session.add_all(
        t.Trouble(at=now(), request=a.request[:40], route=a.route[:120], status=a.status, seconds=a.seconds,
                  error=a.error[:80], place=a.place[-120:])
        for a in answers if a.trouble
    )  # fmt: skip


@dataclass(frozen=True)
class Hour:
    """How an hour went, over all servers: answers a minute, errors, the worst minute's 95 %."""

    begins: datetime
    answers: int
    errors: int
    most_s: float


def hours(session: Session, since: datetime) -> list[Hour]:
    """The hours with answers since then, in their order."""
    m = t.ServerMinute
    hour = func.date_format(m.minute, "%Y-%m-%d %H:00:00")
    query = select(hour, func.sum(m.answers), func.sum(m.errors), func.max(m.most_s)).where(m.minute >= since)
    rows = session.execute(query.group_by(hour).order_by(hour)).tuples()
    return [Hour(datetime.fromisoformat(str(h)), int(n), int(e), float(s)) for h, n, e, s in rows]


@dataclass(frozen=True)
class Route:
    """How often a route was late, and its slowest answer."""

    route: str
    count: int
    slowest_s: float


def late_routes(session: Session) -> list[Route]:
    """The routes that were late, the slowest first."""
    x = t.Trouble
    query = select(x.route, func.count(), func.max(x.seconds)).where(x.seconds > LATE_S, x.status < 500)
    rows = session.execute(query.group_by(x.route).order_by(func.max(x.seconds).desc()).limit(MOST_SHOWN)).tuples()
    return [Route(*row) for row in rows]


def last_errors(session: Session) -> Sequence[t.Trouble]:
    """What was answered with an error, the latest first."""
    query = (
        select(t.Trouble)
        .where(t.Trouble.status >= 500, t.Trouble.status != 503)
        .order_by(t.Trouble.id.desc())
        .limit(MOST_SHOWN)
    )
    return session.scalars(query).all()


def servers(session: Session) -> Sequence[str]:
    """The server processes that answered in the last quarter of an hour."""
    m = t.ServerMinute
    recent = m.minute > now() - timedelta(minutes=15)
    return session.scalars(select(m.server).where(recent).distinct().order_by(m.server)).all()


def live(session: Session) -> Sequence[t.LiveRun]:
    """The instruments that are swept live."""
    return session.scalars(select(t.LiveRun).where(t.LiveRun.holder != "").order_by(t.LiveRun.address)).all()


def backups(session: Session) -> Sequence[t.BackupMade]:
    return session.scalars(select(t.BackupMade).order_by(t.BackupMade.id.desc()).limit(5)).all()


def note_backup(session: Session, name: str, size: int) -> None:
    session.add(t.BackupMade(at=now(), name=name[:200], bytes=size))


@dataclass(frozen=True)
class Held:
    """What a table holds, as the database counts it."""

    table: str
    rows: int
    bytes: int


def held(session: Session) -> tuple[str, list[Held]]:
    """The database's version, and its tables, the largest first."""
    version = str(session.scalar(text("SELECT VERSION()")))
    query = text(
        "SELECT table_name, table_rows, data_length + index_length FROM information_schema.tables "
        "WHERE table_schema = DATABASE() AND table_type = 'BASE TABLE' ORDER BY 3 DESC"
    )
    return version, [Held(str(name), int(rows or 0), int(size or 0)) for name, rows, size in session.execute(query)]


def unsent_mail(session: Session) -> int:
    """Letters whose last try failed."""
    failed = select(func.count()).select_from(t.Mail).where(t.Mail.sent_at.is_(None), t.Mail.problem != "")
    return int(session.scalar(failed) or 0)
