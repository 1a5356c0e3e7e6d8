"""The operator's page: how the installation does, for those whom its setting names."""

import os
import platform
import shutil
from datetime import timedelta

from flask import Blueprint, abort, current_app, render_template
from flask.typing import ResponseReturnValue
from flask_login import current_user, login_required
from sqlalchemy.orm import Session

from levelmoor import __version__
from levelmoor.core.model.evaluation import EDITION
from levelmoor.figures.hours import hours_figure
from levelmoor.records import operating
from levelmoor.records.database import newest_revision, now, schema_revision
from levelmoor.web import free_space
from levelmoor.web.context import maker

operator = Blueprint("operator", __name__, template_folder="templates")
VARIABLE = "LEVELMOOR_OPERATORS"
HOURS = 24
LARGEST = 6
LITTLE_SPACE = 0.1
"""Of a disk: less should be looked after."""


def is_operator(email: str) -> bool:
    """Whether the installation's setting names somebody as who runs it."""
    named = {one.strip().lower() for one in os.environ.get(VARIABLE, "").split(",")}
    return bool(email) and email.lower() in named


@operator.get("/operator")
@login_required  # type: ignore[untyped-decorator]
def page() -> ResponseReturnValue:
    if not is_operator(current_user.row.email):
        abort(404)
    current_app.config["MINUTES"].keep_now()
    with maker()() as session:  # one that sees what was kept just now
        return _drawn(session)


def _drawn(session: Session) -> str:
    begins = now().replace(minute=0, second=0) - timedelta(hours=HOURS - 1)
    found = {one.begins: one for one in operating.hours(session, begins)}
    every = [begins + timedelta(hours=n) for n in range(HOURS)]
    hours = [found.get(at, operating.Hour(at, 0, 0, 0.0)) for at in every]
    figure = hours_figure(
        [h.answers for h in hours], [h.errors for h in hours], [h.most_s for h in hours],
        [h.begins.strftime("%H:00") for h in hours],
    )  # fmt: skip
    database, tables = operating.held(session)
    disk = shutil.disk_usage(free_space.folder() or ".")
    return render_template(
        "operator/page.html",
        version=__version__,
        edition=EDITION,
        python=platform.python_version(),
        database=database,
        schema=schema_revision(session),
        newest=newest_revision(),
        figure=figure,
        hours=[h for h in hours if h.answers],
        servers=operating.servers(session),
        live=operating.live(session),
        disk=disk,
        little=disk.free < LITTLE_SPACE * disk.total,
        tables=tables[:LARGEST],
        in_all=sum(one.bytes for one in tables),
        backups=operating.backups(session),
        late=operating.late_routes(session),
        late_s=operating.LATE_S,
        errors=operating.last_errors(session),
        unsent=operating.unsent_mail(session),
    )
