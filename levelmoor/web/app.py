"""The application: its parts, its session key, its database."""

import secrets
from pathlib import Path
from typing import Any

from flask import Flask, render_template, request
from flask_limiter.errors import RateLimitExceeded
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException
from werkzeug.middleware.proxy_fix import ProxyFix

from levelmoor.core.decision import VERDICT_WORDS
from levelmoor.core.frequency import format_mhz, format_range, format_step, format_uncertainty
from levelmoor.core.pads import format_watts
from levelmoor.core.sentence import sentence
from levelmoor.core.usability import USABILITY_WORDS
from levelmoor.core.window_verdict import format_swr
from levelmoor.figures.shapes import verdict_shape
from levelmoor.formats.rawtext import LARGEST_BYTES
from levelmoor.records.database import connect, database_url
from levelmoor.records.store import setting
from levelmoor.web import assets, context, security
from levelmoor.web.accounts.routes import accounts
from levelmoor.web.bench.routes import bench
from levelmoor.web.compare.routes import compare
from levelmoor.web.emissions.routes import emissions
from levelmoor.web.emissions.rules import rule_sets
from levelmoor.web.equipment.routes import equipment
from levelmoor.web.evaluations.routes import evaluations
from levelmoor.web.guide.routes import guide
from levelmoor.web.live.drivers import live_settings
from levelmoor.web.live.routes import live
from levelmoor.web.pictures.routes import pictures
from levelmoor.web.plan.routes import plan, worker
from levelmoor.web.readings.routes import readings
from levelmoor.web.reports.routes import reports
from levelmoor.web.teams.routes import teams
from levelmoor.web.workbench.claims import claims
from levelmoor.web.workbench.files import files
from levelmoor.web.workbench.routes import workbench

FILES_AT_ONCE = 20
Answer = tuple[str, int, dict[str, str]]


def create_app(url: str | None = None, behind_tls: bool = False, proxies: int = 0) -> Flask:
    """The WSGI application on a migrated database.

    Parameters
    ----------
    url : database address, by default from the environment
    behind_tls : whether browsers come over TLS, so that cookies may be kept to it
    proxies : how many proxies stand before it and may name the client
    """
    app = Flask(__name__, static_folder="static")
    maker = connect(url or database_url())
    with maker.begin() as session:
        app.secret_key = setting(session, "secret_key", secrets.token_urlsafe(48))
    app.config.update(
        SESSIONS=maker,
        MAX_CONTENT_LENGTH=FILES_AT_ONCE * LARGEST_BYTES,
        MAX_FORM_MEMORY_SIZE=2_000_000,
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SAMESITE="Lax",
        SESSION_COOKIE_SECURE=behind_tls,
        REMEMBER_COOKIE_HTTPONLY=True,
        REMEMBER_COOKIE_SAMESITE="Lax",
        REMEMBER_COOKIE_SECURE=behind_tls,
        WTF_CSRF_TIME_LIMIT=None,
    )
    if proxies:
        app.wsgi_app = ProxyFix(app.wsgi_app, x_for=proxies, x_proto=proxies, x_host=proxies)  # type: ignore[method-assign]
    for part in (
        accounts,
        teams,
        equipment,
        evaluations,
        workbench,
        claims,
        files,
        plan,
        worker,
        bench,
        compare,
        pictures,
        readings,
        live,
        live_settings,
        emissions,
        rule_sets,
        reports,
        guide,
    ):
        app.register_blueprint(part)
    context.install(app)
    security.install(app)
    assets.install(app, Path(app.static_folder or ""))
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True
    app.jinja_env.filters.update(
        mhz=format_mhz,
        swr=format_swr,
        watts=format_watts,
        step=format_step,
        uncertain=format_uncertainty,
        tuple_of=_option,
        sentence=sentence,
    )
    app.jinja_env.filters["profile_option"] = lambda p: (p.id, p.name)
    app.jinja_env.globals.update(
        shape=verdict_shape, verdict_words=VERDICT_WORDS, usability_words=USABILITY_WORDS, span=format_range
    )
    app.register_error_handler(HTTPException, _problem)
    app.register_error_handler(RateLimitExceeded, _too_often)
    app.register_error_handler(CSRFError, _stale)
    return app


def _option(row: Any, name: str) -> tuple[int, str]:
    """A row as an option of a list to pick from."""
    return row.id, getattr(row, name)


def _problem(error: HTTPException) -> Answer:
    code = error.code or 500
    said = {
        403: "This is for the team's editors.",
        404: "There is nothing at this address, or it is not your team's.",
        405: "This address takes no such request.",
        413: "That is too large: a file has at most 20 MB.",
    }.get(code, error.description or "Something went wrong.")
    return _say(said, code)


def _too_often(_error: RateLimitExceeded) -> Answer:
    return _say("Too many tries; wait a minute and try again.", 429)


def _stale(_error: CSRFError) -> Answer:
    return _say("This page is too old to send from; reload it and send again.", 400)


def _say(words: str, code: int) -> Answer:
    if request.headers.get("HX-Request"):
        # Said beside the page; what the request was to replace stays.
        return render_template("said.html", words=words), code, {"HX-Reswap": "none"}
    return render_template("problem.html", words=words, code=code), code, {}
