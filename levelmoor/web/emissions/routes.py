"""Emissions: the path, the captures, and the verdict on each harmonic."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue

from levelmoor.core.emissions.emission_path import path_in_words
from levelmoor.core.model.instrument_address import check_reach, parse_address
from levelmoor.core.model.rule_sets import Limit
from levelmoor.core.rf.curve import format_curve, parse_curve
from levelmoor.core.rf.spectral_lines import ASIDE
from levelmoor.core.words.sentence import sentence
from levelmoor.formats.capture_file import LEVEL_UNITS, typed_levels
from levelmoor.formats.column_units import ColumnsProblem
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.trace_file import S21, read_trace_file
from levelmoor.instruments.analyzer import Analyzer, Span
from levelmoor.instruments.connection import Connection
from levelmoor.instruments.problem import InstrumentProblem
from levelmoor.records import tables as t
from levelmoor.records.apart import read_apart
from levelmoor.records.bench import rows_of
from levelmoor.records.captures import (
    Circumstances,
    add_capture,
    name_columns,
    name_unit,
    rule_sets_of,
    take_out,
    unit_named,
)
from levelmoor.records.database import now
from levelmoor.records.leases import take
from levelmoor.records.place import Place
from levelmoor.records.raw_files import keep_raw
from levelmoor.web.cell_values import CellProblem, frequency, moment_cell, number
from levelmoor.web.cells import CELLS, set_cell
from levelmoor.web.conflicts import in_words, meanwhile
from levelmoor.web.context import db, for_members, maker, team
from levelmoor.web.downloads import of_upload
from levelmoor.web.emissions.view import PathAsked, carriers, look, usual_path
from levelmoor.web.hand import choose, hand_of
from levelmoor.web.live.drivers import drivers_of
from levelmoor.web.live.runs import reach
from levelmoor.web.removal import removed, said_removed
from levelmoor.web.workbench.screen import evaluation_or_404, shown

emissions = Blueprint("emissions", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/emissions")
LIVE_POINTS = 1601
RBW_BESIDE_HZ = 10e3
"""What stands beside the carrier is told from it with so much, or less."""


@emissions.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    return render_template("emissions/page.html", **_shown(evaluation_or_404(evaluation_id)))


def _shown(row: t.Evaluation, changed: bool = False) -> dict[str, Any]:
    screen = shown(row, changed=changed, draw=False)
    evaluation, behind = screen.bench.evaluation, screen.bench.behind
    asked = usual_path(evaluation, behind.book)
    filters = [(f.file_name.rsplit(".", 1)[0], read_trace_file(f.file_name, f.raw_file.data)[0]) for f in row.filters]
    seen, figure = look(evaluation, behind.book, asked)
    live = {i.id for i in rows_of(db(), team().id, "instrument") if i.address and i.driver}
    return {
        **vars(screen),
        "asked": asked,
        "path_look": seen,
        "path": figure,
        "carriers": carriers(evaluation, screen.bench.findings, behind, filters),
        "captures": row.captures,
        "granted": {c.id for c in row.captures if not unit_named(c)},
        "level_units": LEVEL_UNITS,
        "pads": rows_of(db(), team().id, "pad"),
        "offset": format_curve(asked.offset),
        "paths": {str(c.id): path_in_words(p, c, 1) for c, p in behind.paths},
        "rule_sets": rule_sets_of(db(), team().id).values(),
        "live": live,
        "Limit": Limit,
        "problems": (),
        "form": {},
        "columns_of": None,
    }


def _again(row: t.Evaluation, *problems: object, **more: object) -> ResponseReturnValue:
    if problems:
        db().rollback()
        row = evaluation_or_404(row.id)
        more = {"form": request.form, **more}
    db().flush()
    data = {**_shown(row, changed=not problems), "problems": problems, **more}
    return render_template("workbench/frame_changed.html", work="emissions/work.html", **data), (
        422 if problems else 200
    )


def _asked(row: t.Evaluation) -> tuple[PathAsked, Circumstances]:
    """The path as typed; raises CellProblem naming what is wrong."""
    form = request.form
    offset = None
    if form.get("offset", "").strip():
        try:
            offset = parse_curve(form["offset"])
        except ValueError as problem:
            raise CellProblem(sentence(problem)) from None
    known = {str(p.id) for p in rows_of(db(), row.team_id, "pad")}
    pads = tuple(p for p in form.getlist("pad") if p in known)
    if len(set(pads)) < len(pads):
        raise CellProblem("A pad appears twice in the path; choose each one once.")
    lines = {str(x.id): x.id for x in rows_of(db(), row.team_id, "line")}
    line = lines.get(form.get("line", ""))
    if offset and (pads or line):
        raise CellProblem("The attenuation is for the whole path: clear it, or choose no pad and no cable.")
    rbw = 1e3 * number(form.get("rbw", "") or "0", "a resolution bandwidth in kHz, as in 30", 0, 1e5)
    asked = PathAsked(
        carrier_hz=frequency(form.get("carrier", "")),
        power_w=number(form.get("power", "") or "5", "watts above 0, as in 5", 1e-6, 1e6),
        duty=number(form.get("duty", "") or "25", "a duty cycle in per cent, 1 to 100", 0.1, 100) / 100,
        pad_ids=pads,
        line_id=str(line or ""),
        instrument_id=form.get("instrument", "") or str(hand_of(row).instrument_id),
        rbw_hz=rbw,
        offset=offset,
        mode=form.get("mode", "")[:40],
    )
    said = Circumstances(
        asked.carrier_hz, rbw, asked.mode, tuple(int(p) for p in pads), line, offset,
        " ".join(form.get("filter_name", "").split())[:60], taken_on=str(moment_cell(form.get("taken_on", ""), row)),
        entered_db=number(form.get("entered", "") or "0", "an offset in dB, as in 30", -200, 200),
    )  # fmt: skip
    return asked, said


@emissions.post("/path")
@for_members
def path(evaluation_id: int) -> ResponseReturnValue:
    """The path as it is typed, before anything is keyed."""
    row = evaluation_or_404(evaluation_id)
    screen = shown(row, draw=False)
    try:
        asked, _ = _asked(row)
    except CellProblem as problem:
        return render_template("emissions/path.html", path_look=None, path=("", ""), wrong=str(problem))
    seen, figure = look(screen.bench.evaluation, screen.bench.behind.book, asked)
    return render_template("emissions/path.html", path_look=seen, path=figure, wrong="")


def _chosen(row: t.Evaluation) -> t.InHand:
    """Sample, setup and instrument of the form are in hand from now on."""
    asked = {name: request.form.get(name, type=int) for name in ("sample", "setup", "instrument")}
    rows: dict[str, Sequence[Any]] = {
        "sample": row.samples,
        "setup": row.setups,
        "instrument": rows_of(db(), row.team_id, "instrument"),
    }
    return choose(row, **{f"{n}_id": asked[n] for n in rows if asked[n] in [r.id for r in rows[n]]})


@emissions.post("/captures")
@for_members
def add(evaluation_id: int) -> ResponseReturnValue:
    """Spectra from files, or levels typed in; each is read whole or refused whole."""
    row = evaluation_or_404(evaluation_id)
    try:
        _, said = _asked(row)
        given = [(of_upload(f.filename), f.read()) for f in request.files.getlist("files") if f.filename]
        if request.form.get("levels", "").strip():
            given.append((f"levels-{datetime.now():%H%M%S}.csv", typed_levels(request.form["levels"])))
        if not given:
            return _again(row, "Add the spectrum as CSV, or type the levels.")
        place = Place.of(_chosen(row))
        headings = request.form.getlist("heading")
        if headings:
            columns = "{frequency_column}:frequency,{level_column}:level {level_unit}".format_map(request.form)
            name_columns(db(), row.team_id, given, headings, columns)
            db().commit()  # what is named once stays, also where another file cannot be read
        for name, data in given:
            add_capture(db(), row, name, data, said, place)
    except ColumnsProblem as problem:
        return _again(row, problem, columns_of=problem.headings)
    except (FileProblem, CellProblem) as problem:
        return _again(row, problem)
    except ValueError as problem:
        return _again(row, sentence(problem))
    return _again(row)


def _live_span(asked: PathAsked, top_hz: float | None, near: bool) -> Span:
    """From half the carrier to over its fifth harmonic; or `near` it, so fine that what stands beside it is told."""
    f0 = asked.carrier_hz
    if near:
        room = 1.2 * ASIDE * f0
        return Span(f0 - room, f0 + room, LIVE_POINTS, rbw_hz=min(asked.rbw_hz or RBW_BESIDE_HZ, RBW_BESIDE_HZ))
    return Span(0.5 * f0, min(5.2 * f0, top_hz or 5.2 * f0), LIVE_POINTS, rbw_hz=asked.rbw_hz or 100e3)


@emissions.post("/live")
@for_members
def live(evaluation_id: int) -> ResponseReturnValue:
    """One spectrum from the analyzer while the radio is keyed: to its harmonics, or what stands beside the carrier."""
    row = evaluation_or_404(evaluation_id)
    try:
        asked, said = _asked(row)
        place = Place.of(_chosen(row))
        instrument = next((i for i in rows_of(db(), team().id, "instrument") if i.id == place.instrument_id), None)
        driver = drivers_of(db(), team().id).get(instrument.driver) if instrument else None
        if instrument is None or driver is None or driver.kind != "spectrum":
            return _again(row, "That is not a live spectrum analyzer; give it an address and a driver first.")
        address = parse_address(instrument.address)
        check_reach(address, reach())
        span = _live_span(asked, instrument.high_hz, near=bool(request.form.get("near")))
        db().commit()  # nobody else's change waits for the sweep
        take(maker(), str(address), team().id)
        with Connection(address) as connection:
            analyzer = Analyzer(driver, connection)
            analyzer.configure(span)
            trace = analyzer.trace()
    except (CellProblem, ValueError) as problem:
        return _again(row, sentence(problem))
    except InstrumentProblem as problem:
        return _again(row, sentence(problem))
    db().expire_all()
    row = evaluation_or_404(evaluation_id)
    rows = (f"{f:.0f},{v:.2f}" for f, v in zip(trace.frequency_hz.tolist(), trace.level_db.tolist(), strict=True))
    data = "\n".join(("Frequency Hz,Level dBm", *rows, "")).encode()
    at = now()
    said = replace(said, rbw_hz=span.rbw_hz, taken_on=at.isoformat(timespec="minutes")[:16])
    add_capture(db(), row, f"capture-{at:%Y%m%d-%H%M%S}.csv", data, said, place)
    return _again(row)


def _capture(row: t.Evaluation, capture_id: int) -> t.Capture:
    return next((c for c in row.captures if c.id == capture_id), None) or abort(404)


@emissions.post("/captures/<int:capture_id>/<name>")
@for_members
def cell(evaluation_id: int, capture_id: int, name: str) -> ResponseReturnValue:
    """One cell of a capture, and everything that rests on it anew."""
    row = evaluation_or_404(evaluation_id)
    capture = _capture(row, capture_id)
    if name not in CELLS["capture"]:
        abort(404)
    try:
        set_cell("capture", capture, name, request.form.get("value", ""), row)
        if name == "rbw_hz":
            capture.rbw_hz *= 1e3
        if other := meanwhile(capture, name):
            raise CellProblem(in_words(other, request.form.get("value", "")))
    except CellProblem as problem:
        return _again(row, problem)
    db().flush()
    db().refresh(capture, ["instrument"])
    return _again(row)


@emissions.post("/captures/<int:capture_id>/unit")
@for_members
def unit(evaluation_id: int, capture_id: int) -> ResponseReturnValue:
    """In what unit a capture's levels are, where its file does not say."""
    row = evaluation_or_404(evaluation_id)
    try:
        name_unit(_capture(row, capture_id), request.form.get("value", ""))
    except FileProblem as problem:
        return _again(row, problem)
    return _again(row)


