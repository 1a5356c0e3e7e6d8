"""The plan: its runs, what is changed on it by hand, and the run sheet for the field."""

from dataclasses import asdict
from typing import Any

from flask import Blueprint, abort, current_app, jsonify, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from levelmoor.core.plan.plan_accessories import plan_accessories
from levelmoor.core.plan.plan_change import changes, snapshot
from levelmoor.core.plan.plan_model import RunKind, StageKind
from levelmoor.core.trials.trial_plan import trials_to_make
from levelmoor.figures.plan_figures import cover_map, cover_rows, time_axis
from levelmoor.records import tables as t
from levelmoor.records import ticks
from levelmoor.records.database import now
from levelmoor.records.mapping import evaluation_of
from levelmoor.services.plans import plan_of
from levelmoor.services.run_sheet import sheet_parts, sheet_pdf
from levelmoor.web.cell_values import CellProblem
from levelmoor.web.conflicts import in_words, meanwhile
from levelmoor.web.context import db, for_members, note
from levelmoor.web.downloads import download, for_download
from levelmoor.web.plan import wishes
from levelmoor.web.workbench.screen import evaluation_or_404, shown
from levelmoor.web.workbench.work import Work

plan = Blueprint("plan", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/plan")


@plan.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    return render_template("plan/page.html", **WORK.shown(evaluation_or_404(evaluation_id)))


def _shown(row: t.Evaluation, changed: bool) -> dict[str, Any]:
    screen = shown(row, changed=changed, draw=False)
    evaluation = screen.bench.evaluation
    made = plan_of(evaluation)
    seen = snapshot(made, evaluation)
    samples = {s.id: s.label for s in evaluation.samples}
    rows = cover_rows(made)
    return {
        **vars(screen),
        "plan": made,
        "tries": trials_to_make(evaluation),
        "accessories": plan_accessories(evaluation, screen.bench.findings),
        "changes": changes(row.plan_seen or seen, seen),
        "claims": {c.id: c for c in evaluation.claims},
        "samples": samples,
        "setups": {s.id: s for s in evaluation.setups},
        "axis": time_axis(made),
        "cover": cover_map(rows) if rows else "",
        "RunKind": RunKind,
        "StageKind": StageKind,
        "wishes": evaluation.wishes,
        "live": {str(i.id) for i in screen.instruments if i.address and i.driver},
    }


WORK = Work("plan/work.html", _shown)


@plan.post("/figure/<name>")
@for_members
def figure(evaluation_id: int, name: str) -> ResponseReturnValue:
    """One of the plan's figures: minutes, the change to be shown, the spread, the bandwidth."""
    row = evaluation_or_404(evaluation_id)
    if name not in wishes.FIGURES:
        abort(404)
    try:
        wishes.set_figure(row, name, request.form.get("value", ""))
        if other := meanwhile(row, name):
            raise CellProblem(in_words(other, request.form.get("value", "")))
    except CellProblem as problem:
        return WORK.again(row, name, problem)
    return WORK.again(row)


@plan.post("/run/<action>")
@for_members
def run(evaluation_id: int, action: str) -> ResponseReturnValue:
    """Leave a run out, take it in again, move it, or take an own one away."""
    row, key = evaluation_or_404(evaluation_id), request.form.get("key", "")
    made = plan_of(evaluation_of(row))
    if action not in ("up", "down", "drop", "restore", "remove", "unordered"):
        abort(404)
    if action == "drop":
        wishes.drop(row, key)
    elif action == "restore":
        wishes.restore(row, key)
    elif action == "remove":
        wishes.remove_own(row, key)
    elif action == "unordered":
        wishes.forget_order(row)
    else:
        wishes.move(row, made, key, -1 if action == "up" else 1)
    return WORK.again(row)


@plan.post("/own")
@for_members
def own(evaluation_id: int) -> ResponseReturnValue:
    """A run added by hand."""
    row, form = evaluation_or_404(evaluation_id), request.form
    parts = [form.get(n, "") for n in ("sample_id", "setup_id", "low", "high")]
    try:
        wishes.add_own(row, *parts)
    except CellProblem as problem:
        return WORK.again(row, "own", problem)
    return WORK.again(row)


@plan.post("/seen")
@for_members
def seen(evaluation_id: int) -> ResponseReturnValue:
    """What changed has been noted; from here on changes are counted anew."""
    row = evaluation_or_404(evaluation_id)
    evaluation = evaluation_of(row)
    row.plan_seen = snapshot(plan_of(evaluation), evaluation)
    return WORK.again(row)


worker = Blueprint("worker", __name__)


@worker.get("/sheet-worker.js")
def script() -> ResponseReturnValue:
    """The script that keeps the run sheet on a telephone; at the root, since its place limits what it may keep."""
    response = current_app.send_static_file("sheet-worker.js")
    response.headers["Cache-Control"] = "no-cache"
    return response


# -- The run sheet ---------------------------------------------------------------------------------------------------


@plan.get("/sheet")
@for_members
def sheet(evaluation_id: int) -> ResponseReturnValue:
    """The run sheet for the hand in the field: what to do next, ticked off with or without a signal."""
    row = evaluation_or_404(evaluation_id)
    data = WORK.shown(row)
    made, evaluation = data["plan"], data["bench"].evaluation
    log = ticks.entries(db(), row.id)
    return render_template(
        "plan/sheet.html",
        **{
            **data,
            "parts": sheet_parts(made, evaluation),
            "standing": ticks.standing(log, current_user.name),
            "log": log,
        },
    )


class _Entry(BaseModel):
    model_config = ConfigDict(extra="forbid")
    id: str = Field(min_length=8, max_length=40)
    run_key: str = Field(min_length=1, max_length=80)
    done: bool
    note: str = Field(default="", max_length=2000)
    made_at: str = Field(pattern=r"^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?Z$", max_length=30)


class _Entries(BaseModel):
    entries: list[_Entry] = Field(max_length=500)


@plan.post("/ticks")
@for_members
def tick(evaluation_id: int) -> ResponseReturnValue:
    """Entries from the field; what is kept already is kept once. Answers how every run stands."""
    row = evaluation_or_404(evaluation_id)
    try:
        sent = _Entries.model_validate_json(request.get_data(as_text=True) or "{}")
    except ValidationError as problem:
        first = problem.errors()[0]
        return jsonify(problem=f"{'.'.join(str(p) for p in first['loc'])}: {first['msg']}"), 422
    kept = [ticks.TickEntry(e.id, **e.model_dump(exclude={"id"})) for e in sent.entries]
    before = ticks.standing(ticks.entries(db(), row.id), current_user.name)
    for entry in ticks.keep_entries(db(), row.id, kept, current_user.name):
        if entry.note and not (entry.run_key in before and before[entry.run_key].note == entry.note):
            note("addition", f"a note on the run sheet: {entry.note}", row.id)
    db().flush()
    standing = ticks.standing(ticks.entries(db(), row.id), current_user.name)
    return jsonify(kept=[e.entry_id for e in kept], runs={k: asdict(v) for k, v in standing.items()})


@plan.get("/sheet.pdf")
@for_members
def pdf(evaluation_id: int) -> ResponseReturnValue:
    """The run sheet on A4."""
    row = evaluation_or_404(evaluation_id)
    evaluation = evaluation_of(row)
    address = url_for("plan.sheet", evaluation_id=row.id, _external=True)
    data = sheet_pdf(plan_of(evaluation), evaluation, address, now().date().isoformat())
    return download(data, f"run-sheet-{for_download(evaluation.title)}.pdf", "application/pdf", inline=True)
