"""Comparing: which sweeps, which question, and the answer."""

from typing import Any

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from levelmoor.core.comparison.comparison_model import BASE_WORDS, QUESTION_WORDS, Base, PlaneView, Question
from levelmoor.core.comparison.comparison_words import signed_shift
from levelmoor.core.comparison.features import edge_key, spot_key, width_key
from levelmoor.core.metrology.significance import MEANING_WORDS
from levelmoor.core.rf.reflection import swr_from_gamma
from levelmoor.core.rf.sweep_analysis import WIDTH_SWRS
from levelmoor.core.words.bounds import COMPARISONS
from levelmoor.records import tables as t
from levelmoor.services.findings import findings_of, long_work
from levelmoor.web.compare.view import FIGURES, USABILITY, ComparisonAsked, build
from levelmoor.web.context import db, for_members, wants_part
from levelmoor.web.errors import say
from levelmoor.web.removal import removed
from levelmoor.web.telling import tell
from levelmoor.web.workbench.screen import evaluation_or_404, shown

compare = Blueprint("compare", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/compare")
PLANE_CHOICES = {
    PlaneView.JUDGED: "where it is judged",
    PlaneView.SHACK: "at the shack end",
    PlaneView.BOTH: "both overlaid",
}


@compare.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    template = "compare/work.html" if wants_part() else "compare/page.html"
    return render_template(template, **_shown(row))


@compare.post("/chosen")
@for_members
def choose(evaluation_id: int) -> ResponseReturnValue:
    """Put the comparison that is shown into the report, with a sentence of the team's own."""
    row, form = evaluation_or_404(evaluation_id), request.form
    there = {str(s.id) for s in row.sweeps}
    ids = [i for i in dict.fromkeys(form.get("sweeps", "").split("-")) if i]
    claim = next((c for c in row.claims if str(c.id) == form.get("claim")), None)
    if len(ids) < 2 or not set(ids) <= there or form.get("question") not in list(Question):
        return say("Choose at least two sweeps of this evaluation first.", 422)
    if len(row.comparisons) >= COMPARISONS:
        return say(f"A report has at most {COMPARISONS} comparisons; remove one first.", 422)
    row.comparisons.append(
        t.ChosenComparison(
            sweep_ids=[int(i) for i in ids],
            question=form["question"],
            claim_id=claim.id if claim else None,
            words=form.get("words", "").strip()[:2000],
        )
    )
    db().flush()
    tell("The comparison was added to the report.")
    return redirect(url_for("compare.page", evaluation_id=row.id, _anchor="in-report"))


@compare.post("/chosen/<int:comparison_id>/remove")
@for_members
def leave_out(evaluation_id: int, comparison_id: int) -> ResponseReturnValue:
    """Take a comparison out of the report."""
    row = evaluation_or_404(evaluation_id)
    one = next((c for c in row.comparisons if c.id == comparison_id), None) or abort(404)
    removed(one, "a comparison was left out of the report")
    return redirect(url_for("compare.page", evaluation_id=row.id, _anchor="in-report"))


def _asked() -> ComparisonAsked:
    given = request.args
    if given.get("figure", "swr") not in FIGURES or given.get("plane", "judged") not in list(PlaneView):
        abort(404)
    if given.get("base", "first") not in list(Base):
        abort(404)
    ids = tuple(i for part in given.getlist("s") for i in part.split("-") if i)
    return ComparisonAsked(
        sweeps=ids,
        question=given.get("q", ""),
        against=given.get("against", ""),
        figure=given.get("figure", "swr"),
        view=given.get("view", ""),
        plane=given.get("plane", "judged"),
        base=given.get("base", "first"),
        low_hz=given.get("low", type=float),
        high_hz=given.get("high", type=float),
    )


def _shown(row: t.Evaluation) -> dict[str, Any]:
    screen = shown(row, draw=False)
    evaluation, asked = screen.bench.evaluation, _asked()
    found = long_work(evaluation, asked, build, evaluation, asked, findings_of(evaluation))
    return {
        **vars(screen),
        "page": found,
        "figures": FIGURES,
        "USABILITY": USABILITY,
        "question_words": QUESTION_WORDS,
        "meanings": MEANING_WORDS,
        "base_words": BASE_WORDS,
        "plane_choices": PLANE_CHOICES,
        "width_key": width_key,
        "edge_key": edge_key,
        "spot_key": spot_key,
        "width_swrs": WIDTH_SWRS,
        "signed_shift": signed_shift,
        "as_swr": lambda gamma: float(swr_from_gamma(float(gamma))),
        "spot_names": {spot_key(w.low_hz): w.name for w in evaluation.spots},
    }
