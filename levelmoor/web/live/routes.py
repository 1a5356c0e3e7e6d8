"""The live view: an instrument swept over and over, on every screen of the team, and kept as evidence."""

import json
import queue
import time
from collections.abc import Iterable, Iterator
from contextlib import ExitStack, suppress
from dataclasses import replace
from typing import Any

from flask import Blueprint, Response, abort, current_app, jsonify, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from levelmoor.core.adjusting.hands import STEADY_S, Hands
from levelmoor.core.matching.guided_steps import PERMITTED, guided_steps
from levelmoor.core.model.evaluation import Calibration, Evaluation
from levelmoor.core.model.instrument_address import check_reach, parse_address
from levelmoor.core.model.through import FIXTURE_WORDS
from levelmoor.core.model.time_strips import STRIP_WORDS
from levelmoor.core.plan.plan_model import Run
from levelmoor.core.plan.plan_sweeps import USUAL_POINTS, span_around
from levelmoor.core.rf.frequency import parse_frequencies, parse_frequency
from levelmoor.core.rf.own_bands import with_ranges
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.limit import limits_in
from levelmoor.core.verdict.targets import Aim, SaidBy, aims_of, targets_in
from levelmoor.core.words.counting import counted
from levelmoor.core.words.figures import format_range
from levelmoor.core.words.sentence import sentence
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.touchstone_out import write_s1p
from levelmoor.instruments.analyzer import Span
from levelmoor.instruments.driver import Driver
from levelmoor.instruments.live import Taken
from levelmoor.instruments.problem import InstrumentProblem
from levelmoor.instruments.screens import TooManyScreens
from levelmoor.records import store, sweeps
from levelmoor.records import tables as t
from levelmoor.records.bench import instrument_of
from levelmoor.records.database import now
from levelmoor.records.leases import Leased
from levelmoor.records.mapping import evaluation_of
from levelmoor.records.place import Place
from levelmoor.services import live_commands
from levelmoor.services.list_card import refresh_card
from levelmoor.services.live_runs import SharedRun
from levelmoor.services.plans import plan_of
from levelmoor.web.context import db, for_members, team
from levelmoor.web.hand import choose, hand_of
from levelmoor.web.live.between_ports import between_of
from levelmoor.web.live.drivers import drivers_of
from levelmoor.web.live.held import instrument_or_404, lease, live_instruments, run_or_404
from levelmoor.web.live.runs import reach, runs
from levelmoor.web.live.view import Asked, drawn, drawn_between
from levelmoor.web.streams import Streams
from levelmoor.web.workbench.screen import evaluation_or_404, shown

