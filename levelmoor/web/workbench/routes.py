"""The main screen and every change made on it."""

from collections.abc import Sequence
from typing import Any

from flask import Blueprint, Response, abort, render_template, request
from flask.typing import ResponseReturnValue

from levelmoor.core.claims import LIMIT_UNITS, QUANTITY_WORDS, Quantity
from levelmoor.core.decision import RULE_WORDS, Verdict
from levelmoor.core.evaluation import CALIBRATION_WORDS, OBTAINED_WORDS, PLANE_WORDS
from levelmoor.core.usability import PROFILES
from levelmoor.formats.columns import FREQUENCY_UNITS, KIND_WORDS
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.sweepfile import ReadOptions
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.web.cells import CELLS, CellProblem, set_cell, understood
from levelmoor.web.context import db, for_members, team
from levelmoor.web.evaluations.card import refresh_card
from levelmoor.web.workbench.view import USABILITY, State, build

workbench = Blueprint("workbench", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>")


def evaluation_or_404(evaluation_id: int) -> t.Evaluation:
    row = store.evaluation(db(), team().id, evaluation_id)
    if row is None:
        abort(404)
    return row


def _state() -> State:
    values = request.values
    return State(values.get("sweep", ""), values.get("claim", ""), values.get("view", ""))


def _shown(row: t.Evaluation, state: State | None = None, changed: bool = False) -> dict[str, Any]:
    """Everything the templates of the main screen need; a change also refreshes the list's card."""
    report = store.report_of(db(), row.id)
    published = len(report.revisions) if report else 0
    bench = build(row, state or _state(), published)
    if changed:
        refresh_card(row, published, bench.evaluation, bench.findings)
    return {
        "bench": bench,
        "row": row,
        "instruments": store.instruments(db(), row.team_id),
        "quantities": QUANTITY_WORDS,
        "units": {q.value: LIMIT_UNITS.get(q, "") for q in Quantity},
        "rules": RULE_WORDS,
        "profiles": PROFILES.values(),
        "obtained": OBTAINED_WORDS,
        "calibrations": CALIBRATION_WORDS,
        "planes": PLANE_WORDS,
        "frequency_units": FREQUENCY_UNITS,
        "kinds": KIND_WORDS,
        "Verdict": Verdict,
        "USABILITY": USABILITY,
        "problems": (),
    }


def _work(
    row: t.Evaluation, state: State | None = None, changed: bool = True, problems: Sequence[object] = ()
) -> ResponseReturnValue:
    """The whole main screen anew, for a change of what is there."""
    db().flush()
    shown = _shown(row, state, changed)
    shown["problems"] = problems
    return render_template("workbench/work.html", **shown)


def _said(place: str, words: str, wrong: bool) -> str:
    return render_template("workbench/cell_said.html", place=place, words=words, wrong=wrong)


def _refused(place: str, problem: ValueError) -> ResponseReturnValue:
    """Said in place; nothing else on the page changes, so that nothing typed is lost."""
    db().rollback()
    return _said(place, str(problem), True), 422, {"HX-Reswap": "none"}


@workbench.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    template = "workbench/work.html" if request.headers.get("HX-Request") else "workbench/page.html"
    return render_template(template, **_shown(row))


def _row_of(row: t.Evaluation, kind: str, row_id: int) -> Any:
    """The row that a cell belongs to, within the evaluation or its team; 404 otherwise."""
    within: dict[str, Sequence[Any]] = {
        "product": [row.product],
        "evaluation": [row],
        "sample": row.samples,
        "setup": row.setups,
        "claim": row.claims,
        "sweep": row.sweeps,
    }
    rows = store.instruments(db(), row.team_id) if kind == "instrument" else within.get(kind, [])
    found = next((r for r in rows if r.id == row_id), None)
    if found is None:
        abort(404)
    return found


@workbench.post("/cell/<kind>/<int:row_id>/<name>")
@for_members
def cell(evaluation_id: int, kind: str, row_id: int, name: str) -> ResponseReturnValue:
    """One cell edited in place: figure, numbers and verdicts come back, the cells themselves stay."""
    row = evaluation_or_404(evaluation_id)
    target = _row_of(row, kind, row_id)
    place = f"{kind}-{row_id}-{name}"
    if name not in CELLS[kind] and (kind, name) != ("evaluation", "profile"):
        abort(404)
    try:
        set_cell(kind, target, name, request.form.get("value", ""), row)
    except CellProblem as problem:
        return _refused(place, problem)
    db().flush()
    if kind == "sweep" and name == "instrument_id":
        db().refresh(target, ["instrument"])
    shown = _shown(row, changed=True)
    return render_template("workbench/changed.html", **shown) + _said(place, understood(kind, name, target), False)


@workbench.post("/claims")
@for_members
def add_claim(evaluation_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    claim = t.Claim(evaluation_id=row.id, z0_ohm=50.0, windows=[], limit=None, tuner="without")
    name = ""
    try:
        for name in ("quantity", "windows", "limit", "tuner", "condition", "source", "seen_on"):
            set_cell("claim", claim, name, request.form.get(name, claim.tuner if name == "tuner" else ""), row)
    except CellProblem as problem:
        return _refused(f"claim-new-{name}", problem)
    row.claims.append(claim)
    db().flush()
    return _work(row, State(request.form.get("sweep", ""), str(claim.id), ""))


@workbench.post("/add/<kind>")
@for_members
def add(evaluation_id: int, kind: str) -> ResponseReturnValue:
    """Another sample, setup or instrument, which then is on the bench."""
    row = evaluation_or_404(evaluation_id)
    if kind == "sample":
        new: Any = t.Sample(label=f"Sample {len(row.samples) + 1}")
        row.samples.append(new)
    elif kind == "setup":
        new = t.Setup(name=f"Setup {len(row.setups) + 1}")
        row.setups.append(new)
    elif kind == "instrument":
        new = t.Instrument(team_id=row.team_id, name="Another instrument")
        db().add(new)
    else:
        abort(404)
    db().flush()
    setattr(row, f"bench_{kind}_id", new.id)
    return _work(row)


@workbench.post("/remove/<kind>/<int:row_id>")
@for_members
def remove(evaluation_id: int, kind: str, row_id: int) -> ResponseReturnValue:
    """Take a claim or a sweep out; it is marked, not deleted."""
    if kind not in ("claim", "sweep"):
        abort(404)
    row = evaluation_or_404(evaluation_id)
    target = _row_of(row, kind, row_id)
    target.deleted_at = now()
    db().flush()
    db().expire(row, [f"{kind}s"])
    state = _state()
    if kind == "sweep":
        state = State("", state.claim, state.view)
    return _work(row, state)


@workbench.post("/sweeps")
@for_members
def add_sweeps(evaluation_id: int) -> ResponseReturnValue:
    """Files dropped on the page: each is read whole or refused whole."""
    row = evaluation_or_404(evaluation_id)
    problems: list[object] = []
    state = _state()
    files = [f for f in request.files.getlist("files") if f.filename]
    if not files:
        problems.append("No file came along; drop a Touchstone or CSV file, or choose one.")
    for file in files:
        try:
            added = store.add_sweep(db(), row, (file.filename or "").replace("\\", "/").rsplit("/", 1)[-1], file.read())
            state = State(str(added.id), state.claim, state.view)
        except FileProblem as problem:
            problems.append(problem)
    return _work(row, state, problems=problems)


@workbench.post("/sweeps/<int:sweep_id>/read")
@for_members
def read_again(evaluation_id: int, sweep_id: int) -> ResponseReturnValue:
    """Confirm or change how a file was read: its port, or a CSV's unit and kind."""
    row = evaluation_or_404(evaluation_id)
    sweep = _row_of(row, "sweep", sweep_id)
    form = request.form
    options = ReadOptions(form.get("port", 1, type=int), form.get("unit", ""), form.get("kind", ""))
    try:
        store.read_again(sweep, options)
    except ValueError as problem:
        return _refused(f"sweep-{sweep_id}-read", problem)
    return _work(row, State(str(sweep_id), _state().claim, _state().view))


@workbench.get("/sweeps/<int:sweep_id>/raw")
@for_members
def raw(evaluation_id: int, sweep_id: int) -> ResponseReturnValue:
    """The raw file as it came."""
    sweep = _row_of(evaluation_or_404(evaluation_id), "sweep", sweep_id)
    response = Response(sweep.raw_file.data, mimetype="application/octet-stream")
    response.headers.set("Content-Disposition", "attachment", filename=sweep.file_name)
    return response
