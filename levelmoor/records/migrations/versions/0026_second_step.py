"""A second step at sign-in."""

import sqlalchemy as sa
from alembic import op

revision = "0026"
down_revision = "0025"


def upgrade() -> None:
    op.create_table(
        "second_step",
        sa.Column("user_id", sa.Integer, sa.ForeignKey("user.id"), primary_key=True),
        sa.Column("secret", sa.String(64), nullable=False),
        sa.Column("begun_at", sa.DateTime, nullable=False),
        sa.Column("confirmed_at", sa.DateTime),
        sa.Column("last_step", sa.Integer, nullable=False),
    )
    op.create_table(
        "recovery_code",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("user_id", sa.Integer, sa.ForeignKey("user.id"), nullable=False, index=True),
        sa.Column("sha256", sa.String(64), nullable=False, unique=True),
        sa.Column("used_at", sa.DateTime),
    )
