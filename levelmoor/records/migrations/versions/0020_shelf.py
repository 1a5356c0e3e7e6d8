"""The shelf of published reports, answers to them, pages drawn from them, and what a team says of itself."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0020"
down_revision = "0019"


def _exact(length: int) -> mysql.VARCHAR:
    return mysql.VARCHAR(length, collation="utf8mb4_bin")


def _text(name: str, length: int = 200) -> sa.Column[Any]:
    return sa.Column(name, sa.String(length), nullable=False)


def _report(**more: Any) -> sa.Column[Any]:
    return sa.Column("report_id", sa.Integer, sa.ForeignKey("report.id"), nullable=False, **more)


def upgrade() -> None:
    op.create_table(
        "shelf_report",
        _report(primary_key=True, autoincrement=False),
        sa.Column("team_id", sa.Integer, nullable=False, index=True),
        _text("team"),
        sa.Column("slug", _exact(40), nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("published_at", sa.DateTime, nullable=False),
        *(_text("title"), _text("product")),
        sa.Column("product_key", _exact(200), nullable=False, index=True),
        _text("maker"),
        sa.Column("maker_key", _exact(200), nullable=False),
        _text("kind", 20),
        *(sa.Column(name, sa.JSON, nullable=False) for name in ("bands", "connectors", "verdicts")),
        sa.Column("units", sa.Integer, nullable=False),
        sa.Column("found", sa.Text, nullable=False),
        sa.Column("figures", sa.JSON, nullable=False),
        sa.Column("sort_name", _exact(200), nullable=False),
        sa.Column("words", sa.Text, nullable=False),
    )
    op.create_index("ix_shelf_report_newest", "shelf_report", ["published_at", "report_id", "revision"])
    op.create_index("ix_shelf_report_words", "shelf_report", ["words"], mysql_prefix="FULLTEXT")
    op.create_table(
        "shelf_facet",
        sa.Column("facet", _exact(12), primary_key=True),
        sa.Column("value", _exact(200), primary_key=True),
        _report(primary_key=True, index=True),
    )
    op.create_table(
        "shelf_line",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("report_id", sa.Integer, sa.ForeignKey("report.id"), nullable=False, index=True),
        *(_text("claim", 300), _text("question", 300), _text("quantity", 20), sa.Column("limit", sa.Double), _text("band", 60)),
        *(_text("window"), _text("unit"), _text("serial"), sa.Column("counted", sa.Boolean, nullable=False)),
        *(_text("verdict", 20), _text("figure")),
        *(sa.Column(name, sa.Double) for name in ("swr", "at_hz", "gamma", "u_gamma")),
    )
    op.create_table(
        "answer",
        sa.Column("id", sa.Integer, primary_key=True),
        _report(),
        *(_text("name"), _text("speaks_for", 20), _text("email")),
        sa.Column("words", sa.Text, nullable=False),
        sa.Column("asks_new_test", sa.Boolean, nullable=False),
        _text("file_name"),
        sa.Column("file_data", mysql.LONGBLOB),
        sa.Column("token_sha256", sa.String(64), nullable=False, unique=True),
        sa.Column("made_at", sa.DateTime, nullable=False),
        *(sa.Column(name, sa.DateTime) for name in ("confirmed_at", "decided_at")),
        *(sa.Column("decided_by", sa.String(200)), sa.Column("approved", sa.Boolean)),
        sa.Column("why", sa.Text, nullable=False),
    )
    op.create_index("ix_answer_report", "answer", ["report_id", "id"])
    op.create_table(
        "drawn",
        sa.Column("key", sa.String(64), primary_key=True),
        sa.Column("made_at", sa.DateTime, nullable=False),
        sa.Column("body", mysql.LONGBLOB, nullable=False),
    )
    for name in ("about", "measuring", "sample_policy", "interests", "contact"):
        op.add_column("team", sa.Column(name, sa.Text, nullable=False, server_default=""))
    op.add_column("evaluation", sa.Column("follows_report_id", sa.Integer))
    op.execute(
        "CREATE TRIGGER answer_stays_said BEFORE UPDATE ON answer FOR EACH ROW "
        "IF NEW.words <> OLD.words OR NEW.name <> OLD.name OR NEW.report_id <> OLD.report_id "
        "OR NOT (NEW.file_data <=> OLD.file_data) OR OLD.approved IS NOT NULL "
        "THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'an answer stays as it was said'; END IF"
    )
