"""What the arrays of a sweep hold, as a digest; sweeps from before are read each time."""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"


def upgrade() -> None:
    op.add_column("sweep", sa.Column("content", sa.BINARY(16)))
