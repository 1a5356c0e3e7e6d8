"""The main screen and every change made on it."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue

from levelmoor.core.evidence.admission import is_accessory
from levelmoor.core.model.conditions import CONDITION_WORDS
from levelmoor.core.model.state import Role, proposed_role
from levelmoor.core.words.bounds import SETTINGS
from levelmoor.formats.exchange_file import write_exchange
from levelmoor.formats.settings_table import read_settings
from levelmoor.formats.sweepfile import ReadOptions
from levelmoor.records import article_state, sweeps
from levelmoor.records import tables as t
from levelmoor.records.article_state import windows_row
from levelmoor.records.audit import record
from levelmoor.records.database import now
from levelmoor.records.exporting import exported
from levelmoor.records.in_hand import without_what_is_gone
from levelmoor.records.kinds import name_of
from levelmoor.records.mapping import claim_of
from levelmoor.records.regions import keep_ranges, moving, take_bands
from levelmoor.records.resting import why_kept
from levelmoor.records.setups import another_like
from levelmoor.web.cell_values import CellProblem, region_cell
from levelmoor.web.cells import CELLS, SPECIAL, set_cell, understood
from levelmoor.web.conflicts import conflict, meanwhile
from levelmoor.web.context import actor, db, for_members, maker, wants_part
from levelmoor.web.downloads import download, for_download
from levelmoor.web.hand import choose, hand_of
from levelmoor.web.removal import is_removed, removed
from levelmoor.web.workbench.screen import evaluation_or_404, shown, state_of_request
from levelmoor.web.workbench.view import State

workbench = Blueprint("workbench", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>")


def work(row: t.Evaluation, state: State | None = None, changed: bool = True, **more: object) -> ResponseReturnValue:
    """The whole main screen anew, for a change of what is there."""
    db().flush()
    return render_template("workbench/work.html", **shown(row, state, changed).given(**more))


def _said(place: str, words: str, wrong: bool) -> str:
    return render_template("workbench/cell_said.html", place=place, words=words, wrong=wrong)


def refused(place: str, problem: ValueError) -> ResponseReturnValue:
    """Said in place; nothing else on the page changes, so that nothing typed is lost."""
    db().rollback()
    return _said(place, str(problem), True), 422, {"HX-Reswap": "none"}


@workbench.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    template = "workbench/work.html" if wants_part() else "workbench/page.html"
    return render_template(template, **shown(row).given())


@workbench.get("/open/<name>")
@for_members
def open_part(evaluation_id: int, name: str) -> ResponseReturnValue:
    """What stood folded on the page: the case, or a claim's fields and reasons."""
    row = evaluation_or_404(evaluation_id)
    kind, _, number = name.partition("-")
    if kind == "claim" and number.isdigit():
        more = {"template": "workbench/claim_open.html", "claim": _row_of(row, "claim", int(number))}
    elif name == "case":
        more = {"template": "workbench/case_open.html"}
    else:
        abort(404)
    return render_template("workbench/opened.html", **shown(row, draw=False).given(**more))


def _row_of(row: t.Evaluation, kind: str, row_id: int) -> Any:
    """The row that a cell belongs to, within the evaluation; 404 otherwise."""
    within: dict[str, Sequence[Any]] = {
        "product": [row.product],
        "evaluation": [row],
        "sample": row.samples,
        "setup": row.setups,
        "claim": row.claims,
        "sweep": row.sweeps,
        "setting": row.settings,
        "picture": row.pictures,
    }
    found = next((r for r in within.get(kind, []) if r.id == row_id), None)
    if found is None:
        abort(404)
    return found


