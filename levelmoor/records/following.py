"""Which report follows which: an evaluation that was begun from a published one, by any team."""

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.records import tables as t

Named = tuple[str, str]
"""A report's slug and its title."""


def followed_by(session: Session, report: t.Report) -> Sequence[Named]:
    """The published reports of evaluations that were begun from this one, the oldest first."""
    rows = session.execute(
        select(t.ShelfReport.slug, t.ShelfReport.title)
        .join(t.Report, t.Report.id == t.ShelfReport.report_id)
        .join(t.Evaluation, t.Evaluation.id == t.Report.evaluation_id)
        .where(t.Evaluation.follows_report_id == report.id)
        .order_by(t.ShelfReport.report_id)
    )
    return [(slug, title) for slug, title in rows]


def follows(session: Session, report: t.Report) -> Named | None:
    """The report that this one's evaluation was begun from."""
    origin = session.scalar(select(t.Evaluation.follows_report_id).where(t.Evaluation.id == report.evaluation_id))
    earlier = session.get(t.Report, origin) if origin else None
    if earlier is None or not earlier.revisions:
        return None
    return earlier.slug, earlier.revisions[-1].title
