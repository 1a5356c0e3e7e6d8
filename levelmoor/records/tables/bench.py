"""What a team owns and what its bench was proven by."""

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, String, Text
from sqlalchemy.orm import Mapped, mapped_column

from levelmoor.records.base import Base


class Instrument(Base):
    __tablename__ = "instrument"
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"), index=True)
    name: Mapped[str]
    description: Mapped[str] = mapped_column(default="")
    directivity_db: Mapped[float] = mapped_column(default=40.0)
    tracking: Mapped[float] = mapped_column(default=0.01)
    source_match_db: Mapped[float] = mapped_column(default=35.0)
    repeat_u: Mapped[float] = mapped_column(default=0.0)
    watt_accuracy: Mapped[float] = mapped_column(default=0.0)
    swr_division: Mapped[float] = mapped_column(default=0.0)
    truncates: Mapped[int] = mapped_column(default=0)
    full_scale_accuracy: Mapped[float] = mapped_column(default=0.0)
    full_scale_w: Mapped[float] = mapped_column(default=0.0)
    read_at_w: Mapped[float] = mapped_column(default=0.0)
    figures_source: Mapped[str] = mapped_column(default="typical of the class")
    instrument_class: Mapped[str] = mapped_column(String(20), default="unstated")
    low_hz: Mapped[float] = mapped_column(default=0.0)
    high_hz: Mapped[float] = mapped_column(default=0.0)
    points: Mapped[int] = mapped_column(default=0)
    ports: Mapped[int] = mapped_column(default=1)
    memories: Mapped[int] = mapped_column(default=0)
    connector: Mapped[str] = mapped_column(String(40), default="")
    max_input_dbm: Mapped[float | None]
    noise_dbm: Mapped[float | None]
    noise_rbw_hz: Mapped[float | None]
    checked_on: Mapped[str] = mapped_column(String(10), default="")
    level_u_db: Mapped[float] = mapped_column(default=0.5)
    second_intercept_dbm: Mapped[float | None]
    third_intercept_dbm: Mapped[float | None]
    address: Mapped[str] = mapped_column(String(60), default="")
    driver: Mapped[str] = mapped_column(String(80), default="")
    deleted_at: Mapped[datetime | None]


class Driver(Base):
    """A table of commands that a team has added for an instrument of its own."""

    __tablename__ = "driver"
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"), index=True)
    name: Mapped[str] = mapped_column(String(80))
    commands: Mapped[dict[str, Any]]
    deleted_at: Mapped[datetime | None]


class Owned(Base):
    """A piece that a team owns besides its instruments; `facts` holds the fields of its kind as plain data."""

    __tablename__ = "owned"
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"), index=True)
    kind: Mapped[str] = mapped_column(String(20))
    name: Mapped[str]
    facts: Mapped[dict[str, Any]] = mapped_column(default=dict)
    deleted_at: Mapped[datetime | None]


class Calibration(Base):
    """A calibration on record; `parts` are raw sweeps of its standards, each {file_name, sha256, ..., role}."""

    __tablename__ = "calibration"
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"), index=True)
    instrument_id: Mapped[int] = mapped_column(ForeignKey("instrument.id"))
    low_hz: Mapped[float]
    high_hz: Mapped[float]
    points: Mapped[int] = mapped_column(default=0)
    standards: Mapped[str] = mapped_column(default="open, short, load")
    plane: Mapped[str] = mapped_column(String(20), default="connector")
    at: Mapped[str] = mapped_column("at_text", default="")
    kit_id: Mapped[int | None] = mapped_column(ForeignKey("owned.id"))
    load_id: Mapped[int | None] = mapped_column(ForeignKey("owned.id"))
    done_at: Mapped[str] = mapped_column(String(16), default="")
    parts: Mapped[list[Any]] = mapped_column(default=list)
    deleted_at: Mapped[datetime | None]


class BenchCheck(Base):
    """A check of the bench: a load, a line, a pad, a meter, a noise floor; its figures come from its raw files."""

    __tablename__ = "bench_check"
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"), index=True)
    kind: Mapped[str] = mapped_column(String(20))
    instrument_id: Mapped[int | None] = mapped_column(ForeignKey("instrument.id"))
    calibration_id: Mapped[int | None] = mapped_column(ForeignKey("calibration.id"))
    item_id: Mapped[int | None] = mapped_column(ForeignKey("owned.id"))
    done_at: Mapped[str] = mapped_column(String(16), default="")
    parts: Mapped[list[Any]] = mapped_column(default=list)
    figures: Mapped[dict[str, Any]] = mapped_column(default=dict)
    pairs: Mapped[list[Any]] = mapped_column(default=list)
    note: Mapped[str] = mapped_column(Text, default="")
    deleted_at: Mapped[datetime | None]
