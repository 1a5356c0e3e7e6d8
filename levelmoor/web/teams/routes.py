"""The team's settings: region, decision rule, usability profile, reports, members."""

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue
from sqlalchemy import select
from sqlalchemy.orm import joinedload

from levelmoor.core.bench_records import BENCH_RULE_WORDS, BenchRule
from levelmoor.core.decision import RULE_WORDS
from levelmoor.core.sentence import sentence
from levelmoor.core.usability import PROFILES
from levelmoor.records.accounts import AccountProblem, add_member
from levelmoor.records.tables import Membership
from levelmoor.web.cells import CellProblem, choice, number, profile_cell, region_cell, rule_cell, spots_cell
from levelmoor.web.context import db, for_editors, for_members, membership, team

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
        return _page(sentence(problem)), 422
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
        bench_rules=BENCH_RULE_WORDS,
        figures=FIGURES,
        spots="; ".join(f"{s['hz'] / 1e6:.9g} {s['name']}".strip() for s in team().spots or []),
        profiles=PROFILES.values(),
    )
