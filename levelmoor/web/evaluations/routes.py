"""The team's evaluations: the list, and opening a new one."""

from dataclasses import replace
from hashlib import sha256

from flask import Blueprint, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from levelmoor.core.claims.claim_line import UnderstoodLine
from levelmoor.core.metrology.decision import VERDICT_WORDS, Verdict
from levelmoor.core.model.evaluation import Calibration
from levelmoor.core.model.product_kinds import CLAIM_EXAMPLES, PRODUCT_KIND_WORDS, ProductKind
from levelmoor.formats.exchange import ExchangeProblem
from levelmoor.formats.exchange_file import read_exchange
from levelmoor.formats.problem import FileProblem
from levelmoor.records import intake, store
from levelmoor.records import tables as t
from levelmoor.records.apart import read_apart
from levelmoor.records.by_name import row_from
from levelmoor.records.history import unnoted
from levelmoor.records.importing import imported
from levelmoor.records.place import Place
from levelmoor.records.roles import Act
from levelmoor.records.waiting_for import waits_for
from levelmoor.services.list_card import refresh_card
from levelmoor.web.context import db, for_members, may_do, note, team, wants_part
from levelmoor.web.downloads import of_upload
from levelmoor.web.removal import removed
from levelmoor.web.workbench.claims import understood_in

evaluations = Blueprint("evaluations", __name__, template_folder="templates")


@evaluations.get("/")
def listing() -> ResponseReturnValue:
    if not current_user.is_authenticated:
        return redirect(url_for("accounts.sign_in"))
    return _listing()


@for_members
def _listing() -> str:
    words, verdict = request.args.get("words", ""), request.args.get("verdict", "")
    page = store.evaluations(db(), team().id, words, verdict, request.args.get("page", 1, type=int))
    template = "evaluations/rows.html" if wants_part() else "evaluations/list.html"
    verdicts = [(v.value, VERDICT_WORDS[v]) for v in Verdict if v is not Verdict.OUTSIDE]
    return render_template(
        template,
        rows=page.rows,
        page=page,
        words=words,
        verdict=verdict,
        verdicts=verdicts,
        filtered=bool(words or verdict),
        Verdict=Verdict,
        waits=waits_for(db(), current_user.id, may_do(Act.REVIEW), [row.id for row in page.rows]),
        kinds=PRODUCT_KIND_WORDS,
        examples=CLAIM_EXAMPLES,
    )


@evaluations.post("/evaluations")
@for_members
def create() -> ResponseReturnValue:
    """A new evaluation, with its first claims and files where they were given too. What of these is rejected is said on
    its page, and the evaluation is opened without it."""
    form = request.form
    product = " ".join(form.get("product", "").split())
    if not product:
        return render_template("problem.html", words="Enter the product's name.", code=422), 422
    with unnoted(db()):
        row = store.open_evaluation(db(), team(), product[:200], form.get("maker", "").strip()[:200])
        row.product.kind = form["kind"] if form.get("kind") in set(ProductKind) else ProductKind.UNSTATED.value
    note("addition", f"evaluation {row.product.name}", row.id)
    typed = form.get("claim", "").strip()
    found = understood_in(row, typed) if typed else UnderstoodLine()
    if found.as_it_stands:
        row.claims.extend(row_from(t.Claim, c, setup_id=None) for c in found.claims)
    for words in _first_files(row):
        flash(words, "wrong")
    db().flush()
    refresh_card(row)
    # What is not understood yet stands in the ledger's line, with what it asks.
    asked = "" if found.as_it_stands else typed
    return redirect(url_for("workbench.page", evaluation_id=row.id, text=asked or None))


def _first_files(row: t.Evaluation) -> list[str]:
    """Add the files that came along; the reasons of those that were rejected."""
    found, place = intake.Intake(), Place.on_bench(row)
    if request.form.get("calibration") == Calibration.AT_PLANE:
        place = replace(place, calibration=Calibration.AT_PLANE.value)
    for file in request.files.getlist("files"):
        if file.filename:
            intake.take_in(db(), row, found, of_upload(file.filename), file.read(), place=place)
    return [f"Rejected: {problem}" for problem in found.problems]


@evaluations.post("/evaluations/import")
@for_members
def take_in() -> ResponseReturnValue:
    """An evaluation exported here or elsewhere, taken in as a new one with its bench and raw files."""
    file = request.files.get("file")
    if file is None or not file.filename:
        return render_template("problem.html", words="Choose an exported evaluation.", code=422), 422
    name, data = of_upload(file.filename), file.read()
    try:
        with unnoted(db()):
            row, stays = imported(db(), team(), read_apart(read_exchange, data), sha256(data).hexdigest())
    except (ExchangeProblem, FileProblem) as problem:
        db().rollback()
        return render_template("problem.html", words=f"{name} was rejected: {problem}", code=422), 422
    refresh_card(row)
    note("import", f"{name} was imported as the evaluation of {row.product.name}", row.id)
    for words in (f"{name} was imported.", *stays):
        flash(words)
    return redirect(url_for("workbench.page", evaluation_id=row.id))


@evaluations.post("/evaluations/<int:evaluation_id>/remove")
@for_members
def remove(evaluation_id: int) -> ResponseReturnValue:
    row = store.evaluation(db(), team().id, evaluation_id)
    if row is None:
        return render_template("problem.html", words="There is no such evaluation.", code=404), 404
    removed(row, f"the evaluation of {row.product.name} was removed")
    return redirect(url_for("evaluations.listing"))
