"""The lines that the tables of a tuner's dials were learnt from."""

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"


def upgrade() -> None:
    op.add_column("tuner_network", sa.Column("learnt_from", sa.Text, nullable=False, server_default=""))
