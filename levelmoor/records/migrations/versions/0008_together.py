"""A history of every change, comments, mail, roles, reviews, withdrawal; samples and setups that are taken out."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def _key(table: str, name: str, to: str, nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(name, sa.Integer(), sa.ForeignKey(f"{to}.id", name=f"fk_{table}_{name}"), nullable=nullable)


def _text(name: str, length: int = 200, nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(name, sa.String(length), nullable=nullable)


def _roles(table: str) -> None:
    """Who was an editor stays one; everybody else was a member."""
    op.add_column(table, sa.Column("role", sa.String(20), nullable=True))
    op.execute(f"UPDATE {table} SET role = IF(editor, 'editor', 'member')")  # noqa: S608  names of our own
    op.alter_column(table, "role", existing_type=sa.String(20), nullable=False)
    op.drop_column(table, "editor")


def upgrade() -> None:
    for column in (
        sa.Column("evaluation_id", sa.Integer()),
        _text("row_kind", 20, True),
        sa.Column("row_id", sa.Integer()),
        _text("field", 60, True),
        sa.Column("old_value", sa.JSON()),
        sa.Column("new_value", sa.JSON()),
    ):
        op.add_column("audit", column)
    op.create_index("ix_audit_evaluation", "audit", ["evaluation_id", "id"])
    op.create_index("ix_audit_row", "audit", ["row_kind", "row_id", "id"])
    op.add_column("in_hand", sa.Column("here_at", sa.DateTime()))
    for table in ("sample", "setup"):
        op.add_column(table, sa.Column("deleted_at", sa.DateTime()))
        op.add_column(table, sa.Column("set_aside", sa.Text(), nullable=True))
        op.execute(f"UPDATE {table} SET set_aside = ''")  # noqa: S608
        op.alter_column(table, "set_aside", existing_type=sa.Text(), nullable=False)
    for table in ("membership", "invitation"):
        _roles(table)
    op.create_table(
        "comment",
        sa.Column("id", sa.Integer(), primary_key=True),
        _key("comment", "evaluation_id", "evaluation"),
        _text("about_kind", 20),
        sa.Column("about_id", sa.Integer()),
        sa.Column("words", sa.Text(), nullable=False),
        sa.Column("to_do", sa.Boolean(), nullable=False),
        _key("comment", "for_id", "user", True),
        _key("comment", "made_by_id", "user"),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        _text("done_by", nullable=True),
        sa.Column("done_at", sa.DateTime()),
        sa.Column("deleted_at", sa.DateTime()),
    )
    op.create_index("ix_comment_evaluation_id", "comment", ["evaluation_id"])
    op.create_table(
        "mail",
        sa.Column("id", sa.Integer(), primary_key=True),
        _key("mail", "team_id", "team", True),
        _text("to_address"),
        _text("subject"),
        sa.Column("words", sa.Text(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("sent_at", sa.DateTime()),
        sa.Column("problem", sa.Text(), nullable=False),
    )
    op.create_index("ix_mail_team_id", "mail", ["team_id"])
    op.create_table(
        "review",
        sa.Column("id", sa.Integer(), primary_key=True),
        _key("review", "evaluation_id", "evaluation"),
        _key("review", "asked_by_id", "user"),
        sa.Column("asked_at", sa.DateTime(), nullable=False),
        _text("content_sha256", 64),
        _key("review", "answered_by_id", "user", True),
        sa.Column("answered_at", sa.DateTime()),
        sa.Column("approved", sa.Boolean()),
        sa.Column("words", sa.Text(), nullable=False),
    )
    op.create_index("ix_review_evaluation_id", "review", ["evaluation_id"])
    op.add_column("team", sa.Column("asks_review", sa.Boolean(), nullable=False, server_default=sa.text("0")))
    op.alter_column("team", "asks_review", existing_type=sa.Boolean(), server_default=None, nullable=False)
    op.add_column("report", sa.Column("withdrawn_at", sa.DateTime()))
    op.add_column("report", _text("withdrawn_by", nullable=True))
    op.add_column("report", sa.Column("withdrawn_reason", sa.Text()))
    op.add_column("report_revision", _text("reviewed_by", nullable=True))
