"""Sweeps through an article, what is noted in the field, a team's own bands."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def _key(table: str, name: str, to: str, nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(name, sa.Integer(), sa.ForeignKey(f"{to}.id", name=f"fk_{table}_{name}"), nullable=nullable)


def upgrade() -> None:
    op.create_table(
        "through_sweep",
        sa.Column("id", sa.Integer(), primary_key=True),
        _key("through_sweep", "evaluation_id", "evaluation"),
        _key("through_sweep", "sample_id", "sample"),
        _key("through_sweep", "setup_id", "setup"),
        _key("through_sweep", "instrument_id", "instrument"),
        _key("through_sweep", "raw_file_id", "raw_file"),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("file_name", sa.String(200), nullable=False),
        sa.Column("fixture", sa.String(20), nullable=False),
        sa.Column("taken_on", sa.String(20), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("set_aside", sa.Text(), nullable=False),
        sa.Column("deleted_at", sa.DateTime()),
    )
    op.create_index("ix_through_sweep_evaluation_id", "through_sweep", ["evaluation_id"])
    op.create_table(
        "field_record",
        sa.Column("id", sa.Integer(), primary_key=True),
        _key("field_record", "evaluation_id", "evaluation"),
        sa.Column("entry_id", sa.String(40), nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        _key("field_record", "sample_id", "sample", True),
        _key("field_record", "setup_id", "setup", True),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.Column("words", sa.String(200), nullable=False),
        sa.Column("who", sa.String(200), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("deleted_at", sa.DateTime()),
        sa.UniqueConstraint("evaluation_id", "entry_id", name="uq_field_record_evaluation_id"),
    )
    op.add_column("trial", _key("trial", "through_id", "through_sweep", True))
    op.add_column("team", sa.Column("bands", sa.JSON(), nullable=True))
    op.execute("UPDATE team SET bands = '[]'")
    op.alter_column("team", "bands", existing_type=sa.JSON(), nullable=False)
