"""The connection to MariaDB, and bringing its schema up to date."""

import os
import random
import time
from datetime import UTC, datetime
from functools import cache
from pathlib import Path

from sqlalchemy import create_engine, text
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.records.grants import grant_serving
from levelmoor.records.hosts import CONNECT_S, NOT_READY, fail_over, hosts_of
from levelmoor.records.private_server import FOLDER, addresses_in

VARIABLE = "LEVELMOOR_DATABASE_URL"
OWNER_VARIABLE = "LEVELMOOR_OWNER_URL"
"""The same database by the account that owns the schema; where it is not set, the serving account is taken for it."""
CONNECTIONS = 50
TRIES = 6
PAUSE_S = 0.05
_ASKS_AGAIN = {1213, 1020}
"""Deadlock, and a row that changed since it was read."""
_WAITED = 1205
_LOST = {NOT_READY, 2006, 2013}
"""The connection went away under a statement."""
LOCK_WAIT_S = 20
"""How long a change waits for another of the same rows; then its page is told to send it again."""


def database_url() -> str:
    """The address of the database by the serving account: from the environment, else the one that `./start` made.

    Raises
    ------
    RuntimeError
        Where there is neither.
    """
    return _url(VARIABLE, 0)


def owner_url() -> str:
    """The address of the database by the account that may change its schema."""
    if os.environ.get(VARIABLE) and not os.environ.get(OWNER_VARIABLE):
        return os.environ[VARIABLE]
    return _url(OWNER_VARIABLE, 1)


def _url(variable: str, place: int) -> str:
    if url := os.environ.get(variable, ""):
        return url
    if found := addresses_in(FOLDER):
        return found[place]
    raise RuntimeError(
        f"no database is configured, and ./start is not running here; run ./start in another terminal, or set "
        f"{variable}"
    )


def connect(url: str | None = None) -> sessionmaker[Session]:
    """A maker of sessions on the database. None of its connections outlives a fork: a child opens its own."""
    first, others = hosts_of(url or database_url())
    engine = create_engine(
        first,
        pool_pre_ping=True,
        hide_parameters=True,  # an error that is logged quotes nothing that was typed
        pool_recycle=1800,
        pool_size=CONNECTIONS,
        connect_args={
            "init_command": f"SET innodb_lock_wait_timeout = {LOCK_WAIT_S}",
            "connect_timeout": CONNECT_S,
        },
    )
    if others:
        fail_over(engine, others)
    # The child forgets the parent's connections without closing them, so that neither meets the other's.
    os.register_at_fork(after_in_child=lambda: engine.dispose(close=False))
    return sessionmaker(engine, expire_on_commit=False)


def migrate(url: str, revision: str = "head", serving_url: str = "") -> None:
    """Bring the schema to a revision, from nothing or from any earlier one; then give the serving account its rights.

    `url` is the owner's address; without `serving_url` no rights are touched.
    """
    from alembic import command  # the package takes long to load
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).with_name("migrations")))
    config.attributes["url"] = url
    command.upgrade(config, revision)
    if serving_url:
        grant_serving(url, serving_url)


@cache
def newest_revision() -> str:
    """The schema that this program asks for."""
    versions = Path(__file__).with_name("migrations") / "versions"
    return max(path.name.partition("_")[0] for path in versions.glob("[0-9]*.py"))


def schema_revision(session: Session) -> str:
    """The schema that the database has, empty where it has none."""
    return str(session.scalar(text("SELECT version_num FROM alembic_version")) or "")


def asks_again(problem: OperationalError) -> bool:
    """Whether the database took a change back because another stood in its way, and asks to try it again."""
    code = problem.orig.args[0] if problem.orig and problem.orig.args else 0
    return code in _ASKS_AGAIN


def lost_connection(problem: OperationalError) -> bool:
    """Whether the database went away under a statement: what it had begun is taken back."""
    return bool(problem.orig and problem.orig.args and problem.orig.args[0] in _LOST)


def waited_too_long(problem: OperationalError) -> bool:
    """Whether another change was not done in the time that one waits for it."""
    return bool(problem.orig and problem.orig.args and problem.orig.args[0] == _WAITED)


def pause_before(attempt: int) -> None:
    """Wait a little before a try, longer each time, and not all for the same time."""
    time.sleep(PAUSE_S * 2**attempt * (0.5 + random.random()))  # noqa: S311  spread, not a secret


def now() -> datetime:
    """The present in UTC, without a zone and without fractions, as the tables keep it."""
    return datetime.now(UTC).replace(tzinfo=None, microsecond=0)
