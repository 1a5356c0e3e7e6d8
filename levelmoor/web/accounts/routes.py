"""Sign-in, sign-out, the person's own account, links that let in, and the look of the pages."""

from typing import Any

from flask import (
    Blueprint,
    abort,
    current_app,
    flash,
    g,
    jsonify,
    redirect,
    render_template,
    request,
    session,
    url_for,
)  # fmt: skip
from flask.typing import ResponseReturnValue
from flask_login import current_user, login_required, logout_user
from flask_wtf.csrf import generate_csrf

from levelmoor.core.words.sentence import sentence
from levelmoor.demo.scenario import PASSWORD as DEMO_PASSWORD
from levelmoor.records import accounts as records
from levelmoor.records import passkeys, passwords, sign_ins
from levelmoor.records import tables as t
from levelmoor.records.audit import Actor, record, record_of
from levelmoor.records.database import now
from levelmoor.records.forgetting import forget
from levelmoor.records.second_step import is_on, left
from levelmoor.records.shelf import Search, find
from levelmoor.records.tries import TooManyTries, give_back, take_try
from levelmoor.web.accounts.entering import code_problem, enter, half_way, onward
from levelmoor.web.context import LOOKS, actor, address, db, maker
from levelmoor.web.known_device import device_of
from levelmoor.web.operator.routes import is_operator
from levelmoor.web.security import is_own
from levelmoor.web.tryout.routes import NOTHING_TRIED

NEWEST = 8
"""Reports that the front page shows."""
accounts = Blueprint("accounts", __name__, template_folder="templates")
WRONG = "Wrong email address or password."
NO_LINK = "This link was already used or has expired; ask for a new one."


# -- Signing in and out ----------------------------------------------------------------------------------------------


@accounts.route("/sign-in", methods=["GET", "POST"])
def sign_in() -> ResponseReturnValue:
    if current_user.is_authenticated:
        return redirect(onward() or url_for("evaluations.listing"))
    in_place = request.accept_mimetypes.best == "application/json"
    email, wrong, code = request.form.get("email", "").strip(), "", 200
    if request.method == "POST":
        wrong = _missing(email, request.form.get("password", ""))
        user = None if wrong else _let_in(email, request.form.get("password", ""))
        if isinstance(user, t.User) and is_on(db(), user.id):
            if not in_place:
                half_way(user)
                return redirect(url_for("second_step.ask", next=onward() or None))
            if problem := code_problem(user, request.form.get("code", "")):
                return jsonify(problem=problem, asks="code"), 422
        if isinstance(user, t.User):
            enter(user)
            if in_place:
                return jsonify(csrf=generate_csrf())
            return redirect(onward() or url_for("evaluations.listing"))
        wrong = wrong or str(user)
        code = 429 if wrong.startswith("Too many") else 422
        if in_place:
            return jsonify(problem=wrong), code
    return sign_in_page(email, wrong), code


def sign_in_page(email: str = "", wrong: str = "") -> str:
    reports = find(db(), Search(), NEWEST)
    return render_template("accounts/sign_in.html", email=email, wrong=wrong, reports=reports, **NOTHING_TRIED)


def _missing(email: str, password: str) -> str:
    return "Type your email address." if not email else "" if password else "Type your password."


def _let_in(email: str, password: str) -> t.User | str:
    """The user, or why not. What fails is counted and recorded whatever becomes of the request."""
    try:
        taken = take_try(maker(), email, address(), device_of(email))
    except TooManyTries as problem:
        return str(problem)
    if password == DEMO_PASSWORD and not current_app.config["DEMO_SIGN_IN"]:
        return "The demo's password does not work on a server that others can reach; use your own account."
    user = records.check_password(db(), email, password)
    if user is not None:
        give_back(maker(), taken)
        return user
    with maker().begin() as beside:
        known = records.find_user(beside, email)
        who = Actor(known.name, known.id, address()) if known else Actor(email[:200], None, address())
        for team_id in [m.team_id for m in known.memberships] if known else [None]:
            record(beside, team_id, who, "sign-in refused", f"{email[:200]}: wrong password or no such account")
    return WRONG


@accounts.post("/sign-out")
@login_required  # type: ignore[untyped-decorator]
def sign_out() -> ResponseReturnValue:
    _end(g.sign_in.id)
    logout_user()
    session.clear()
    return redirect(url_for("accounts.sign_in"))


