"""The second step at sign-in: asked for after the password, and turned on and off on the account's page."""

import io

import segno
from flask import Blueprint, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user, login_required
from markupsafe import Markup

from levelmoor.records import second_step as records
from levelmoor.records import tables as t
from levelmoor.records.audit import record_of
from levelmoor.web.accounts.entering import WRONG_CODE, code_problem, enter, onward, who_is_half_way
from levelmoor.web.accounts.routes import account_page, own_password_problem
from levelmoor.web.context import actor, db

second_step = Blueprint("second_step", __name__, template_folder="templates")


@second_step.route("/sign-in/code", methods=["GET", "POST"])
def ask() -> ResponseReturnValue:
    user = who_is_half_way()
    if user is None:
        return redirect(url_for("accounts.sign_in", next=onward() or None))
    wrong = ""
    if request.method == "POST":
        wrong = code_problem(user, request.form.get("code", ""))
        if not wrong:
            enter(user)
            return redirect(onward() or url_for("evaluations.listing"))
    return render_template("accounts/code.html", wrong=wrong), 422 if wrong else 200


@second_step.post("/account/second-step")
@login_required  # type: ignore[untyped-decorator]
def begin() -> ResponseReturnValue:
    """Show the picture for the app."""
    if problem := own_password_problem(request.form.get("now", "")):
        return account_page(wrong={"second": problem}), 422
    if records.is_on(db(), current_user.id):
        return account_page(wrong={"second": "It is on already."}), 422
    return account_page(app=_for_app(records.begin(db(), current_user.row)))


def _for_app(row: t.SecondStep) -> dict[str, object]:
    out = io.BytesIO()
    segno.make(records.address_for_app(row, current_user.row.email), error="m").save(
        out, kind="svg", border=2, scale=4, xmldecl=False, svgns=True, nl=False
    )
    return {"picture": Markup(out.getvalue().decode()), "secret": records.secret_of(row)}  # noqa: S704  our own drawing


@second_step.post("/account/second-step/confirm")
@login_required  # type: ignore[untyped-decorator]
def confirm() -> ResponseReturnValue:
    """The app's first code: from now on a code is asked for."""
    row = db().get(t.SecondStep, current_user.id)
    if row is None or row.confirmed_at is not None:
        return redirect(url_for("accounts.account"))
    codes = records.confirm(db(), current_user.id, request.form.get("code", ""))
    if not codes:
        return account_page(app=_for_app(row), wrong={"code": WRONG_CODE}), 422
    _noted("turned on")
    return account_page(codes=codes)


@second_step.post("/account/second-step/off")
@login_required  # type: ignore[untyped-decorator]
def off() -> ResponseReturnValue:
    problem = own_password_problem(request.form.get("now", "")) or code_problem(
        current_user.row, request.form.get("code", "")
    )
    if problem:
        return account_page(wrong={"second": problem}), 422
    records.turn_off(db(), current_user.id)
    _noted("turned off")
    flash("Only your password is asked for from now on.")
    return redirect(url_for("accounts.account"))


def _noted(what: str) -> None:
    record_of(db(), current_user.row, actor(), "password", f"{what} the second step at sign-in")
