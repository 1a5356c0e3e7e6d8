"""The history of an evaluation: who did what and when, what it was before, and having that back."""

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue

from levelmoor.core.words.sentence import sentence
from levelmoor.records import history, store
from levelmoor.records import tables as t
from levelmoor.records.audit import KINDS as DOINGS
from levelmoor.records.kinds import KIND_WORDS
from levelmoor.records.mapping import evaluation_of
from levelmoor.records.sweeps import compose
from levelmoor.services.list_card import refresh_card
from levelmoor.web.conflicts import field_said, said
from levelmoor.web.context import db, for_members
from levelmoor.web.errors import say
from levelmoor.web.telling import redraw, tell
from levelmoor.web.workbench.screen import evaluation_or_404, shown

past = Blueprint("past", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/history")


@past.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    row, args = evaluation_or_404(evaluation_id), request.args
    wanted = history.Wanted(
        args.get("who", "")[:200], args.get("kind", ""), args.get("of", ""), args.get("before", type=int)
    )
    found = history.entries(db(), row.id, wanted)
    screen = shown(row, draw=False)
    return render_template(
        "together/history.html",
        **screen.given(
            entries=found[: history.A_PAGE],
            more=len(found) > history.A_PAGE,
            wanted=wanted,
            people=history.people_of(db(), row.id),
            doings=DOINGS,
            things={k: words for k, words in KIND_WORDS.items() if k != "team"},
            said=said,
            field_said=field_said,
        ),
    )


@past.post("/<int:entry_id>/restore")
@for_members
def restore(evaluation_id: int, entry_id: int) -> ResponseReturnValue:
    """Have back what a field was before; that is a change of its own, and told as one."""
    row = evaluation_or_404(evaluation_id)
    entry = db().get(t.AuditEntry, entry_id)
    if entry is None or entry.evaluation_id != row.id or entry.kind != "change":
        abort(404)
    try:
        changed = history.put_back(db(), entry)
        if isinstance(changed, t.Sweep):
            compose(changed)
        db().flush()
        evaluation = evaluation_of(row)  # what it was may not go with what has come since
    except ValueError as problem:
        db().rollback()
        return say(f"It was not restored: {sentence(problem)}", 409)
    report = store.report_of(db(), row.id)
    refresh_card(row, len(report.revisions) if report else 0, evaluation)
    tell(f"{entry.what}: {field_said(entry.field)} is restored to what it was before {entry.who} changed it.")
    redraw()
    return ""
