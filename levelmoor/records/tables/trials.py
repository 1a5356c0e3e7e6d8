"""What is inside a tuner, and the trials of it."""

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from levelmoor.records.base import Base
from levelmoor.records.tables.columns import OfState, Part


class TunerNetwork(Part, Base):
    """A network with its knobs: by part its name, low, high, steps and table, each a field of its own."""

    __tablename__ = "tuner_network"
    name: Mapped[str]
    kind: Mapped[str] = mapped_column(String(20))
    knobs: Mapped[dict[str, Any]] = mapped_column(default=dict)
    coil_q: Mapped[float] = mapped_column(default=150.0)
    capacitor_q: Mapped[float] = mapped_column(default=1500.0)
    q_source: Mapped[str]
    rated_v: Mapped[float | None]
    rated_a: Mapped[float | None]
    learnt_from: Mapped[str] = mapped_column(Text, default="")


class Trial(OfState, Base):
    """One match; `dials` a list of {knob, at}. The same entry is kept once, however often a telephone sends it."""

    __tablename__ = "trial"
    __table_args__ = (UniqueConstraint("evaluation_id", "entry_id"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"))
    entry_id: Mapped[str] = mapped_column(String(40))
    instrument_id: Mapped[int | None] = mapped_column(ForeignKey("instrument.id"))
    network_id: Mapped[int | None] = mapped_column(ForeignKey("tuner_network.id"))
    load_sweep_id: Mapped[int | None] = mapped_column(ForeignKey("sweep.id"))
    through_id: Mapped[int | None] = mapped_column(ForeignKey("through_sweep.id"))
    frequency_hz: Mapped[float]
    load: Mapped[str] = mapped_column("load_words", default="")
    power_w: Mapped[float | None]
    memory: Mapped[bool] = mapped_column("from_memory", default=False)
    outcome: Mapped[str] = mapped_column(String(20))
    swr_before: Mapped[float | None]
    swr_after: Mapped[float | None]
    swr_step: Mapped[float] = mapped_column(default=0.1)
    seconds: Mapped[float | None]
    dials: Mapped[list[Any]] = mapped_column(default=list)
    taken_on: Mapped[str] = mapped_column(String(20), default="")
    who: Mapped[str] = mapped_column(default="")
    note: Mapped[str] = mapped_column(Text, default="")
    set_aside: Mapped[str] = mapped_column(Text, default="")
    deleted_at: Mapped[datetime | None]
