"""The tables of people: teams, members, how they come in, what they tried, and what was done."""

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, Index, String, Text
from sqlalchemy.orm import Mapped, mapped_column, relationship

from levelmoor.records.base import EXACT, Base


class Setting(Base):
    """What all application servers of one installation share, such as the key that signs sessions."""

    __tablename__ = "setting"
    name: Mapped[str] = mapped_column(String(60), primary_key=True)
    value: Mapped[str] = mapped_column(Text)


class Team(Base):
    __tablename__ = "team"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    region: Mapped[int] = mapped_column(default=1)
    rule: Mapped[str] = mapped_column(String(20), default="guarded")
    profile: Mapped[str] = mapped_column(String(20), default="radio-safe")
    profile_limit: Mapped[float] = mapped_column(default=2.0)
    reports_listed: Mapped[bool] = mapped_column(default=True)
    bench_rule: Mapped[str] = mapped_column(String(20), default="proven")
    age_limit_h: Mapped[float] = mapped_column(default=24.0)
    rebuild_min: Mapped[float] = mapped_column(default=20.0)
    calibration_min: Mapped[float] = mapped_column(default=6.0)
    sweep_min: Mapped[float] = mapped_column(default=2.0)
    spread_hz: Mapped[float] = mapped_column(default=5e3)
    spots: Mapped[list[Any]] = mapped_column(default=list)
    asks_review: Mapped[bool] = mapped_column(default=False)
    bands: Mapped[list[Any]] = mapped_column(default=list)
    """Bands and channels of its own: {name, low_hz, high_hz}."""
    about: Mapped[str] = mapped_column(Text, default="")
    measuring: Mapped[str] = mapped_column(Text, default="")
    sample_policy: Mapped[str] = mapped_column(Text, default="")
    interests: Mapped[str] = mapped_column(Text, default="")
    contact: Mapped[str] = mapped_column(Text, default="")


class User(Base):
    __tablename__ = "user"
    id: Mapped[int] = mapped_column(primary_key=True)
    email: Mapped[str] = mapped_column(String(200, collation=EXACT), unique=True)
    name: Mapped[str]
    password_hash: Mapped[str]
    memberships: Mapped[list["Membership"]] = relationship(back_populates="user")


class Membership(Base):
    """A user's place in a team; what the role lets them do stands in `records/roles.py`."""

    __tablename__ = "membership"
    user_id: Mapped[int] = mapped_column(ForeignKey("user.id"), primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"), primary_key=True)
    role: Mapped[str] = mapped_column(String(20), default="member")
    joined_at: Mapped[datetime | None]
    user: Mapped[User] = relationship(back_populates="memberships")
    team: Mapped[Team] = relationship()


class SignIn(Base):
    """A signed-in browser. The token is in its cookie, here only its digest; signing out or a new password ends it."""

    __tablename__ = "sign_in"
    id: Mapped[int] = mapped_column(primary_key=True)
    user_id: Mapped[int] = mapped_column(ForeignKey("user.id"), index=True)
    token_sha256: Mapped[str] = mapped_column(String(64), unique=True)
    address: Mapped[str] = mapped_column(String(60), default="")
    device: Mapped[str] = mapped_column(default="")
    begun_at: Mapped[datetime]
    seen_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]


class Invitation(Base):
    """A place in a team, offered by a link. It is taken by who has the link, declined, withdrawn, or runs out."""

    __tablename__ = "invitation"
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"), index=True)
    email: Mapped[str]
    role: Mapped[str] = mapped_column(String(20), default="member")
    token_sha256: Mapped[str] = mapped_column(String(64), unique=True)
    made_by: Mapped[str]
    made_at: Mapped[datetime]
    ends_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]
    account_asked: Mapped[bool] = mapped_column(default=False)
    team: Mapped[Team] = relationship()


class ResetLink(Base):
    """Leave to choose a new password once."""

    __tablename__ = "reset_link"
    id: Mapped[int] = mapped_column(primary_key=True)
    user_id: Mapped[int] = mapped_column(ForeignKey("user.id"), index=True)
    token_sha256: Mapped[str] = mapped_column(String(64), unique=True)
    made_by: Mapped[str]
    made_at: Mapped[datetime]
    ends_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]
    user: Mapped[User] = relationship()


class Attempt(Base):
    """A try that failed, by what it is counted under; shared by all servers, and forgotten after a while."""

    __tablename__ = "attempt"
    __table_args__ = (Index("ix_attempt_key", "counted_under", "at"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    counted_under: Mapped[str] = mapped_column(String(120, collation=EXACT))
    at: Mapped[datetime]


class KeptAct(Base):
    """An act that a browser sent, by the name it goes by there: what is sent once more is not done once more."""

    __tablename__ = "kept_act"
    __table_args__ = (Index("ix_kept_act_at", "user_id", "at"),)
    id: Mapped[str] = mapped_column(String(40, collation=EXACT), primary_key=True)
    user_id: Mapped[int] = mapped_column(ForeignKey("user.id"))
    at: Mapped[datetime]


class AuditEntry(Base):
    """Who did what, when and from where; of a change also which field of which row, what it was and became. The
    database refuses to change or delete a row."""

    __tablename__ = "audit"
    __table_args__ = (
        Index("ix_audit_team", "team_id", "id"),
        Index("ix_audit_evaluation", "evaluation_id", "id"),
        Index("ix_audit_row", "row_kind", "row_id", "id"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int | None]
    user_id: Mapped[int | None]
    at: Mapped[datetime]
    who: Mapped[str]
    kind: Mapped[str] = mapped_column(String(40))
    what: Mapped[str] = mapped_column(Text)
    address: Mapped[str] = mapped_column(String(60), default="")
    evaluation_id: Mapped[int | None]
    row_kind: Mapped[str | None] = mapped_column(String(20))
    row_id: Mapped[int | None]
    field: Mapped[str | None] = mapped_column(String(60))
    old_value: Mapped[Any | None] = mapped_column(JSON)
    new_value: Mapped[Any | None] = mapped_column(JSON)


class Mail(Base):
    """A letter to a person: sent where a mail server is set, else to be read on the page of the team that made it."""

    __tablename__ = "mail"
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int | None] = mapped_column(ForeignKey("team.id"), index=True)
    to_address: Mapped[str]
    subject: Mapped[str]
    words: Mapped[str] = mapped_column(Text)
    made_at: Mapped[datetime]
    sent_at: Mapped[datetime | None]
    problem: Mapped[str] = mapped_column(Text, default="")


class Lease(Base):
    """Which team has the instrument at an address, and until when. `floor` is the last calibration that was on record
    when it changed hands: what the instrument holds since is another's."""

    __tablename__ = "lease"
    address: Mapped[str] = mapped_column(String(60, collation=EXACT), primary_key=True)
    team_id: Mapped[int]
    until: Mapped[datetime]
    floor: Mapped[int] = mapped_column(default=0)
