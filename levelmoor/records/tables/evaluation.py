"""A case: what is evaluated, what is claimed, what was seen."""

from datetime import date, datetime
from typing import Any

from sqlalchemy import Date, ForeignKey, Index, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from levelmoor.records.base import Base
from levelmoor.records.tables.adjusting import Adjustment, ArticleElement, ChosenComparison, TimeStrip, WidthReading
from levelmoor.records.tables.columns import Part, parts
from levelmoor.records.tables.evidence import Capture, Filter, Sweep
from levelmoor.records.tables.field import FieldRecord, ThroughSweep
from levelmoor.records.tables.files import RawFile
from levelmoor.records.tables.people import User
from levelmoor.records.tables.trials import Trial, TunerNetwork


class Product(Base):
    __tablename__ = "product"
    id: Mapped[int] = mapped_column(primary_key=True)
    team_id: Mapped[int] = mapped_column(ForeignKey("team.id"), index=True)
    name: Mapped[str]
    maker: Mapped[str] = mapped_column(default="")
    description: Mapped[str] = mapped_column(Text, default="")
    in_the_box: Mapped[str] = mapped_column(Text, default="")
    kind: Mapped[str] = mapped_column(String(20), default="unstated")


class Evaluation(Base):
    """One case. `card` holds what the list shows. The bench columns say what evidence is of where a person has chosen
    nothing yet; `opened_rounds` counts the rounds that were opened of a state, by its name."""

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
    opened_rounds: Mapped[dict[str, Any]] = mapped_column(default=dict)
    bench_calibration: Mapped[str] = mapped_column(String(20), default="unstated")
    bench_calibration_id: Mapped[int | None]
    bench_rule: Mapped[str] = mapped_column(String(20), default="stated")
    age_limit_h: Mapped[float] = mapped_column(default=24.0)
    wishes: Mapped[dict[str, Any]] = mapped_column(default=dict)
    plan_seen: Mapped[dict[str, Any]] = mapped_column(default=dict)
    rule_ids: Mapped[list[Any]] = mapped_column(default=list)
    wanted_hz: Mapped[list[Any]] = mapped_column(default=list)
    report_sections: Mapped[list[Any]] = mapped_column(default=list)
    imported_sha256: Mapped[str] = mapped_column(String(64), default="")
    follows_report_id: Mapped[int | None]
    """The published report that it was begun from, by any team."""
    created_at: Mapped[datetime]
    updated_at: Mapped[datetime]
    deleted_at: Mapped[datetime | None]
    product: Mapped[Product] = relationship()
    samples: Mapped[list["Sample"]] = parts("Sample")
    setups: Mapped[list["Setup"]] = parts("Setup")
    settings: Mapped[list["ArticleSetting"]] = parts("ArticleSetting")
    elements: Mapped[list["ArticleElement"]] = parts("ArticleElement")
    adjustments: Mapped[list["Adjustment"]] = parts("Adjustment", "Adjustment.round, Adjustment.id")
    widths: Mapped[list["WidthReading"]] = parts("WidthReading")
    comparisons: Mapped[list["ChosenComparison"]] = parts("ChosenComparison")
    strips: Mapped[list["TimeStrip"]] = parts("TimeStrip")
    networks: Mapped[list["TunerNetwork"]] = parts("TunerNetwork")
    trials: Mapped[list["Trial"]] = parts("Trial")
    throughs: Mapped[list["ThroughSweep"]] = parts("ThroughSweep")
    field_records: Mapped[list["FieldRecord"]] = parts("FieldRecord")
    claims: Mapped[list["Claim"]] = parts("Claim")
    sweeps: Mapped[list["Sweep"]] = parts("Sweep")
    captures: Mapped[list["Capture"]] = parts("Capture")
    filters: Mapped[list["Filter"]] = parts("Filter")
    pictures: Mapped[list["Picture"]] = parts("Picture")


class Sample(Part, Base):
    __tablename__ = "sample"
    label: Mapped[str]
    serial: Mapped[str] = mapped_column(default="")
    obtained: Mapped[str] = mapped_column(String(20), default="unstated")
    note: Mapped[str] = mapped_column(Text, default="")
    obtained_from: Mapped[str] = mapped_column(default="")
    price: Mapped[str] = mapped_column(String(60), default="")
    terms: Mapped[str] = mapped_column(Text, default="")
    ties: Mapped[str] = mapped_column(Text, default="")
    afterwards: Mapped[str] = mapped_column(Text, default="")
    rework: Mapped[str] = mapped_column(Text, default="")
    connector: Mapped[str] = mapped_column(String(40), default="")
    suspicion: Mapped[str] = mapped_column(Text, default="")
    control: Mapped[bool] = mapped_column(default=False)
    set_aside: Mapped[str] = mapped_column(Text, default="")


