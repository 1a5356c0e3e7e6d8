"""Users and teams: who is a member, who may change the team, and how people come in and go."""

import secrets
from collections.abc import Sequence
from datetime import timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from levelmoor.records import passwords, sign_ins
from levelmoor.records import tables as t
from levelmoor.records.audit import Actor, record
from levelmoor.records.database import now
from levelmoor.records.passwords import digest
from levelmoor.records.roles import Act, MemberRole, may

INVITED_FOR = timedelta(days=14)
RESET_FOR = timedelta(hours=24)


class AccountProblem(ValueError):
    """What about an account is not as it should be."""


def email_of(typed: str) -> str:
    """An address as accounts are kept by it; raises AccountProblem for what is none."""
    email = typed.strip().lower()
    name, at, place = email.rpartition("@")
    if not (name and at and place) or any(c.isspace() or not c.isprintable() for c in email) or len(email) > 200:
        raise AccountProblem(f'"{typed.strip()[:80]}" is not an email address')
    return email


def find_user(session: Session, email: str) -> t.User | None:
    return session.scalar(select(t.User).where(t.User.email == email.strip().lower()))


def find_team(session: Session, name: str) -> t.Team:
    """The team of that name, made where there is none."""
    team = session.scalar(select(t.Team).where(t.Team.name == name))
    if team is None:
        team = t.Team(name=name)
        session.add(team)
        session.flush()
    return team


def name_is_taken(session: Session, team_id: int, name: str) -> bool:
    """Whether another team has the name."""
    return session.scalar(select(t.Team.id).where(t.Team.name == name, t.Team.id != team_id)) is not None


def new_user(session: Session, email: str, name: str, password: str) -> t.User:
    """An account that is in no team yet.

    Raises
    ------
    AccountProblem
        For an address that is none or is taken, or a password that may not be one.
    """
    email = email_of(email)
    if find_user(session, email) is not None:
        raise AccountProblem(f"{email} already has an account")
    name = " ".join(name.split())[:200] or email
    user = t.User(email=email, name=name, password_hash=passwords.hashed(_checked(password, email, name)))
    session.add(user)
    session.flush()
    return user


def _checked(password: str, *known: str) -> str:
    try:
        return passwords.checked(password, *known)
    except passwords.WeakPassword as problem:
        raise AccountProblem(str(problem)) from None


def add_member(
    session: Session, team_name: str, email: str, name: str, password: str, role: MemberRole = MemberRole.MEMBER
) -> t.User:
    """For the operator: a user in a team, both made where they are missing. A user who is there keeps the password.

    Raises
    ------
    AccountProblem
        For an address that is none, a password that may not be one, or a team without a name.
    """
    if not team_name.strip():
        raise AccountProblem("a team needs a name")
    user = find_user(session, email_of(email)) or new_user(session, email, name, password)
    join(session, find_team(session, team_name.strip()), user, role)
    return user


def join(session: Session, team: t.Team, user: t.User, role: MemberRole) -> t.Membership:
    """Make the user a member; one who is a member already may get a role that lets do more by it, never one that lets
    do less."""
    place = session.get(t.Membership, (user.id, team.id))
    if place is None:
        place = t.Membership(user_id=user.id, team_id=team.id, joined_at=now(), role=role.value)
        session.add(place)
    roles = list(MemberRole)
    place.role = max(MemberRole(place.role), role, key=roles.index).value
    session.flush()
    return place


def set_password(session: Session, user: t.User, password: str) -> None:
    """A new password; every sign-in of the account ends with it."""
    user.password_hash = passwords.hashed(_checked(password, user.email, user.name))
    sign_ins.end(session, user.id)
    for link in session.scalars(select(t.ResetLink).where(t.ResetLink.user_id == user.id)):
        link.ended_at = link.ended_at or now()


def check_password(session: Session, email: str, password: str) -> t.User | None:
    """The user whose password it is, or None; takes as long for an unknown address as for a wrong password."""
    user = find_user(session, email)
    return user if passwords.is_right(user.password_hash if user else None, password) else None


# -- Members ---------------------------------------------------------------------------------------------------------


def members(session: Session, team_id: int) -> Sequence[t.Membership]:
    query = select(t.Membership).where(t.Membership.team_id == team_id).options(joinedload(t.Membership.user))
    return session.scalars(query.order_by(t.Membership.joined_at, t.Membership.user_id)).all()


def _locked_members(session: Session, team_id: int) -> Sequence[t.Membership]:
    """The members while nobody else changes them: two editors cannot each remove the other."""
    session.execute(select(t.Team.id).where(t.Team.id == team_id).with_for_update())
    query = select(t.Membership).where(t.Membership.team_id == team_id).options(joinedload(t.Membership.user))
    return session.scalars(query.with_for_update().execution_options(populate_existing=True)).all()


def _member(rows: Sequence[t.Membership], user_id: int) -> t.Membership:
    found = next((m for m in rows if m.user_id == user_id), None)
    if found is None:
        raise AccountProblem("there is no such member")
    return found


