"""The team's own emission rule sets, edited as a table with the limit drawn beside it."""

import json
from dataclasses import asdict, replace

from flask import Blueprint, Response, abort, render_template, request
from flask.typing import ResponseReturnValue

from levelmoor.core.model.rule_sets import Combine, RuleSet, limit_of, rule_set_from, shipped_rule_sets
from levelmoor.core.words.sentence import sentence
from levelmoor.figures.emissions import limit_curve
from levelmoor.formats.json_in import read_json
from levelmoor.records import tables as t
from levelmoor.records.captures import rule_rows, rule_sets_of
from levelmoor.records.roles import Act
from levelmoor.web.cell_values import CellProblem, frequency
from levelmoor.web.context import db, for_editors, for_members, may_do, team
from levelmoor.web.downloads import download
from levelmoor.web.emissions.rule_form import COLUMNS, FACTS, RuleForm, SectionRow, form_of, rules_of, typed
from levelmoor.web.removal import removed

rule_sets = Blueprint("rule_sets", __name__, template_folder="templates", url_prefix="/team/rules")
POWERS_W = (0.1, 0.5, 5.0, 25.0, 50.0, 100.0)
COMBINE_WORDS = {Combine.STRICTEST: "the strictest applies", Combine.LEAST_STRICT: "the least strict applies"}
START = RuleForm(
    dict.fromkeys(FACTS, ""), (SectionRow("2 m", "144 MHz", "148 MHz", terms="25 µW; 40 dB", floor="10 µW"),)
)


@rule_sets.get("")
@for_members
def page() -> str:
    """The sets there are, and the table; `?of=` starts it from one of them."""
    start = rule_sets_of(db(), team().id).get(request.args.get("of", ""))
    if start is None:
        return _page(START)
    form = form_of(start)
    return _page(replace(form, facts={**form.facts, "id": ""}) if start.id in shipped_rule_sets() else form)


def _page(form: RuleForm, problem: str = "", said: str = "") -> str:
    return render_template(
        "emissions/rules.html",
        shipped=shipped_rule_sets().values(),
        own=[(r, rule_set_from(r.rules)) for r in rule_rows(db(), team().id)],
        may_edit=may_do(Act.LEAD),
        problem=problem,
        said=said,
        form=form,
        facts=FACTS,
        columns=COLUMNS,
        combine_words=COMBINE_WORDS,
        preview=_preview(form, "145 MHz"),
    )


def _preview(form: RuleForm, carrier: str) -> str:
    """The limit over carrier power, with the term that binds at some powers; or what is wrong with the table."""
    facts = {**form.facts, **{name: form.facts[name] or "this-set" for name in ("id", "title")}}
    try:
        rules, hz = rules_of(replace(form, facts=facts)), frequency(carrier)
    except (ValueError, CellProblem) as problem:
        return render_template("emissions/preview.html", wrong=sentence(problem))
    limits = [(w, limit_of(rules, hz, w)) for w in POWERS_W]
    return render_template("emissions/preview.html", wrong="", figure=limit_curve(rules, hz), limits=limits)


@rule_sets.post("/preview")
@for_members
def preview() -> str:
    return _preview(typed(request.form), request.form.get("carrier", "") or "145 MHz")


@rule_sets.post("")
@for_editors
def keep() -> ResponseReturnValue:
    """A rule set of the team's own, from the table; one of the same id takes its place."""
    form = typed(request.form)
    try:
        return _kept(rules_of(form))
    except ValueError as problem:
        return _page(form, problem=f"The rule set was rejected. {problem}."), 422


@rule_sets.post("/file")
@for_editors
def take_in() -> ResponseReturnValue:
    """The same from a JSON file, as the page gives it out and the command line reads it."""
    file = request.files.get("file")
    try:
        data = read_json(file.read()) if file else {}
        if not isinstance(data, dict):
            raise ValueError("a rule set must be one JSON object")
        return _kept(rule_set_from(data))
    except ValueError as problem:
        return _page(START, problem=f"The file was rejected. {problem}."), 422


def _kept(rules: RuleSet) -> str:
    """The page once the rule set is kept; the shipped ones stay as they are."""
    if rules.id in shipped_rule_sets():
        raise ValueError(f"{rules.id} is built in and cannot be changed; give yours another id")
    row = next((r for r in rule_rows(db(), team().id) if r.rule_id == rules.id), None)
    if row is None:
        row = t.RuleSet(team_id=team().id, rule_id=rules.id)
        db().add(row)
    row.rules = json.loads(json.dumps(asdict(rules)))
    db().flush()
    return _page(form_of(rules), said=f"{rules.id} is saved; choose it on the emissions page of an evaluation.")


@rule_sets.get("/<rule_id>.json")
@for_members
def as_json(rule_id: str) -> Response:
    rules = rule_sets_of(db(), team().id).get(rule_id) or abort(404)
    text = json.dumps(asdict(rules), ensure_ascii=False, indent=1)
    return download(text, f"{rule_id}.json", "application/json")


@rule_sets.post("/<int:rule_row_id>/remove")
@for_editors
def remove(rule_row_id: int) -> ResponseReturnValue:
    row = next((r for r in rule_rows(db(), team().id) if r.id == rule_row_id), None) or abort(404)
    removed(row, f"the rule set {row.rule_id} was removed")
    db().flush()
    return _page(START, said="Published reports keep it.")
