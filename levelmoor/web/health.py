"""Whether the server is alive, and whether it can answer: for whoever watches over it, or sends requests to several."""

from flask import Blueprint, Response
from sqlalchemy.exc import SQLAlchemyError

from levelmoor.records.database import newest_revision, schema_revision
from levelmoor.web.context import maker

health = Blueprint("health", __name__)
UNKEPT = {"Cache-Control": "no-store"}


@health.get("/healthz")
def alive() -> Response:
    """The process answers; the database is not asked."""
    return _said("The server is running.", 200)


@health.get("/readyz")
def ready() -> Response:
    """The database answers and has the schema of this program; else 503, and requests are better sent elsewhere."""
    try:
        with maker()() as session:
            found = schema_revision(session)
    except SQLAlchemyError:
        return _said("The database does not answer.", 503)
    wanted = newest_revision()
    if found < wanted:  # a newer schema still serves this program: servers are renewed one after the other
        return _said(f"The schema is at {found}, and this program needs {wanted}: run levelmoor migrate.", 503)
    return _said("The server is ready.", 200)


def _said(words: str, code: int) -> Response:
    return Response(f"{words}\n", code, UNKEPT, mimetype="text/plain")