def _end(sign_in_id: int) -> None:
    sign_ins.end(db(), current_user.id, sign_in_id)
    record_of(db(), current_user.row, actor(), "sign-out", "signed out")


# -- The account -----------------------------------------------------------------------------------------------------


@accounts.get("/account")
@login_required  # type: ignore[untyped-decorator]
def account() -> ResponseReturnValue:
    return account_page()


def account_page(**more: Any) -> str:
    data = {
        "sign_ins": sign_ins.of_user(db(), current_user.id), "this": g.sign_in.id, "wrong": {},
        "operator": is_operator(current_user.row.email), "second_step": is_on(db(), current_user.id),
        "recovery_left": left(db(), current_user.id), "passkeys": passkeys.of_user(db(), current_user.id),
    }  # fmt: skip
    return render_template("accounts/account.html", **{**data, **more})


@accounts.post("/account/name")
@login_required  # type: ignore[untyped-decorator]
def name() -> ResponseReturnValue:
    typed = " ".join(request.form.get("name", "").split())
    if not typed or len(typed) > 200:
        return account_page(wrong={"name": "Write your name, at most 200 characters."}), 422
    current_user.row.name = typed
    flash("Saved.")
    return redirect(url_for("accounts.account"))


@accounts.post("/account/password")
@login_required  # type: ignore[untyped-decorator]
def password() -> ResponseReturnValue:
    """A new password; every other sign-in of the account ends with it."""
    form = request.form
    if problem := own_password_problem(form.get("now", "")):
        return account_page(wrong={"now": problem}), 422
    if form.get("new", "") != form.get("again", ""):
        return account_page(wrong={"again": "The two new passwords differ."}), 422
    try:
        records.set_password(db(), current_user.row, form.get("new", ""))
    except records.AccountProblem as problem:
        return account_page(wrong={"new": sentence(problem)}), 422
    record_of(db(), current_user.row, actor(), "password", "has a new password")
    enter(current_user.row)
    flash("Your password was changed, and every other browser is signed out.")
    return redirect(url_for("accounts.account"))


def own_password_problem(typed: str) -> str:
    """What is wrong where the person's own password is asked for once more; counted like a sign-in."""
    email = current_user.row.email
    try:
        taken = take_try(maker(), email, address(), f"in {g.sign_in.id}")
    except TooManyTries as problem:
        return str(problem)
    if records.check_password(db(), email, typed) is None:
        return "That is not your current password."
    give_back(maker(), taken)
    return ""


@accounts.post("/account/sign-ins/<int:sign_in_id>/end")
@login_required  # type: ignore[untyped-decorator]
def end_sign_in(sign_in_id: int) -> ResponseReturnValue:
    _end(sign_in_id)
    flash("That browser is signed out.")
    return redirect(url_for("accounts.account"))


@accounts.post("/account/sign-ins/end-others")
@login_required  # type: ignore[untyped-decorator]
def end_others() -> ResponseReturnValue:
    sign_ins.end(db(), current_user.id, but=g.sign_in.id)
    flash("Every other browser is signed out.")
    return redirect(url_for("accounts.account"))


@accounts.post("/team-in-hand")
@login_required  # type: ignore[untyped-decorator]
def team_in_hand() -> ResponseReturnValue:
    wanted = request.form.get("team", type=int)
    if wanted not in [m.team_id for m in current_user.memberships]:
        abort(404)
    session["team"] = wanted
    back = request.form.get("back", "")
    return redirect(back if is_own(back) else url_for("evaluations.listing"))


@accounts.post("/account/teams/<int:team_id>/leave")
@login_required  # type: ignore[untyped-decorator]
def leave(team_id: int) -> ResponseReturnValue:
    db().commit()
    try:
        records.take_out(db(), team_id, current_user.id, actor())
    except records.AccountProblem as problem:
        return account_page(wrong={"teams": sentence(problem)}), 422
    flash("You have left the team.")
    return redirect(url_for("accounts.account"))