class Setup(Part, Base):
    __tablename__ = "setup"
    name: Mapped[str]
    description: Mapped[str] = mapped_column(Text, default="")
    plane: Mapped[str] = mapped_column(String(20), default="connector")
    tuner_in_line: Mapped[bool] = mapped_column(default=False)
    line_id: Mapped[int | None] = mapped_column(ForeignKey("owned.id"))
    planned: Mapped[bool] = mapped_column(default=True)
    conditions: Mapped[dict[str, Any]] = mapped_column(default=dict)
    role: Mapped[str] = mapped_column(String(20), default="as_supplied")
    set_aside: Mapped[str] = mapped_column(Text, default="")


class ArticleSetting(Part, Base):
    """One position of an article that can be adjusted; `windows` as a claim's, empty for all."""

    __tablename__ = "article_setting"
    name: Mapped[str]
    windows: Mapped[list[Any]] = mapped_column(default=list)
    mark: Mapped[float | None]
    mark_words: Mapped[str] = mapped_column(default="")


class Claim(Part, Base):
    """`windows` is a list of {low_hz, high_hz, name}: a claim keeps its ranges whatever a band plan says later."""

    __tablename__ = "claim"
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
    tolerance: Mapped[float | None]
    setup_id: Mapped[int | None] = mapped_column(ForeignKey("setup.id"))
    excerpt: Mapped[str] = mapped_column(Text, default="")
    one_setting: Mapped[bool] = mapped_column(default=False)


class Picture(Part, Base):
    """A photograph of the case, of where a claim stands, or of a mark, scaled and without its position."""

    __tablename__ = "picture"
    claim_id: Mapped[int | None] = mapped_column(ForeignKey("claim.id"))
    setting_id: Mapped[int | None] = mapped_column(ForeignKey("article_setting.id"))
    raw_file_id: Mapped[int] = mapped_column(ForeignKey("raw_file.id"))
    file_name: Mapped[str]
    caption: Mapped[str] = mapped_column(default="")
    width: Mapped[int]
    height: Mapped[int]
    media_type: Mapped[str] = mapped_column(String(40))
    raw_file: Mapped[RawFile] = relationship(lazy="joined", innerjoin=True)


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


class InHand(Base):
    """What a person has on the bench of an evaluation on one device: nobody else's choice changes it. `here_at` is when
    that device last showed the evaluation."""

    __tablename__ = "in_hand"
    __table_args__ = (UniqueConstraint("sign_in_id", "evaluation_id"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    sign_in_id: Mapped[int] = mapped_column(ForeignKey("sign_in.id"))
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"), index=True)
    sample_id: Mapped[int | None]
    setup_id: Mapped[int | None]
    instrument_id: Mapped[int | None]
    setting_id: Mapped[int | None]
    calibration: Mapped[str] = mapped_column(String(20), default="unstated")
    calibration_id: Mapped[int | None]
    here_at: Mapped[datetime | None]


class Comment(Part, Base):
    """What a person says to the others about a part of an evaluation, or asks to be done; it is in no report."""

    __tablename__ = "comment"
    about_kind: Mapped[str] = mapped_column(String(20))
    about_id: Mapped[int | None]
    words: Mapped[str] = mapped_column(Text)
    to_do: Mapped[bool] = mapped_column(default=False)
    for_id: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user.id"))
    made_at: Mapped[datetime]
    done_by: Mapped[str | None]
    done_at: Mapped[datetime | None]
    for_user: Mapped[User | None] = relationship(foreign_keys=[for_id])
    made_by: Mapped[User] = relationship(foreign_keys=[made_by_id])


class Review(Base):
    """A second member's look at the report before it is published. It is of what the report held then, by digest:
    what changes afterwards is looked at anew."""

    __tablename__ = "review"
    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"), index=True)
    asked_by_id: Mapped[int] = mapped_column(ForeignKey("user.id"))
    asked_at: Mapped[datetime]
    content_sha256: Mapped[str] = mapped_column(String(64))
    answered_by_id: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    answered_at: Mapped[datetime | None]
    approved: Mapped[bool | None]
    words: Mapped[str] = mapped_column(Text, default="")
    asked_by: Mapped[User] = relationship(foreign_keys=[asked_by_id])
    answered_by: Mapped[User | None] = relationship(foreign_keys=[answered_by_id])
