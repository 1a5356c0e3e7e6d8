"""What is between the ports of a live instrument: drawn as it comes, and kept as a sweep through."""

from dataclasses import replace

import numpy as np
from flask import Blueprint, abort, jsonify, request
from flask.typing import ResponseReturnValue

from levelmoor.core.evidence.swept_through import empty_of
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.through import FIXTURE_WORDS, Fixture
from levelmoor.core.words.sentence import sentence
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.touchstone_out import write_through
from levelmoor.instruments.problem import InstrumentProblem
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.bench import instrument_of
from levelmoor.records.database import now
from levelmoor.records.field import FieldProblem, add_through
from levelmoor.records.place import Place
from levelmoor.services.list_card import refresh_card
from levelmoor.services.live_commands import THROUGH_S, through
from levelmoor.web.context import db, for_members
from levelmoor.web.hand import hand_of
from levelmoor.web.live.held import run_or_404
from levelmoor.web.through.drawn import Between, claim_on
from levelmoor.web.workbench.screen import evaluation_or_404

ports = Blueprint("ports", __name__, url_prefix="/e/<int:evaluation_id>/live/<int:instrument_id>")


def between_of(evaluation: Evaluation, instrument: t.Instrument) -> Between:
    """What a screen says stands between the ports, and what is known of it."""
    named = request.args.get("fixture", "")
    fixture = Fixture(named) if named in list(Fixture) else Fixture.THROUGH
    swept = empty_of(evaluation, str(instrument.id)) if fixture is Fixture.SERIES else None
    empty = swept.two_port if swept else None
    return Between(fixture, instrument_of(instrument).figures, empty, claim_on(evaluation, fixture))


@ports.post("/ports")
@for_members
def sweep(evaluation_id: int, instrument_id: int) -> ResponseReturnValue:
    """What goes from port to port is swept from now on, or the reflection again, on every screen."""
    evaluation_or_404(evaluation_id)
    run = run_or_404(instrument_id)
    between = request.form.get("on") == "yes"
    try:
        run.change_ports(between)
    except ValueError as problem:
        return jsonify(problem=sentence(problem)), 422
    return jsonify(said=f"{'Port to port' if between else 'Reflection'} from the next sweep on.")


@ports.post("/through")
@for_members
def keep(evaluation_id: int, instrument_id: int) -> ResponseReturnValue:
    """What is between the ports swept once, between two sweeps of the reflection, and kept as a sweep through."""
    row = evaluation_or_404(evaluation_id)
    run = run_or_404(instrument_id)
    if run.driver.through is None or request.form.get("fixture", "") not in list(Fixture):
        abort(404)
    fixture = Fixture(request.form["fixture"])
    at = now()
    try:
        span, identity, found = run.ask(through(), THROUGH_S)
        f = np.linspace(span.low_hz, span.high_hz, span.points)
        comment = f"{identity}\n{at:%Y-%m-%d %H:%M:%S} UTC, {FIXTURE_WORDS[fixture]}"
        ending, text = write_through(f, found, comment)
        name = f"live-{at:%Y%m%d-%H%M%S}-{fixture.value}{ending}"
        place = replace(Place.of(hand_of(row)), instrument_id=instrument_id)
        made = add_through(db(), row, name, text.encode(), fixture, place, f"{at:%Y-%m-%dT%H:%M}")
    except (InstrumentProblem, FileProblem, FieldProblem) as problem:
        return jsonify(problem=sentence(problem)), 422
    db().expire(row, ["throughs"])
    report = store.report_of(db(), row.id)
    refresh_card(row, len(report.revisions) if report else 0)
    return jsonify(said=f"Saved as {made.name}.", through=made.id)
