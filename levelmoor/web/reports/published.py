"""Published reports by their addresses; whoever asks for what is not there gets 404."""

from flask import abort

from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.web.context import db


def report_or_404(slug: str) -> t.Report:
    """The report at a slug, with at least one revision."""
    report = store.report_at(db(), slug)
    return report if report is not None and report.revisions else abort(404)


def revision_or_404(slug: str, number: int | None = None) -> t.ReportRevision:
    """A revision of it, the latest where none is named."""
    revisions = report_or_404(slug).revisions
    return next((r for r in reversed(revisions) if number in (None, r.number)), None) or abort(404)
