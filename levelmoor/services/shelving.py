"""What the shelf shows of a report, and putting reports on it that were published before."""

from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.core.evidence.findings import Findings
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.shelf.entry import shelf_entry
from levelmoor.formats.bundle import read_bundle
from levelmoor.records import shelf
from levelmoor.records import tables as t
from levelmoor.services.small_figures import Small, small_figures

MOST_FIGURES = 5


def shelf_figures(evaluation: Evaluation, findings: Findings) -> list[Small]:
    """The first small figure of each name, as many as a line of the shelf has room for."""
    first: dict[str, str] = {}
    for name, svg in small_figures(evaluation, findings):
        first.setdefault(name, svg)
    return list(first.items())[:MOST_FIGURES]


def list_again(session: Session, report: t.Report, listed: bool) -> None:
    """Put the latest revision of a report on the shelf, or take the report off it."""
    report.listed = listed and report.withdrawn_at is None
    shelf.take_off(session, report.id)
    if report.listed:
        bundle = read_bundle(report.revisions[-1].bundle)
        team, figures = session.get_one(t.Team, report.team_id).name, shelf_figures(bundle.evaluation, bundle.findings)
        shelf.put_on(session, report, team, shelf_entry(bundle.evaluation, bundle.findings), figures)


def catch_up(maker: sessionmaker[Session]) -> int:
    """Put on the shelf what was published before there was one; says how many reports that were."""
    with maker() as session:
        there = select(t.ShelfReport.report_id)
        waiting = session.scalars(
            select(t.Report.id).where(t.Report.listed.is_(True), t.Report.revisions.any(), t.Report.id.not_in(there))
        ).all()
    for report_id in waiting:
        with maker.begin() as session:
            list_again(session, session.get_one(t.Report, report_id), True)
    return len(waiting)
