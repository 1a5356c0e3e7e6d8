"""A published evaluation as the beginning of another: tested again by another team, linked both ways."""

from flask import Blueprint, redirect, render_template, url_for
from flask.typing import ResponseReturnValue

from levelmoor.core.shelf.template import as_template
from levelmoor.formats.bundle import read_bundle
from levelmoor.formats.exchange_file import Exchange
from levelmoor.records.history import unnoted
from levelmoor.records.importing import imported
from levelmoor.services.list_card import refresh_card
from levelmoor.web.context import db, for_members, note, team
from levelmoor.web.reports.published import report_or_404
from levelmoor.web.telling import tell

templates = Blueprint("templates", __name__, template_folder="templates")


@templates.get("/r/<slug>/again")
@for_members
def ask(slug: str) -> ResponseReturnValue:
    report = report_or_404(slug)
    evaluation = read_bundle(report.revisions[-1].bundle).evaluation
    return render_template("reports/again.html", report=report, evaluation=as_template(evaluation))


@templates.post("/r/<slug>/again")
@for_members
def begin(slug: str) -> ResponseReturnValue:
    """Begin an evaluation with the claims, setups, settings and method of a published one."""
    report = report_or_404(slug)
    evaluation = as_template(read_bundle(report.revisions[-1].bundle).evaluation)
    with unnoted(db()):
        row, _ = imported(db(), team(), Exchange(evaluation, {}))
    row.follows_report_id = report.id
    refresh_card(row)
    note("import", f"an evaluation of {row.product.name} was started from a published report", row.id)
    tell("Started with the claims, setups and method of the report. Add your own unit and bench.")
    return redirect(url_for("workbench.page", evaluation_id=row.id))
