"""The bench: calibrations on record, and the checks that prove it."""

import re
from collections.abc import Callable, Mapping
from dataclasses import asdict
from typing import Any

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue

from levelmoor.core.model.bench_records import BENCH_RULE_WORDS, CHECK_WORDS, CHECKS, CheckKind, RawPart, Reads
from levelmoor.core.model.evaluation import PLANE_WORDS
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.words.bounds import LONG_LETTERS, one_line
from levelmoor.formats.evidence_files import STANDARDS, filled_check
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.sweepfile import read_sweep_file
from levelmoor.formats.trace_file import read_trace_file
from levelmoor.records import tables as t
from levelmoor.records.apart import read_apart
from levelmoor.records.bench import calibration_rows, check_of, check_rows, rows_of
from levelmoor.records.raw_files import keep_raw
from levelmoor.web.bench.view import calibration_cards, check_cards
from levelmoor.web.cell_values import moment_cell, number
from levelmoor.web.context import db, for_members, team
from levelmoor.web.downloads import of_upload
from levelmoor.web.hand import choose, hand_of
from levelmoor.web.removal import removed
from levelmoor.web.workbench.screen import evaluation_or_404, shown
from levelmoor.web.workbench.work import Work

bench = Blueprint("bench", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/bench")

"""Which kind of piece a check is of."""


class _Refused(ValueError):
    """What keeps a record or a check from being kept, and the field it is about."""

    def __init__(self, field: str, words: str) -> None:
        super().__init__(words)
        self.field = field


@bench.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    return render_template("bench/page.html", **{**WORK.shown(row), "form": _of_sweep(row)})


def _shown(row: t.Evaluation, changed: bool) -> dict[str, Any]:
    screen = shown(row, changed=changed, draw=False)
    evaluation = screen.bench.evaluation
    pieces = {kind: rows_of(db(), row.team_id, kind) for kind in ("load", "line", "pad", "radio", "kit")}
    return {
        **vars(screen),
        **{f"{kind}s": rows for kind, rows in pieces.items()},
        "calibration_cards": calibration_cards(list(calibration_rows(db(), row.team_id)), evaluation),
        "check_cards": check_cards(list(check_rows(db(), row.team_id)), evaluation),
        "check_words": CHECK_WORDS,
        "check_kinds": list(CheckKind),
        "bench_rules": BENCH_RULE_WORDS,
        "planes": PLANE_WORDS,
        "new_kind": request.values.get("kind", "load"),
    }


def _of_sweep(row: t.Evaluation) -> dict[str, str]:
    """What a sweep that asks for its calibration already says of it."""
    sweep = next((s for s in row.sweeps if str(s.id) == request.args.get("sweep")), None)
    if sweep is None:
        return {}
    return {
        "for_sweep": str(sweep.id),
        "instrument_id": str(sweep.instrument_id),
        "low": f"{sweep.low_hz / 1e6:.9g} MHz",
        "high": f"{sweep.high_hz / 1e6:.9g} MHz",
        "points": str(sweep.points),
    }


WORK = Work("bench/work.html", _shown)


def _field(name: str, parse: Callable[[str], Any], needed: str = "") -> Any:
    typed = request.form.get(name, "").strip()
    if not typed:
        if needed:
            raise _Refused(name, needed)
        return None
    try:
        return parse(typed)
    except ValueError as problem:
        raise _Refused(name, str(problem)) from None


def _own(rows: Any, name: str, what: str, needed: bool = True) -> int | None:
    """The id of one of the team's own rows."""
    typed = request.form.get(name, "")
    if not typed and not needed:
        return None
    found = next((r for r in rows if str(r.id) == typed), None)
    if found is None:
        raise _Refused(name, f"choose {what}")
    return int(found.id)


def _whole(text: str) -> int:
    return int(number(text, "a number of points, as in 401", 0, 1e6))


# -- Calibrations ----------------------------------------------------------------------------------------------------


@bench.post("/calibrations")
@for_members
def add_calibration(evaluation_id: int) -> ResponseReturnValue:
    """A calibration: standards, span, points, plane, instrument and time, and raw sweeps of the standards."""
    row = evaluation_or_404(evaluation_id)
    try:
        low = _field("low", parse_frequency, "enter the lower end of the span, as in 140 MHz")
        high = _field("high", parse_frequency, "enter the upper end of the span, as in 150 MHz")
        if not low < high:
            raise _Refused("high", "the upper end of the span must be above its lower end")
        plane = request.form.get("plane", "connector")
        if plane not in [p.value for p in PLANE_WORDS]:
            raise _Refused("plane", "choose the plane")
        record = t.Calibration(
            team_id=team().id,
            instrument_id=_own(rows_of(db(), team().id, "instrument"), "instrument_id", "the instrument"),
            low_hz=low,
            high_hz=high,
            points=_field("points", _whole) or 0,
            standards=request.form.get("standards", "").strip()[:200] or "open, short, load",
            plane=plane,
            at=request.form.get("at", "").strip()[:200],
            kit_id=_own(rows_of(db(), team().id, "kit"), "kit_id", "a kit", needed=False),
            load_id=_own(rows_of(db(), team().id, "load"), "load_id", "a load", needed=False),
            done_at=_field("done_at", lambda v: moment_cell(v, row), "enter when it was done"),
            parts=_standards(),
        )
    except _Refused as problem:
        return WORK.again(row, f"calibration-{problem.field}", problem)
    except FileProblem as problem:
        return WORK.again(row, "calibration-files", problem)
    db().add(record)
    db().flush()
    choose(row, calibration="at_plane", calibration_id=record.id, instrument_id=record.instrument_id)
    for sweep in (s for s in row.sweeps if str(s.id) == request.form.get("for_sweep")):
        sweep.calibration, sweep.calibration_id = "at_plane", record.id
    return WORK.again(row)


def _standards() -> list[dict[str, Any]]:
    """The raw sweeps of open, short and load: all three or none."""
    parts = []
    for role in STANDARDS:
        file = request.files.get(role)
        if file is None or not file.filename:
            continue
        data = file.read()
        read = read_apart(read_sweep_file, file.filename, data)
        if read.sweep.scalar:
            raise _Refused("files", f"{file.filename} has SWR alone; a correction needs complex reflection")
        keep_raw(db(), team().id, data)
        parts.append(_part(file.filename, data, read.options.unit, read.options.kind, role))
    if parts and len(parts) < len(STANDARDS):
        raise _Refused("files", "add raw sweeps of open, short and load, or none")
    return parts


def _part(name: str, data: bytes, unit: str = "", kind: str = "", role: str = "") -> dict[str, Any]:
    raw = keep_raw(db(), team().id, data)
    return asdict(RawPart(of_upload(name), raw.sha256, 1, unit, kind, role))


@bench.post("/calibrations/<int:row_id>/remove")
@for_members
def remove_calibration(evaluation_id: int, row_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    record = next((c for c in calibration_rows(db(), team().id) if c.id == row_id), None) or abort(404)
    removed(record, f"the calibration of {record.done_at} was removed")
    if hand_of(row).calibration_id == record.id:
        choose(row, calibration="unstated", calibration_id=None)
    return WORK.again(row)


# -- Checks ----------------------------------------------------------------------------------------------------------


@bench.post("/checks")
@for_members
def add_check(evaluation_id: int) -> ResponseReturnValue:
    """A check with its files; read whole, or refused whole with what is wrong."""
    row, form = evaluation_or_404(evaluation_id), request.form
    try:
        kind = CheckKind(form.get("kind", ""))
    except ValueError:
        abort(404)
    try:
        new = _check(row, kind)
        db().add(new)
        db().flush()
        files = {p["sha256"]: _data(p["sha256"]) for p in new.parts}
        filled_check(check_of(new), files)
    except _Refused as problem:
        return WORK.again(row, f"check-{problem.field}", problem)
    except FileProblem as problem:
        return WORK.again(row, "check-files", problem)
    return WORK.again(row)


def _data(digest: str) -> bytes:
    return db().query(t.RawFile).filter_by(team_id=team().id, sha256=digest).one().data


def _check(row: t.Evaluation, kind: CheckKind) -> t.BenchCheck:
    instruments = rows_of(db(), team().id, "instrument")
    calibrations = calibration_rows(db(), team().id)
    calibration = None
    spec = CHECKS[kind]
    if spec.calibration:
        calibration = _own(calibrations, "calibration_id", "the calibration it was swept with; record it first")
        instrument: int | None = next(c.instrument_id for c in calibrations if c.id == calibration)
    else:
        instrument = _own(instruments, "instrument_id", "the instrument", needed=spec.needs_instrument)
    item = None
    if spec.piece:
        what = f"the {'feed line' if spec.piece == 'line' else spec.piece}; add it under Equipment first"
        item = _own(rows_of(db(), team().id, spec.piece), "item_id", what, spec.needs_piece)
    figure = _field(*FIGURES[spec.figure]) if spec.figure else None
    by_pairs = spec.reads is Reads.PAIRS
    return t.BenchCheck(
        team_id=team().id,
        kind=kind.value,
        instrument_id=instrument,
        calibration_id=calibration,
        item_id=item,
        done_at=_field("done_at", lambda v: moment_cell(v, row), "enter when it was done"),
        parts=[] if by_pairs else _check_files(kind),
        figures={spec.figure: figure} if figure else {},
        pairs=_field("pairs", _pairs, "enter the loads, as in 1.00 1.1; 2.0 2.3") if by_pairs else [],
        note=request.form.get("note", "").strip()[:2000],
    )


def _khz(text: str) -> float:
    return 1e3 * number(text.removesuffix("kHz"), "kHz above 0, as in 10", 1e-3, 1e5)


FIGURES: Mapping[str, tuple[Any, ...]] = {
    "fundamental_hz": ("fundamental", parse_frequency),
    "frequency_hz": ("at", parse_frequency),
    "rbw_hz": ("rbw_khz", _khz, "enter the resolution bandwidth in kHz"),
}
"""The field that a figure of a check is typed in, how it is read, and what is asked where it is needed."""


def _pairs(text: str) -> list[list[float]]:
    """Pairs of SWR, by the analyzer and by the meter, one load after the other."""
    found = []
    for part in (p for p in one_line(text.replace("\n", ";")).split(";") if p.strip()):
        words = part.replace(",", ".").replace("/", " ").split()
        if len(words) != 2:
            pair = part.strip()
            raise ValueError(f"\"{pair}\" is not a pair; write the analyzer's SWR and the meter's, as in 2.0 2.3")
        found.append([number(w, "an SWR of at least 1, as in 2.0", 1, 1000) for w in words])
    return found


def _typed_levels(text: str) -> list[dict[str, Any]]:
    """Levels without and with a pad, typed by frequency, as the two traces that they are."""
    rows: dict[float, tuple[float, float]] = {}
    for part in (p.strip() for p in one_line(text.replace("\n", ";"), LONG_LETTERS).split(";") if p.strip()):
        match = re.fullmatch(r"(\S.*?) ([+\-−]?[\d.,]+) ([+\-−]?[\d.,]+)(?:\s{0,9}dBm?)?", part)
        if not match:
            raise ValueError(f'"{part}" is not a frequency and two levels; write 51 MHz -8.0 -38.3')
        levels = [number(v.replace("−", "-"), "a level in dBm, as in -50.8", -250, 100) for v in match.groups()[1:]]
        rows[parse_frequency(match[1])] = (levels[0], levels[1])
    parts = []
    for place, name in enumerate(("without", "with")):
        lines = [f"{f / 1e6:.6f},{levels[place]:g}" for f, levels in sorted(rows.items())]
        data = "\n".join(("Frequency MHz,Level dBm", *lines, "")).encode()
        parts.append(_part(f"typed-{name}-the-pad.csv", data, role="level"))
    return parts


def _check_files(kind: CheckKind) -> list[dict[str, Any]]:
    if kind is CheckKind.PAD and request.form.get("levels", "").strip():
        typed: list[dict[str, Any]] = _field("levels", _typed_levels)
        return typed
    files = [f for f in request.files.getlist("files") if f.filename]
    if not files:
        raise _Refused("files", "add the file of the check")
    parts = []
    for file in files:
        name, data = file.filename or "", file.read()
        if CHECKS[kind].reads is Reads.SWEEP:
            read = read_apart(read_sweep_file, name, data)
            parts.append(_part(name, data, read.options.unit, read.options.kind))
        else:
            _trace, what = read_apart(read_trace_file, name, data)
            parts.append(_part(name, data, role="s21" if what == "s21" else "level"))
    wanted = 2 if kind is CheckKind.PAD and parts[0]["role"] != "s21" else 1
    if len(parts) != wanted:
        words = (
            "a pad needs two traces, first without it and then with it, or one file of S21"
            if kind is CheckKind.PAD
            else "one file for each check"
        )
        raise _Refused("files", words)
    return parts


@bench.post("/checks/<int:row_id>/remove")
@for_members
def remove_check(evaluation_id: int, row_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    check = next((c for c in check_rows(db(), team().id) if c.id == row_id), None) or abort(404)
    removed(check, f"a {check.kind} check of {check.done_at} was removed")
    return WORK.again(row)
