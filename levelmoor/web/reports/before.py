"""The list before publishing: what a reader would ask, each with the place that answers it."""

from collections.abc import Sequence

from flask import url_for
from sqlalchemy import func, select

from levelmoor.core.evidence.findings import Findings
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.plan.before_publishing import MOST_OF_A_KIND, Asked, ReaderQuestion, reader_questions
from levelmoor.core.words.counting import counted
from levelmoor.records import tables as t
from levelmoor.records.comments import of_evaluation, to_do
from levelmoor.services.findings import behind_of
from levelmoor.web.context import db

Listed = tuple[Asked, Sequence[tuple[str, str]], int]
"""A kind of question, its first ones as words and address, and how many more there are."""


def before_publishing(
    row: t.Evaluation, evaluation: Evaluation, findings: Findings, report: t.Report | None
) -> list[Listed]:
    """The questions of each kind."""
    found = [
        *reader_questions(evaluation, findings, behind_of(evaluation).book),
        *_open_comments(row),
        *_older(row, report),
    ]
    listed: list[Listed] = []
    for kind in Asked:
        alike = [q for q in found if q.asked is kind]
        if alike:
            lines = [(q.words, _address(row, q)) for q in alike[:MOST_OF_A_KIND]]
            listed.append((kind, lines, len(alike) - len(lines)))
    return listed


def _open_comments(row: t.Evaluation) -> list[ReaderQuestion]:
    said = to_do(of_evaluation(db(), row.id))
    return [ReaderQuestion(Asked.TO_DO, f"{c.made_by.name}: {c.words[:120]}", "comments") for c in said]


def _older(row: t.Evaluation, report: t.Report | None) -> list[ReaderQuestion]:
    """What was changed since the last revision, so that it shows other figures than the evaluation."""
    if report is None or not report.revisions:
        return []
    last = report.revisions[-1]
    query = select(func.count()).where(
        t.AuditEntry.evaluation_id == row.id,
        t.AuditEntry.at > last.published_at,
        t.AuditEntry.kind.in_(("change", "addition", "removal", "restored")),
        t.AuditEntry.row_kind != "comment",
    )
    count = db().scalar(query) or 0
    words = f"Revision {last.number} is older than {counted(count, 'change')}"
    return [ReaderQuestion(Asked.OLDER, words, "history")] if count else []


def _address(row: t.Evaluation, question: ReaderQuestion) -> str:
    if question.where == "history":
        return url_for("past.page", evaluation_id=row.id)
    if question.where == "sweep":
        return url_for("workbench.page", evaluation_id=row.id, sweep=question.id or None, _anchor="slip")
    claim = question.id if question.where == "claims" and question.id else None
    return url_for("workbench.page", evaluation_id=row.id, claim=claim, _anchor=question.where)