@workbench.post("/cell/<kind>/<int:row_id>/<name>")
@for_members
def cell(evaluation_id: int, kind: str, row_id: int, name: str) -> ResponseReturnValue:
    """One cell edited in place: figure, numbers and verdicts come back, the cells themselves stay."""
    row = evaluation_or_404(evaluation_id)
    place = f"{kind}-{row_id}-{name}"
    if is_removed(row, kind, row_id):
        return refused(place, CellProblem(f"This {kind} was removed; press Undo to restore it, or reload the page."))
    target = choose(row) if kind == "hand" and row_id == row.id else _row_of(row, kind, row_id)
    if name not in CELLS[kind] and (kind, name) not in SPECIAL:
        abort(404)
    typed = request.form.get("value", "")
    try:
        if (kind, name) == ("evaluation", "region") and (asked := _region_asked(row, typed, place)):
            return asked
        set_cell(kind, target, name, typed, row)
    except CellProblem as problem:
        return refused(place, problem)
    if kind != "hand" and (other := meanwhile(target, name)):
        return conflict(place, other, typed)
    db().flush()
    if kind == "sweep" and name == "instrument_id":
        db().refresh(target, ["instrument"])
    return render_template("workbench/changed.html", **shown(row, changed=True).given()) + _said(
        place, understood(kind, name, target), False
    )


def _region_asked(row: t.Evaluation, typed: str, place: str) -> ResponseReturnValue | None:
    """Where bands that claims or settings name are others in the new region: the question, or what was answered."""
    region = region_cell(typed)
    found = moving(row, region)
    answer = request.form.get("bands", "")
    if not found or answer in ("take", "keep"):
        (take_bands if answer == "take" else keep_ranges)(found)
        return None
    data = {"place": place, "region": region, "moving": found, "address": request.path}
    return render_template("workbench/region_asked.html", **data), 422, {"HX-Reswap": "none"}


@workbench.post("/add/<kind>")
@for_members
def add(evaluation_id: int, kind: str) -> ResponseReturnValue:
    """Another claim, or another sample or setup, which then is on the bench."""
    row = evaluation_or_404(evaluation_id)
    if kind == "sample":
        new: Any = t.Sample(label=f"Sample {len(row.samples) + 1}")
        row.samples.append(new)
    elif kind == "setup":
        new = t.Setup(name=f"Setup {len(row.setups) + 1}", conditions={})
        row.setups.append(new)
    elif kind == "claim":
        row.claims.append(t.Claim(quantity="swr", windows=[], limit=None))
        return work(row)
    else:
        abort(404)
    db().flush()
    choose(row, **{f"{kind}_id": new.id})
    return work(row)


@workbench.post("/setups/<int:setup_id>/copy")
@for_members
def copy_setup(evaluation_id: int, setup_id: int) -> ResponseReturnValue:
    """The same, but: a copy of a setup with one fact changed, which then is on the bench."""
    row = evaluation_or_404(evaluation_id)
    source = _row_of(row, "setup", setup_id)
    name, value = request.form.get("fact", ""), " ".join(request.form.get("value", "").split())[:200]
    if name not in CONDITION_WORDS:
        return refused(f"setup-{setup_id}-copy", CellProblem("Choose what is different."))
    if value == source.conditions.get(name, ""):
        return refused(f"setup-{setup_id}-copy", CellProblem("Nothing is different; write what you want to change."))
    asked = request.form.get("role", "")
    role = Role(asked) if asked in list(Role) else proposed_role((name,), is_accessory(map(claim_of, row.claims)))
    called = f"{source.name}, {CONDITION_WORDS[name]} {value or 'none'}"
    new = another_like(source, called, role, source.description, **{name: value})
    row.setups.append(new)
    db().flush()
    choose(row, setup_id=new.id)
    return work(row)


@workbench.post("/remove/<kind>/<int:row_id>")
@for_members
def remove(evaluation_id: int, kind: str, row_id: int) -> ResponseReturnValue:
    """Take a part of the evaluation out; it is marked, not deleted. What evidence rests on is set aside instead."""
    if kind not in ("claim", "sweep", "setting", "picture", "sample", "setup"):
        abort(404)
    row = evaluation_or_404(evaluation_id)
    target = _row_of(row, kind, row_id)
    if why := why_kept(db(), row, kind, row_id):
        return refused(f"{kind}-{row_id}-{'label' if kind == 'sample' else 'name'}", CellProblem(why))
    removed(target, f"a {kind} of {row.product.name} was removed: {name_of(target)}")
    db().flush()
    db().expire(row, [f"{kind}s"])
    without_what_is_gone(db(), row, hand_of(row))
    state = state_of_request()
    if kind == "sweep":
        state = replace(state, sweep="")
    return work(row, state)


