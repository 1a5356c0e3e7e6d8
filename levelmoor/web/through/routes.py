"""The page of chokes, pads, filters and adapters: sweeps through, levels with and without, runs under power."""

from typing import Any

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from levelmoor.core.heat.duty import USUAL_DUTY, parse_duty
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.state import Role
from levelmoor.core.model.through import LEVEL_WORDS, FieldLevel, Fixture, HeatRun, LevelKind
from levelmoor.core.plan.accessory_walk import PLACES, accessory_walk, facts_at, setup_at
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.through.through_verdict import explained
from levelmoor.core.words.bounds import NUMBERS, TEXTS
from levelmoor.core.words.figures import format_mhz
from levelmoor.core.words.sentence import sentence
from levelmoor.formats.field_text import read_values
from levelmoor.formats.heat_log import read_heat_log, typed_lines
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.rawtext import decode
from levelmoor.records import tables as t
from levelmoor.records.apart import read_apart
from levelmoor.records.database import now
from levelmoor.records.field import HEAT, LEVEL, FieldProblem, Record, add_records, add_through
from levelmoor.records.mapping import evaluation_of
from levelmoor.records.place import Place
from levelmoor.records.setups import another_like
from levelmoor.web.cell_values import CellProblem, moment_cell, number
from levelmoor.web.cells import CELLS
from levelmoor.web.context import db, for_members, team
from levelmoor.web.downloads import of_upload
from levelmoor.web.entries import pressed
from levelmoor.web.hand import as_shown, choose
from levelmoor.web.in_parts import part_asked
from levelmoor.web.live.drivers import drivers_of
from levelmoor.web.live.held import live_instruments
from levelmoor.web.through.view import page_of
from levelmoor.web.workbench.screen import Screen, evaluation_or_404, shown
from levelmoor.web.workbench.work import Work