@accounts.post("/account/delete")
@login_required  # type: ignore[untyped-decorator]
def delete() -> ResponseReturnValue:
    """The person wants no account any more."""
    user = current_user.row
    problem = own_password_problem(request.form.get("now", ""))
    if not problem and is_on(db(), user.id):
        problem = code_problem(user, request.form.get("code", ""))
    if problem:
        return account_page(wrong={"delete": problem}), 422
    try:
        forget(db(), user, actor())
    except records.AccountProblem as cannot:
        db().rollback()
        return account_page(wrong={"delete": sentence(cannot)}), 422
    logout_user()
    session.clear()
    flash("Your account is deleted.")
    return redirect(url_for("accounts.sign_in"))


# -- Links that let in -----------------------------------------------------------------------------------------------


@accounts.get("/invited/<token>")
def invited(token: str) -> ResponseReturnValue:
    """Who offers what place; only the person's own answer makes a member."""
    found = records.invitation_of(db(), token)
    if found is None:
        return render_template("problem.html", words=NO_LINK, code=404), 404
    return render_template("accounts/invited.html", invitation=found, token=token, wrong="", form={})


@accounts.post("/invited/<token>")
@login_required  # type: ignore[untyped-decorator]
def answer(token: str) -> ResponseReturnValue:
    """Accept or decline, signed in."""
    found = records.invitation_of(db(), token, lock=True)
    if found is None:
        return render_template("problem.html", words=NO_LINK, code=404), 404
    if found.email.strip().lower() != current_user.row.email.strip().lower():
        words = f"This invitation is for {found.email}. Sign out, and sign in with that address."
        return render_template("problem.html", words=words, code=403), 403
    if request.form.get("answer") == "accept":
        records.accept(db(), found, current_user.row, actor())
        session["team"] = found.team_id
        flash(f"You are now a member of {found.team.name}, and working in it.")
        return redirect(url_for("evaluations.listing"))
    else:
        found.ended_at = now()
        record(db(), found.team_id, actor(), "invitation", f"the invitation for {found.email} was declined")
        flash("Declined.")
    return redirect(url_for("accounts.account"))


@accounts.post("/invited/<token>/account")
def new_account(token: str) -> ResponseReturnValue:
    """An account for who has none, once for each invitation. The answer is the same where there is one already, so
    that nobody learns by it who has an account."""
    found = records.invitation_of(db(), token, lock=True)
    if found is None or found.account_asked:
        return render_template("problem.html", words=NO_LINK, code=404), 404
    form = request.form
    try:
        if form.get("password", "") != form.get("again", ""):
            raise records.AccountProblem("the two passwords differ")
        passwords.checked(form.get("password", ""), found.email, form.get("name", ""))
    except ValueError as problem:
        page = render_template(
            "accounts/invited.html", invitation=found, token=token, wrong=sentence(problem), form=form
        )
        return page, 422
    found.account_asked = True
    if records.find_user(db(), found.email) is None:
        records.new_user(db(), found.email, form.get("name", ""), form.get("password", ""))
    flash(f"Now sign in as {found.email}. If you already had an account, its password is unchanged.")
    return redirect(url_for("accounts.sign_in", next=url_for("accounts.invited", token=token)))


@accounts.route("/reset/<token>", methods=["GET", "POST"])
def reset(token: str) -> ResponseReturnValue:
    """Choose a new password by a link that an editor or the operator made."""
    found = records.reset_of(db(), token, lock=request.method == "POST")
    if found is None:
        return render_template("problem.html", words=NO_LINK, code=404), 404
    wrong = ""
    if request.method == "POST":
        form = request.form
        try:
            if form.get("password", "") != form.get("again", ""):
                raise records.AccountProblem("the two passwords differ")
            records.set_password(db(), found.user, form.get("password", ""))
        except records.AccountProblem as problem:
            wrong = sentence(problem)
        else:
            who = Actor(found.user.name, found.user.id, address())
            record_of(db(), found.user, who, "password", "has a new password, by a link")
            flash("Your password was changed. Sign in with it.")
            return redirect(url_for("accounts.sign_in"))
    return render_template(
        "accounts/reset.html", token=token, email=found.user.email, wrong=wrong
    ), 422 if wrong else 200


@accounts.post("/look")
def look() -> ResponseReturnValue:
    wanted, back = request.form.get("look", "auto"), request.form.get("back", "")
    response = redirect(back if is_own(back) else "/")
    if wanted in LOOKS:
        secure = bool(current_app.config["SESSION_COOKIE_SECURE"])
        response.set_cookie("look", wanted, max_age=31536000, samesite="Lax", httponly=True, secure=secure)
    return response
