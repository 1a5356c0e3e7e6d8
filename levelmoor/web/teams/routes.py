"""The team's settings: region, decision rule, usability profile, reports, members."""

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue
from sqlalchemy import select
from sqlalchemy.orm import joinedload

from levelmoor.core.decision import RULE_WORDS
from levelmoor.core.usability import PROFILES
from levelmoor.records.accounts import AccountProblem, add_member
from levelmoor.records.tables import Membership
from levelmoor.web.cells import CellProblem, profile_cell, region_cell, rule_cell
from levelmoor.web.context import db, for_editors, for_members, membership, team

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
        region, rule = region_cell(form.get("region", "")), rule_cell(form.get("rule", ""))
        profile, limit = profile_cell(form.get("profile", ""), form.get("profile_limit", ""))
    except CellProblem as problem:
        db().rollback()
        return _page(str(problem)), 422
    row.name, row.region, row.rule, row.profile, row.profile_limit = name[:200], region, rule, profile, limit
    row.reports_listed = form.get("reports_listed") == "yes"
    return _page(said="Kept. New evaluations start with these; those that are open keep their own.")


@teams.post("/team/members")
@for_editors
def add() -> ResponseReturnValue:
    form = request.form
    try:
        name = form.get("name", "").strip() or form.get("email", "")
        add_member(
            db(), team().name, form.get("email", ""), name, form.get("password", ""), form.get("editor") == "yes"
        )
    except AccountProblem as problem:
        db().rollback()
        return _page(str(problem)[:1].upper() + str(problem)[1:] + "."), 422
    return _page(said=f"{form.get('email', '')} is a member now.")


def _page(problem: str = "", said: str = "") -> str:
    members = db().scalars(
        select(Membership).where(Membership.team_id == team().id).options(joinedload(Membership.user))
    )
    place = membership()
    return render_template(
        "teams/settings.html",
        team=team(),
        members=members.all(),
        may_edit=bool(place and place.editor),
        problem=problem,
        said=said,
        form=request.form,
        rules=RULE_WORDS,
        profiles=PROFILES.values(),
    )
