"""The bench in hand belongs to a person and a device; an opened round to the state that was adjusted."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.create_table(
        "in_hand",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("sign_in_id", sa.Integer(), sa.ForeignKey("sign_in.id", name="fk_in_hand_sign_in_id"), nullable=False),
        sa.Column(
            "evaluation_id", sa.Integer(), sa.ForeignKey("evaluation.id", name="fk_in_hand_evaluation_id"), nullable=False
        ),
        *(sa.Column(f"{n}_id", sa.Integer()) for n in ("sample", "setup", "instrument", "setting", "calibration")),
        sa.Column("calibration", sa.String(20), nullable=False),
        sa.UniqueConstraint("sign_in_id", "evaluation_id", name="uq_in_hand_sign_in_id"),
    )
    op.create_index("ix_in_hand_evaluation_id", "in_hand", ["evaluation_id"])
    op.add_column("evaluation", sa.Column("opened_rounds", sa.JSON(), nullable=True))
    op.execute("UPDATE evaluation SET opened_rounds = '{}'")
    op.alter_column("evaluation", "opened_rounds", existing_type=sa.JSON(), nullable=False)
    op.drop_column("evaluation", "bench_round")
