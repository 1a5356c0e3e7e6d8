"""Answers to a report, by its maker or by a reader: confirmed by mail, decided on by the team, shown beside the report.

The team decides as to person and tone, not as to content: an answer is shown as it was written, or it is refused with a
reason, and refusals are counted where all can see it.
"""

import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from enum import StrEnum

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from levelmoor.records import tables as t
from levelmoor.records.accounts import AccountProblem, email_of
from levelmoor.records.database import now
from levelmoor.records.passwords import digest

MOST_WORDS, MOST_FILE, MOST_OPEN = 4000, 1_000_000, 20
CONFIRM_WITHIN = timedelta(days=7)


class SpeaksFor(StrEnum):
    MAKER = "maker"
    READER = "reader"


SPEAKS_FOR_WORDS = {SpeaksFor.MAKER: "The maker", SpeaksFor.READER: "A reader"}


class AnswerProblem(ValueError):
    """Why an answer cannot be sent, confirmed or decided on: says what would be right."""


@dataclass(frozen=True)
class Written:
    """An answer as it was typed."""

    name: str
    speaks_for: str
    email: str
    words: str
    asks_new_test: bool = False
    file_name: str = ""
    file_data: bytes = b""


def send_in(session: Session, report: t.Report, said: Written) -> str:
    """Keep an answer until it is confirmed; the token that confirms it.

    Raises
    ------
    AnswerProblem
        Where something is missing or too long, or too many answers wait.
    """
    if not said.name.strip():
        raise AnswerProblem("Write your name; it is shown with the answer.")
    if said.speaks_for not in list(SpeaksFor):
        raise AnswerProblem("Say whether you speak for the maker or as a reader.")
    try:
        email = email_of(said.email)
    except AccountProblem as problem:
        raise AnswerProblem(f"{problem}. A link to confirm the answer is sent there.") from problem
    if not said.words.strip():
        raise AnswerProblem("Write your answer.")
    if len(said.words) > MOST_WORDS:
        raise AnswerProblem(f"The answer has {len(said.words)} characters; at most {MOST_WORDS} are shown.")
    if len(said.file_data) > MOST_FILE:
        raise AnswerProblem("The file is larger than 1 MB. Send a smaller one, or link to it in the answer.")
    undecided = select(func.count()).where(t.Answer.report_id == report.id, t.Answer.decided_at.is_(None))
    if (session.scalar(undecided.where(t.Answer.made_at > now() - CONFIRM_WITHIN)) or 0) >= MOST_OPEN:
        raise AnswerProblem("Many answers to this report wait for a decision. Send yours in a few days.")
    token = secrets.token_urlsafe(24)
    session.add(
        t.Answer(
            report=report,
            name=said.name.strip()[:200],
            speaks_for=said.speaks_for,
            email=email,
            words=said.words.strip(),
            asks_new_test=said.asks_new_test,
            file_name=said.file_name[:200] if said.file_data else "",
            file_data=said.file_data or None,
            token_sha256=digest(token),
            made_at=now(),
        )
    )
    return token


def unconfirmed(session: Session, token: str) -> t.Answer:
    """The answer that a link confirms.

    Raises
    ------
    AnswerProblem
        Where the link is none, is used or is too old.
    """
    found = session.scalar(select(t.Answer).where(t.Answer.token_sha256 == digest(token)))
    if found is None or found.made_at < now() - CONFIRM_WITHIN:
        raise AnswerProblem("This link does not work: it is mistyped, or older than seven days. Send the answer again.")
    if found.confirmed_at is not None:
        raise AnswerProblem("This answer is confirmed already. The team decides about it next.")
    return found


def decide(answer: t.Answer, by: str, approve: bool, why: str) -> None:
    """Show an answer beside the report, or refuse it with a reason.

    Raises
    ------
    AnswerProblem
        Where it is not confirmed, decided already, or refused without a reason.
    """
    if answer.confirmed_at is None:
        raise AnswerProblem("The sender has not confirmed this answer yet.")
    if answer.decided_at is not None:
        raise AnswerProblem("This answer was decided on already.")
    if not approve and not why.strip():
        raise AnswerProblem(
            "Write why you refuse it; the sender reads your reason. You may not refuse it for its content."
        )
    answer.decided_at, answer.decided_by, answer.approved, answer.why = now(), by, approve, why.strip()[:2000]


def waiting(session: Session, report_id: int) -> Sequence[t.Answer]:
    """Answers that are confirmed and not decided on, the oldest first."""
    return session.scalars(
        select(t.Answer)
        .where(t.Answer.report_id == report_id, t.Answer.confirmed_at.is_not(None), t.Answer.decided_at.is_(None))
        .order_by(t.Answer.id)
    ).all()


def shown(session: Session, report_id: int) -> Sequence[t.Answer]:
    """Answers that stand beside the report, the oldest first."""
    return session.scalars(
        select(t.Answer).where(t.Answer.report_id == report_id, t.Answer.approved.is_(True)).order_by(t.Answer.id)
    ).all()


def refused(session: Session, report_id: int) -> int:
    """How many answers to the report were refused."""
    return (
        session.scalar(select(func.count()).where(t.Answer.report_id == report_id, t.Answer.approved.is_(False))) or 0
    )
