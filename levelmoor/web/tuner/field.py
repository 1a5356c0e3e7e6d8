"""Trials in the field: a stopwatch and large buttons, kept at once, sent when there is a signal."""

from typing import Any

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from levelmoor.core.matching.guided_steps import PERMITTED, guided_steps
from levelmoor.core.words.figures import format_mhz
from levelmoor.core.words.sentence import sentence
from levelmoor.formats.trials_csv import ANALYZER, TypedProblem, trial_from
from levelmoor.records import tables as t
from levelmoor.records.bench import rows_of
from levelmoor.records.trials import TrialProblem, add_trials
from levelmoor.web.context import db, for_members
from levelmoor.web.hand import hand_of
from levelmoor.web.tuner.view import TunerPage, page_of
from levelmoor.web.workbench.screen import evaluation_or_404, shown

trial_field = Blueprint(
    "trial_field", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/trials"
)

FIELDS = ("frequency", "load", "power", "memory", "outcome", "before", "after", "seconds", "dials", "note", "day")
LINES = 12


class _Entry(BaseModel):
    """A trial as it was typed; `id` is told back once it is kept."""

    model_config = ConfigDict(extra="forbid")
    id: str = Field(min_length=1, max_length=40)
    typed: dict[str, str] = Field(max_length=20)
    sweep: str = Field("", max_length=20)
    network: str = Field("", max_length=20)
    placed: dict[str, int] = Field(default_factory=dict, max_length=3)
    """The sample, setup and instrument that were on the screen it was typed on."""
    made_at: str = Field("", max_length=30)


class _Entries(BaseModel):
    model_config = ConfigDict(extra="forbid")
    trials: list[_Entry] = Field(max_length=200)


@trial_field.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    row = evaluation_or_404(evaluation_id)
    screen = shown(row, draw=False)
    seen = page_of(screen.bench.evaluation, str(screen.hand.sample_id or ""))
    return render_template("tuner/field.html", **screen.given(**_given(row, seen)))


def _given(row: t.Evaluation, seen: TunerPage) -> dict[str, Any]:
    ahead = [
        {
            "frequency": format_mhz(p.frequency_hz).replace("\u202f", ""),
            "load": p.load.replace("−", "-").replace(" Ω", ""),
            "memory": "yes" if p.memory else "no",
            "power": f"{p.power_w:g}" if seen.plan.keyed else ANALYZER,
        }
        for p in seen.plan.trials[:60]
    ]
    said = {"steps_of": guided_steps, "permitted": PERMITTED}
    return {"page": seen, "ahead": ahead, "lines": seen.trials[:LINES], **said}


@trial_field.post("/changes")
@for_members
def changes(evaluation_id: int) -> ResponseReturnValue:
    """Trials as a telephone sends them: each is kept once; one that cannot be read goes back with why."""
    row = evaluation_or_404(evaluation_id)
    try:
        given = _Entries.model_validate_json(request.get_data())
    except ValidationError as problem:
        first = problem.errors()[0]
        return jsonify(problem=f"{'.'.join(map(str, first['loc']))}: {first['msg']}"), 422
    hand = hand_of(row)
    there: dict[str, set[int]] = {
        "sample": {s.id for s in row.samples},
        "setup": {s.id for s in row.setups},
        "instrument": {i.id for i in rows_of(db(), row.team_id, "instrument")},
    }
    sweeps, networks = {str(s.id) for s in row.sweeps}, {str(n.id) for n in row.networks}
    good, refused = [], {}
    for entry in given.trials:
        named = {
            "load_sweep_id": entry.sweep if entry.sweep in sweeps else "",
            "network_id": entry.network if entry.network in networks else "",
        }
        shown_at = {k: i for k, i in entry.placed.items() if i in there.get(k, ())}
        placed = {f"{k}_id": str(shown_at.get(k) or getattr(hand, f"{k}_id") or "") for k in there}
        typed = {k: v for k, v in entry.typed.items() if k in FIELDS}
        typed.setdefault("day", entry.made_at[:16])
        try:
            good.append((entry.id, trial_from(typed, "", None, **placed, **named)))
        except TypedProblem as problem:
            refused[entry.id] = sentence(problem)
    try:
        add_trials(db(), row, good, current_user.name)
    except TrialProblem as problem:
        return jsonify(problem=sentence(problem)), 422
    db().flush()
    db().expire(row, ["trials"])
    screen = shown(row, changed=bool(good), draw=False)
    seen = _given(row, page_of(screen.bench.evaluation, str(hand.sample_id or "")))
    return jsonify(
        kept=[e.id for e in given.trials if e.id not in refused],
        refused=refused,
        ahead=seen["ahead"],
        html=render_template("tuner/field_lines.html", row=row, **seen),
    )
