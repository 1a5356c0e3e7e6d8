"""The connection to MariaDB, and bringing its schema up to date."""

import os
from datetime import UTC, datetime
from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine
from sqlalchemy.orm import Session, sessionmaker

VARIABLE = "LEVELMOOR_DATABASE_URL"


def database_url() -> str:
    """The address of the database from the environment.

    Raises
    ------
    RuntimeError
        Where it is not set.
    """
    url = os.environ.get(VARIABLE, "")
    if not url:
        raise RuntimeError(f"{VARIABLE} is not set; ./start makes a private database and sets it")
    return url


def connect(url: str | None = None) -> sessionmaker[Session]:
    """A maker of sessions on the database."""
    engine = create_engine(url or database_url(), pool_pre_ping=True, pool_recycle=1800, pool_size=10)
    return sessionmaker(engine, expire_on_commit=False)


def migrate(url: str, revision: str = "head") -> None:
    """Bring the schema to a revision, from nothing or from any earlier one."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).with_name("migrations")))
    config.attributes["url"] = url
    command.upgrade(config, revision)


def now() -> datetime:
    """The present in UTC, without a zone and without fractions, as the tables keep it."""
    return datetime.now(UTC).replace(tzinfo=None, microsecond=0)
