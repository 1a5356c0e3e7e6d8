"""The team's settings: region, decision rule, usability profile, reports; its members, and what was done."""

from collections.abc import Mapping

from flask import Blueprint, abort, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user
from sqlalchemy import select

from levelmoor.core.metrology.decision import RULE_WORDS
from levelmoor.core.model.bench_records import BENCH_RULE_WORDS, BenchRule
from levelmoor.core.model.usability import PROFILES
from levelmoor.core.rf.own_bands import own_bands_text
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.sentence import sentence
from levelmoor.records import accounts, audit, history
from levelmoor.records.article_state import windows_row
from levelmoor.records.database import now
from levelmoor.records.roles import ACT_WORDS, MAY, Act, MemberRole
from levelmoor.records.shelf import rename_team
from levelmoor.records.tables import Invitation, Mail, Membership
from levelmoor.web.accounts.routes import own_password_problem
from levelmoor.web.cell_values import (
    CellProblem,
    choice,
    number,
    own_bands_cell,
    profile_cell,
    region_cell,
    rule_cell,
    spots_cell,
)
from levelmoor.web.context import actor, db, for_editors, for_members, may_do, note, team
from levelmoor.web.letters import post, write_letter
from levelmoor.web.links import outward

FIGURES = {
    "age_limit_h": ("A calibration is valid for, hours", "hours above 0, as in 24", 0.1, 10000, 1.0),
    "rebuild_min": ("A rebuild takes, minutes", "minutes, 0 to 600", 0, 600, 1.0),
    "calibration_min": ("A calibration takes, minutes", "minutes, 0 to 600", 0, 600, 1.0),
    "sweep_min": ("A sweep takes, minutes", "minutes, 0.1 to 600", 0.1, 600, 1.0),
    "spread_hz": ("Repeated readings of a dip spread by, kHz", "kHz, as in 5", 0, 1e6, 1e3),
}
"""The team's own figures: heading, what is right, bounds, and what a typed figure is multiplied by to be kept."""

OF_ITSELF = {
    "about": "Who you are",
    "measuring": "How you measure",
    "sample_policy": "How you pay for samples, and what becomes of them",
    "interests": "Conflicts of interest",
    "contact": "Contact",
}
"""What a team says of itself on its public page, by the heading of each field."""
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
        if meanwhile := history.later_change(db(), "team", row.id, (), form.get("seen", type=int) or 0):
            raise CellProblem(
                f"{meanwhile.who} changed these settings in the meantime. Check them, then save yours again."
            )
        name = form.get("name", "").strip()
        if not name:
            raise CellProblem("A team needs a name.")
        if accounts.name_is_taken(db(), row.id, name[:200]):
            raise CellProblem("Another team on this server has that name; choose a different one.")
        region, rule = region_cell(form.get("region", "")), rule_cell(form.get("rule", ""))
        profile, limit = profile_cell(form.get("profile", ""), form.get("profile_limit", ""))
        spots = spots_cell(form.get("spots", ""))
        bands = own_bands_cell(form.get("bands", ""))
        bench_rule = choice(BenchRule, form.get("bench_rule", ""))
        figures = {
            n: number(form.get(n, ""), what, low, high) * scale for n, (_, what, low, high, scale) in FIGURES.items()
        }
    except CellProblem as problem:
        db().rollback()
        return _page(str(problem)), 422
    if row.name != name[:200]:
        rename_team(db(), row.id, row.name, name[:200])
    row.name, row.region, row.rule, row.profile, row.profile_limit = name[:200], region, rule, profile, limit
    row.bench_rule, row.spots = bench_rule, spots
    row.bands = windows_row(bands)
    for figure, value in figures.items():
        setattr(row, figure, value)
    for words in OF_ITSELF:
        setattr(row, words, form.get(words, "").strip()[:2000])
    row.reports_listed = form.get("reports_listed") == "yes"
    row.asks_review = form.get("asks_review") == "yes"
    note("setting", "the team's settings were changed")
    return _page(said="Saved. New evaluations start with these settings; existing ones keep their own.")


# -- Members ---------------------------------------------------------------------------------------------------------


def _role(form: Mapping[str, str]) -> MemberRole:
    """The role that is asked for. Raises CellProblem for what is none, and where the own password is not right."""
    typed = form.get("role", "")
    if typed not in list(MemberRole):
        raise CellProblem(f"Choose a role: {', '.join(MemberRole)}.")
    role = MemberRole(typed)
    if role is MemberRole.EDITOR and (problem := own_password_problem(form.get("own_password", ""))):
        raise CellProblem(f"{problem} Making somebody an editor needs your password.")
    return role


