"""Sweeps through an article, and what is noted in the field: levels, heat, contacts."""

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from levelmoor.records.base import Base
from levelmoor.records.tables.columns import OfState, Part
from levelmoor.records.tables.files import RawFile


class ThroughSweep(Part, OfState, Base):
    """One sweep through; the raw file as it came."""

    __tablename__ = "through_sweep"
    instrument_id: Mapped[int] = mapped_column(ForeignKey("instrument.id"))
    raw_file_id: Mapped[int] = mapped_column(ForeignKey("raw_file.id"))
    name: Mapped[str]
    file_name: Mapped[str]
    fixture: Mapped[str] = mapped_column(String(20))
    taken_on: Mapped[str] = mapped_column(String(20), default="")
    note: Mapped[str] = mapped_column(Text, default="")
    set_aside: Mapped[str] = mapped_column(Text, default="")
    calibration_id: Mapped[int | None] = mapped_column(ForeignKey("calibration.id"))
    raw_file: Mapped[RawFile] = relationship(lazy="joined", innerjoin=True)


class FieldRecord(Base):
    """A level, a run under power, a contact: `data` holds what is of its kind alone. The same entry is kept once."""

    __tablename__ = "field_record"
    __table_args__ = (UniqueConstraint("evaluation_id", "entry_id"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"))
    entry_id: Mapped[str] = mapped_column(String(40))
    kind: Mapped[str] = mapped_column(String(20))
    sample_id: Mapped[int | None] = mapped_column(ForeignKey("sample.id"))
    setup_id: Mapped[int | None] = mapped_column(ForeignKey("setup.id"))
    data: Mapped[dict[str, Any]]
    words: Mapped[str] = mapped_column(String(200), default="")
    who: Mapped[str] = mapped_column(default="")
    note: Mapped[str] = mapped_column(Text, default="")
    instrument_id: Mapped[int | None] = mapped_column(ForeignKey("instrument.id"))
    setting_id: Mapped[int | None] = mapped_column(ForeignKey("article_setting.id"))
    round: Mapped[int] = mapped_column(default=1)
    set_aside: Mapped[str] = mapped_column(Text, default="")
    deleted_at: Mapped[datetime | None]
