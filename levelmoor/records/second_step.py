"""A second step at sign-in: codes that change every 30 s [1]_, made by an app of the person's, or codes on paper.

A code lets in once, and one step early or late, since clocks differ.

References
----------
.. [1] RFC 6238, "TOTP: Time-Based One-Time Password Algorithm", 2011.
"""

import hmac
import secrets
import time

import pyotp
from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session

from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.records.passwords import digest
from levelmoor.records.secrets_at_rest import opened, sealed

ISSUER = "Levelmoor"
STEP_S = 30
EARLY_OR_LATE = 1
RECOVERY_CODES = 8
LETTERS = "abcdefghjkmnpqrstuvwxyz23456789"
"""Without those that look like others."""


def begin(session: Session, user: t.User) -> t.SecondStep:
    """A new secret, which counts for nothing until a code of it is shown; one that counts already stays."""
    row = session.get(t.SecondStep, user.id)
    if row is None:
        row = t.SecondStep(user_id=user.id, last_step=0)
        session.add(row)
    if row.confirmed_at is None:
        row.secret, row.begun_at = sealed(pyotp.random_base32(), _of(user.id)), now()
    session.flush()
    return row


def secret_of(row: t.SecondStep) -> str:
    """What an app makes codes from; empty where it was sealed with a key that is not here."""
    return opened(row.secret, _of(row.user_id))


def _of(user_id: int) -> str:
    return f"second step of {user_id}"


def address_for_app(row: t.SecondStep, email: str) -> str:
    """What an app reads from a picture."""
    return pyotp.TOTP(secret_of(row)).provisioning_uri(name=email, issuer_name=ISSUER)


def confirm(session: Session, user_id: int, code: str) -> list[str]:
    """Let it count from now on, where the code is right; gives the codes for paper, which are told this once. Empty
    where the code is wrong, or nothing was begun."""
    row = session.get(t.SecondStep, user_id, with_for_update=True)
    if row is None or row.confirmed_at is not None or not _is_of_app(row, code):
        return []
    row.confirmed_at = now()
    codes = [f"{_letters()}-{_letters()}" for _ in range(RECOVERY_CODES)]
    session.execute(delete(t.RecoveryCode).where(t.RecoveryCode.user_id == user_id))
    session.add_all(t.RecoveryCode(user_id=user_id, sha256=_kept_as(user_id, code)) for code in codes)
    session.flush()
    return codes


def _letters() -> str:
    return "".join(secrets.choice(LETTERS) for _ in range(5))


def is_on(session: Session, user_id: int) -> bool:
    """Whether the person is asked for a code at sign-in."""
    row = session.get(t.SecondStep, user_id)
    return row is not None and row.confirmed_at is not None


def passes(session: Session, user_id: int, code: str) -> bool:
    """Whether a code lets in; it does not a second time."""
    row = session.get(t.SecondStep, user_id, with_for_update=True, populate_existing=True)
    if row is None or row.confirmed_at is None:
        return False
    if _is_of_app(row, code):
        return True
    paper = t.RecoveryCode
    unused = (paper.user_id == user_id) & (paper.sha256 == _kept_as(user_id, code)) & paper.used_at.is_(None)
    return bool(session.execute(update(paper).where(unused).values(used_at=now())).rowcount)  # type: ignore[attr-defined]


def _is_of_app(row: t.SecondStep, code: str) -> bool:
    typed, step = "".join(code.split()), int(time.time()) // STEP_S
    if not (secret := secret_of(row)):
        return False
    totp = pyotp.TOTP(secret)
    for one in range(step - EARLY_OR_LATE, step + EARLY_OR_LATE + 1):
        if one > row.last_step and hmac.compare_digest(totp.at(one * STEP_S).encode(), typed.encode()):
            row.last_step = one
            return True
    return False


def _kept_as(user_id: int, code: str) -> str:
    return digest(f"{user_id} {''.join(code.lower().split()).replace('-', '')}")


def left(session: Session, user_id: int) -> int:
    """How many codes on paper were not used yet."""
    unused = select(t.RecoveryCode.id).where(t.RecoveryCode.user_id == user_id, t.RecoveryCode.used_at.is_(None))
    return len(session.scalars(unused).all())


def turn_off(session: Session, user_id: int) -> None:
    """Ask for no code any more."""
    session.execute(delete(t.RecoveryCode).where(t.RecoveryCode.user_id == user_id))
    session.execute(delete(t.SecondStep).where(t.SecondStep.user_id == user_id))