@teams.post("/team/invitations")
@for_editors
def invite() -> ResponseReturnValue:
    """Offer a place; the link is shown once, to be handed to the person, and goes by mail where there is a way.
    Nobody becomes a member by it alone."""
    email = request.form.get("email", "").strip()
    try:
        token = accounts.invite(db(), team(), email, _role(request.form), actor())
    except (accounts.AccountProblem, CellProblem) as problem:
        return _page(sentence(problem)), 422
    sent, link = outward("accounts.invited", token=token), url_for("accounts.invited", token=token, _external=True)
    words = f"{current_user.name} invites you to {team().name} on Levelmoor. Join, or decline, here:\n\n{sent}\n"
    letter = write_letter(email, f"Invitation to {team().name}", words)
    said = f"{letter} Or give" if letter else "Hand"
    return _page(said=f"{email} is invited. {said} the person this link; it is shown only once:", link=link)


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
    """Another role for a member; an editor's is asked about once more by the own password."""
    _member(user_id)
    try:
        wanted = _role(request.form)
        changed = accounts.set_role(db(), team().id, user_id, wanted, actor())
    except (accounts.AccountProblem, CellProblem) as problem:
        return _page(sentence(problem)), 422
    said = f"{changed.user.name} is {accounts.with_article(wanted)} now."
    if user_id == current_user.id:
        flash(said)
        return redirect(url_for("teams.settings"))
    return _page(said=said)


@teams.post("/team/members/<int:user_id>/reset")
@for_editors
def reset(user_id: int) -> ResponseReturnValue:
    """A link by which a member chooses a new password."""
    found = _member(user_id)
    if not accounts.may_reset(db(), current_user.row, found.user):
        words = (
            f"{found.user.name} is also in a team that you do not edit, so only whoever runs the server can make "
            f"that link."
        )
        return _page(words), 422
    token = accounts.reset_link(db(), found.user, actor(), team().id)
    sent, link = outward("accounts.reset", token=token), url_for("accounts.reset", token=token, _external=True)
    words = f"Choose a new password for Levelmoor here; the link is valid for a day:\n\n{sent}\n"
    letter = write_letter(found.user.email, "New password", words)
    said = f"{letter} Hand" if letter else "Hand"
    return _page(
        said=f"{said} this link to {found.user.name}; it is shown only once and is valid for a day:", link=link
    )


@teams.get("/team/outbox")
@for_editors
def outbox() -> ResponseReturnValue:
    """The letters of the team: with their words where the page is read on this machine alone."""
    query = select(Mail).where(Mail.team_id == team().id).order_by(Mail.id.desc()).limit(100)
    return render_template("teams/outbox.html", letters=db().scalars(query).all(), post=post())


@teams.get("/team/record")
@for_members
def done() -> ResponseReturnValue:
    """What was done, page by page, of one person or kind where that is asked for."""
    before, kind, who = request.args.get("before", type=int), request.args.get("kind", ""), request.args.get("who", "")
    rows = audit.entries(db(), team().id, before, kind if kind in audit.KINDS else "", who)
    people = [m.user.name for m in accounts.members(db(), team().id)]
    chosen = {"kind": kind, "who": who}
    return render_template(
        "teams/record.html", rows=rows, kinds=audit.KINDS, before=before, people=people, chosen=chosen
    )


def _page(problem: str = "", said: str = "", link: str = "") -> str:
    return render_template(
        "teams/settings.html",
        team=team(),
        members=accounts.members(db(), team().id),
        invitations=accounts.open_invitations(db(), team().id),
        may_edit=may_do(Act.LEAD),
        roles=MemberRole,
        acts=ACT_WORDS,
        allowed=MAY,
        has_outbox=post().goes,
        problem=problem,
        said=said,
        link=link,
        form=request.form,
        rules=RULE_WORDS,
        bench_rules=BENCH_RULE_WORDS,
        figures=FIGURES,
        of_itself=OF_ITSELF,
        bands=own_bands_text(Window(**w) for w in team().bands or ()),
        spots="; ".join(f"{s['hz'] / 1e6:.9g} {s['name']}".strip() for s in team().spots or []),
        profiles=PROFILES.values(),
    )
