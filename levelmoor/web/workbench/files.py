"""Files dropped on the page, the columns a person names, and sweeps out again as files."""

from dataclasses import replace

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from levelmoor.core.metrology.decision import VERDICT_WORDS
from levelmoor.core.model.evaluation import Calibration
from levelmoor.core.words.counting import counted
from levelmoor.formats.columns import ROLE_WORDS, write_mapping
from levelmoor.formats.sweep_csv import write_sweep_csv
from levelmoor.formats.touchstone_out import write_s1p
from levelmoor.records import intake
from levelmoor.records import tables as t
from levelmoor.records.mapping import sweep_of
from levelmoor.records.place import Place
from levelmoor.records.sweeps import add_sweep
from levelmoor.web.cell_values import CellProblem, moment_cell
from levelmoor.web.cells import set_cell
from levelmoor.web.context import db, for_members
from levelmoor.web.downloads import download, for_download, of_upload
from levelmoor.web.hand import as_shown
from levelmoor.web.removal import removed
from levelmoor.web.telling import tell
from levelmoor.web.workbench.routes import refused, work
from levelmoor.web.workbench.screen import evaluation_or_404, shown, state_of_request
from levelmoor.web.workbench.view import Workbench

files = Blueprint("files", __name__, url_prefix="/e/<int:evaluation_id>/sweeps")


@files.post("")
@for_members
def add(evaluation_id: int) -> ResponseReturnValue:
    """Files dropped on the page: each is read whole or refused whole, and a table says what each was taken for."""
    row = evaluation_or_404(evaluation_id)
    times = request.form.getlist("modified")
    given = [f for f in request.files.getlist("files") if f.filename]
    if not given:
        return work(row, problems=["No file was sent; drop a Touchstone or CSV file here, or choose one."])
    found, place = intake.Intake(), Place.of(as_shown(row))
    for n, file in enumerate(given):
        intake.take_in(db(), row, found, of_upload(file.filename), file.read(), _file_time(times, n, row), place)
    return _after(row, found)


def _after(row: t.Evaluation, found: intake.Intake) -> ResponseReturnValue:
    state = state_of_request()
    if found.added:
        state = replace(state, sweep=str(found.added[-1].id))
    db().flush()
    screen = shown(row, state, changed=True)
    if found.added:
        tell(_added(found, screen.bench))
    return render_template("workbench/work.html", **screen.given(problems=found.problems, dropped=found))


def _added(found: intake.Intake, bench: Workbench) -> str:
    """What was added, and the verdict on the claim in hand with it, in one line."""
    files = found.added[0].file_name if len(found.added) == 1 else counted(len(found.added), "file")
    verdict = bench.shown_verdict
    if bench.claim is None or verdict is None:
        return f"{files} added."
    return f"{files} added. {bench.claim.wording}: {VERDICT_WORDS[verdict[0]]}."


def _file_time(times: list[str], place: int, row: t.Evaluation) -> str:
    """The file's own date and time where the browser told it; it is shown with the sweep, to be put right there."""
    try:
        return str(moment_cell(times[place], row)) if place < len(times) else ""
    except CellProblem:
        return ""


@files.post("/<int:sweep_id>/again")
@for_members
def again(evaluation_id: int, sweep_id: int) -> ResponseReturnValue:
    """The same file once more as a sweep of its own, for another of its ports or another setup."""
    row = evaluation_or_404(evaluation_id)
    sweep = _sweep(row, sweep_id)
    new = add_sweep(
        db(), row, sweep.file_name, sweep.raw_file.data, taken_on=sweep.taken_on, place=Place.of(as_shown(row))
    )
    return work(row, replace(state_of_request(), sweep=str(new.id), view=""))


@files.post("/calibrate")
@for_members
def calibrate(evaluation_id: int) -> ResponseReturnValue:
    """Each sweep of which nothing is said gets the calibration on record that spans it."""
    row = evaluation_or_404(evaluation_id)
    bench = shown(row, draw=False).bench
    given = bench.unstated
    for sweep in given:
        evidence = next(e for e in bench.evaluation.sweeps if e.id == str(sweep.id))
        sweep.calibration_id, sweep.calibration = int(bench.holding(evidence)[0].id), Calibration.AT_PLANE.value
    left = sum(1 for s in row.sweeps if s.calibration == Calibration.UNSTATED)
    tell(f"{counted(len(given), 'sweep')} given the calibration that spans them; {left or 'none'} without one.")
    return work(row)


