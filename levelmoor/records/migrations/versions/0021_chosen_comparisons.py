"""Comparisons that go into a report, and on what terms a sample was had."""

import sqlalchemy as sa
from alembic import op

revision = "0021"
down_revision = "0020"


def upgrade() -> None:
    op.create_table(
        "chosen_comparison",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("evaluation_id", sa.Integer, sa.ForeignKey("evaluation.id"), nullable=False, index=True),
        sa.Column("deleted_at", sa.DateTime),
        sa.Column("sweep_ids", sa.JSON, nullable=False),
        sa.Column("question", sa.String(20), nullable=False),
        sa.Column("claim_id", sa.Integer, sa.ForeignKey("claim.id")),
        sa.Column("words", sa.Text, nullable=False),
    )
    op.add_column("sample", sa.Column("terms", sa.Text, nullable=False, server_default=""))
