"""The application: its parts, its session key, its database."""

from collections.abc import Sequence
from pathlib import Path

from flask import Flask
from werkzeug.middleware.proxy_fix import ProxyFix

from levelmoor.records.database import connect
from levelmoor.records.secrets_at_rest import signing_key
from levelmoor.records.watching import Watching
from levelmoor.services.mail import post_of_installation
from levelmoor.web import (
    assets,
    compressed,
    context,
    errors,
    free_space,
    public_pages,
    request_log,
    security,
    telling,
    templating,
)
from levelmoor.web.accounts.outside import install as install_outside
from levelmoor.web.accounts.outside import outside
from levelmoor.web.accounts.passkeys import passkeys
from levelmoor.web.accounts.routes import accounts
from levelmoor.web.accounts.second_step import second_step
from levelmoor.web.adjust.routes import adjust
from levelmoor.web.adjust.strips import strips
from levelmoor.web.adjust.widths import widths
from levelmoor.web.api.routes import api
from levelmoor.web.bench.routes import bench
from levelmoor.web.card.routes import card
from levelmoor.web.compare.routes import compare
from levelmoor.web.emissions.routes import emissions
from levelmoor.web.emissions.rules import rule_sets
from levelmoor.web.equipment.routes import equipment
from levelmoor.web.evaluations.routes import evaluations
from levelmoor.web.guide.routes import guide
from levelmoor.web.health import health
from levelmoor.web.live.between_ports import ports
from levelmoor.web.live.drivers import live_settings
from levelmoor.web.live.routes import live
from levelmoor.web.live.runs import Runs
from levelmoor.web.on_air.routes import on_air
from levelmoor.web.operator.routes import operator
from levelmoor.web.outbox import outbox
from levelmoor.web.pictures.routes import pictures
from levelmoor.web.plan.routes import plan, worker
from levelmoor.web.readings.routes import readings
from levelmoor.web.removal import removal as removal_part
from levelmoor.web.reports.answers import answers
from levelmoor.web.reports.embedded import embedded
from levelmoor.web.reports.paper import papers
from levelmoor.web.reports.routes import reports
from levelmoor.web.reports.templates_of import templates
from levelmoor.web.security import LARGEST_REQUEST
from levelmoor.web.shelf.beside import beside
from levelmoor.web.shelf.feeds import feeds
from levelmoor.web.shelf.routes import shelf
from levelmoor.web.streams import Streams
from levelmoor.web.teams.routes import teams
from levelmoor.web.through.routes import through
from levelmoor.web.together.changes import changes
from levelmoor.web.together.comments import comments
from levelmoor.web.together.past import past
from levelmoor.web.transactions import TransactionalFlask
from levelmoor.web.tryout.routes import tryout
from levelmoor.web.tuner.card import preset_card
from levelmoor.web.tuner.field import trial_field
from levelmoor.web.tuner.networks import networks
from levelmoor.web.tuner.routes import tuner
from levelmoor.web.workbench.claims import claims
from levelmoor.web.workbench.files import files
from levelmoor.web.workbench.routes import workbench

PARTS = (
    *(accounts, second_step, passkeys, outside, teams, equipment),
    *(evaluations, workbench, claims, files, plan, worker, bench, compare),
    *(adjust, widths, strips, card, pictures, readings, live, ports, live_settings, emissions, rule_sets),
    *(tuner, networks, preset_card, trial_field, through, on_air),
    *(reports, answers, embedded, papers, templates, shelf, beside, feeds, api, guide, removal_part, tryout),
    *(changes, past, comments, outbox, health, operator),
)


def create_app(
    url: str | None = None,
    behind_tls: bool = False,
    proxies: int = 0,
    hosts: Sequence[str] = (),
    streams: int = 20,
    demo_sign_in: bool = False,
    served_at: str = "localhost",
) -> Flask:
    """The WSGI application on a migrated database.

    Parameters
    ----------
    url : database address by the account that serves, by default from the environment
    behind_tls : whether browsers come over TLS, so that cookies may be kept to it
    proxies : how many proxies stand before it and may name the client
    hosts : names it may be called by, any where none is given
    streams : event streams that may be open at once, half of them live screens, half evaluations told of changes
    served_at : host and port that letters name where no hosts are given
    demo_sign_in : whether nobody but this machine reaches it: the demo's password opens the demo, letters are shown
    """
    app = TransactionalFlask(__name__, static_folder="static")
    maker = connect(url)
    app.secret_key = signing_key(maker)
    maker.kw["bind"].dispose()  # whatever serves may fork from here on
    app.config.update(
        SESSIONS=maker,
        STREAMS=Streams(max(streams // 2, 1)),
        CHANGES=Streams(max(streams // 2, 1)),
        RUNS=Runs(maker),
        WATCHING=Watching(maker),
        DEMO_SIGN_IN=demo_sign_in,
        PROXIES=proxies,
        POST=post_of_installation(one_machine=demo_sign_in),
        TRUSTED_HOSTS=list(hosts) or None,
        SERVED_AT=served_at,
        MAX_CONTENT_LENGTH=LARGEST_REQUEST,
        MAX_FORM_MEMORY_SIZE=2_000_000,
        MAX_FORM_PARTS=2_000,
        SESSION_COOKIE_NAME="levelmoor",
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SAMESITE="Lax",
        SESSION_COOKIE_SECURE=behind_tls,
        WTF_CSRF_TIME_LIMIT=None,
    )
    if proxies:
        app.wsgi_app = ProxyFix(app.wsgi_app, x_for=proxies, x_proto=proxies, x_host=proxies)  # type: ignore[method-assign]
    for part in PARTS:
        app.register_blueprint(part)
    request_log.install(app)
    compressed.install(app)  # the last of those that see a page as it was made
    context.install(app)
    security.install(app, behind_tls)
    free_space.install(app)
    public_pages.install(app)
    install_outside(app)
    errors.install(app)
    telling.install(app)
    assets.install(app, Path(app.static_folder or ""))
    templating.install(app)
    return app
