"""Acts that browsers sent, so that none is done twice."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0018"
down_revision = "0017"


def upgrade() -> None:
    op.create_table(
        "kept_act",
        sa.Column("id", mysql.VARCHAR(40, collation="utf8mb4_bin"), nullable=False),
        sa.Column("user_id", sa.Integer, sa.ForeignKey("user.id"), nullable=False),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_kept_act_at", "kept_act", ["user_id", "at"])
