"""Comments on a claim, a sweep, a figure or the whole: said to the others, ticked off when done, in no report."""

from collections.abc import Sequence

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from levelmoor.core.words.bounds import LONG_LETTERS
from levelmoor.records import accounts
from levelmoor.records import tables as t
from levelmoor.records.comments import ABOUT, of_evaluation
from levelmoor.records.database import now
from levelmoor.records.roles import Act
from levelmoor.web.context import db, for_act, team
from levelmoor.web.errors import say
from levelmoor.web.letters import write_letter
from levelmoor.web.links import outward
from levelmoor.web.removal import removed
from levelmoor.web.workbench.screen import evaluation_or_404, shown

comments = Blueprint("comments", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/comments")


def _again(row: t.Evaluation) -> str:
    db().flush()
    return render_template("together/said.html", **shown(row, draw=False).given())


@comments.post("")
@for_act(Act.COMMENT)
def add(evaluation_id: int) -> ResponseReturnValue:
    row, form = evaluation_or_404(evaluation_id), request.form
    words = form.get("words", "").strip()[:LONG_LETTERS]
    kind, _, about = form.get("about", "evaluation").partition("-")
    about_id = int(about) if about.isdigit() else None
    known: dict[str, Sequence[t.Claim | t.Sweep]] = {"claim": row.claims, "figure": row.claims, "sweep": row.sweeps}
    if kind not in ABOUT or (about_id is not None and about_id not in [r.id for r in known.get(kind, [])]):
        abort(404)
    if not words:
        return say("Write a comment.", 422)
    people = {m.user_id: m.user for m in accounts.members(db(), team().id)}
    wanted = people.get(form.get("for_id", 0, type=int))
    comment = t.Comment(
        evaluation_id=row.id,
        about_kind=kind,
        about_id=about_id,
        words=words,
        to_do=form.get("to_do") == "yes" or wanted is not None,
        for_user=wanted,
        made_by_id=current_user.id,
        made_at=now(),
    )
    db().add(comment)
    if wanted is not None and wanted.id != current_user.id:
        link = outward("workbench.page", evaluation_id=row.id)
        letter = f"{current_user.name} writes about {row.product.name}:\n\n{words}\n\n{link}\n"
        write_letter(wanted.email, f"To do: {row.product.name}", letter)
    return _again(row)


def _comment(row: t.Evaluation, comment_id: int) -> t.Comment:
    return next((c for c in of_evaluation(db(), row.id) if c.id == comment_id), None) or abort(404)


@comments.post("/<int:comment_id>/done")
@for_act(Act.COMMENT)
def done(evaluation_id: int, comment_id: int) -> ResponseReturnValue:
    """Done, or not done after all."""
    row = evaluation_or_404(evaluation_id)
    comment = _comment(row, comment_id)
    if request.form.get("done") == "no":
        comment.done_at = comment.done_by = None
    else:
        comment.done_at, comment.done_by = now(), current_user.name
    return _again(row)


@comments.post("/<int:comment_id>/remove")
@for_act(Act.COMMENT)
def remove(evaluation_id: int, comment_id: int) -> ResponseReturnValue:
    """The own comment; others' are answered, not removed."""
    row = evaluation_or_404(evaluation_id)
    comment = _comment(row, comment_id)
    if comment.made_by_id != current_user.id:
        return say(f"{comment.made_by.name} wrote this comment, and only they can remove it.", 403)
    removed(comment, f"a comment on {row.product.name} was removed")
    return _again(row)
