"""Whether the server is alive, whether it can answer, and its figures: for whoever watches over it, or sends requests
to several."""

import hmac
import os
from ipaddress import ip_address

from flask import Blueprint, Response, abort, current_app, request
from prometheus_client import CONTENT_TYPE_LATEST, REGISTRY, CollectorRegistry, generate_latest, multiprocess
from sqlalchemy.exc import SQLAlchemyError

from levelmoor.records.database import newest_revision, schema_revision
from levelmoor.web.context import address, maker
from levelmoor.web.processes import SHARED

health = Blueprint("health", __name__)
UNKEPT = {"Cache-Control": "no-store"}
TOKEN_VARIABLE = "LEVELMOOR_METRICS_TOKEN"  # noqa: S105  the name of a setting


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


@health.get("/metrics")
def metrics() -> Response:
    """The figures of all processes of this server, in Prometheus' form: for who has the token; without one for this
    machine alone, where no proxy stands before it."""
    if not _may_see_figures():
        abort(404)
    registry = REGISTRY
    if os.environ.get(SHARED):
        registry = CollectorRegistry()
        multiprocess.MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    return Response(generate_latest(registry), 200, UNKEPT, content_type=CONTENT_TYPE_LATEST)


def _may_see_figures() -> bool:
    if token := os.environ.get(TOKEN_VARIABLE, ""):
        return hmac.compare_digest(request.headers.get("Authorization", ""), f"Bearer {token}")
    try:
        return not current_app.config["PROXIES"] and ip_address(address()).is_loopback
    except ValueError:
        return False


def _said(words: str, code: int) -> Response:
    return Response(f"{words}\n", code, UNKEPT, mimetype="text/plain")
