"""Columns of many tables: of what is part of an evaluation, and of what is measured in a state of the article."""

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship


class Part:
    """Part of an evaluation, which may be removed and had back."""

    id: Mapped[int] = mapped_column(primary_key=True)
    evaluation_id: Mapped[int] = mapped_column(ForeignKey("evaluation.id"), index=True)
    deleted_at: Mapped[datetime | None]


def parts(kind: str, order: str = "") -> Any:
    """The parts of a kind that an evaluation has and nobody removed, in the order they came."""
    there = f"and_({kind}.evaluation_id == Evaluation.id, {kind}.deleted_at.is_(None))"
    return relationship(order_by=order or f"{kind}.id", primaryjoin=there)


class OfState:
    """Of a sample in a setup, in a setting where the article has some, after so many adjustments."""

    sample_id: Mapped[int] = mapped_column(ForeignKey("sample.id"))
    setup_id: Mapped[int] = mapped_column(ForeignKey("setup.id"))
    setting_id: Mapped[int | None] = mapped_column(ForeignKey("article_setting.id"))
    round: Mapped[int] = mapped_column(default=1)
