"""Live instruments are swept by one server and followed from all."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0024"
down_revision = "0023"


def upgrade() -> None:
    def address(key: bool = True) -> sa.Column[str]:
        kind = sa.String(60, collation="utf8mb4_bin")
        return sa.Column("address", kind, nullable=False, primary_key=key, index=not key)

    op.create_table(
        "live_run",
        address(),
        sa.Column("team_id", sa.Integer, nullable=False),
        sa.Column("driver_key", sa.String(64), nullable=False),
        sa.Column("holder", sa.String(32), nullable=False),
        sa.Column("beat_at", sa.Double, nullable=False),
        sa.Column("span", sa.JSON, nullable=False),
        sa.Column("corrected", sa.Boolean, nullable=False),
        sa.Column("between_ports", sa.Boolean, nullable=False),
        sa.Column("status", sa.JSON, nullable=False),
        sa.Column("progress", sa.Double, nullable=False),
        sa.Column("said", sa.JSON, nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
    )
    op.create_table(
        "live_look",
        address(),
        sa.Column("server", sa.String(32), primary_key=True),
        sa.Column("seen_at", sa.Double, nullable=False),
    )
    op.create_table(
        "live_sweep",
        address(),
        sa.Column("number", sa.Integer, primary_key=True, autoincrement=False),
        sa.Column("team_id", sa.Integer, nullable=False),
        sa.Column("body", mysql.LONGBLOB, nullable=False),
    )
    op.create_table(
        "live_wish",
        sa.Column("id", sa.Integer, primary_key=True),
        address(key=False),
        sa.Column("team_id", sa.Integer, nullable=False),
        sa.Column("what", sa.JSON, nullable=False),
        sa.Column("made_at", sa.Double, nullable=False),
        sa.Column("done", sa.Boolean, nullable=False),
        sa.Column("words", sa.Text, nullable=False),
        sa.Column("trouble", sa.String(20), nullable=False),
        sa.Column("body", mysql.LONGBLOB),
    )
