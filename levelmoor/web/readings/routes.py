"""Readings one at a time: a sheet for a telephone in a cold hand, kept at once and sent again until it is there."""

from typing import Any, Literal

from flask import Blueprint, abort, jsonify, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from levelmoor.core.readings.readings import READING_WORDS, ReadingKind
from levelmoor.core.words.bounds import ROUNDS
from levelmoor.core.words.sentence import sentence
from levelmoor.formats.json_in import JsonProblem, read_json
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.readings_file import read_pasted
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.bench import rows_of
from levelmoor.records.mapping import evaluation_of
from levelmoor.records.place import Place
from levelmoor.records.reading_rows import sheets_of
from levelmoor.records.readings import Change, SheetPlace, join_sheet, keep_changes, sheet_at
from levelmoor.services.list_card import refresh_card
from levelmoor.web.context import db, for_members
from levelmoor.web.hand import hand_of
from levelmoor.web.readings.view import FIELD_NAMES, SheetView, candidate, sheet_view
from levelmoor.web.workbench.screen import evaluation_or_404, shown

readings = Blueprint("readings", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/readings")


class _Change(BaseModel):
    """One change as the telephone sends it; `id` is told back once it is kept."""

    model_config = ConfigDict(extra="forbid")
    id: str = Field(min_length=1, max_length=40)
    op: Literal["add", "answer", "change", "remove", "restore"]
    reading: str = Field(min_length=1, max_length=40)
    typed: dict[str, str] = Field(default_factory=dict, max_length=8)
    kind: str = Field("", max_length=20)
    answer: str = Field("", max_length=200)
    made_at: str = Field("", max_length=30)


class _Changes(BaseModel):
    model_config = ConfigDict(extra="forbid")
    changes: list[_Change] = Field(max_length=500)


@readings.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    wanted = request.args.get("kind", "")
    kind = ReadingKind(wanted) if wanted in list(ReadingKind) else _latest_kind(row)
    sheet = sheet_at(db(), row, SheetPlace.at(row, kind, Place.of(hand_of(row))))
    screen = shown(row, draw=False)
    view = _view(row, sheet)
    return render_template("readings/page.html", **screen.given(**_for_templates(view), reading_words=READING_WORDS))


def _latest_kind(row: t.Evaluation) -> ReadingKind:
    """The kind last read with what is on the bench, SWR before any."""
    hand = hand_of(row)
    bench = (hand.sample_id, hand.setup_id, hand.instrument_id)
    of_bench = [
        s for s in sheets_of(db(), row.id) if (s.sample_id, s.setup_id, s.instrument_id) == bench and s.readings
    ]
    return ReadingKind(of_bench[-1].kind) if of_bench else ReadingKind.SWR


def _view(row: t.Evaluation, sheet: t.ReadingSheet) -> SheetView:
    joined = next((s.points for s in row.sweeps if s.id == sheet.sweep_id), 0)
    return sheet_view(evaluation_of(row), sheet, joined)


def _for_templates(view: SheetView) -> dict[str, Any]:
    return {"sheet": view, "field_names": FIELD_NAMES}


def _sheet_or_404(row: t.Evaluation, name: str) -> t.ReadingSheet:
    """The sheet that an address names, made where nothing was read on it yet; 404 for what is not the evaluation's."""
    try:
        place = SheetPlace.parse(name)
    except ValueError:
        abort(404)
    own = (
        place.sample_id in [s.id for s in row.samples],
        place.setup_id in [s.id for s in row.setups],
        place.instrument_id in [i.id for i in rows_of(db(), row.team_id, "instrument")],
        place.setting_id in [0, *(s.id for s in row.settings)],
        1 <= place.round <= ROUNDS,
    )
    sheet = sheet_at(db(), row, place)
    if sheet.id is None and not all(own):
        abort(404)
    db().add(sheet)
    db().flush()
    return sheet


@readings.post("/<place>/changes")
@for_members
def changes(evaluation_id: int, place: str) -> ResponseReturnValue:
    """What happened on a telephone; every change is taken once, and what stands comes back."""
    row = evaluation_or_404(evaluation_id)
    sheet = _sheet_or_404(row, place)
    try:
        given = _Changes.model_validate_json(request.get_data())
    except ValidationError as problem:
        first = problem.errors()[0]
        return jsonify(problem=f"{'.'.join(map(str, first['loc']))}: {first['msg']}"), 422
    wanted = [Change(c.op, c.reading, c.typed, c.kind, c.answer, c.made_at) for c in given.changes]
    keep_changes(db(), sheet, wanted, current_user.name)
    view = _view(row, sheet)
    return jsonify(
        kept=[c.id for c in given.changes],
        ahead=view.ahead,
        html=render_template("readings/lines.html", row=row, **_for_templates(view)),
    )


@readings.post("/<place>/check")
@for_members
def check(evaluation_id: int, place: str) -> ResponseReturnValue:
    """What is asked about a reading while it is typed; nothing is kept."""
    row = evaluation_or_404(evaluation_id)
    sheet = _sheet_or_404(row, place)
    try:
        given = read_json(request.get_data())
    except JsonProblem as problem:
        return jsonify(problem=sentence(problem)), 422
    fields = given if isinstance(given, dict) else {}
    typed = {k: str(v)[:40] for k, v in fields.items() if k in FIELD_NAMES}
    line = candidate(evaluation_of(row), sheet, typed)
    asked = [{"field": s.field, "question": sentence(s.question), "meant": s.meant} for s in line.asked]
    if line.problem is not None and "missing" not in str(line.problem):
        asked = [{"field": line.problem.field, "question": sentence(line.problem), "meant": ""}]
    return jsonify(asked=asked)


@readings.post("/<place>/table")
@for_members
def table(evaluation_id: int, place: str) -> ResponseReturnValue:
    """A typed or pasted table: every row of it, or none."""
    row = evaluation_or_404(evaluation_id)
    sheet = _sheet_or_404(row, place)
    text, problem = request.form.get("table", ""), ""
    try:
        found = read_pasted(text, ReadingKind(sheet.kind))
        stamp = request.form.get("made_at", "")
        prefix = request.form.get("paste_id", "")[:30] or "table"
        new = [Change("add", f"{prefix}-{i}", typed, made_at=stamp) for i, typed in enumerate(found.typed)]
        keep_changes(db(), sheet, new, current_user.name)
        text = ""
    except FileProblem as wrong:
        problem = f"Line {wrong.line}, column {wrong.column}: {wrong.told}."
    view = _view(row, sheet)
    return render_template(
        "readings/lines.html", row=row, **_for_templates(view), table_typed=text, table_problem=problem
    ), (422 if problem else 200)


@readings.post("/<place>/join")
@for_members
def join(evaluation_id: int, place: str) -> ResponseReturnValue:
    """Make a sweep of the readings that count; it is judged like any other."""
    row = evaluation_or_404(evaluation_id)
    sheet = _sheet_or_404(row, place)
    view, problem = _view(row, sheet), ""
    try:
        join_sheet(db(), row, sheet, view.lines, hand_of(row).calibration)
        report = store.report_of(db(), row.id)
        refresh_card(row, len(report.revisions) if report else 0)
        view = _view(row, sheet)
    except ValueError as wrong:
        problem = sentence(wrong)
    return render_template("readings/lines.html", row=row, **_for_templates(view), join_problem=problem), (
        422 if problem else 200
    )
