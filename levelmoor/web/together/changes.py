"""What others do meanwhile: how far the history goes and who is here, told to open pages as it changes."""

import json
import time
from collections.abc import Iterator
from typing import Any

from flask import Blueprint, Response, abort, current_app, g, jsonify
from flask.typing import ResponseReturnValue
from flask_login import current_user
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.records import history
from levelmoor.records import tables as t
from levelmoor.records.presence import here, initials, note_here
from levelmoor.web.context import db, for_members, maker, team
from levelmoor.web.streams import Streams, TooManyStreams
from levelmoor.web.workbench.screen import evaluation_or_404

changes = Blueprint("changes", __name__, url_prefix="/e/<int:evaluation_id>")
LOOK_EVERY_S = 1.0
HERE_EVERY = 10
"""Looks after which a page is noted as open once more."""


@changes.get("/since")
@for_members
def since(evaluation_id: int) -> ResponseReturnValue:
    """How it stands now, for pages that no stream reaches."""
    evaluation_or_404(evaluation_id)
    return jsonify(_stands(maker(), team().id, evaluation_id, g.sign_in.id, True))


@changes.get("/changes")
@for_members
def stream(evaluation_id: int) -> ResponseReturnValue:
    """How it stands, told whenever that has changed."""
    evaluation_or_404(evaluation_id)
    streams: Streams = current_app.config["CHANGES"]
    person = int(current_user.id)
    try:
        streams.enter(person)
    except TooManyStreams:
        abort(503)  # the page asks now and then instead
    place = (maker(), team().id, evaluation_id, int(g.sign_in.id))
    db().rollback()  # nothing of the database is held while the stream stays open
    headers = {"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    response = Response(_told(*place), mimetype="text/event-stream", headers=headers)
    response.call_on_close(lambda: streams.leave(person))
    return response


def _told(made: sessionmaker[Session], team_id: int, evaluation_id: int, sign_in_id: int) -> Iterator[str]:
    before: dict[str, Any] = {}
    look = 0
    try:
        while True:
            stands = _stands(made, team_id, evaluation_id, sign_in_id, look % HERE_EVERY == 0)
            if stands is None:
                return
            if stands != before:
                yield f"data: {json.dumps(stands)}\n\n"
                before = stands
            else:
                yield ": still here\n\n"  # a page that has gone is noticed by what cannot be written to it
            look += 1
            time.sleep(LOOK_EVERY_S)
    finally:
        _stands(made, team_id, evaluation_id, sign_in_id, True, gone=True)


def _stands(
    made: sessionmaker[Session], team_id: int, evaluation_id: int, sign_in_id: int, note: bool, gone: bool = False
) -> dict[str, Any] | None:
    """The latest entry and who is here; None once the sign-in has ended or the evaluation is gone."""
    try:
        with made.begin() as session:
            sign_in, evaluation = session.get(t.SignIn, sign_in_id), session.get(t.Evaluation, evaluation_id)
            if (
                sign_in is None
                or sign_in.ended_at is not None
                or evaluation is None
                or evaluation.deleted_at is not None
            ):
                return None
            if note:
                if session.get(t.Membership, (sign_in.user_id, team_id)) is None:
                    return None
                note_here(session, evaluation, sign_in, gone)
                session.flush()
            others = [p for p in here(session, evaluation_id) if p.id != sign_in.user_id]
            return {
                "latest": history.latest(session, team_id, evaluation_id),
                "here": [{"name": p.name, "initials": initials(p.name)} for p in others],
            }
    except SQLAlchemyError:
        return {} if not gone else None
