"""The record of what was done: who, what, when and from where. It is added to and never changed."""

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.records import logs
from levelmoor.records import tables as t
from levelmoor.records.database import now

log = logs.log("levelmoor.audit")
KINDS = {
    "sign-in": "Sign-in",
    "sign-in refused": "Sign-in refused",
    "sign-out": "Sign-out",
    "password": "Password",
    "invitation": "Invitation",
    "member": "Member",
    "role": "Role",
    "publication": "Publication",
    "withdrawal": "Withdrawal",
    "answer": "Answer",
    "review": "Review",
    "addition": "Added",
    "change": "Changed",
    "removal": "Removed",
    "restored": "Restored",
    "export": "Export",
    "import": "Import",
    "setting": "Setting",
}


@dataclass(frozen=True)
class Actor:
    """Who does something, and from where: an address, or `command line`."""

    name: str
    user_id: int | None = None
    address: str = ""


OPERATOR = Actor("the operator", None, "command line")


def record(
    session: Session, team_id: int | None, actor: Actor, kind: str, what: str, evaluation_id: int | None = None
) -> None:
    """Add an entry; it stays or goes with what the session does besides."""
    assert kind in KINDS
    entry = t.AuditEntry(
        team_id=team_id, user_id=actor.user_id, at=now(), who=actor.name[:200], kind=kind, what=what[:2000],
        address=actor.address[:60], evaluation_id=evaluation_id,
    )  # fmt: skip
    session.add(entry)
    # What was typed is in the record alone.
    log.info(kind, team=team_id, user=actor.user_id, address=actor.address, evaluation=evaluation_id)


def record_of(session: Session, user: t.User, actor: Actor, kind: str, did: str) -> None:
    """Add an entry on a person to the record of each of their teams."""
    for place in user.memberships:
        record(session, place.team_id, actor, kind, f"{user.email} {did}")


IN_HISTORIES = ("addition", "change")
"""What each evaluation's own history tells; it would drown the rest in the team's record."""


def entries(
    session: Session, team_id: int, before: int | None = None, kind: str = "", who: str = "", most: int = 50
) -> Sequence[t.AuditEntry]:
    """The team's entries, the latest first, those before an id; of a kind, or all that are no single changes."""
    query = select(t.AuditEntry).where(t.AuditEntry.team_id == team_id)
    query = query.where(t.AuditEntry.kind == kind if kind else t.AuditEntry.kind.not_in(IN_HISTORIES))
    if who:
        query = query.where(t.AuditEntry.who == who)
    if before is not None:
        query = query.where(t.AuditEntry.id < before)
    return session.scalars(query.order_by(t.AuditEntry.id.desc()).limit(most)).all()
