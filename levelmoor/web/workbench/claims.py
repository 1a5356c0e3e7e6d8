"""The claims ledger's quick line: how a claim is understood, and taking it."""

from dataclasses import replace
from datetime import date

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue

from levelmoor.core.claims.claim_line import UnderstoodLine, understand_line
from levelmoor.core.rf.own_bands import with_names, with_ranges
from levelmoor.core.words.bounds import CLAIMS
from levelmoor.core.words.counting import counted
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.by_name import row_from
from levelmoor.records.mapping import claim_of, setup_of
from levelmoor.web.cell_values import CellProblem, own_bands_of
from levelmoor.web.cells import CELLS
from levelmoor.web.context import db, for_members, team
from levelmoor.web.telling import tell
from levelmoor.web.workbench.routes import refused, work
from levelmoor.web.workbench.screen import evaluation_or_404, shown, state_of_request
from levelmoor.web.workbench.view import LAST, State

claims = Blueprint("claims", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/claims")


def understood_in(row: t.Evaluation, text: str) -> UnderstoodLine:
    """A line of claims as it is understood for an evaluation: its region, the team's own bands, its setups."""
    own = own_bands_of(row)
    found = understand_line(with_ranges(text, own), row.region, tuple(setup_of(s) for s in row.setups))
    named = tuple(replace(c, windows=with_names(c.windows, own)) for c in found.claims)
    return replace(found, claims=named)


@claims.get("/understood")
@for_members
def understood(evaluation_id: int) -> ResponseReturnValue:
    """How the line is understood so far, while it is typed."""
    row, text = evaluation_or_404(evaluation_id), request.args.get("text", "")
    if text == request.args.get("refused"):
        return "", 204  # why it was refused stands there, and stays until the line is another
    understanding = understood_in(row, text) if text.strip() else None
    return render_template("workbench/understood.html", understanding=understanding)


@claims.post("")
@for_members
def take(evaluation_id: int) -> ResponseReturnValue:
    """Take the line with all its claims as it is understood; where it is not, all that was typed stays."""
    row, form = evaluation_or_404(evaluation_id), request.form
    found = understood_in(row, form.get("text", ""))
    seen_on: date | None = None
    problem = "" if form.get("text", "").strip() else "Write a claim, as in SWR < 1.5 2m"
    if found.leftover:
        problem = (
            f'Not added: "{found.leftover}" is not understood. Leave it out, or put it into the condition afterwards'
        )
    elif found.claims and (found.problem or found.questions):
        problem = f"Not added: {found.problem or found.questions[0].words}"
    try:
        source = CELLS["claim"]["source"](form.get("source", ""), row)
        seen_on = CELLS["claim"]["seen_on"](form.get("seen_on", ""), row)
    except CellProblem as wrong:
        problem = str(wrong)
    if len(row.claims) + len(found.claims) > CLAIMS:
        problem = f"An evaluation has at most {CLAIMS} claims"
    if not found.claims or problem:
        # Refused where it was typed; the rest of the page stays unchanged.
        said = render_template(
            "workbench/understood.html",
            understanding=found,
            refused=form.get("text", ""),
            problem=problem,
        )
        return said, 422, {"HX-Retarget": "#understood", "HX-Reswap": "innerHTML"}
    taken = [
        row_from(t.Claim, c, setup_id=int(c.setup_id) if c.setup_id else None, source=source, seen_on=seen_on)
        for c in found.claims
    ]
    row.claims.extend(taken)
    db().flush()
    state = state_of_request()
    screen = shown(row, State(state.sweep, str(taken[0].id), "", LAST), changed=True)
    return render_template("workbench/work.html", **screen.given(sticky={"source": source, "seen_on": seen_on or ""}))


@claims.post("/from")
@for_members
def take_from(evaluation_id: int) -> ResponseReturnValue:
    """The claims of an earlier evaluation as a template: what is claimed and where it stands, not where it was seen."""
    row = evaluation_or_404(evaluation_id)
    other = store.evaluation(db(), team().id, request.form.get("other", 0, type=int)) or abort(404)
    if len(row.claims) + len(other.claims) > CLAIMS:
        return refused("claims", CellProblem(f"An evaluation has at most {CLAIMS} claims."))
    row.claims.extend(row_from(t.Claim, claim_of(c), setup_id=None, seen_on=None, excerpt="") for c in other.claims)
    taken = counted(len(other.claims), "claim")
    tell(f"{taken} copied from {other.product.name}; enter where each one is printed and when you saw it.")
    return work(row)