def _not_the_last_editor(rows: Sequence[t.Membership], found: t.Membership) -> None:
    if leads(found) and not any(leads(m) for m in rows if m is not found):
        raise AccountProblem(f"{found.user.name} is the team's only editor; make another member an editor first")


def leads(place: t.Membership) -> bool:
    return may(place.role, Act.LEAD)


def take_out(session: Session, team_id: int, user_id: int, actor: Actor, even_alone: bool = False) -> t.Membership:
    """Remove a member, or leave oneself; whoever is alone in a team leaves it without anybody only where that is told.

    Raises
    ------
    AccountProblem
        Where it is nobody here, or the last editor.
    """
    rows = _locked_members(session, team_id)
    found = _member(rows, user_id)
    if not (even_alone and len(rows) == 1):
        _not_the_last_editor(rows, found)
    session.delete(found)
    left = "left" if actor.user_id == user_id else "was removed"
    record(session, team_id, actor, "member", f"{found.user.name} ({found.user.email}) {left}")
    session.flush()
    return found


def set_role(session: Session, team_id: int, user_id: int, role: MemberRole, actor: Actor) -> t.Membership:
    """Give a member another role; the last editor stays one."""
    rows = _locked_members(session, team_id)
    found = _member(rows, user_id)
    if role is not MemberRole.EDITOR:
        _not_the_last_editor(rows, found)
    before, found.role = found.role, role.value
    what = f"{found.user.name} ({found.user.email}) is now {with_article(role)}, was {with_article(before)}"
    record(session, team_id, actor, "role", what)
    session.flush()
    return found


def with_article(role: str) -> str:
    return f"an {role}" if role == MemberRole.EDITOR else f"a {role}"


# -- Links -----------------------------------------------------------------------------------------------------------


def invite(session: Session, team: t.Team, email: str, role: MemberRole, actor: Actor) -> str:
    """A place in the team, offered; gives the link's token. Nothing depends on whether the address has an account."""
    email, token = email_of(email), secrets.token_urlsafe(24)
    at = now()
    session.add(
        t.Invitation(
            team_id=team.id,
            email=email,
            role=role.value,
            token_sha256=digest(token),
            made_by=actor.name,
            made_at=at,
            ends_at=at + INVITED_FOR,
        )
    )
    record(session, team.id, actor, "invitation", f"{email} is invited as {with_article(role)}")
    session.flush()
    return token


def open_invitations(session: Session, team_id: int) -> Sequence[t.Invitation]:
    query = select(t.Invitation).where(
        t.Invitation.team_id == team_id, t.Invitation.ended_at.is_(None), t.Invitation.ends_at > now()
    )
    return session.scalars(query.order_by(t.Invitation.id)).all()


def invitation_of(session: Session, token: str, lock: bool = False) -> t.Invitation | None:
    """The invitation that a link is for, while it can be taken."""
    query = select(t.Invitation).where(
        t.Invitation.token_sha256 == digest(token), t.Invitation.ended_at.is_(None), t.Invitation.ends_at > now()
    )
    return session.scalar(query.with_for_update() if lock else query)


def accept(session: Session, invitation: t.Invitation, user: t.User, actor: Actor) -> t.Membership:
    """Take the offered place: the person's own doing, once."""
    invitation.ended_at = now()
    place = join(session, invitation.team, user, MemberRole(invitation.role))
    what = f"{user.name} ({user.email}) joined by the invitation for {invitation.email} that {invitation.made_by} made"
    record(session, invitation.team_id, actor, "member", what)
    return place


def reset_link(session: Session, user: t.User, actor: Actor, team_id: int | None) -> str:
    """Leave to choose a new password; gives the link's token."""
    token, at = secrets.token_urlsafe(24), now()
    session.add(
        t.ResetLink(user_id=user.id, token_sha256=digest(token), made_by=actor.name, made_at=at, ends_at=at + RESET_FOR)
    )
    record(session, team_id, actor, "password", f"a link to reset the password of {user.email} was made")
    session.flush()
    return token


def may_reset(session: Session, editor: t.User, user: t.User) -> bool:
    """An editor may reset who is in no team but those that the editor edits; else one team took another's work."""
    theirs = session.scalars(select(t.Membership.team_id).where(t.Membership.user_id == user.id)).all()
    own = session.scalars(
        select(t.Membership.team_id).where(t.Membership.user_id == editor.id, t.Membership.role == MemberRole.EDITOR)
    ).all()
    return set(theirs) <= set(own)


def reset_of(session: Session, token: str, lock: bool = False) -> t.ResetLink | None:
    """What a reset link is for, while it can be used."""
    query = select(t.ResetLink).where(
        t.ResetLink.token_sha256 == digest(token), t.ResetLink.ended_at.is_(None), t.ResetLink.ends_at > now()
    )
    return session.scalar(query.with_for_update() if lock else query)
