"""Files as they came, and those that wait to be understood."""

from sqlalchemy import ForeignKey, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from levelmoor.records.base import Base, Blob
from levelmoor.records.tables.columns import Part


class RawFile(Base):
    """A file as it came; the same bytes are kept once per team."""

    __tablename__ = "raw_file"
    __table_args__ = (UniqueConstraint("team_id", "sha256"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"))
    sha256: Mapped[str] = mapped_column(String(64))
    size: Mapped[int]
    data: Mapped[bytes] = mapped_column(Blob, deferred=True)


class ColumnMapping(Base):
    """What a team said the columns of a CSV are, remembered by its headings."""

    __tablename__ = "column_mapping"
    __table_args__ = (UniqueConstraint("team_id", "header_sha256"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"))
    header_sha256: Mapped[str] = mapped_column(String(64))
    columns: Mapped[str]
    unit: Mapped[str] = mapped_column(String(10), default="")


class PendingFile(Part, Base):
    """A file that was dropped and cannot be read until a person says what its columns are."""

    __tablename__ = "pending_file"
    raw_file_id: Mapped[int] = mapped_column(ForeignKey("raw_file.id"))
    file_name: Mapped[str]
    taken_on: Mapped[str] = mapped_column(String(16), default="")
    raw_file: Mapped[RawFile] = relationship()