@workbench.post("/settings")
@for_members
def add_settings(evaluation_id: int) -> ResponseReturnValue:
    """Settings from a pasted table, one to a line: its name, and the bands it is for."""
    row = evaluation_or_404(evaluation_id)
    try:
        found = read_settings(request.form.get("table", ""), row.region)
        if len(row.settings) + len(found) > SETTINGS:
            raise ValueError(f"At most {SETTINGS} settings are allowed.")
    except ValueError as problem:
        return refused("settings-table", problem)
    known = {s.name.lower(): s for s in row.settings}
    for line in found:
        kept = known.get(line.name.lower())
        if kept is None:
            kept = t.ArticleSetting(name=line.name)
            row.settings.append(kept)
        kept.windows = windows_row(line.windows)
        kept.mark = kept.mark if line.mark is None else line.mark
        kept.mark_words = line.mark_words or kept.mark_words or ""
    return work(row)


@workbench.post("/adjusted")
@for_members
def adjusted(evaluation_id: int) -> ResponseReturnValue:
    """What is on the bench was adjusted: the next sweeps are another round."""
    row = evaluation_or_404(evaluation_id)
    hand = hand_of(row)
    article_state.open_round(row, hand.sample_id, hand.setup_id, hand.setting_id)
    return work(row)


@workbench.post("/sweeps/<int:sweep_id>/adjusted")
@for_members
def say_adjusted(evaluation_id: int, sweep_id: int) -> ResponseReturnValue:
    """Whether the article was adjusted before a sweep that differs from the one before it."""
    row = evaluation_or_404(evaluation_id)
    answer = request.form.get("adjusted", "")
    if answer not in ("yes", "no"):
        abort(422)
    article_state.say_adjusted(row, _row_of(row, "sweep", sweep_id), answer == "yes")
    return work(row)


@workbench.post("/sweeps/<int:sweep_id>/join")
@for_members
def join(evaluation_id: int, sweep_id: int) -> ResponseReturnValue:
    """Take another sweep in as a further segment; it then is not a sweep of its own."""
    row = evaluation_or_404(evaluation_id)
    sweep = _row_of(row, "sweep", sweep_id)
    other = _row_of(row, "sweep", request.form.get("other", 0, type=int))
    try:
        sweeps.join(sweep, other)
    except ValueError as problem:
        return refused(f"sweep-{sweep_id}-join", problem)
    other.deleted_at = now()
    db().flush()
    db().expire(row, ["sweeps"])
    return work(row, replace(state_of_request(), sweep=str(sweep_id)))


@workbench.get("/export")
@for_members
def export(evaluation_id: int) -> ResponseReturnValue:
    """The whole evaluation with its bench and raw files, for another installation."""
    row = evaluation_or_404(evaluation_id)
    found = exported(db(), row)
    data = write_exchange(found)
    _note_export(row)
    return download(data, f"{for_download(found.evaluation.title)}.evaluation.zip", "application/zip")


def _note_export(row: t.Evaluation) -> None:
    """Recorded beside the request, which only reads."""
    with maker().begin() as beside:
        record(beside, row.team_id, actor(), "export", f"the evaluation of {row.product.name} was exported", row.id)


@workbench.post("/sweeps/<int:sweep_id>/read")
@for_members
def read_again(evaluation_id: int, sweep_id: int) -> ResponseReturnValue:
    """Confirm or change how a file was read: its port, or a CSV's unit and kind."""
    row = evaluation_or_404(evaluation_id)
    sweep = _row_of(row, "sweep", sweep_id)
    form = request.form
    options = ReadOptions(form.get("port", 1, type=int), form.get("unit", ""), form.get("kind", ""))
    try:
        sweeps.read_again(sweep, options)
    except ValueError as problem:
        return refused(f"sweep-{sweep_id}-read", problem)
    return work(row, replace(state_of_request(), sweep=str(sweep_id)))
