"""What of an article is moved, and the trips to it."""

from typing import Any

from sqlalchemy import ForeignKey, String, Text
from sqlalchemy.orm import Mapped, mapped_column

from levelmoor.records.base import Base
from levelmoor.records.tables.columns import OfState, Part


class ArticleElement(Part, Base):
    """A part that is moved; `bands` the names of the windows that it is thought to act on, empty for all."""

    __tablename__ = "article_element"
    name: Mapped[str]
    kind: Mapped[str] = mapped_column(String(20))
    unit: Mapped[str] = mapped_column(String(20))
    at: Mapped[float] = mapped_column("begins_at", default=0.0)
    lengthens: Mapped[bool] = mapped_column(default=True)
    low: Mapped[float | None] = mapped_column("lowest")
    high: Mapped[float | None] = mapped_column("highest")
    bands: Mapped[list[Any]] = mapped_column(default=list)
    cut: Mapped[bool] = mapped_column(default=False)


class Adjustment(Part, Base):
    """One trip: `moves` a list of {element_id, by}, told again in `words` as they were made. The same trip is kept
    once, however often a telephone sends it."""

    __tablename__ = "adjustment"
    entry_id: Mapped[str] = mapped_column(String(40), default="")
    sample_id: Mapped[int] = mapped_column(ForeignKey("sample.id"))
    setup_id: Mapped[int] = mapped_column(ForeignKey("setup.id"))
    setting_id: Mapped[int | None] = mapped_column(ForeignKey("article_setting.id"))
    round: Mapped[int]
    moves: Mapped[list[Any]]
    words: Mapped[str] = mapped_column(Text)
    who: Mapped[str] = mapped_column(default="")
    made_at: Mapped[str] = mapped_column(String(20))
    down_min: Mapped[float | None]
    note: Mapped[str] = mapped_column(Text, default="")


class WidthReading(Part, OfState, Base):
    """Edges of an SWR as a notebook has them; `step_hz` is the last digit that was typed."""

    __tablename__ = "width_reading"
    instrument_id: Mapped[int] = mapped_column(ForeignKey("instrument.id"))
    band: Mapped[str] = mapped_column(String(200))
    low_hz: Mapped[float]
    high_hz: Mapped[float]
    swr: Mapped[float]
    best_hz: Mapped[float | None]
    best_swr: Mapped[float | None]
    step_hz: Mapped[float] = mapped_column(default=0.0)
    taken_on: Mapped[str] = mapped_column(String(16), default="")
    who: Mapped[str] = mapped_column(default="")
    note: Mapped[str] = mapped_column(Text, default="")
    set_aside: Mapped[str] = mapped_column(Text, default="")


class ChosenComparison(Part, Base):
    """A comparison that goes into the report; `sweep_ids` are those that it sets beside each other."""

    __tablename__ = "chosen_comparison"
    sweep_ids: Mapped[list[Any]]
    question: Mapped[str] = mapped_column(String(20), default="")
    claim_id: Mapped[int | None] = mapped_column(ForeignKey("claim.id"))
    words: Mapped[str] = mapped_column(Text, default="")


class TimeStrip(Part, Base):
    """Minutes of SWR: `points` a list of [s, [SWR at each wanted frequency], dip in Hz, counts], `marks` of [s, words,
    figure]."""

    __tablename__ = "time_strip"
    sample_id: Mapped[int] = mapped_column(ForeignKey("sample.id"))
    setup_id: Mapped[int] = mapped_column(ForeignKey("setup.id"))
    instrument_id: Mapped[int] = mapped_column(ForeignKey("instrument.id"))
    setting_id: Mapped[int | None] = mapped_column(ForeignKey("article_setting.id"))
    kind: Mapped[str] = mapped_column(String(20))
    wanted_hz: Mapped[list[Any]]
    points: Mapped[list[Any]]
    marks: Mapped[list[Any]]
    begun_at: Mapped[str] = mapped_column(String(20), default="")
    who: Mapped[str] = mapped_column(default="")
    note: Mapped[str] = mapped_column(Text, default="")
