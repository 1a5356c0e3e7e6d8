"""What the team owns: a table for each kind of piece, edited in place, in and out as CSV."""

from typing import Any

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue

from levelmoor.core.model.equipment import Instrument
from levelmoor.core.plan.can_decide import can_decide
from levelmoor.core.words.counting import counted
from levelmoor.core.words.sentence import sentence
from levelmoor.formats.equipment_csv import read_equipment, write_equipment
from levelmoor.formats.equipment_starter import STARTER
from levelmoor.formats.owned_kinds import OWNED, OwnedKind, piece
from levelmoor.formats.problem import FileProblem
from levelmoor.records import tables as t
from levelmoor.records.apart import read_apart
from levelmoor.records.bench import facts_of, keep_facts, rows_of
from levelmoor.records.resting import rests_on_piece
from levelmoor.web.conflicts import conflict, meanwhile
from levelmoor.web.context import db, for_members, team
from levelmoor.web.downloads import download, for_download
from levelmoor.web.removal import removed

equipment = Blueprint("equipment", __name__, template_folder="templates", url_prefix="/equipment")


TOLD = 4
"""So many facts stand in the line of a piece that decides nothing by itself."""


def _kind(kind: str) -> OwnedKind:
    if kind not in OWNED:
        abort(404)
    return OWNED[kind]


def _shown(kind: OwnedKind) -> dict[str, Any]:
    """A kind with its rows as texts, whether each is complete enough to be planned with, and its line: what it can
    decide, else its first facts."""
    rows = []
    for row in rows_of(db(), team().id, kind.id):
        facts = facts_of(row)
        texts = {f.name: f.write(facts.get(f.name)) for f in kind.fields}
        core = piece(kind.id, str(row.id), row.name, facts)
        decides = can_decide(core, team().region) if isinstance(core, Instrument) else ""
        told = [f"{f.heading} {texts[f.name]}" if f.figure else texts[f.name] for f in kind.fields if texts[f.name]]
        rows.append((row, texts, core is not None, decides or ", ".join(told[:TOLD])))
    return {"kind": kind, "rows": rows}


def _table(kind: OwnedKind, problem: object = None, said: str = "", opened: int = 0) -> str:
    return render_template(
        "equipment/table.html", **_shown(kind), problem=problem, said=said, opened=opened, starter=STARTER
    )


@equipment.get("")
@for_members
def page() -> ResponseReturnValue:
    return render_template("equipment/page.html", kinds=[_shown(k) for k in OWNED.values()], starter=STARTER)


def _row_of(kind: OwnedKind, row_id: int) -> Any:
    row = next((r for r in rows_of(db(), team().id, kind.id) if r.id == row_id), None)
    if row is None:
        abort(404)
    return row


def _new(kind: OwnedKind, name: str) -> Any:
    if kind.id == "instrument":
        row: Any = t.Instrument(team_id=team().id, name=name)
    else:
        row = t.Owned(team_id=team().id, kind=kind.id, name=name, facts={})
    db().add(row)
    return row


@equipment.post("/<kind_id>/add")
@for_members
def add(kind_id: str) -> ResponseReturnValue:
    """An empty piece, or one of the starter set with its typical figures."""
    kind = _kind(kind_id)
    wanted = request.form.get("starter", "")
    start = next((s for s in STARTER if s.name == wanted), None) if kind.id == "instrument" else None
    row = _new(kind, start.name if start else f"Another {kind.one}")
    if start:
        keep_facts(row, start.values)
    db().flush()
    return _table(kind, opened=row.id)


@equipment.post("/<kind_id>/<int:row_id>/remove")
@for_members
def remove(kind_id: str, row_id: int) -> ResponseReturnValue:
    """Marked, not deleted: what was measured with it keeps its figures."""
    kind = _kind(kind_id)
    row = _row_of(kind, row_id)
    rests = rests_on_piece(db(), team().id, kind.id, row.id)
    kept = f"; evidence that rests on it keeps its figures: {rests}" if rests else ""
    removed(row, f"the {kind.one} {row.name} was removed{kept}")
    db().flush()
    return _table(kind)


@equipment.post("/<kind_id>/<int:row_id>/<name>")
@for_members
def cell(kind_id: str, row_id: int, name: str) -> ResponseReturnValue:
    """One cell edited in place; refused, it stays as it was typed and the reason stands under it."""
    kind, typed = _kind(kind_id), request.form.get("value", "")
    row, place = _row_of(kind, row_id), f"{kind_id}-{row_id}-{name}"
    field = next((f for f in kind.fields if f.name == name), None)
    said = ""
    try:
        if name == "name":
            bare = " ".join(typed.split())[:200]
            if not bare:
                raise ValueError(f"the {kind.one} needs a name")
            row.name = bare
        else:
            if field is None:
                abort(404)
            value = field.read(typed)
            keep_facts(row, {name: value})
            said = field.write(value) if field.write(value) != typed.strip() else ""
        if other := meanwhile(row, name):
            written = field.write(other.new_value) if field and not field.choices else None
            return conflict(place, other, typed, written)
    except ValueError as problem:
        db().rollback()
        words = sentence(problem)
        return (
            render_template("workbench/cell_said.html", place=place, words=words, wrong=True),
            422,
            {"HX-Reswap": "none"},
        )
    return render_template("workbench/cell_said.html", place=place, words=said, wrong=False)


@equipment.get("/<kind_id>.csv")
@for_members
def as_csv(kind_id: str) -> ResponseReturnValue:
    kind = _kind(kind_id)
    rows = [(r.name, facts_of(r)) for r in rows_of(db(), team().id, kind.id)]
    return download(write_equipment(kind.id, rows), f"{for_download(kind.words)}.csv", "text/csv")


@equipment.post("/<kind_id>/import")
@for_members
def from_csv(kind_id: str) -> ResponseReturnValue:
    """Every row of the file, or none: pieces of the same name are brought up to date, others are added."""
    kind = _kind(kind_id)
    file = request.files.get("file")
    if file is None or not file.filename:
        return _table(kind, "No file was sent; choose a CSV file as exported here."), 422
    try:
        found = read_apart(read_equipment, kind.id, file.filename, file.read())
    except FileProblem as problem:
        return _table(kind, problem), 422
    known = {r.name: r for r in rows_of(db(), team().id, kind.id)}
    added = 0
    for name, values in found:
        if name not in known:
            known[name] = _new(kind, name)
            added += 1
        keep_facts(known[name], values)
    db().flush()
    rows = counted(len(found), "row")
    return _table(kind, said=f"{rows} imported: {added} new, {len(found) - added} updated.")
