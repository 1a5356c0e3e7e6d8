"""Every kind of evidence knows its setting, its round, and why it is not heard."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"

_SET_ASIDE = ("capture", "field_record", "width_reading")
_IN_ROUNDS = ("capture", "field_record", "through_sweep", "trial")


def upgrade() -> None:
    for table in _SET_ASIDE:
        op.add_column(table, sa.Column("set_aside", sa.Text(), nullable=True))
        op.execute(f"UPDATE {table} SET set_aside = ''")
        op.alter_column(table, "set_aside", existing_type=sa.Text(), nullable=False)
    for table in _IN_ROUNDS:
        op.add_column(table, sa.Column("round", sa.Integer(), nullable=False, server_default="1"))
        op.alter_column(table, "round", existing_type=sa.Integer(), server_default=None)
        op.add_column(table, sa.Column("setting_id", sa.Integer(), sa.ForeignKey("article_setting.id"), nullable=True))
    op.add_column("sweep", sa.Column("mounting", sa.Integer(), nullable=False, server_default="1"))
    op.alter_column("sweep", "mounting", existing_type=sa.Integer(), server_default=None)
    op.add_column("field_record", sa.Column("instrument_id", sa.Integer(), sa.ForeignKey("instrument.id"), nullable=True))
    op.add_column("through_sweep", sa.Column("calibration_id", sa.Integer(), sa.ForeignKey("calibration.id"), nullable=True))
