"""What others do meanwhile: how far the history goes and who is here, told to open pages as it changes."""

import json
from collections.abc import Iterator
from contextlib import suppress

from flask import Blueprint, Response, abort, current_app, g, jsonify
from flask.typing import ResponseReturnValue
from flask_login import current_user
from sqlalchemy.exc import SQLAlchemyError

from levelmoor.records.watching import Place, Watching, look, note_page
from levelmoor.web.context import db, for_members, maker, team
from levelmoor.web.streams import Streams, TooManyStreams
from levelmoor.web.workbench.screen import evaluation_or_404

changes = Blueprint("changes", __name__, url_prefix="/e/<int:evaluation_id>")
HEARTBEAT_S = 2.0


@changes.get("/since")
@for_members
def since(evaluation_id: int) -> ResponseReturnValue:
    """How it stands now, for pages that no stream reaches."""
    evaluation_or_404(evaluation_id)
    place = _place(evaluation_id)
    note_page(maker(), place)
    with maker().begin() as session:
        found = look(session, [place], note=True).get(place)
    return jsonify(found.told() if found else None)


def _place(evaluation_id: int) -> Place:
    return Place(team().id, evaluation_id, int(g.sign_in.id), int(current_user.id))


@changes.get("/changes")
@for_members
def stream(evaluation_id: int) -> ResponseReturnValue:
    """How it stands, told whenever that has changed."""
    evaluation_or_404(evaluation_id)
    streams: Streams = current_app.config["CHANGES"]
    watching: Watching = current_app.config["WATCHING"]
    place = _place(evaluation_id)
    try:
        streams.enter(place.user_id)
    except TooManyStreams:
        abort(503)  # the page asks now and then instead
    db().rollback()  # nothing of the database is held while the stream stays open
    headers = {"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    response = Response(_told(watching, place), mimetype="text/event-stream", headers=headers)
    response.call_on_close(lambda: streams.leave(place.user_id))
    return response


def _told(watching: Watching, place: Place) -> Iterator[str]:
    watching.enter(place)
    before = None
    try:
        while (stands := watching.now(place)) is not None:
            if stands != before:
                yield f"data: {json.dumps(stands.told())}\n\n"
                before = stands
            else:
                yield "event: here\ndata: {}\n\n"  # each notices by it that the other has gone
            watching.wait(stands, place, HEARTBEAT_S)
    finally:
        with suppress(SQLAlchemyError):
            watching.leave(place)
