"""Which sections go into a report, and the terms of a sample one by one."""

import sqlalchemy as sa
from alembic import op

revision = "0022"
down_revision = "0021"


def upgrade() -> None:
    op.add_column("evaluation", sa.Column("report_sections", sa.JSON, nullable=False, server_default="[]"))
    for name in ("ties", "afterwards", "rework"):
        op.add_column("sample", sa.Column(name, sa.Text, nullable=False, server_default=""))
