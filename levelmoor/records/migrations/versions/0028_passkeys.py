"""Passkeys, and room for secrets that are sealed."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import LONGBLOB

revision = "0028"
down_revision = "0027"


def upgrade() -> None:
    op.create_table(
        "passkey",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("user_id", sa.Integer, sa.ForeignKey("user.id"), nullable=False, index=True),
        sa.Column("name", sa.String(60), nullable=False),
        sa.Column("credential", sa.VARBINARY(1023), nullable=False, unique=True),
        sa.Column("public_key", LONGBLOB, nullable=False),
        sa.Column("sign_count", sa.BigInteger, nullable=False),
        sa.Column("made_at", sa.DateTime, nullable=False),
        sa.Column("used_at", sa.DateTime),
        sa.Column("answered_s", sa.Double, nullable=False),
    )
    op.alter_column("second_step", "secret", type_=sa.String(200), existing_nullable=False)
