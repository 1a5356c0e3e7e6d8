"""What is said where a request cannot be answered: in place, with nothing asked of the database."""

import errno

from flask import Flask, Response, g, render_template, request
from flask_login import AnonymousUserMixin
from flask_wtf.csrf import CSRFError
from sqlalchemy.exc import DBAPIError, InterfaceError, OperationalError, SQLAlchemyError, TimeoutError
from werkzeug.exceptions import Forbidden, HTTPException, InternalServerError, SecurityError

from levelmoor.formats.problem import FileProblem
from levelmoor.records.database import waited_too_long
from levelmoor.records.logs import log
from levelmoor.records.worker_line import TooMuch
from levelmoor.services.findings import BeingJudged, wait_for
from levelmoor.web.context import wants_part
from levelmoor.web.free_space import NoRoom
from levelmoor.web.public_pages import kept_page
from levelmoor.web.transactions import close
from levelmoor.web.waiting import HEADER, SEND_AGAIN, Busy
from levelmoor.web.waiting import WORDS as WAITING

Answer = tuple[str, int, dict[str, str]]
NO_DATABASE = (
    "The database does not answer. Nothing was changed, and what you typed is still here; try again in a minute."
)
NO_DATABASE_YET = "The database does not answer. What you did is kept on this device and is sent by itself."
DISK_FULL = (
    "The disk of this server is full. Nothing was changed, and what you typed is still here; tell whoever runs it."
)
TOO_MUCH = (
    "Judging this evaluation takes too much {much} for this server. Nothing was changed; try again with fewer or"
    " shorter sweeps, or export it and run levelmoor judge."
)
BEING_JUDGED = "This evaluation has a great many points and is still being judged. The page will appear by itself."
PATIENCE_S, LOOK_AGAIN_S = 2.0, 2
MANY_JUDGED = "Many evaluations are being judged right now. Nothing was changed; try again in a minute."
_FULL = (errno.ENOSPC, 1021, 1114)
"""No room left: the system's number, and those of the database."""
BROKEN = (
    "Something went wrong. Nothing was changed, and what you typed is still here; try again, or tell whoever runs "
    "this server."
)
NOT_YOURS = "Only editors of the team can do this."
WORDS = {
    404: "There is nothing at this address, or it belongs to another team.",
    405: "This address does not accept that request.",
    413: "That is too large: the limit is 20 MB for a file and 2,000 characters for a text.",
    500: BROKEN,
}


def install(app: Flask) -> None:
    app.before_request(_wait_no_longer)
    app.register_error_handler(HTTPException, _problem)
    app.register_error_handler(InternalServerError, _broken)
    app.register_error_handler(Busy, _busy)
    app.register_error_handler(TooMuch, _too_much)
    app.register_error_handler(NoRoom, _no_room)
    app.register_error_handler(BeingJudged, _being_judged)
    app.register_error_handler(FileProblem, _refused)
    app.register_error_handler(SQLAlchemyError, _no_database)
    app.register_error_handler(CSRFError, _stale)
    app.register_error_handler(SecurityError, _not_our_name)


def _problem(error: HTTPException) -> Answer:
    code = error.code or 500
    words = NOT_YOURS if error.description == Forbidden.description else WORDS.get(code) or error.description
    return say(words or BROKEN, code)


def _busy(_error: Busy) -> Answer:
    words, code, headers = _alone(WAITING if request.headers.get("HX-Request") else SEND_AGAIN, 503)
    return words, code, {**headers, HEADER: "1", "Retry-After": "1"}


def _refused(problem: FileProblem) -> Answer:
    return _alone(f"{problem}.", 422)


def _too_much(much: TooMuch) -> Answer:
    return _alone(MANY_JUDGED if str(much) == "work" else TOO_MUCH.format(much=much), 503)


def _no_room(_error: NoRoom) -> Answer:
    log("levelmoor.web").error("disk nearly full")
    return _alone(DISK_FULL, 507)


def _wait_no_longer() -> None:
    """A page that is only looked at says that its evaluation is being judged; what changes something waits for it."""
    wait_for(None if request.method != "GET" or wants_part() else PATIENCE_S)


def _being_judged(_error: BeingJudged) -> Answer:
    words, code, headers = _alone(BEING_JUDGED, 503)
    return words, code, {**headers, "Refresh": str(LOOK_AGAIN_S), "Retry-After": str(LOOK_AGAIN_S)}


def _broken(error: InternalServerError) -> Answer | Response:
    cause = error.original_exception
    if isinstance(cause, OSError) and cause.errno in _FULL:
        log("levelmoor.web").error("disk full", exc_info=cause)
        return _alone(DISK_FULL, 507)
    return _no_database(cause) if isinstance(cause, SQLAlchemyError) else _alone(BROKEN, 500)


def _no_database(error: SQLAlchemyError) -> Answer | Response:
    if isinstance(error, OperationalError) and waited_too_long(error):
        return _busy(Busy())
    log("levelmoor.web").error("database", exc_info=error)
    if isinstance(error, DBAPIError) and error.orig and error.orig.args and error.orig.args[0] in _FULL:
        return _alone(DISK_FULL, 507)
    away = isinstance(error, (OperationalError, InterfaceError, TimeoutError))
    if not away:
        return _alone(BROKEN, 500)
    if kept := kept_page():
        _without_database()
        return kept
    words, code, headers = _alone(NO_DATABASE_YET if "Levelmoor-Act" in request.headers else NO_DATABASE, 503)
    return words, code, {**headers, "Retry-After": "3"}


def _stale(_error: CSRFError) -> Answer:
    words, code, headers = say("You were signed out; sign in, and it is sent again.", 400)
    return words, code, {**headers, "Levelmoor-Stale": "1"}


def _not_our_name(_error: SecurityError) -> Answer:
    """No page can be drawn where no address of ours can be made."""
    return "This server does not answer to that name.", 400, {"Content-Type": "text/plain"}


def _alone(words: str, code: int) -> Answer:
    _without_database()
    return say(words, code)


def _without_database() -> None:
    """From here on; the frame of the page does without it too."""
    close()
    g.alone, g._login_user = True, AnonymousUserMixin()


def say(words: str, code: int) -> Answer:
    """Beside the page for a part of it, so that what the request was to replace stays; else as a page."""
    if request.headers.get("HX-Request"):
        return render_template("said.html", words=words), code, {"HX-Reswap": "none"}
    return render_template("problem.html", words=words, code=code), code, {}
