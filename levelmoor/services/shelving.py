"""Putting published reports on the shelf, and bringing the shelf up to date after an upgrade."""

from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.core.shelf.entry import shelf_entry
from levelmoor.formats.bundle import read_bundle
from levelmoor.records import shelf
from levelmoor.records import tables as t
from levelmoor.services.small_figures import small_figures

MOST_FIGURES = 5


def shelve(session: Session, report: t.Report) -> None:
    """Put the latest revision of a report on the shelf, or take the report off where it is not listed."""
    if not report.listed:
        shelf.take_off(session, report.id)
        return
    team = session.get_one(t.Team, report.team_id).name
    bundle = read_bundle(report.revisions[-1].bundle)
    figures = dict(reversed(small_figures(bundle.evaluation, bundle.findings)))  # the first of each name
    shown = list(reversed(figures.items()))[:MOST_FIGURES]
    shelf.put_on(session, report, team, shelf_entry(bundle.evaluation, bundle.findings), shown)


def catch_up(maker: sessionmaker[Session]) -> int:
    """Put on the shelf what was published before there was one; says how many reports that were."""
    with maker() as session:
        there = select(t.ShelfReport.report_id)
        waiting = session.scalars(
            select(t.Report.id).where(t.Report.listed.is_(True), t.Report.revisions.any(), t.Report.id.not_in(there))
        ).all()
    for report_id in waiting:
        with maker.begin() as session:
            shelve(session, session.get_one(t.Report, report_id))
    return len(waiting)
