"""Forgetting a person who wants no account any more.

What was measured stays with the teams, and the activity record, which nobody can change, keeps the name and the address
under which something was done. All else of the person goes.
"""

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from levelmoor.records import passkeys, second_step, sign_ins
from levelmoor.records import tables as t
from levelmoor.records.accounts import take_out
from levelmoor.records.audit import Actor
from levelmoor.records.database import now

NAME = "Former member"
NO_PASSWORD = "!"  # noqa: S105  the digest of none


def forget(session: Session, user: t.User, actor: Actor) -> None:
    """Take a person out of all teams, end what lets them in, and keep neither address, name, password, nor where they
    signed in from.

    Raises
    ------
    AccountProblem
        Where others would be left in a team without an editor; then nothing is done, once the caller rolls back.
    """
    for team_id in [m.team_id for m in user.memberships]:
        take_out(session, team_id, user.id, actor, even_alone=True)
    sign_ins.end(session, user.id)
    for browser in session.scalars(select(t.SignIn).where(t.SignIn.user_id == user.id)):
        browser.address = browser.device = ""
    for link in session.scalars(select(t.ResetLink).where(t.ResetLink.user_id == user.id)):
        link.ended_at = link.ended_at or now()
    for offered in session.scalars(select(t.Invitation).where(t.Invitation.email == user.email)):
        offered.email, offered.ended_at = "", offered.ended_at or now()
    second_step.turn_off(session, user.id)
    passkeys.remove(session, user.id)
    session.execute(delete(t.OutsideIdentity).where(t.OutsideIdentity.user_id == user.id))
    user.email, user.name, user.password_hash = f"{user.id}@former.invalid", NAME, NO_PASSWORD
    session.flush()
