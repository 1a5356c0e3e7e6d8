"""The tables. Frequencies are Hz in double precision; deleting is marking; everything hangs on a team."""

from datetime import date, datetime
from typing import Any

from sqlalchemy import Date, DateTime, ForeignKey, Index, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from levelmoor.records.base import EXACT, Base, Blob
from levelmoor.records.people_tables import (
    Attempt,
    AuditEntry,
    Invitation,
    Lease,
    Membership,
    ResetLink,
    Setting,
    SignIn,
    Team,
    User,
)

__all__ = [
    "Attempt",
    "AuditEntry",
    "Base",
    "Invitation",
    "Lease",
    "Membership",
    "ResetLink",
    "Setting",
    "SignIn",
    "Team",
    "User",
]


class RawFile(Base):
    """A file as it came; the same bytes are kept once per team."""

    __tablename__ = "raw_file"
    __table_args__ = (UniqueConstraint("team_id", "sha256"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"))
    sha256: Mapped[str] = mapped_column(String(64))
    size: Mapped[int]
    data: Mapped[bytes] = mapped_column(Blob, deferred=True)


class Product(Base):
    __tablename__ = "product"
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"), index=True)
    name: Mapped[str]
    maker: Mapped[str] = mapped_column(default="")
    description: Mapped[str] = mapped_column(Text, default="")
    in_the_box: Mapped[str] = mapped_column(Text, default="")


class Instrument(Base):
    __tablename__ = "instrument"
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"), index=True)
    name: Mapped[str]
    kind: Mapped[str] = mapped_column(default="")
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
    class_: Mapped[str] = mapped_column("class", String(20), default="unstated")
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


class Evaluation(Base):
    """One case. `card` holds what the list shows; the bench columns say what new sweeps are of. `bench_round` is the
    round that was opened there, 0 for the latest that was swept."""

    __tablename__ = "evaluation"
    __table_args__ = (Index("ix_evaluation_list", "team_id", "deleted_at", "updated_at"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"))
    product_id: Mapped[int] = mapped_column(ForeignKey("product.id"))
    title: Mapped[str] = mapped_column(default="")
    region: Mapped[int] = mapped_column(default=1)
    rule: Mapped[str] = mapped_column(String(20), default="guarded")
    profile: Mapped[str] = mapped_column(String(20), default="radio-safe")
    profile_limit: Mapped[float] = mapped_column(default=2.0)
    notes: Mapped[str] = mapped_column(Text, default="")
    worst_verdict: Mapped[str] = mapped_column(String(20), default="", index=True)
    card: Mapped[dict[str, Any]] = mapped_column(default=dict)
    bench_sample_id: Mapped[int | None]
    bench_setup_id: Mapped[int | None]
    bench_instrument_id: Mapped[int | None]
    bench_setting_id: Mapped[int | None]
    bench_round: Mapped[int] = mapped_column(default=0)
    bench_calibration: Mapped[str] = mapped_column(String(20), default="unstated")
    bench_calibration_id: Mapped[int | None]
    bench_rule: Mapped[str] = mapped_column(String(20), default="stated")
    age_limit_h: Mapped[float] = mapped_column(default=24.0)
    wishes: Mapped[dict[str, Any]] = mapped_column(default=dict)
    plan_seen: Mapped[dict[str, Any]] = mapped_column(default=dict)
    rule_ids: Mapped[list[Any]] = mapped_column(default=list)
    imported_sha256: Mapped[str] = mapped_column(String(64), default="")
    created_at: Mapped[datetime]
    updated_at: Mapped[datetime]
    deleted_at: Mapped[datetime | None]
    product: Mapped[Product] = relationship()
    samples: Mapped[list["Sample"]] = relationship(order_by="Sample.id")
    setups: Mapped[list["Setup"]] = relationship(order_by="Setup.id")
    settings: Mapped[list["ArticleSetting"]] = relationship(
        order_by="ArticleSetting.id",
        primaryjoin="and_(ArticleSetting.evaluation_id == Evaluation.id, ArticleSetting.deleted_at.is_(None))",
    )
    claims: Mapped[list["Claim"]] = relationship(
        order_by="Claim.id", primaryjoin="and_(Claim.evaluation_id == Evaluation.id, Claim.deleted_at.is_(None))"
    )
    sweeps: Mapped[list["Sweep"]] = relationship(
        order_by="Sweep.id", primaryjoin="and_(Sweep.evaluation_id == Evaluation.id, Sweep.deleted_at.is_(None))"
    )
    captures: Mapped[list["Capture"]] = relationship(
        order_by="Capture.id",
        primaryjoin="and_(Capture.evaluation_id == Evaluation.id, Capture.deleted_at.is_(None))",
    )
    filters: Mapped[list["Filter"]] = relationship(
        order_by="Filter.id",
        primaryjoin="and_(Filter.evaluation_id == Evaluation.id, Filter.deleted_at.is_(None))",
    )
    pictures: Mapped[list["Picture"]] = relationship(
        order_by="Picture.id",
        primaryjoin="and_(Picture.evaluation_id == Evaluation.id, Picture.deleted_at.is_(None))",
    )


class Sample(Base):
    __tablename__ = "sample"
    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"), index=True)
    label: Mapped[str]
    serial: Mapped[str] = mapped_column(default="")
    obtained: Mapped[str] = mapped_column(String(20), default="unstated")
    note: Mapped[str] = mapped_column(Text, default="")
    obtained_from: Mapped[str] = mapped_column(default="")
    price: Mapped[str] = mapped_column(String(60), default="")
    connector: Mapped[str] = mapped_column(String(40), default="")
    suspicion: Mapped[str] = mapped_column(Text, default="")
    control: Mapped[bool] = mapped_column(default=False)


class Setup(Base):
    __tablename__ = "setup"
    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"), index=True)
    name: Mapped[str]
    description: Mapped[str] = mapped_column(Text, default="")
    plane: Mapped[str] = mapped_column(String(20), default="connector")
    tuner_in_line: Mapped[bool] = mapped_column(default=False)
    line_id: Mapped[int | None] = mapped_column(ForeignKey("owned.id"))
    planned: Mapped[bool] = mapped_column(default=True)
    conditions: Mapped[dict[str, Any]] = mapped_column(default=dict)
    role: Mapped[str] = mapped_column(String(20), default="as_supplied")


class ArticleSetting(Base):
    """One position of an article that can be adjusted; `windows` as a claim's, empty for all."""

    __tablename__ = "article_setting"
    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"), index=True)
    name: Mapped[str]
    windows: Mapped[list[Any]] = mapped_column(default=list)
    deleted_at: Mapped[datetime | None]


class Claim(Base):
    """`windows` is a list of {low_hz, high_hz, name}: a claim keeps its ranges whatever a band plan says later."""

    __tablename__ = "claim"
    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"), index=True)
    quantity: Mapped[str] = mapped_column(String(20))
    limit: Mapped[float | None] = mapped_column("limit_value")
    z0_ohm: Mapped[float] = mapped_column(default=50.0)
    tuner: Mapped[str] = mapped_column(String(20), default="without")
    windows: Mapped[list[Any]] = mapped_column(default=list)
    condition: Mapped[str] = mapped_column("condition_text", Text, default="")
    source: Mapped[str] = mapped_column(Text, default="")
    seen_on: Mapped[date | None] = mapped_column(Date)
    swr_at: Mapped[float | None]
    power_w: Mapped[float | None]
    mode: Mapped[str] = mapped_column(String(40), default="")
    duty: Mapped[float | None]
    stated: Mapped[str] = mapped_column(default="")
    unit: Mapped[str] = mapped_column(String(10), default="")
    setup_id: Mapped[int | None] = mapped_column(ForeignKey("setup.id"))
    excerpt: Mapped[str] = mapped_column(Text, default="")
    one_setting: Mapped[bool] = mapped_column(default=False)
    deleted_at: Mapped[datetime | None]


class Sweep(Base):
    """A sweep: its raw file, how it was read, its arrays, and the extremes that lists need.

    `segments` are further raw files joined to it; `raw` says that the arrays were corrected with the calibration's
    standards; `taken_on` is an ISO date, with a time where that is known.
    """

    __tablename__ = "sweep"
    __table_args__ = (Index("ix_sweep_extremes", "evaluation_id", "low_hz", "high_hz"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"))
    sample_id: Mapped[int] = mapped_column(ForeignKey("sample.id"))
    setup_id: Mapped[int] = mapped_column(ForeignKey("setup.id"))
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
    setting_id: Mapped[int | None] = mapped_column(ForeignKey("article_setting.id"))
    round: Mapped[int] = mapped_column(default=1)
    not_adjusted: Mapped[bool] = mapped_column(default=False)
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
    frequency: Mapped[bytes]
    gamma: Mapped[bytes]
    half_step: Mapped[bytes | None]
    created_at: Mapped[datetime] = mapped_column(DateTime)
    deleted_at: Mapped[datetime | None]
    raw_file: Mapped[RawFile] = relationship()
    instrument: Mapped[Instrument] = relationship()


class Capture(Base):
    """A spectrum of a keyed radio: its raw file, and the path it came by. `offset` is a curve typed in, or empty."""

    __tablename__ = "capture"
    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"), index=True)
    sample_id: Mapped[int] = mapped_column(ForeignKey("sample.id"))
    setup_id: Mapped[int] = mapped_column(ForeignKey("setup.id"))
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
    created_at: Mapped[datetime]
    deleted_at: Mapped[datetime | None]
    raw_file: Mapped[RawFile] = relationship()
    instrument: Mapped[Instrument] = relationship()


class Filter(Base):
    """A two-port sweep of a filter that might be added; what it would do is reckoned from it."""

    __tablename__ = "emission_filter"
    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"), index=True)
    raw_file_id: Mapped[int] = mapped_column(ForeignKey("raw_file.id"))
    file_name: Mapped[str]
    deleted_at: Mapped[datetime | None]
    raw_file: Mapped[RawFile] = relationship()


class RuleSet(Base):
    """An emission rule set of a team's own."""

    __tablename__ = "rule_set"
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"), index=True)
    rule_id: Mapped[str] = mapped_column(String(60))
    rules: Mapped[dict[str, Any]]
    deleted_at: Mapped[datetime | None]


class ReadingSheet(Base):
    """Readings of one sample in one setup with one instrument; `sweep_id` is the sweep they were joined into."""

    __tablename__ = "reading_sheet"
    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"), index=True)
    sample_id: Mapped[int] = mapped_column(ForeignKey("sample.id"))
    setup_id: Mapped[int] = mapped_column(ForeignKey("setup.id"))
    instrument_id: Mapped[int] = mapped_column(ForeignKey("instrument.id"))
    setting_id: Mapped[int | None] = mapped_column(ForeignKey("article_setting.id"))
    round: Mapped[int] = mapped_column(default=1)
    kind: Mapped[str] = mapped_column(String(20), default="swr")
    sweep_id: Mapped[int | None] = mapped_column(ForeignKey("sweep.id"))
    created_at: Mapped[datetime]
    deleted_at: Mapped[datetime | None]
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


class ColumnMapping(Base):
    """What a team said the columns of a CSV are, remembered by its headings."""

    __tablename__ = "column_mapping"
    __table_args__ = (UniqueConstraint("team_id", "header_sha256"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"))
    header_sha256: Mapped[str] = mapped_column(String(64))
    columns: Mapped[str]
    unit: Mapped[str] = mapped_column(String(10), default="")


class PendingFile(Base):
    """A file that was dropped and cannot be read until a person says what its columns are."""

    __tablename__ = "pending_file"
    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"), index=True)
    raw_file_id: Mapped[int] = mapped_column(ForeignKey("raw_file.id"))
    file_name: Mapped[str]
    taken_on: Mapped[str] = mapped_column(String(16), default="")
    deleted_at: Mapped[datetime | None]
    raw_file: Mapped[RawFile] = relationship()


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


class Picture(Base):
    """A photograph of the case or of where a claim stands, scaled and without its position."""

    __tablename__ = "picture"
    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"), index=True)
    claim_id: Mapped[int | None] = mapped_column(ForeignKey("claim.id"))
    raw_file_id: Mapped[int] = mapped_column(ForeignKey("raw_file.id"))
    file_name: Mapped[str]
    caption: Mapped[str] = mapped_column(default="")
    width: Mapped[int]
    height: Mapped[int]
    media_type: Mapped[str] = mapped_column(String(40))
    deleted_at: Mapped[datetime | None]
    raw_file: Mapped[RawFile] = relationship()


class Tick(Base):
    """An entry of the run sheet as it was made in the field. The same entry is kept once, however often it comes."""

    __tablename__ = "tick"
    __table_args__ = (UniqueConstraint("evaluation_id", "entry_id"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"))
    entry_id: Mapped[str] = mapped_column(String(40))
    run_key: Mapped[str] = mapped_column(String(80))
    done: Mapped[bool]
    note: Mapped[str] = mapped_column(Text, default="")
    made_at: Mapped[str] = mapped_column(String(30))
    made_by: Mapped[str]
    received_at: Mapped[datetime]


class Report(Base):
    """The stable address of an evaluation's published revisions."""

    __tablename__ = "report"
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"), index=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"), unique=True)
    slug: Mapped[str] = mapped_column(String(40, collation=EXACT), unique=True)
    listed: Mapped[bool] = mapped_column(default=True, index=True)
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
    bundle_sha256: Mapped[str] = mapped_column(String(64))
    bundle: Mapped[bytes] = mapped_column(Blob, deferred=True)
    report: Mapped[Report] = relationship(back_populates="revisions")
