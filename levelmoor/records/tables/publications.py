"""What was published, for good."""

from datetime import datetime

from sqlalchemy import ForeignKey, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from levelmoor.records.base import EXACT, Base, Blob


class Report(Base):
    """The stable address of an evaluation's published revisions."""

    __tablename__ = "report"
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"), index=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"), unique=True)
    slug: Mapped[str] = mapped_column(String(40, collation=EXACT), unique=True)
    listed: Mapped[bool] = mapped_column(default=True, index=True)
    withdrawn_at: Mapped[datetime | None]
    withdrawn_by: Mapped[str | None]
    withdrawn_reason: Mapped[str | None] = mapped_column(Text)
    revisions: Mapped[list["ReportRevision"]] = relationship(order_by="ReportRevision.number", back_populates="report")


class ReportRevision(Base):
    """A frozen bundle. The database refuses to change or delete a row."""

    __tablename__ = "report_revision"
    __table_args__ = (UniqueConstraint("report_id", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    report_id: Mapped[int] = mapped_column(ForeignKey("report.id"))
    number: Mapped[int]
    title: Mapped[str]
    headline: Mapped[str]
    reason: Mapped[str] = mapped_column(Text)
    published_at: Mapped[datetime]
    published_by: Mapped[str]
    reviewed_by: Mapped[str | None]
    bundle_sha256: Mapped[str] = mapped_column(String(64))
    bundle: Mapped[bytes] = mapped_column(Blob, deferred=True)
    report: Mapped[Report] = relationship(back_populates="revisions")