@emissions.post("/captures/<int:capture_id>/remove")
@for_members
def remove(evaluation_id: int, capture_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    capture = _capture(row, capture_id)
    take_out(db(), capture)
    said_removed(capture, f"a capture of {row.product.name} was removed: {capture.name}")
    db().expire(row, ["captures"])
    return _again(row)


@emissions.post("/rules")
@for_members
def rules(evaluation_id: int) -> ResponseReturnValue:
    """By which rule sets the evaluation is judged."""
    row = evaluation_or_404(evaluation_id)
    known = rule_sets_of(db(), team().id)
    row.rule_ids = [r for r in request.form.getlist("rules") if r in known]
    return _again(row)


@emissions.post("/filters")
@for_members
def add_filter(evaluation_id: int) -> ResponseReturnValue:
    """The two-port sweep of a filter that might be added."""
    row = evaluation_or_404(evaluation_id)
    file = request.files.get("file")
    if file is None or not file.filename:
        return _again(row, "Choose the two-port sweep (.s2p) of the filter.")
    name, data = of_upload(file.filename), file.read()
    try:
        if read_apart(read_trace_file, name, data)[1] != S21:
            return _again(row, f"{name} is not a two-port sweep; sweep the filter from port to port, as .s2p.")
    except FileProblem as problem:
        return _again(row, problem)
    db().add(t.Filter(evaluation_id=row.id, raw_file=keep_raw(db(), row.team_id, data), file_name=name))
    db().flush()
    db().expire(row, ["filters"])
    return _again(row)


@emissions.post("/filters/<int:filter_id>/remove")
@for_members
def remove_filter(evaluation_id: int, filter_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    found = next((f for f in row.filters if f.id == filter_id), None) or abort(404)
    removed(found, f"a filter of {row.product.name} was removed: {found.file_name}")
    db().flush()
    db().expire(row, ["filters"])
    return _again(row)
