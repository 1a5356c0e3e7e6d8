"""What whoever runs the installation looks at: how servers answered, what went wrong, what was backed up."""

from datetime import datetime

from sqlalchemy import BigInteger, String
from sqlalchemy.orm import Mapped, mapped_column

from levelmoor.records.base import Base


class ServerMinute(Base):
    """How one server process answered within a minute: how often, how often with an error, how fast in seconds."""

    __tablename__ = "server_minute"
    minute: Mapped[datetime] = mapped_column(primary_key=True)
    server: Mapped[str] = mapped_column(String(32), primary_key=True)
    answers: Mapped[int]
    errors: Mapped[int]
    median_s: Mapped[float]
    most_s: Mapped[float]
    """What 95 % of answers did not exceed."""
    slowest_s: Mapped[float]


class Trouble(Base):
    """A request that was answered late, or with an error: its route, never what was typed or its whole address."""

    __tablename__ = "trouble"
    id: Mapped[int] = mapped_column(primary_key=True)
    at: Mapped[datetime] = mapped_column(index=True)
    request: Mapped[str] = mapped_column(String(40))
    route: Mapped[str] = mapped_column(String(120))
    status: Mapped[int]
    seconds: Mapped[float]
    error: Mapped[str] = mapped_column(String(80), default="")
    place: Mapped[str] = mapped_column(String(120), default="")


class BackupMade(Base):
    """A backup that was written whole."""

    __tablename__ = "backup_made"
    id: Mapped[int] = mapped_column(primary_key=True)
    at: Mapped[datetime]
    name: Mapped[str]
    bytes: Mapped[int] = mapped_column(BigInteger)
