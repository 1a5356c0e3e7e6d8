"""Users, teams and passwords."""

from argon2 import PasswordHasher
from argon2.exceptions import VerificationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.records.tables import Membership, Team, User

LEAST_PASSWORD = 10
_hasher = PasswordHasher()
# Checked when there is no such user, so that the time taken does not tell.
_NOBODY = _hasher.hash("nobody")


class AccountProblem(ValueError):
    """What about an account is not as it should be."""


def find_team(session: Session, name: str) -> Team:
    """The team of that name, made where there is none."""
    team = session.scalar(select(Team).where(Team.name == name))
    if team is None:
        team = Team(name=name)
        session.add(team)
        session.flush()
    return team


def add_member(session: Session, team_name: str, email: str, name: str, password: str, editor: bool) -> User:
    """Add a user to a team. A user who is there already keeps name and password: no team may set another's.

    Raises
    ------
    AccountProblem
        For an address without @, a short password, or a team without a name.
    """
    email = email.strip().lower()
    if "@" not in email:
        raise AccountProblem(f'"{email}" is no e-mail address')
    if not team_name.strip():
        raise AccountProblem("a team needs a name")
    user = session.scalar(select(User).where(User.email == email))
    if user is None:
        if len(password) < LEAST_PASSWORD:
            raise AccountProblem(f"a password has at least {LEAST_PASSWORD} characters")
        user = User(email=email, name=name, password_hash=_hasher.hash(password))
        session.add(user)
        session.flush()
    team = find_team(session, team_name.strip())
    membership = session.get(Membership, (user.id, team.id)) or Membership(user_id=user.id, team_id=team.id)
    membership.editor = editor
    session.add(membership)
    session.flush()
    return user


def check_password(session: Session, email: str, password: str) -> User | None:
    """The user whose password it is, or None; takes as long for an unknown address as for a wrong password."""
    user = session.scalar(select(User).where(User.email == email.strip().lower()))
    try:
        _hasher.verify(user.password_hash if user else _NOBODY, password)
    except VerificationError:
        return None
    return user
