"""Whole evaluations out of the database."""

from datetime import timedelta

from sqlalchemy.orm import Session

from levelmoor.core.words.counting import counted
from levelmoor.formats.exchange import Alongside, FilterDocument, raw_files_of
from levelmoor.formats.exchange_file import Exchange
from levelmoor.records import tables as t
from levelmoor.records import ticks
from levelmoor.records.intake import waiting
from levelmoor.records.mapping import evaluation_of
from levelmoor.records.raw_files import raw_data
from levelmoor.records.store import report_of

REPEATED_WITHIN = timedelta(minutes=1)


def exported(session: Session, row: t.Evaluation) -> Exchange:
    """An evaluation with the team's whole bench, its readings and filters, and its raw files by SHA-256."""
    core, beside = evaluation_of(row), _beside(session, row)
    return Exchange(core, raw_data(session, row.team_id, raw_files_of(core, beside)), beside)


def _beside(session: Session, row: t.Evaluation) -> Alongside:
    filters = tuple(FilterDocument(file_name=f.file_name, sha256=f.raw_file.sha256) for f in row.filters)
    return Alongside(filters=filters, stays=_stays(session, row))


def _stays(session: Session, row: t.Evaluation) -> tuple[str, ...]:
    """What is of this installation alone, in sentences."""
    said = []
    report = report_of(session, row.id)
    if report and report.revisions:
        last = report.revisions[-1]
        said.append(
            f"Published revisions are not included ({last.number}, the latest of "
            f"{last.published_at.date()}); their bundles stay on their pages."
        )
    if count := len(ticks.entries(session, row.id)):
        said.append(f"{counted(count, 'entry of the run sheet stays', 'entries of the run sheet stay')} behind.")
    if count := len(waiting(session, row.id)):
        files = counted(
            count, "file whose columns are unknown is not included", "files whose columns are unknown are not included"
        )
        said.append(f"{files}.")
    if any(row.wishes.get(name) for name in ("dropped", "order", "own")):
        said.append("Your changes to the plan are not included, because runs get new names on import.")
    return tuple(said)
