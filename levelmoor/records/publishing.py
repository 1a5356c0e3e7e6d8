"""Publishing: an evaluation frozen as the next revision of its report, and taking that back as far as it can be."""

import secrets
from collections.abc import Callable, Sequence
from hashlib import sha256

from sqlalchemy.orm import Session

from levelmoor.core.evidence.findings import Findings, headline
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.relied_on import only_relied_on
from levelmoor.core.shelf.entry import shelf_entry
from levelmoor.formats.bundle import Publication, write_bundle
from levelmoor.formats.exchange import raw_files_of
from levelmoor.records import shelf
from levelmoor.records import tables as t
from levelmoor.records.apart import judge_apart
from levelmoor.records.captures import unit_named
from levelmoor.records.database import now
from levelmoor.records.mapping import evaluation_of
from levelmoor.records.raw_files import raw_data
from levelmoor.records.reviews import content_of, reviewed
from levelmoor.records.store import report_of


class NotReady(ValueError):
    """Why something cannot be published yet."""


def missing_for_report(row: t.Evaluation) -> list[str]:
    """What keeps the evaluation from being published, each a short sentence; empty where nothing does."""
    missing = []
    if not evaluation_of(row).samples_with_evidence:
        missing.append("Add at least one sweep, capture, trial, port-to-port sweep or heat run.")
    missing += [f"Confirm how {s.file_name} was read." for s in row.sweeps if s.guessed]
    missing += [f"Choose the unit of the levels in {c.file_name}." for c in row.captures if not unit_named(c)]
    return missing


Draw = Callable[[Evaluation, Findings], Sequence[tuple[str, str]]]
"""Makes the small figures that the shelf shows of a report, each with its name."""


def publish(
    session: Session,
    row: t.Evaluation,
    team: t.Team,
    by: str,
    reason: str,
    listed: bool,
    draw: Draw = lambda _evaluation, _findings: (),
    judged: Callable[[Evaluation], Findings] = judge_apart,
) -> t.ReportRevision:
    """Freeze the evaluation as the next revision of its report, and put that on the shelf where it is listed. `judged`
    gives its findings.

    Raises
    ------
    NotReady
        Where something is missing, or a later revision does not say what changed.
    TooMuch
        Where judging it takes too much time or memory.
    """
    if missing := missing_for_report(row):
        raise NotReady(" ".join(missing))
    report = report_of(session, row.id)
    if report is None:
        report = t.Report(team_id=team.id, evaluation_id=row.id, slug=secrets.token_urlsafe(9))
        session.add(report)
        session.flush()
    elif report.revisions and not reason.strip():
        raise NotReady("Write what changed in this revision, and why.")
    if report.withdrawn_at is not None:
        raise NotReady("This report was withdrawn for good. Start a new evaluation for another report.")
    report.listed = listed
    at, core = now(), only_relied_on(evaluation_of(row))
    reviewer = reviewed(session, row.id, content_of(core)).approved_by
    if team.asks_review and not reviewer:
        raise NotReady("Your team requires a second member's approval before publishing; ask for a review.")
    findings = judged(core)
    number = len(report.revisions) + 1
    publication = Publication(
        core.title,
        team.name,
        number,
        reason.strip() or "First publication.",
        at.date().isoformat(),
        by,
        core.product.name,
        core.product.maker,
        headline(findings),
        reviewer,
    )
    bundle = write_bundle(publication, core, findings, raw_data(session, row.team_id, raw_files_of(core)))
    revision = t.ReportRevision(
        number=number,
        title=core.title,
        headline=publication.headline,
        reason=publication.reason,
        published_at=at,
        published_by=by,
        reviewed_by=reviewer or None,
        bundle_sha256=sha256(bundle).hexdigest(),
        bundle=bundle,
    )
    report.revisions.append(revision)
    session.flush()
    if listed:
        shelf.put_on(session, report, team.name, shelf_entry(core, findings), draw(core, findings))
    else:
        shelf.take_off(session, report.id)
    return revision


def withdraw(session: Session, report: t.Report, by: str, reason: str) -> None:
    """Say of a report that it does not stand any more: its page keeps a notice, its bundles stay as they are, and it is
    on the shelf no longer.

    Raises
    ------
    NotReady
        Without a reason, or where it is withdrawn already.
    """
    if not reason.strip():
        raise NotReady("Write why it is withdrawn; readers will see the reason.")
    if report.withdrawn_at is not None:
        raise NotReady("It is already withdrawn.")
    report.withdrawn_at, report.withdrawn_by, report.withdrawn_reason = now(), by, reason.strip()[:2000]
    report.listed = False
    shelf.take_off(session, report.id)