through = Blueprint("through", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/through")


def _shown(row: t.Evaluation, changed: bool) -> dict[str, Any]:
    screen = shown(row, changed=changed, draw=False)
    evaluation = screen.bench.evaluation
    data = {
        "page": page_of(evaluation, str(screen.hand.sample_id or ""), part_asked("sweeps")),
        "walk": accessory_walk(evaluation, str(screen.hand.sample_id or "")),
        "found": _found(screen),
        "usual_duty": USUAL_DUTY,
        "explained": explained(),
        "names": {str(s.id): s.name for s in row.setups},
        "from_ports": _from_ports(),
    }
    return {**vars(screen), **data}


def _found(screen: Screen) -> list[tuple[str, Verdict]]:
    """What is found of each claim of the sample in hand, in the claims' words."""
    sample = str(screen.hand.sample_id or "")
    mine = [f for f in screen.bench.findings.claims if f.sample_id == sample]
    return [(screen.bench.wording(f.claim_id), f.verdict) for f in mine]


def _from_ports() -> list[t.Instrument]:
    """The live instruments that sweep from port to port."""
    drivers = drivers_of(db(), team().id)
    return [i for i in live_instruments() if (driver := drivers.get(i.driver)) and driver.through]


WORK = Work("through/work.html", _shown, ("throughs", "field_records", "setups"))
again = WORK.again


@through.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    return render_template("through/page.html", **WORK.shown(evaluation_or_404(evaluation_id)))


@through.post("/place")
@for_members
def put_at(evaluation_id: int) -> ResponseReturnValue:
    """The accessory is put at a place, or left out: the setup for it is in hand, made where there is none."""
    row, place = evaluation_or_404(evaluation_id), request.form.get("place", "")
    if place not in PLACES:
        abort(422)
    known = setup_at(evaluation_of(row), place)
    if known is None:
        name = f"Antenna, choke {place}" if place else "Antenna, no choke"
        made = another_like(row.setups[0], name, Role.COMPARISON, **facts_at(row.product.name, place))
        row.setups.append(made)
        db().flush()
    choose(row, setup_id=int(known.id) if known else made.id)
    return again(row)


@through.post("/sweeps")
@for_members
def add(evaluation_id: int) -> ResponseReturnValue:
    """Sweeps through what is on the bench, all of them or none."""
    row, form = evaluation_or_404(evaluation_id), request.form
    uploads = [f for f in request.files.getlist("file") if f.filename]
    if form.get("fixture", "") not in list(Fixture):
        abort(422)
    hand = as_shown(row)
    try:
        if not uploads:
            raise FieldProblem("Choose a two-port file (.s2p), or a CSV with S21 in dB.")
        day = moment_cell(form.get("taken_on", ""), row) or now().isoformat(timespec="minutes")[:16]
        for upload in uploads:
            name = of_upload(upload.filename)
            add_through(db(), row, name, upload.read(), Fixture(form["fixture"]), Place.of(hand), day)
    except (FileProblem, FieldProblem, CellProblem) as problem:
        return again(row, "sweeps", problem)
    return again(row)


WORK.keeps(through, "through", "/sweeps", lambda row: row.throughs, lambda one: f"the sweep {one.name}")


@through.post("/levels")
@for_members
def add_level(evaluation_id: int) -> ResponseReturnValue:
    """Readings of a current or of noise, in the setup on the bench."""
    row, form = evaluation_or_404(evaluation_id), request.form
    hand = as_shown(row)
    if form.get("kind", "") not in list(LevelKind):
        abort(422)
    try:
        kind = LevelKind(form["kind"])
        values, unit = read_values(form.get("values", ""), kind)
        hz = parse_frequency(form.get("frequency", ""))
        power = form.get("power", "").strip()
        watts = number(power, "watts, as in 10", *NUMBERS["trial.power_w"]) if power else None
        note = _note(form.get("note", ""), "level.note")
        placed = (str(hand.sample_id or ""), str(hand.setup_id or ""))
        one = FieldLevel(
            "", kind, *placed, hz, values, unit, watts, now().isoformat(timespec="minutes")[:16], note=note
        )
        words = f"{LEVEL_WORDS[kind]} on {format_mhz(hz)} MHz"
        _keep(row, LEVEL, one, words)
    except (ValueError, CellProblem) as problem:
        return again(row, "level", sentence(problem))
    return again(row)


@through.post("/heat")
@for_members
def add_heat(evaluation_id: int) -> ResponseReturnValue:
    """A run under power with its temperatures, typed or from a logger."""
    row, form, upload = evaluation_or_404(evaluation_id), request.form, request.files.get("file")
    hand = as_shown(row)
    try:
        where, mode, note = (_note(form.get(n, ""), f"heat.{n}") for n in ("where", "mode", "note"))
        if upload and upload.filename:
            name = of_upload(upload.filename)
            log = read_apart(read_heat_log, name, decode(name, upload.read()), where)
            note = "; ".join(filter(None, (note, name, *log.said)))
        else:
            log = read_apart(read_heat_log, "the table", typed_lines(form.get("points", "")), where)
        power = number(form.get("power", ""), "watts, as in 100", *NUMBERS["trial.power_w"])
        limit, at = form.get("limit", "").strip(), form.get("frequency", "").strip()
        with_what = CELLS["record"]["instrument_id"](form.get("instrument", ""), row)
        one = HeatRun(
            "",
            str(hand.sample_id or ""),
            str(hand.setup_id or ""),
            power,
            log.points,
            parse_duty(form.get("duty", ""), mode),
            mode,
            parse_frequency(at) if at else None,
            where=where,
            limit_c=number(limit, "°C, as in 90", *NUMBERS["heat.celsius"]) if limit else None,
            taken_on=now().isoformat(timespec="minutes")[:16],
            note=note[: TEXTS["heat.note"]],
            setting_id=str(hand.setting_id or ""),
            instrument_id=str(with_what or ""),
        )
        _keep(row, HEAT, one, f"run with {power:g} W")
    except FileProblem as problem:
        return again(row, "heat", problem)
    except (ValueError, CellProblem) as problem:
        return again(row, "heat", sentence(problem))
    return again(row)


def _note(text: str, of: str) -> str:
    bare = " ".join(text.split())
    if len(bare) > TEXTS[of]:
        raise CellProblem(f"At most {TEXTS[of]} characters; this has {len(bare)}.")
    return bare


def _keep(row: t.Evaluation, kind: str, one: Record, words: str) -> None:
    add_records(db(), row, kind, [(pressed(kind), one, words)], current_user.name)


WORK.keeps(
    through, "record", "/records", lambda row: row.field_records, lambda record: record.words or record.kind,
    ("remove_record", "record_cell"),
)  # fmt: skip
