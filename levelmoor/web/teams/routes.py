"""The team's settings: region, decision rule, usability profile, reports; its members, and what was done."""

from flask import Blueprint, abort, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from levelmoor.core.metrology.decision import RULE_WORDS
from levelmoor.core.model.bench_records import BENCH_RULE_WORDS, BenchRule
from levelmoor.core.model.usability import PROFILES
from levelmoor.core.words.sentence import sentence
from levelmoor.records import accounts, audit
from levelmoor.records.database import now
from levelmoor.records.tables import Invitation, Membership
from levelmoor.web.accounts.routes import own_password_problem
from levelmoor.web.cells import CellProblem, choice, number, profile_cell, region_cell, rule_cell, spots_cell
from levelmoor.web.context import actor, db, for_editors, for_members, membership, note, team

FIGURES = {
    "age_limit_h": ("A calibration holds for, hours", "hours above 0, as in 24", 0.1, 10000, 1.0),
    "rebuild_min": ("A rebuild takes, minutes", "minutes, 0 to 600", 0, 600, 1.0),
    "calibration_min": ("A calibration takes, minutes", "minutes, 0 to 600", 0, 600, 1.0),
    "sweep_min": ("A sweep takes, minutes", "minutes, 0.1 to 600", 0.1, 600, 1.0),
    "spread_hz": ("One reading of a dip spreads by, kHz", "kHz, as in 5", 0, 1e6, 1e3),
}
"""The team's own figures: heading, what is right, bounds, and what a typed figure is multiplied by to be kept."""

teams = Blueprint("teams", __name__, template_folder="templates")


@teams.get("/team")
@for_members
def settings() -> str:
    return _page()


@teams.post("/team")
@for_editors
def change() -> ResponseReturnValue:
    row, form = team(), request.form
    try:
        name = form.get("name", "").strip()
        if not name:
            raise CellProblem("A team needs a name.")
        if accounts.name_is_taken(db(), row.id, name[:200]):
            raise CellProblem("Another team on this server has that name; choose one that tells yours apart.")
        region, rule = region_cell(form.get("region", "")), rule_cell(form.get("rule", ""))
        profile, limit = profile_cell(form.get("profile", ""), form.get("profile_limit", ""))
        spots = spots_cell(form.get("spots", ""))
        bench_rule = choice(BenchRule, form.get("bench_rule", ""))
        figures = {
            n: number(form.get(n, ""), what, low, high) * scale for n, (_, what, low, high, scale) in FIGURES.items()
        }
    except CellProblem as problem:
        db().rollback()
        return _page(str(problem)), 422
    row.name, row.region, row.rule, row.profile, row.profile_limit = name[:200], region, rule, profile, limit
    row.bench_rule, row.spots = bench_rule, spots
    for figure, value in figures.items():
        setattr(row, figure, value)
    row.reports_listed = form.get("reports_listed") == "yes"
    note("setting", "the team's settings were changed")
    return _page(said="Kept. New evaluations start with these; those that are open keep their own.")


# -- Members ---------------------------------------------------------------------------------------------------------


@teams.post("/team/invitations")
@for_editors
def invite() -> ResponseReturnValue:
    """Offer a place; the link is shown once, to be handed to the person. Nobody becomes a member by it alone."""
    form, editor = request.form, request.form.get("editor") == "yes"
    if editor and (problem := own_password_problem(form.get("own_password", ""))):
        return _page(f"{problem} Who is made an editor is asked about once more."), 422
    try:
        token = accounts.invite(db(), team(), form.get("email", ""), editor, actor())
    except accounts.AccountProblem as problem:
        return _page(sentence(problem)), 422
    link = url_for("accounts.invited", token=token, _external=True)
    return _page(said=f"{form['email'].strip()} is invited. Hand this link over; it is shown this once:", link=link)


@teams.post("/team/invitations/<int:invitation_id>/withdraw")
@for_editors
def withdraw(invitation_id: int) -> ResponseReturnValue:
    found = db().get(Invitation, invitation_id)
    if found is None or found.team_id != team().id or found.ended_at is not None:
        abort(404)
    found.ended_at = now()
    note("invitation", f"the invitation for {found.email} was withdrawn")
    return _page(said=f"The invitation for {found.email} is withdrawn.")


def _member(user_id: int) -> Membership:
    return next((m for m in accounts.members(db(), team().id) if m.user_id == user_id), None) or abort(404)


@teams.post("/team/members/<int:user_id>/remove")
@for_editors
def remove(user_id: int) -> ResponseReturnValue:
    _member(user_id)
    try:
        gone = accounts.take_out(db(), team().id, user_id, actor())
    except accounts.AccountProblem as problem:
        return _page(sentence(problem)), 422
    if user_id == current_user.id:
        return redirect(url_for("accounts.account"))
    return _page(said=f"{gone.user.name} is no longer a member.")


@teams.post("/team/members/<int:user_id>/role")
@for_editors
def role(user_id: int) -> ResponseReturnValue:
    """Make a member an editor, asked once more by the own password; or no longer."""
    _member(user_id)
    editor = request.form.get("editor") == "yes"
    if editor and (problem := own_password_problem(request.form.get("own_password", ""))):
        return _page(f"{problem} Who is made an editor is asked about once more."), 422
    try:
        changed = accounts.set_editor(db(), team().id, user_id, editor, actor())
    except accounts.AccountProblem as problem:
        return _page(sentence(problem)), 422
    if user_id == current_user.id:
        flash("You are no editor any more.")
        return redirect(url_for("teams.settings"))
    return _page(said=f"{changed.user.name} is {'an editor now' if editor else 'no editor any more'}.")


@teams.post("/team/members/<int:user_id>/reset")
@for_editors
def reset(user_id: int) -> ResponseReturnValue:
    """A link by which a member chooses a new password."""
    found = _member(user_id)
    if not accounts.may_reset(db(), current_user.row, found.user):
        words = f"{found.user.name} is in a team that you do not edit, so who runs the server makes that link."
        return _page(words), 422
    token = accounts.reset_link(db(), found.user, actor(), team().id)
    link = url_for("accounts.reset", token=token, _external=True)
    return _page(said=f"Hand this link to {found.user.name}; it is shown this once and holds a day:", link=link)


@teams.get("/team/record")
@for_members
def done() -> ResponseReturnValue:
    """What was done, page by page."""
    before = request.args.get("before", type=int)
    rows = audit.entries(db(), team().id, before)
    return render_template("teams/record.html", rows=rows, kinds=audit.KINDS, before=before)


def _page(problem: str = "", said: str = "", link: str = "") -> str:
    place = membership()
    return render_template(
        "teams/settings.html",
        team=team(),
        members=accounts.members(db(), team().id),
        invitations=accounts.open_invitations(db(), team().id),
        may_edit=bool(place and place.editor),
        problem=problem,
        said=said,
        link=link,
        form=request.form,
        rules=RULE_WORDS,
        bench_rules=BENCH_RULE_WORDS,
        figures=FIGURES,
        spots="; ".join(f"{s['hz'] / 1e6:.9g} {s['name']}".strip() for s in team().spots or []),
        profiles=PROFILES.values(),
    )
