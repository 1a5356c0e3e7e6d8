"""Removing and having back: what is removed is marked, said, and offered back for as long as the page is open."""

from typing import Any

from flask import Blueprint, abort, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user
from sqlalchemy import select

from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.records.history import home_of
from levelmoor.records.kinds import KINDS, kind_of, name_of
from levelmoor.records.resting import restore_what_it_rests_on
from levelmoor.records.roles import Act
from levelmoor.services.list_card import refresh_card
from levelmoor.web.context import db, for_act, may_do, team
from levelmoor.web.errors import say
from levelmoor.web.telling import redraw, tell_removed

removal = Blueprint("removal", __name__)
REMOVABLE = frozenset(kind for kind, model in KINDS.items() if hasattr(model, "deleted_at"))
EDITORS_OWN = {"driver": "name", "rules": "rule_id"}
"""What editors alone remove and have back, and by what it is known: another of that name may have come meanwhile."""
MOST_WORDS = 200


def removed(row: Any, words: str) -> None:
    """Mark a row as removed; the answer says so and offers it back. The history tells it by itself."""
    row.deleted_at = now()
    said_removed(row, words)


def said_removed(row: Any, words: str) -> None:
    """The same for what was marked already."""
    undo_at = url_for("removal.undo", kind=kind_of(row), row_id=row.id)
    tell_removed(f"{words[:1].upper()}{words[1:MOST_WORDS]}.", undo_at)


def is_removed(evaluation: t.Evaluation, kind: str, row_id: int) -> bool:
    """Whether a part of an evaluation was removed, as by somebody else while it stood on a page."""
    row = db().get(KINDS[kind], row_id) if kind in REMOVABLE else None
    return row is not None and getattr(row, "evaluation_id", None) == evaluation.id and row.deleted_at is not None


@removal.post("/undo/<kind>/<int:row_id>")
@for_act(Act.COMMENT)
def undo(kind: str, row_id: int) -> ResponseReturnValue:
    """Have back what was removed; the page is then drawn anew."""
    if kind != "comment" and not may_do(Act.WORK):
        abort(403)
    row = db().get(KINDS[kind], row_id) if kind in REMOVABLE else None
    if row is None or row.deleted_at is None:
        abort(404)
    evaluation_id, team_id = home_of(db(), row)
    if team_id != team().id:
        abort(404)
    if isinstance(row, t.Comment) and row.made_by_id != current_user.id and not may_do(Act.WORK):
        abort(403)
    if kind in EDITORS_OWN:
        if not may_do(Act.LEAD):
            abort(403)
        if _came_meanwhile(row, EDITORS_OWN[kind]):
            return say(f"There is another {name_of(row)} now; rename or remove that one first.", 409)
    row.deleted_at = None
    restore_what_it_rests_on(db(), row)
    db().flush()
    home = store.evaluation(db(), team().id, evaluation_id) if evaluation_id else None
    if home is not None:
        report = store.report_of(db(), home.id)
        refresh_card(home, len(report.revisions) if report else 0)
    redraw()
    return ""


def _came_meanwhile(row: Any, name: str) -> bool:
    model = type(row)
    same = select(model.id).where(
        model.team_id == row.team_id, model.deleted_at.is_(None), getattr(model, name) == getattr(row, name)
    )
    return db().scalar(same) is not None
