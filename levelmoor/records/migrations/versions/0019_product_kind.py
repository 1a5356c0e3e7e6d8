"""What kind of product is evaluated."""

import sqlalchemy as sa
from alembic import op

revision = "0019"
down_revision = "0018"


def upgrade() -> None:
    op.add_column("product", sa.Column("kind", sa.String(20), nullable=False, server_default="unstated"))
