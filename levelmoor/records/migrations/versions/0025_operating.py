"""How servers answer, what goes wrong, and what was backed up."""

import sqlalchemy as sa
from alembic import op

revision = "0025"
down_revision = "0024"


def upgrade() -> None:
    op.create_table(
        "server_minute",
        sa.Column("minute", sa.DateTime, primary_key=True),
        sa.Column("server", sa.String(32), primary_key=True),
        sa.Column("answers", sa.Integer, nullable=False),
        sa.Column("errors", sa.Integer, nullable=False),
        sa.Column("median_s", sa.Double, nullable=False),
        sa.Column("most_s", sa.Double, nullable=False),
        sa.Column("slowest_s", sa.Double, nullable=False),
    )
    op.create_table(
        "trouble",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("at", sa.DateTime, nullable=False, index=True),
        sa.Column("request", sa.String(40), nullable=False),
        sa.Column("route", sa.String(120), nullable=False),
        sa.Column("status", sa.Integer, nullable=False),
        sa.Column("seconds", sa.Double, nullable=False),
        sa.Column("error", sa.String(80), nullable=False),
        sa.Column("place", sa.String(120), nullable=False),
    )
    op.create_table(
        "backup_made",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("bytes", sa.BigInteger, nullable=False),
    )
