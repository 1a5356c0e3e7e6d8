"""Passkeys: a key pair that a person's device or security key makes for this installation alone [1]_. It lets in
without a password, and counts for both steps, since the device asks for a finger, a face or a PIN first.

References
----------
.. [1] W3C, "Web Authentication: An API for accessing Public Key Credentials, Level 2", 2021, sections 7.1 and 7.2.
"""

import ipaddress
import time
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any
from urllib.parse import urlsplit

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from levelmoor.records import tables as t
from levelmoor.records.database import now

MOST = 10
"""Passkeys of one person."""
HOLDS_S = 300.0
"""For how long a challenge may be answered."""
LONGEST_NAME = 60


class PasskeyProblem(ValueError):
    """Why a passkey is not added, in words for the person."""


@dataclass(frozen=True)
class Site:
    """The installation as browsers know it: `https://` with its name and port. A passkey belongs to the name."""

    origin: str

    @property
    def name(self) -> str:
        """The name, empty where there is only a number: to that no passkey can belong."""
        name = urlsplit(self.origin).hostname or ""
        try:
            ipaddress.ip_address(name)
        except ValueError:
            return name
        return ""


@dataclass(frozen=True)
class Challenge:
    """What a device has to sign, and when it was asked to, in seconds since 1970."""

    bytes_: bytes
    at: float

    @property
    def holds(self) -> bool:
        """Whether it may still be answered."""
        return 0 <= time.time() - self.at < HOLDS_S


def of_user(session: Session, user_id: int) -> Sequence[t.Passkey]:
    """The passkeys of a person, the first one first."""
    return session.scalars(select(t.Passkey).where(t.Passkey.user_id == user_id).order_by(t.Passkey.id)).all()


def to_add(session: Session, user: t.User, site: Site) -> tuple[str, Challenge]:
    """What a browser needs to make one, as JSON, and the challenge in it.

    Raises
    ------
    PasskeyProblem
        Where the person has enough of them.
    """
    from webauthn import generate_registration_options, options_to_json
    from webauthn.helpers import structs

    has = of_user(session, user.id)
    if len(has) >= MOST:
        raise PasskeyProblem(f"at most {MOST} passkeys are allowed; remove one first")
    options = generate_registration_options(
        rp_id=site.name,
        rp_name="Levelmoor",
        user_id=f"levelmoor-{user.id}".encode(),
        user_name=user.email,
        user_display_name=user.name,
        authenticator_selection=structs.AuthenticatorSelectionCriteria(
            resident_key=structs.ResidentKeyRequirement.REQUIRED,
            user_verification=structs.UserVerificationRequirement.REQUIRED,
        ),
        exclude_credentials=[structs.PublicKeyCredentialDescriptor(id=one.credential) for one in has],
    )
    return options_to_json(options), Challenge(options.challenge, time.time())


def add(session: Session, user: t.User, name: str, answer: Any, asked: Challenge, site: Site) -> t.Passkey:
    """Keep the public key that a browser has sent in answer to a challenge.

    Raises
    ------
    PasskeyProblem
        Where it does not answer that challenge, or answers too late.
    """
    from webauthn import verify_registration_response
    from webauthn.helpers.exceptions import WebAuthnException

    try:
        if not asked.holds:
            raise PasskeyProblem("that took too long; try again")
        made = verify_registration_response(
            credential=answer,
            expected_challenge=asked.bytes_,
            expected_rp_id=site.name,
            expected_origin=site.origin,
            require_user_verification=True,
        )
    except (WebAuthnException, KeyError, TypeError) as problem:
        raise PasskeyProblem("the browser did not make a passkey for this server; try again") from problem
    if session.scalar(select(t.Passkey.id).where(t.Passkey.credential == made.credential_id)) is not None:
        raise PasskeyProblem("this passkey was added already")
    row = t.Passkey(
        user_id=user.id,
        name=name[:LONGEST_NAME],
        credential=made.credential_id,
        public_key=made.credential_public_key,
        sign_count=made.sign_count,
        made_at=now(),
        answered_s=asked.at,
    )
    session.add(row)
    session.flush()
    return row


def to_enter(site: Site) -> tuple[str, Challenge]:
    """What a browser needs to sign in by any passkey that it has for this installation, as JSON, and the challenge."""
    from webauthn import generate_authentication_options, options_to_json
    from webauthn.helpers.structs import UserVerificationRequirement

    options = generate_authentication_options(rp_id=site.name, user_verification=UserVerificationRequirement.REQUIRED)
    return options_to_json(options), Challenge(options.challenge, time.time())


def who_enters(session: Session, answer: Any, asked: Challenge, site: Site) -> t.User | None:
    """Whose passkey has signed a challenge; None where it is unknown, signed something else, or too late. A challenge
    lets in once: each that was asked before the last one answered is worth nothing."""
    from webauthn import base64url_to_bytes, verify_authentication_response
    from webauthn.helpers.exceptions import WebAuthnException

    try:
        credential = base64url_to_bytes(answer["rawId"])
        query = select(t.Passkey).where(t.Passkey.credential == credential)
        row = session.scalar(query.with_for_update())
        if row is None or not asked.holds or asked.at <= row.answered_s:
            return None
        found = verify_authentication_response(
            credential=answer,
            expected_challenge=asked.bytes_,
            expected_rp_id=site.name,
            expected_origin=site.origin,
            credential_public_key=row.public_key,
            credential_current_sign_count=row.sign_count,
            require_user_verification=True,
        )
    except (WebAuthnException, KeyError, TypeError, ValueError):
        return None
    row.sign_count, row.answered_s, row.used_at = found.new_sign_count, asked.at, now()
    session.flush()
    return session.get(t.User, row.user_id)


def remove(session: Session, user_id: int, passkey_id: int | None = None) -> str:
    """Remove one passkey of a person, or all; gives the name of that one, empty where there is none."""
    query = select(t.Passkey).where(t.Passkey.user_id == user_id)
    if passkey_id is not None:
        query = query.where(t.Passkey.id == passkey_id)
    rows = session.scalars(query).all()
    session.execute(delete(t.Passkey).where(t.Passkey.id.in_([row.id for row in rows])))
    return rows[0].name if rows else ""