live = Blueprint("live", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/live")

HEARTBEAT_S = 5.0
STEPS = ("open", "short", "load", "save")
NEXT = "next"
MOST_WANTED = 4


@live.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    screen = shown(row, draw=False)
    evaluation = screen.bench.evaluation
    plan = plan_of(evaluation)
    planned = _planned(plan.todo, request.args.get("run", ""))
    choices = live_instruments()
    wanted_id = request.args.get("instrument", type=int) or (
        int(planned.choice.instrument.id) if planned and planned.choice.instrument else screen.hand.instrument_id
    )
    instrument = next((i for i in choices if i.id == wanted_id), choices[0] if choices else None)
    driver = drivers_of(db(), team().id).get(instrument.driver) if instrument else None
    segment = min(request.args.get("segment", 0, type=int), len(planned.segments) - 1) if planned else 0
    running = runs().known(team().id, instrument.id, instrument.address, driver) if instrument and driver else None
    span = _span(evaluation, instrument, driver, planned, segment, running)
    with suppress(ValueError):  # a span of the plan's that the address names
        span = _given_span(span)
    targets = _targets(evaluation, span)
    return render_template(
        "live/page.html",
        **vars(screen),
        choices=choices,
        instrument=instrument,
        driver=driver,
        planned=planned,
        segment=segment,
        todo=plan.todo,
        span_now=span,
        from_plan=planned is not None or "low" in request.args,
        wanted=request.args.get("wanted", "") or ", ".join(f"{a.wanted_hz / 1e6:.9g}" for a in targets),
        targets=targets,
        join_to=request.args.get("join_to", ""),
        kept=request.args.get("kept", ""),
        strip_words=[(k.value, words) for k, words in STRIP_WORDS.items()],
        fixture_words=[(k.value, words) for k, words in FIXTURE_WORDS.items()],
        steps_of=guided_steps,
        permitted=PERMITTED,
    )


def _planned(todo: tuple[Run, ...], key: str) -> Run | None:
    sweepable = [r for r in todo if r.segments and not r.emission]
    if key == NEXT:
        return sweepable[0] if sweepable else None
    return next((r for r in sweepable if r.key == key), None)


def _span(
    evaluation: Evaluation,
    instrument: t.Instrument | None,
    driver: Driver | None,
    planned: Run | None,
    segment: int,
    running: SharedRun | None,
) -> Span:
    """The plan's segment, what is swept already, or the first claim's window with room on both sides."""
    if planned is not None:
        one = planned.segments[segment]
        return Span(one.low_hz, one.high_hz, one.points)
    if running is not None:
        return running.span
    if driver is not None and driver.kind == "spectrum":
        return Span(100e6, 800e6, 1401, rbw_hz=100e3)
    windows = [w for c in evaluation.claims for w in c.windows if not w.spot]
    core = instrument_of(instrument) if instrument else None
    low, high = span_around(windows[0], core) if windows else (140e6, 150e6)
    return Span(low, high, min(instrument.points or USUAL_POINTS, 401) if instrument else USUAL_POINTS)


def _targets(evaluation: Evaluation, span: Span) -> tuple[Aim, ...]:
    """The targets inside the span, the same as Adjust has; where no claim has one, the team's own frequencies."""
    found = targets_in(aims_of(evaluation), span.low_hz, span.high_hz, MOST_WANTED)
    own = [w for w in (*evaluation.spots, *evaluation.own_bands) if w.spot and span.low_hz <= w.low_hz <= span.high_hz]
    return found or tuple(Aim(w, w.low_hz, evaluation.profile.limit_swr, said_by=SaidBy.SPOT) for w in own[:1])


def _given_span(default: Span) -> Span:
    """The span typed on the page; raises ValueError naming what is wrong."""
    form = request.values
    points = form.get("points", "").strip()
    if points and not points.isdigit():
        raise ValueError(f'"{points}" is not a number of points; write it like 401')
    span = replace(
        default,
        low_hz=parse_frequency(form["low"]) if form.get("low") else default.low_hz,
        high_hz=parse_frequency(form["high"]) if form.get("high") else default.high_hz,
        points=int(points) if points else default.points,
    )
    Window(span.low_hz, span.high_hz)
    return span


@live.get("/<int:instrument_id>/stream")
@for_members
def stream(evaluation_id: int, instrument_id: int) -> ResponseReturnValue:
    """Server-sent events: how the run stands, its progress, and every sweep drawn."""
    row = evaluation_or_404(evaluation_id)
    instrument, driver = instrument_or_404(instrument_id)
    evaluation = evaluation_of(row)
    streams: Streams = current_app.config["STREAMS"]
    try:
        with ExitStack() as entered:
            start = _given_span(Span(140e6, 150e6, 201, rbw_hz=100e3))
            check_reach(parse_address(instrument.address), reach())  # what may not be reached is nobody's to hold
            renew = lease(instrument)
            streams.enter(person := current_user.id)
            entered.callback(streams.leave, person)
            run = runs().of(team().id, instrument.id, instrument.address, driver)
            wanted = wanted_of(request.args.get("wanted", ""), evaluation.own_bands)
            screen = run.follow(start)
            entered.callback(run.leave, screen)
            setup = next((s for s in row.setups if s.id == hand_of(row).setup_id), None)
            held = entered.pop_all()
    except (ValueError, TooManyScreens) as problem:
        words = sentence(problem)
        return Response(_event("status", {"state": "refused", "words": words}), mimetype="text/event-stream")
    tuner = setup is not None and setup.tuner_in_line
    asked = Asked(limits_in(evaluation), instrument_of(instrument).figures, wanted, tuner)
    between = between_of(evaluation, instrument)
    hands = Hands(_steady_s(request.args.get("steady", "")))
    db().rollback()  # nothing of the database is held while the stream stays open

    def told() -> Iterator[str]:
        yield "retry: 2000\n\n"
        while True:
            try:
                renew()
            except Leased as problem:
                yield _event("status", {"state": "refused", "words": sentence(problem)})
                return
            yield from _next_events(run, screen, asked, hands, between)

    headers = {"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    response = Response(told(), mimetype="text/event-stream", headers=headers)
    response.call_on_close(held.close)  # however the stream ends, also before its first word
    return response


def _steady_s(text: str) -> float:
    """Seconds of standing still as typed, within what makes sense."""
    try:
        return min(max(float(text.replace(",", ".")), 0.5), 60.0)
    except ValueError:
        return STEADY_S


def wanted_of(text: str, own: Iterable[Window] = ()) -> tuple[float, ...]:
    """The wanted frequencies as typed, or channels of the team's own by name, a comma or a semicolon between; at most
    four."""
    found = tuple(parse_frequencies(with_ranges(text, (w for w in own if w.spot))))
    if len(found) > MOST_WANTED:
        raise ValueError(f"at most {MOST_WANTED} targets are allowed; you wrote {len(found)}")
    return found


def _next_events(run, screen, asked, hands, between) -> Iterator[str]:  # type: ignore[no-untyped-def]
    """What has happened since: of several sweeps that wait only the latest is drawn."""
    try:
        events = [screen.get(timeout=HEARTBEAT_S)]
    except queue.Empty:
        yield _event("here", {})
        return
    while not screen.empty():
        events.append(screen.get())
    last = max((i for i, e in enumerate(events) if e.kind == "sweep"), default=-1)
    for i, event in enumerate(events):
        if event.kind != "sweep":
            yield _event(event.kind, event.data)
        elif i == last and (taken := run.taken(event.data["number"])) is not None:
            if taken.through is not None:
                data = drawn_between(taken, between, next(iter(asked.wanted_hz), None))
            else:
                data = drawn(taken, asked)
            if "dips" in data:
                stands = hands.tell(time.monotonic(), data["dips"], data["levels"], taken.span)
                data = {k: v for k, v in data.items() if k not in ("dips", "levels")}
                data = {**data, "hand": {"state": stands.state, "words": stands.words, "counts": stands.counts}}
            yield _event("sweep", data)


def _event(kind: str, data: dict[str, Any]) -> str:
    return f"event: {kind}\ndata: {json.dumps(data, ensure_ascii=False)}\n\n"


@live.post("/<int:instrument_id>/span")
@for_members
def change(evaluation_id: int, instrument_id: int) -> ResponseReturnValue:
    """Another span from the next sweep on, for every screen."""
    evaluation_or_404(evaluation_id)
    run = run_or_404(instrument_id)
    try:
        span = _given_span(run.span)
    except ValueError as problem:
        return jsonify(problem=sentence(problem)), 422
    run.change(span)
    points = counted(span.points, "point")
    return jsonify(said=f"{format_range(span.low_hz, span.high_hz)} with {points} from the next sweep on.")


@live.post("/<int:instrument_id>/calibrate/<step>")
@for_members
def calibrate(evaluation_id: int, instrument_id: int, step: str) -> ResponseReturnValue:
    """One standard measured by the instrument; with the last step the calibration goes on record, and on the bench."""
    row = evaluation_or_404(evaluation_id)
    run = run_or_404(instrument_id)
    if step not in STEPS:
        abort(404)
    try:
        words = str(run.ask(live_commands.calibrate(step)))
    except InstrumentProblem as problem:
        return jsonify(problem=sentence(problem)), 422
    if step == "save":
        record = _recorded(row, instrument_id, run.span)
        choose(row, calibration=Calibration.AT_PLANE.value, calibration_id=record.id)
        words += " It is on record, and new sweeps use it."
    return jsonify(said=words)


def _recorded(row: t.Evaluation, instrument_id: int, span: Span) -> t.Calibration:
    setup = next((s for s in row.setups if s.id == hand_of(row).setup_id), None)
    record = t.Calibration(
        team_id=row.team_id,
        instrument_id=instrument_id,
        low_hz=span.low_hz,
        high_hz=span.high_hz,
        points=span.points,
        plane=setup.plane if setup else "connector",
        at="on the instrument, from the live view",
        done_at=now().isoformat(timespec="minutes")[:16],
        parts=[],
    )
    db().add(record)
    db().flush()
    return record


@live.post("/<int:instrument_id>/correction")
@for_members
def correction(evaluation_id: int, instrument_id: int) -> ResponseReturnValue:
    """Corrected by the instrument, or raw."""
    evaluation_or_404(evaluation_id)
    run = run_or_404(instrument_id)
    try:
        return jsonify(said=run.ask(live_commands.correct(request.form.get("on") == "yes")))
    except InstrumentProblem as problem:
        return jsonify(problem=sentence(problem)), 422


@live.post("/<int:instrument_id>/keep")
@for_members
def keep(evaluation_id: int, instrument_id: int) -> ResponseReturnValue:
    """Keep a sweep that went by as evidence: of what is on the bench, or in its place in the plan."""
    row = evaluation_or_404(evaluation_id)
    instrument, _ = instrument_or_404(instrument_id)
    taken = run_or_404(instrument_id).taken(request.form.get("number", 0, type=int))
    if taken is None or taken.sweep is None:
        words = "That sweep is too old, or is not a reflection sweep; keep the one shown now."
        return jsonify(problem=words), 409
    name = f"live-{taken.at:%Y%m%d-%H%M%S}-{taken.number}.s1p"
    if any(s.file_name == name for s in row.sweeps):
        return jsonify(said=f"{name} is already saved.")
    place = _place(row, instrument.id, taken, lease(instrument)())
    state = {True: "corrected", False: "raw", None: "correction not known"}[taken.corrected]
    comment = f"{taken.identity}\n{taken.at:%Y-%m-%d %H:%M:%S} UTC, {state}"
    data = write_s1p(taken.sweep, comment).encode()
    try:
        sweep = sweeps.add_sweep(db(), row, name, data, taken_on=f"{taken.at:%Y-%m-%dT%H:%M}", place=place)
    except FileProblem as problem:
        return jsonify(problem=f"{problem}."), 409
    said = _joined(row, sweep)
    report = store.report_of(db(), row.id)
    refresh_card(row, len(report.revisions) if report else 0)
    said = said or f"Saved as {sweep.name}."
    if taken.corrected is not False and place.calibration == Calibration.UNSTATED.value:
        said += " Its correction is unknown; choose its calibration under Evidence."
    return jsonify(said=said, sweep=sweep.id)


def _place(row: t.Evaluation, instrument_id: int, taken: Taken, floor: int) -> Place:
    """The run's sample and setup where it came from the plan; raw data rest on no calibration yet."""
    bench = Place.of(hand_of(row))
    bench = replace(bench, instrument_id=instrument_id)
    if taken.corrected is False:
        bench = replace(bench, calibration=Calibration.NONE.value, calibration_id=None)
    # By what is not known where its driver cannot ask, and where another team had the instrument since.
    elif taken.corrected is None or (floor and (bench.calibration_id or 0) <= floor):
        bench = replace(bench, calibration=Calibration.UNSTATED.value, calibration_id=None)
    planned = _planned(plan_of(evaluation_of(row)).runs, request.form.get("run", ""))
    if planned is not None:
        bench = replace(bench, sample_id=int(planned.sample_id), setup_id=int(planned.setup_id))
    return bench


def _joined(row: t.Evaluation, sweep: t.Sweep) -> str:
    """A later pass of a run goes into the sweep of its first."""
    first = next((s for s in row.sweeps if str(s.id) == request.form.get("join_to", "")), None)
    if first is None or first is sweep:
        return ""
    try:
        sweeps.join(first, sweep)
    except ValueError as problem:
        return f"Saved separately: {problem}."
    sweep.deleted_at = now()
    db().flush()
    db().expire(row, ["sweeps"])
    return f"Saved as another pass of {first.name}."
