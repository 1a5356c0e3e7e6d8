"""Instruments that are swept live: which server sweeps one, who looks, what came, what was asked of it.

Times are seconds of the database's own clock, so that servers whose clocks differ agree on who has fallen silent.
"""

from typing import Any

from sqlalchemy import String, Text
from sqlalchemy.orm import Mapped, mapped_column

from levelmoor.records.base import EXACT, Base

ADDRESS = String(60, collation=EXACT)


class LiveRun(Base):
    """The instrument at an address: who sweeps it (`holder`, which tells at `beat_at` that it is there), with what
    settings, and what it last told."""

    __tablename__ = "live_run"
    address: Mapped[str] = mapped_column(ADDRESS, primary_key=True)
    team_id: Mapped[int]
    driver_key: Mapped[str] = mapped_column(String(64))
    holder: Mapped[str] = mapped_column(String(32), default="")
    beat_at: Mapped[float] = mapped_column(default=0.0)
    span: Mapped[dict[str, Any]]
    corrected: Mapped[bool] = mapped_column(default=True)
    between_ports: Mapped[bool] = mapped_column(default=False)
    status: Mapped[dict[str, Any]]
    progress: Mapped[float] = mapped_column(default=1.0)
    said: Mapped[dict[str, Any]]
    number: Mapped[int] = mapped_column(default=0)


class LiveLook(Base):
    """When a server last had a screen that follows the instrument. A row for each server: none waits for another."""

    __tablename__ = "live_look"
    address: Mapped[str] = mapped_column(ADDRESS, primary_key=True)
    server: Mapped[str] = mapped_column(String(32), primary_key=True)
    seen_at: Mapped[float]


class LiveSweep(Base):
    """A sweep that went by and can still be kept as evidence."""

    __tablename__ = "live_sweep"
    address: Mapped[str] = mapped_column(ADDRESS, primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    team_id: Mapped[int]
    body: Mapped[bytes]


class LiveWish(Base):
    """What a person asked of the instrument, and what became of it."""

    __tablename__ = "live_wish"
    id: Mapped[int] = mapped_column(primary_key=True)
    address: Mapped[str] = mapped_column(ADDRESS, index=True)
    team_id: Mapped[int]
    what: Mapped[dict[str, Any]]
    made_at: Mapped[float]
    done: Mapped[bool] = mapped_column(default=False)
    words: Mapped[str] = mapped_column(Text, default="")
    trouble: Mapped[str] = mapped_column(String(20), default="")
    body: Mapped[bytes | None]
