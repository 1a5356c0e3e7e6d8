"""The browser that an account was signed in on before: it carries a signed cookie that says so, and no more."""

import secrets
from hashlib import sha256

from flask import Response, current_app, request
from itsdangerous import BadSignature, URLSafeTimedSerializer

COOKIE = "levelmoor_device"
A_YEAR_S = 365 * 86_400


def _signed() -> URLSafeTimedSerializer:
    return URLSafeTimedSerializer(str(current_app.secret_key), salt="known device")


def _account(email: str) -> str:
    """How the cookie names an account: who reads it learns no address."""
    return sha256(email.strip().lower().encode()).hexdigest()[:24]


def device_of(email: str) -> str:
    """What the device is known by to an account, or nothing."""
    try:
        kept = _signed().loads(request.cookies.get(COOKIE, ""), max_age=A_YEAR_S)
    except BadSignature:
        return ""
    known = kept.get(_account(email), "") if isinstance(kept, dict) else ""
    return known if isinstance(known, str) else ""


def remember(response: Response, email: str) -> Response:
    """Know this device from now on, for the accounts that it was known to as well; four at most."""
    try:
        kept = _signed().loads(request.cookies.get(COOKIE, ""), max_age=A_YEAR_S)
    except BadSignature:
        kept = {}
    account = _account(email)
    name = kept.get(account) or secrets.token_hex(12)
    known = {**{k: v for k, v in kept.items() if k != account}, account: name}
    newest = dict(list(known.items())[-4:])
    response.set_cookie(
        COOKIE, _signed().dumps(newest), max_age=A_YEAR_S, httponly=True, samesite="Lax",
        secure=bool(current_app.config["SESSION_COOKIE_SECURE"]),
    )  # fmt: skip
    return response
