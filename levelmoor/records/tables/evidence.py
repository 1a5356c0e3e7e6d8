"""What was measured: sweeps, captures with their filters and rule sets, readings."""

from datetime import datetime
from typing import Any

from sqlalchemy import BINARY, DateTime, ForeignKey, Index, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from levelmoor.records.base import Base
from levelmoor.records.tables.bench import Instrument
from levelmoor.records.tables.columns import OfState, Part
from levelmoor.records.tables.files import RawFile


class Sweep(OfState, Base):
    """A sweep: its raw file, how it was read, its arrays, and the extremes that lists need.

    `segments` are further raw files joined to it; `raw` says that the arrays were corrected with the calibration's
    standards; `content` is the digest of the arrays, by which they are kept in memory; `taken_on` is an ISO date, with
    a time where that is known.
    """

    __tablename__ = "sweep"
    __table_args__ = (Index("ix_sweep_extremes", "evaluation_id", "low_hz", "high_hz"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"))
    instrument_id: Mapped[int] = mapped_column(ForeignKey("instrument.id"))
    raw_file_id: Mapped[int] = mapped_column(ForeignKey("raw_file.id"))
    name: Mapped[str]
    file_name: Mapped[str]
    format: Mapped[str] = mapped_column(String(40))
    ports: Mapped[int] = mapped_column(default=1)
    port: Mapped[int] = mapped_column(default=1)
    unit: Mapped[str] = mapped_column(String(10), default="")
    kind: Mapped[str] = mapped_column(String(20), default="")
    columns: Mapped[str] = mapped_column(default="")
    guessed: Mapped[list[Any]] = mapped_column(default=list)
    calibration: Mapped[str] = mapped_column(String(20), default="unstated")
    taken_on: Mapped[str] = mapped_column(String(16), default="")
    calibration_id: Mapped[int | None] = mapped_column(ForeignKey("calibration.id"))
    not_adjusted: Mapped[bool] = mapped_column(default=False)
    mounting: Mapped[int] = mapped_column(default=1)
    dips: Mapped[str] = mapped_column(String(500), default="")
    set_aside: Mapped[str] = mapped_column(Text, default="")
    raw: Mapped[bool] = mapped_column(default=False)
    segments: Mapped[list[Any]] = mapped_column(default=list)
    file_z0_ohm: Mapped[float | None]
    z0_ohm: Mapped[float]
    scalar: Mapped[bool]
    points: Mapped[int]
    low_hz: Mapped[float]
    high_hz: Mapped[float]
    largest_step_hz: Mapped[float]
    best_hz: Mapped[float]
    best_gamma: Mapped[float]
    worst_gamma: Mapped[float]
    frequency: Mapped[bytes] = mapped_column(deferred=True, deferred_group="arrays")
    gamma: Mapped[bytes] = mapped_column(deferred=True, deferred_group="arrays")
    half_step: Mapped[bytes | None] = mapped_column(deferred=True, deferred_group="arrays")
    content: Mapped[bytes | None] = mapped_column(BINARY(16))
    created_at: Mapped[datetime] = mapped_column(DateTime)
    deleted_at: Mapped[datetime | None]
    raw_file: Mapped[RawFile] = relationship(lazy="joined", innerjoin=True)
    instrument: Mapped[Instrument] = relationship()


class Capture(Part, OfState, Base):
    """A spectrum of a keyed radio: its raw file, and the path it came by. `offset` is a curve typed in, or empty."""

    __tablename__ = "capture"
    instrument_id: Mapped[int] = mapped_column(ForeignKey("instrument.id"))
    raw_file_id: Mapped[int] = mapped_column(ForeignKey("raw_file.id"))
    name: Mapped[str]
    file_name: Mapped[str]
    carrier_hz: Mapped[float]
    rbw_hz: Mapped[float] = mapped_column(default=0.0)
    mode: Mapped[str] = mapped_column(String(40), default="")
    pad_ids: Mapped[list[Any]] = mapped_column(default=list)
    line_id: Mapped[int | None] = mapped_column(ForeignKey("owned.id"))
    offset: Mapped[dict[str, Any]] = mapped_column("offset_curve", default=dict)
    filter_name: Mapped[str] = mapped_column(default="")
    entered_db: Mapped[float] = mapped_column(default=0.0)
    unit: Mapped[str] = mapped_column(String(10), default="")
    columns: Mapped[str] = mapped_column(default="")
    taken_on: Mapped[str] = mapped_column(String(16), default="")
    set_aside: Mapped[str] = mapped_column(Text, default="")
    created_at: Mapped[datetime]
    raw_file: Mapped[RawFile] = relationship(lazy="joined", innerjoin=True)
    instrument: Mapped[Instrument] = relationship()


class Filter(Part, Base):
    """A two-port sweep of a filter that might be added; what it would do is reckoned from it."""

    __tablename__ = "emission_filter"
    raw_file_id: Mapped[int] = mapped_column(ForeignKey("raw_file.id"))
    file_name: Mapped[str]
    raw_file: Mapped[RawFile] = relationship(lazy="joined", innerjoin=True)


class RuleSet(Base):
    """An emission rule set of a team's own."""

    __tablename__ = "rule_set"
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"), index=True)
    rule_id: Mapped[str] = mapped_column(String(60))
    rules: Mapped[dict[str, Any]]
    deleted_at: Mapped[datetime | None]


class ReadingSheet(Part, OfState, Base):
    """Readings of one sample in one setup with one instrument; `sweep_id` is the sweep they were joined into."""

    __tablename__ = "reading_sheet"
    instrument_id: Mapped[int] = mapped_column(ForeignKey("instrument.id"))
    kind: Mapped[str] = mapped_column(String(20), default="swr")
    sweep_id: Mapped[int | None] = mapped_column(ForeignKey("sweep.id"))
    created_at: Mapped[datetime]
    readings: Mapped[list["Reading"]] = relationship(
        order_by="Reading.id",
        primaryjoin="and_(Reading.sheet_id == ReadingSheet.id, Reading.deleted_at.is_(None))",
    )


class Reading(Base):
    """One reading as it was typed, with what was asked about it and answered. The same entry is kept once."""

    __tablename__ = "reading"
    __table_args__ = (UniqueConstraint("sheet_id", "entry_id"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    sheet_id: Mapped[int] = mapped_column(ForeignKey("reading_sheet.id"))
    entry_id: Mapped[str] = mapped_column(String(40))
    typed: Mapped[dict[str, Any]]
    answers: Mapped[dict[str, Any]] = mapped_column(default=dict)
    made_at: Mapped[str] = mapped_column(String(30))
    made_by: Mapped[str]
    received_at: Mapped[datetime]
    deleted_at: Mapped[datetime | None]
