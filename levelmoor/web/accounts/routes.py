"""Sign-in, sign-out, the team in hand, and the look of the pages."""

from urllib.parse import urlsplit

from flask import Blueprint, abort, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user, login_required, login_user, logout_user
from flask_wtf import FlaskForm
from wtforms import EmailField, PasswordField
from wtforms.validators import InputRequired

from levelmoor.records.accounts import check_password
from levelmoor.records.store import listed_reports
from levelmoor.web.context import LOOKS, Member, db
from levelmoor.web.security import limiter

accounts = Blueprint("accounts", __name__, template_folder="templates")


class SignIn(FlaskForm):  # type: ignore[misc]
    email = EmailField("E-mail address", [InputRequired("Type your e-mail address.")])
    password = PasswordField("Password", [InputRequired("Type your password.")])


@accounts.route("/sign-in", methods=["GET", "POST"])
@limiter.limit("10 per minute", methods=["POST"])
def sign_in() -> ResponseReturnValue:
    if current_user.is_authenticated:
        return redirect(url_for("evaluations.listing"))
    form, wrong = SignIn(), ""
    if form.validate_on_submit():
        user = check_password(db(), form.email.data, form.password.data)
        if user:
            session.clear()
            login_user(Member(user))
            return redirect(_local(request.args.get("next", "")) or url_for("evaluations.listing"))
        wrong = "No member has this address and password."
    status = 422 if wrong or form.errors else 200
    return render_template("accounts/sign_in.html", form=form, wrong=wrong, reports=listed_reports(db(), 12)), status


def _local(target: str) -> str:
    """The address to go on to, if it is one of ours."""
    parts = urlsplit(target)
    return target if target.startswith("/") and not target.startswith(("//", "/\\")) and not parts.netloc else ""


@accounts.post("/sign-out")
@login_required  # type: ignore[untyped-decorator]
def sign_out() -> ResponseReturnValue:
    logout_user()
    session.clear()
    return redirect(url_for("accounts.sign_in"))


@accounts.post("/team-in-hand")
@login_required  # type: ignore[untyped-decorator]
def team_in_hand() -> ResponseReturnValue:
    wanted = request.form.get("team", type=int)
    if wanted not in [m.team_id for m in current_user.memberships]:
        abort(404)
    session["team"] = wanted
    return redirect(url_for("evaluations.listing"))


@accounts.post("/look")
def look() -> ResponseReturnValue:
    wanted = request.form.get("look", "auto")
    response = redirect(_local(request.form.get("back", "")) or "/")
    if wanted in LOOKS:
        response.set_cookie("look", wanted, max_age=31536000, samesite="Lax", httponly=True)
    return response