CHOICES = ("sample_id", "setup_id", "setting_id", "instrument_id", "calibration")
"""What several sweeps can be given at once."""


@files.get("/several")
@for_members
def several(evaluation_id: int) -> ResponseReturnValue:
    """All sweeps in a table, to be chosen and given the same in one act."""
    row = evaluation_or_404(evaluation_id)
    return render_template("workbench/several.html", **shown(row, draw=False).given(problem=""))


@files.post("/several")
@for_members
def assign(evaluation_id: int) -> ResponseReturnValue:
    """The chosen sweeps, each given what was chosen; all of them or none."""
    row, form = evaluation_or_404(evaluation_id), request.form
    chosen = [s for s in row.sweeps if str(s.id) in form.getlist("sweep")]
    wanted = {name: form[name] for name in CHOICES if form.get(name, "unchanged") != "unchanged"}
    problem = "" if chosen and wanted else "Choose the sweeps, and what to give them."
    try:
        for sweep in chosen:
            for name, value in wanted.items():
                set_cell("sweep", sweep, name, value, row)
    except CellProblem as wrong:
        problem = str(wrong)
    if problem:
        db().rollback()
        screen = shown(evaluation_or_404(evaluation_id), draw=False)
        return render_template("workbench/several.html", **screen.given(problem=problem)), 422
    db().flush()
    shown(row, changed=True, draw=False)
    tell(f"{counted(len(chosen), 'sweep')} changed.")
    return redirect(url_for("files.several", evaluation_id=row.id))


@files.post("/waiting/<int:pending_id>")
@for_members
def name_columns(evaluation_id: int, pending_id: int) -> ResponseReturnValue:
    """What the columns of a waiting file are; remembered for its headings."""
    row = evaluation_or_404(evaluation_id)
    pending = _pending(row, pending_id)
    roles = {int(k): v for k, v in request.form.items() if k.isdigit() and v in ROLE_WORDS}
    try:
        columns, unit = write_mapping(roles), request.form.get("unit", "")
        found = intake.name_columns(db(), row, pending, columns, unit, Place.of(as_shown(row)))
        if count := len(found.added):
            tell(f"{counted(count, 'file')} read; files with these headings are now read the same way.")
    except ValueError as problem:
        return refused(f"waiting-{pending_id}", problem)
    return _after(row, found)


@files.post("/waiting/<int:pending_id>/remove")
@for_members
def leave_out(evaluation_id: int, pending_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    pending = _pending(row, pending_id)
    removed(pending, f"a file of {row.product.name} was left out: {pending.file_name}")
    return work(row)


def _pending(row: t.Evaluation, pending_id: int) -> t.PendingFile:
    return next((w.row for w in intake.waiting(db(), row.id) if w.row.id == pending_id), None) or abort(404)


def _sweep(row: t.Evaluation, sweep_id: int) -> t.Sweep:
    return next((s for s in row.sweeps if s.id == sweep_id), None) or abort(404)


@files.get("/<int:sweep_id>/raw")
@for_members
def raw(evaluation_id: int, sweep_id: int) -> ResponseReturnValue:
    """The raw file as it came."""
    sweep = _sweep(evaluation_or_404(evaluation_id), sweep_id)
    return download(sweep.raw_file.data, sweep.file_name, "application/octet-stream")


@files.get("/<int:sweep_id>/as/<form>")
@for_members
def export(evaluation_id: int, sweep_id: int, form: str) -> ResponseReturnValue:
    """The sweep as it is judged from, joined and corrected, as Touchstone or CSV."""
    sweep = _sweep(evaluation_or_404(evaluation_id), sweep_id)
    core, name = sweep_of(sweep), for_download(sweep.name)
    if form == "csv":
        return download(write_sweep_csv(core).encode(), f"{name}.csv", "text/csv")
    if form != "s1p" or core.scalar:
        abort(404)
    comment = f"{sweep.name}, from {sweep.file_name}"
    return download(write_s1p(core, comment).encode(), f"{name}.s1p", "application/octet-stream")
