"""What of an article is moved, the trips to it, the marks of its settings, the frequencies it is adjusted for, widths, time strips."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def _key(table: str, name: str, to: str, nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(name, sa.Integer(), sa.ForeignKey(f"{to}.id", name=f"fk_{table}_{name}"), nullable=nullable)


def upgrade() -> None:
    op.create_table(
        "article_element",
        sa.Column("id", sa.Integer(), primary_key=True),
        _key("article_element", "evaluation_id", "evaluation"),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("unit", sa.String(20), nullable=False),
        sa.Column("begins_at", sa.Double(), nullable=False),
        sa.Column("lengthens", sa.Boolean(), nullable=False),
        sa.Column("lowest", sa.Double()),
        sa.Column("highest", sa.Double()),
        sa.Column("bands", sa.JSON(), nullable=False),
        sa.Column("cut", sa.Boolean(), nullable=False),
        sa.Column("deleted_at", sa.DateTime()),
    )
    op.create_index("ix_article_element_evaluation_id", "article_element", ["evaluation_id"])
    op.create_table(
        "adjustment",
        sa.Column("id", sa.Integer(), primary_key=True),
        _key("adjustment", "evaluation_id", "evaluation"),
        sa.Column("entry_id", sa.String(40), nullable=False),
        _key("adjustment", "sample_id", "sample"),
        _key("adjustment", "setup_id", "setup"),
        _key("adjustment", "setting_id", "article_setting", True),
        sa.Column("round", sa.Integer(), nullable=False),
        sa.Column("moves", sa.JSON(), nullable=False),
        sa.Column("words", sa.Text(), nullable=False),
        sa.Column("who", sa.String(200), nullable=False),
        sa.Column("made_at", sa.String(20), nullable=False),
        sa.Column("down_min", sa.Double()),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("deleted_at", sa.DateTime()),
    )
    op.create_index("ix_adjustment_evaluation_id", "adjustment", ["evaluation_id"])
    op.create_table(
        "width_reading",
        sa.Column("id", sa.Integer(), primary_key=True),
        _key("width_reading", "evaluation_id", "evaluation"),
        _key("width_reading", "sample_id", "sample"),
        _key("width_reading", "setup_id", "setup"),
        _key("width_reading", "instrument_id", "instrument"),
        _key("width_reading", "setting_id", "article_setting", True),
        sa.Column("round", sa.Integer(), nullable=False),
        sa.Column("band", sa.String(200), nullable=False),
        *(sa.Column(n, sa.Double(), nullable=False) for n in ("low_hz", "high_hz", "swr", "step_hz")),
        *(sa.Column(n, sa.Double()) for n in ("best_hz", "best_swr")),
        sa.Column("taken_on", sa.String(16), nullable=False),
        sa.Column("who", sa.String(200), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("deleted_at", sa.DateTime()),
    )
    op.create_index("ix_width_reading_evaluation_id", "width_reading", ["evaluation_id"])
    op.create_table(
        "time_strip",
        sa.Column("id", sa.Integer(), primary_key=True),
        _key("time_strip", "evaluation_id", "evaluation"),
        _key("time_strip", "sample_id", "sample"),
        _key("time_strip", "setup_id", "setup"),
        _key("time_strip", "instrument_id", "instrument"),
        _key("time_strip", "setting_id", "article_setting", True),
        sa.Column("kind", sa.String(20), nullable=False),
        *(sa.Column(n, sa.JSON(), nullable=False) for n in ("wanted_hz", "points", "marks")),
        sa.Column("begun_at", sa.String(20), nullable=False),
        sa.Column("who", sa.String(200), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("deleted_at", sa.DateTime()),
    )
    op.create_index("ix_time_strip_evaluation_id", "time_strip", ["evaluation_id"])
    op.add_column("article_setting", sa.Column("mark", sa.Double()))
    op.add_column("article_setting", sa.Column("mark_words", sa.String(200), nullable=True))
    op.execute("UPDATE article_setting SET mark_words = ''")
    op.alter_column("article_setting", "mark_words", existing_type=sa.String(200), nullable=False)
    op.add_column("picture", _key("picture", "setting_id", "article_setting", True))
    op.add_column("evaluation", sa.Column("wanted_hz", sa.JSON(), nullable=True))
    op.execute("UPDATE evaluation SET wanted_hz = '[]'")
    op.alter_column("evaluation", "wanted_hz", existing_type=sa.JSON(), nullable=False)
