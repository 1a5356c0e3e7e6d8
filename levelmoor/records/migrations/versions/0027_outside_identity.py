"""Sign-in by an outside identity provider."""

import sqlalchemy as sa
from alembic import op

revision = "0027"
down_revision = "0026"


def upgrade() -> None:
    exact = "utf8mb4_bin"
    op.create_table(
        "outside_identity",
        sa.Column("issuer", sa.String(200, collation=exact), primary_key=True),
        sa.Column("subject", sa.String(255, collation=exact), primary_key=True),
        sa.Column("user_id", sa.Integer, sa.ForeignKey("user.id"), nullable=False, index=True),
        sa.Column("made_at", sa.DateTime, nullable=False),
    )
