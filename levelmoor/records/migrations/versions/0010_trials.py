"""What is inside a tuner, the trials of it, the tolerance of a claimed attenuation."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def _key(table: str, name: str, to: str, nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(name, sa.Integer(), sa.ForeignKey(f"{to}.id", name=f"fk_{table}_{name}"), nullable=nullable)


def upgrade() -> None:
    op.create_table(
        "tuner_network",
        sa.Column("id", sa.Integer(), primary_key=True),
        _key("tuner_network", "evaluation_id", "evaluation"),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("knobs", sa.JSON(), nullable=False),
        sa.Column("coil_q", sa.Double(), nullable=False),
        sa.Column("capacitor_q", sa.Double(), nullable=False),
        sa.Column("q_source", sa.String(200), nullable=False),
        sa.Column("rated_v", sa.Double()),
        sa.Column("rated_a", sa.Double()),
        sa.Column("deleted_at", sa.DateTime()),
    )
    op.create_index("ix_tuner_network_evaluation_id", "tuner_network", ["evaluation_id"])
    op.create_table(
        "trial",
        sa.Column("id", sa.Integer(), primary_key=True),
        _key("trial", "evaluation_id", "evaluation"),
        sa.Column("entry_id", sa.String(40), nullable=False),
        _key("trial", "sample_id", "sample"),
        _key("trial", "setup_id", "setup"),
        _key("trial", "instrument_id", "instrument", True),
        _key("trial", "network_id", "tuner_network", True),
        _key("trial", "load_sweep_id", "sweep", True),
        sa.Column("frequency_hz", sa.Double(), nullable=False),
        sa.Column("load_words", sa.String(200), nullable=False),
        sa.Column("power_w", sa.Double()),
        sa.Column("from_memory", sa.Boolean(), nullable=False),
        sa.Column("outcome", sa.String(20), nullable=False),
        *(sa.Column(n, sa.Double()) for n in ("swr_before", "swr_after")),
        sa.Column("swr_step", sa.Double(), nullable=False),
        sa.Column("seconds", sa.Double()),
        sa.Column("dials", sa.JSON(), nullable=False),
        sa.Column("taken_on", sa.String(20), nullable=False),
        sa.Column("who", sa.String(200), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("set_aside", sa.Text(), nullable=False),
        sa.Column("deleted_at", sa.DateTime()),
        sa.UniqueConstraint("evaluation_id", "entry_id", name="uq_trial_evaluation_id"),
    )
    op.add_column("claim", sa.Column("tolerance", sa.Double()))
