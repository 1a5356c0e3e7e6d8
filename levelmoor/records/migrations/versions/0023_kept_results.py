"""What took long to work out, kept for other processes and after a restart."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0023"
down_revision = "0022"


def upgrade() -> None:
    op.create_table(
        "kept_result",
        sa.Column("key", sa.String(64), primary_key=True),
        sa.Column("made_at", sa.DateTime, nullable=False, index=True),
        sa.Column("body", mysql.LONGBLOB, nullable=False),
    )
