"""Signing in by a passkey, and the passkeys on the account's page. What browsers need and send is JSON."""

from base64 import b64decode, b64encode
from urllib.parse import urlsplit

from flask import Blueprint, Response, abort, current_app, flash, jsonify, redirect, request, session, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user, login_required

from levelmoor.core.words.sentence import sentence
from levelmoor.records import passkeys as records
from levelmoor.records.audit import Actor, record, record_of
from levelmoor.records.passkeys import Challenge, PasskeyProblem, Site
from levelmoor.web.accounts.entering import enter, onward
from levelmoor.web.accounts.routes import own_password_problem
from levelmoor.web.context import actor, address, db, maker

passkeys = Blueprint("passkeys", __name__)
ASKED = "passkey"
"""Where the browser's cookie keeps for what a device was asked to sign, what, and when."""
TO_ENTER = "enter"
UNKNOWN = "That passkey does not open an account here, or it took too long. Try again, or sign in with your password."


def site() -> Site:
    """The installation as this browser calls it, if that is a name of its own, or this machine's."""
    config, name = current_app.config, urlsplit(request.host_url).hostname
    own = config["TRUSTED_HOSTS"] or name == "localhost" or request.host == config["SERVED_AT"]
    return Site(f"{request.scheme}://{request.host}" if own else "")


@passkeys.app_template_global()
def passkeys_here() -> bool:
    """Whether a passkey can belong to the address that the page is read at."""
    return bool(site().name)


def _asked(purpose: str, options: str, challenge: Challenge) -> Response:
    session[ASKED] = [purpose, b64encode(challenge.bytes_).decode(), challenge.at]
    return Response(options, mimetype="application/json")


def _answered(purpose: str) -> Challenge:
    """What this browser was asked to sign for a purpose, once; what it was asked for another counts as long past."""
    of, bytes_, at = session.pop(ASKED, ("", "", 0.0))
    return Challenge(b64decode(bytes_), at if of == purpose else 0.0)


def _to_add() -> str:
    return f"add to {current_user.id}"


def _here() -> Site:
    found = site()
    return found if found.name else abort(404)


@passkeys.post("/sign-in/passkey/ask")
def asked_to_enter() -> ResponseReturnValue:
    return _asked(TO_ENTER, *records.to_enter(_here()))


@passkeys.post("/sign-in/passkey")
def go_in() -> ResponseReturnValue:
    """Into the account whose passkey has signed what was asked."""
    user = records.who_enters(db(), request.get_json(silent=True), _answered(TO_ENTER), _here())
    if user is None:
        with maker().begin() as beside:
            who = Actor("somebody", None, address())
            record(beside, None, who, "sign-in refused", "a passkey that opens no account here")
        return jsonify(problem=UNKNOWN), 403
    enter(user)
    return jsonify(to=onward() or url_for("evaluations.listing"))


@passkeys.post("/account/passkeys/ask")
@login_required  # type: ignore[untyped-decorator]
def asked_to_add() -> ResponseReturnValue:
    """The password once more, then what the device has to make."""
    try:
        if problem := own_password_problem(request.form.get("now", "")):
            raise PasskeyProblem(problem)
        return _asked(_to_add(), *records.to_add(db(), current_user.row, _here()))
    except PasskeyProblem as problem:
        return jsonify(problem=sentence(problem)), 422


@passkeys.post("/account/passkeys")
@login_required  # type: ignore[untyped-decorator]
def add() -> ResponseReturnValue:
    name = " ".join(request.args.get("name", "").split())[: records.LONGEST_NAME] or "Passkey"
    try:
        row = records.add(db(), current_user.row, name, request.get_json(silent=True), _answered(_to_add()), _here())
    except PasskeyProblem as problem:
        return jsonify(problem=sentence(problem)), 422
    record_of(db(), current_user.row, actor(), "password", f"added the passkey {row.name}")
    flash(f"{row.name} signs you in from now on.")
    return jsonify(to=url_for("accounts.account"))


@passkeys.post("/account/passkeys/<int:passkey_id>/remove")
@login_required  # type: ignore[untyped-decorator]
def remove(passkey_id: int) -> ResponseReturnValue:
    if name := records.remove(db(), current_user.id, passkey_id):
        record_of(db(), current_user.row, actor(), "password", f"removed the passkey {name}")
        flash(f"{name} no longer signs you in.")
    return redirect(url_for("accounts.account", _anchor="passkeys"))
