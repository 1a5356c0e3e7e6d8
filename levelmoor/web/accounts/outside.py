"""Signing in by an outside identity provider, with OpenID Connect: for who has an account here already.

The provider says who somebody is, by its own number for them and by an address that it has verified [1]_. Authlib looks
after the protocol: state, nonce and PKCE, the provider's keys, and the signature, issuer, audience and time of what it
says. What a person has turned on as a second step is asked for here all the same.

References
----------
.. [1] OpenID Connect Core 1.0, sections 2, 3.1.3.7 and 5.7.
"""

import os
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from flask import Blueprint, Flask, abort, current_app, redirect, request, session, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from levelmoor.core.words.sentence import sentence
from levelmoor.records.audit import Actor, record
from levelmoor.records.logs import log
from levelmoor.records.outside_identities import known_as
from levelmoor.records.second_step import is_on
from levelmoor.web.accounts.entering import enter, half_way, onward
from levelmoor.web.accounts.routes import sign_in_page
from levelmoor.web.context import address, db, maker
from levelmoor.web.links import outward
from levelmoor.web.security import is_own

outside = Blueprint("outside", __name__)
VARIABLES = {
    "issuer": "LEVELMOOR_OIDC_ISSUER",
    "client_id": "LEVELMOOR_OIDC_CLIENT",
    "secret_file": "LEVELMOOR_OIDC_SECRET_FILE",
    "name": "LEVELMOOR_OIDC_NAME",
}
ONWARD = "outside_onward"
WAIT_S = 10.0
"""For an answer of the provider."""
FAILED = "{name} did not confirm who you are. Try again, or sign in with your password."
UNKNOWN = (
    "{name} confirmed who you are, but no account here has the address that it gives. Ask an editor of your team to"
    " invite that address."
)


@dataclass(frozen=True)
class Provider:
    """The installation's provider, as its settings name it."""

    issuer: str
    name: str
    client: Any


def provider_of(app: Flask, settings: Mapping[str, str]) -> Provider | None:
    """The provider that settings name, None without any.

    Raises
    ------
    ValueError
        Where a setting is missing, or the provider would be reached in clear over a network.
    """
    issuer = settings.get(VARIABLES["issuer"], "").rstrip("/")
    if not issuer:
        return None
    missing = [name for name in VARIABLES.values() if not settings.get(name)]
    if missing:
        raise ValueError(f"{', '.join(missing)} must be set too, for sign-in by {issuer}")
    parts = urlsplit(issuer)
    if parts.scheme != "https" and parts.hostname not in ("127.0.0.1", "localhost"):
        raise ValueError(f"{VARIABLES['issuer']} is {issuer}; it must begin with https://")
    from authlib.integrations.flask_client import OAuth  # only who has a provider needs all that

    oauth = OAuth(app)
    client = oauth.register(
        "outside",
        client_id=settings[VARIABLES["client_id"]],
        client_secret=Path(settings[VARIABLES["secret_file"]]).read_text("utf-8").strip(),
        server_metadata_url=f"{issuer}/.well-known/openid-configuration",
        client_kwargs={"scope": "openid email", "code_challenge_method": "S256", "default_timeout": WAIT_S},
    )
    return Provider(issuer, settings[VARIABLES["name"]], client)


def install(app: Flask) -> None:
    app.config["OUTSIDE"] = provider_of(app, os.environ)
    app.jinja_env.globals["outside_provider"] = app.config["OUTSIDE"]


def _provider() -> Provider:
    found: Provider | None = current_app.config["OUTSIDE"]
    return found or abort(404)


@outside.get("/sign-in/outside")
def go() -> ResponseReturnValue:
    """Over to the provider."""
    provider = _provider()
    if current_user.is_authenticated:
        return redirect(onward() or url_for("evaluations.listing"))
    for begun in [key for key in session if key.startswith("_state_outside_")]:  # a way that was not gone to its end
        session.pop(begun)
    session[ONWARD] = onward()
    try:
        answer: ResponseReturnValue = provider.client.authorize_redirect(outward("outside.back"))
    except _troubles() as problem:
        return _failed(provider, problem)
    return answer


@outside.get("/sign-in/outside/back")
def back() -> ResponseReturnValue:
    """Back from the provider, with what it says."""
    provider, target = _provider(), session.pop(ONWARD, "")
    must_be = {"iss": {"values": [provider.issuer]}, "aud": {"values": [provider.client.client_id]}}
    try:
        said = provider.client.authorize_access_token(claims_options=must_be)["userinfo"]
        subject, email = str(said["sub"]), str(said.get("email") or "")
    except _troubles() as problem:
        return _failed(provider, problem)
    verified = email if said.get("email_verified") is True else ""
    user = known_as(db(), provider.issuer, subject, verified)
    if user is None:
        with maker().begin() as beside:
            who = Actor(verified[:200] or "somebody", None, address())
            record(
                beside, None, who, "sign-in refused", f"{provider.name} vouches for {verified[:200] or 'nobody here'}"
            )
        return sign_in_page(wrong=sentence(UNKNOWN.format(name=provider.name))), 403
    target = target if is_own(target) else ""
    if is_on(db(), user.id):
        half_way(user)
        db().commit()
        return redirect(url_for("second_step.ask", next=target or None))
    enter(user)
    db().commit()  # a page that is only looked at keeps nothing by itself
    return redirect(target or url_for("evaluations.listing"))


def _troubles() -> tuple[type[Exception], ...]:
    """All that Authlib and what it rests on raise where a provider is away, or says what it must not."""
    from authlib.common.errors import AuthlibBaseError
    from joserfc.errors import JoseError
    from requests import RequestException

    return AuthlibBaseError, JoseError, RequestException, RuntimeError, ValueError, KeyError


def _failed(provider: Provider, problem: Exception) -> ResponseReturnValue:
    log("levelmoor.web").warning("outside sign-in", error=type(problem).__name__, route=request.endpoint)
    return sign_in_page(wrong=sentence(FAILED.format(name=provider.name))), 403
