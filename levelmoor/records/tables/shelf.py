"""The shelf: what is known of every published report, rebuilt from its latest revision with each publication."""

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, Index, String, Text
from sqlalchemy.orm import Mapped, mapped_column, relationship

from levelmoor.records.base import EXACT, Base
from levelmoor.records.tables.publications import Report

KEY = String(200, collation=EXACT)


class ShelfReport(Base):
    """A report as lists show it. `words` is what a search looks through, each word marked so that short ones count."""

    __tablename__ = "shelf_report"
    __table_args__ = (
        Index("ix_shelf_report_newest", "published_at", "report_id", "revision"),
        Index("ix_shelf_report_words", "words", mysql_prefix="FULLTEXT"),
    )
    report_id: Mapped[int] = mapped_column(ForeignKey("report.id"), primary_key=True, autoincrement=False)
    team_id: Mapped[int] = mapped_column(index=True)
    team: Mapped[str]
    slug: Mapped[str] = mapped_column(String(40, collation=EXACT))
    revision: Mapped[int]
    published_at: Mapped[datetime]
    title: Mapped[str]
    product: Mapped[str]
    product_key: Mapped[str] = mapped_column(KEY, index=True)
    maker: Mapped[str]
    maker_key: Mapped[str] = mapped_column(KEY)
    kind: Mapped[str] = mapped_column(String(20))
    bands: Mapped[list[Any]] = mapped_column(JSON)
    connectors: Mapped[list[Any]] = mapped_column(JSON)
    verdicts: Mapped[list[Any]] = mapped_column(JSON)
    """How many of each: [["pass", 2], ["fail", 1]]."""
    units: Mapped[int]
    found: Mapped[str] = mapped_column(Text)
    figures: Mapped[list[Any]] = mapped_column(JSON)
    """Small figures: [{"name": ..., "svg": ...}]."""
    sort_name: Mapped[str] = mapped_column(KEY)
    words: Mapped[str] = mapped_column(Text)
    report: Mapped[Report] = relationship()


class ShelfFacet(Base):
    """What a report can be found by: one row for each band, connector, verdict and so on."""

    __tablename__ = "shelf_facet"
    facet: Mapped[str] = mapped_column(String(12, collation=EXACT), primary_key=True)
    value: Mapped[str] = mapped_column(KEY, primary_key=True)
    report_id: Mapped[int] = mapped_column(ForeignKey("report.id"), primary_key=True, index=True)


class ShelfLine(Base):
    """One verdict of a report: a claim in one window of one unit."""

    __tablename__ = "shelf_line"
    id: Mapped[int] = mapped_column(primary_key=True)
    report_id: Mapped[int] = mapped_column(ForeignKey("report.id"), index=True)
    claim: Mapped[str] = mapped_column(String(300))
    question: Mapped[str] = mapped_column(String(300))
    quantity: Mapped[str] = mapped_column(String(20))
    limit: Mapped[float | None]
    band: Mapped[str] = mapped_column(String(60))
    window: Mapped[str]
    unit: Mapped[str]
    serial: Mapped[str]
    counted: Mapped[bool]
    verdict: Mapped[str] = mapped_column(String(20))
    figure: Mapped[str]
    swr: Mapped[float | None]
    at_hz: Mapped[float | None]
    gamma: Mapped[float | None]
    u_gamma: Mapped[float | None]


class Answer(Base):
    """What a maker or a reader answers to a report. The words are never changed; the team decides as to person and
    tone alone, and a refusal is counted where all can see it."""

    __tablename__ = "answer"
    __table_args__ = (Index("ix_answer_report", "report_id", "id"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    report_id: Mapped[int] = mapped_column(ForeignKey("report.id"))
    name: Mapped[str]
    speaks_for: Mapped[str] = mapped_column(String(20))
    email: Mapped[str]
    words: Mapped[str] = mapped_column(Text)
    asks_new_test: Mapped[bool] = mapped_column(default=False)
    file_name: Mapped[str] = mapped_column(default="")
    file_data: Mapped[bytes | None] = mapped_column(deferred=True)
    token_sha256: Mapped[str] = mapped_column(String(64), unique=True)
    made_at: Mapped[datetime]
    confirmed_at: Mapped[datetime | None]
    decided_at: Mapped[datetime | None]
    decided_by: Mapped[str | None]
    approved: Mapped[bool | None]
    why: Mapped[str] = mapped_column(Text, default="")
    """Why it was refused."""
    report: Mapped[Report] = relationship()


class Drawn(Base):
    """A page or a file drawn from a published bundle, kept as bytes: bundle and program say what it is."""

    __tablename__ = "drawn"
    key: Mapped[str] = mapped_column(String(64), primary_key=True)
    made_at: Mapped[datetime]
    body: Mapped[bytes] = mapped_column(deferred=True)


class KeptResult(Base):
    """What took long to work out, as bytes: what it rests on and the program say what it is."""

    __tablename__ = "kept_result"
    key: Mapped[str] = mapped_column(String(64), primary_key=True)
    made_at: Mapped[datetime] = mapped_column(index=True)
    body: Mapped[bytes] = mapped_column(deferred=True)
