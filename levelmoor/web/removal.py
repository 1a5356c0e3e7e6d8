"""Removing and having back: what is removed is marked, said, and offered back for as long as the page is open."""

import json
from collections.abc import Mapping
from typing import Any

from flask import Blueprint, Flask, Response, abort, flash, g, request, url_for
from flask.typing import ResponseReturnValue
from sqlalchemy import select

from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.records.mapping import claim_of
from levelmoor.services.list_card import refresh_card
from levelmoor.web.context import db, for_members, membership, note, team
from levelmoor.web.errors import say

removal = Blueprint("removal", __name__)
KINDS: Mapping[str, type[Any]] = {
    "evaluation": t.Evaluation,
    "claim": t.Claim,
    "sweep": t.Sweep,
    "setting": t.ArticleSetting,
    "picture": t.Picture,
    "capture": t.Capture,
    "filter": t.Filter,
    "file": t.PendingFile,
    "calibration": t.Calibration,
    "check": t.BenchCheck,
    "instrument": t.Instrument,
    "piece": t.Owned,
    "driver": t.Driver,
    "rules": t.RuleSet,
}
EDITORS_OWN = {"driver": "name", "rules": "rule_id"}
"""What editors alone remove and have back, and by what it is known: another of that name may have come meanwhile."""
MOST_WORDS = 200


def removed(row: Any, words: str) -> None:
    """Mark a row as removed; the answer says so and offers it back."""
    row.deleted_at = now()
    said_removed(row, words)


def said_removed(row: Any, words: str) -> None:
    """The same for what was marked already."""
    kind = next(k for k, model in KINDS.items() if isinstance(row, model))
    note("removal", words)
    g.removed = {
        "words": f"{words[:1].upper()}{words[1:MOST_WORDS]}.",
        "undo": url_for("removal.undo", kind=kind, row_id=row.id),
    }


def words_of(row: Any) -> str:
    """What a removed row is called."""
    if isinstance(row, t.Claim):
        return claim_of(row).wording
    if isinstance(row, t.Evaluation):
        return row.product.name
    return str(next((v for n in ("name", "rule_id", "file_name", "done_at") if (v := getattr(row, n, ""))), ""))


def is_removed(evaluation: t.Evaluation, kind: str, row_id: int) -> bool:
    """Whether a part of an evaluation was removed, as by somebody else while it stood on a page."""
    row = db().get(KINDS[kind], row_id) if kind in KINDS else None
    return row is not None and getattr(row, "evaluation_id", None) == evaluation.id and row.deleted_at is not None


def install(app: Flask) -> None:
    @app.after_request
    def tell(response: Response) -> Response:
        told = g.pop("removed", None)
        if told and response.status_code < 400:
            if "HX-Request" in request.headers:
                response.headers["HX-Trigger"] = json.dumps({"removed": told})
            else:
                flash([told["words"], told["undo"]], "removed")  # type: ignore[arg-type]
        return response


@removal.post("/undo/<kind>/<int:row_id>")
@for_members
def undo(kind: str, row_id: int) -> ResponseReturnValue:
    """Have back what was removed; the page is then drawn anew."""
    row = db().get(KINDS[kind], row_id) if kind in KINDS else None
    if row is None or row.deleted_at is None:
        abort(404)
    evaluation = db().get(t.Evaluation, row.evaluation_id) if hasattr(row, "evaluation_id") else None
    if (evaluation or row).team_id != team().id:
        abort(404)
    if kind in EDITORS_OWN:
        place = membership()
        if place is None or not place.editor:
            abort(403)
        if _came_meanwhile(row, EDITORS_OWN[kind]):
            return say(f"Another {words_of(row)} has come meanwhile; rename or remove that one first.", 409)
    row.deleted_at = None
    db().flush()
    note("restored", f"the {kind} {words_of(row)}".strip())
    home_id = evaluation.id if evaluation else row_id if kind == "evaluation" else None
    home = store.evaluation(db(), team().id, home_id) if home_id else None
    if home is not None:
        report = store.report_of(db(), home.id)
        refresh_card(home, len(report.revisions) if report else 0)
    return "", 200, {"HX-Refresh": "true"}


def _came_meanwhile(row: Any, name: str) -> bool:
    model = type(row)
    same = select(model.id).where(
        model.team_id == row.team_id, model.deleted_at.is_(None), getattr(model, name) == getattr(row, name)
    )
    return db().scalar(same) is not None
