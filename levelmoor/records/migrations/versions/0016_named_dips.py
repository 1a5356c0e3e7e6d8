"""The bands that were said to be a dip's."""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"


def upgrade() -> None:
    op.add_column("sweep", sa.Column("dips", sa.String(500), nullable=False, server_default=""))
