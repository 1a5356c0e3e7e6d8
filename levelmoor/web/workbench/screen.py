"""What every screen of an evaluation is given: the row, what was found, and the choices of its cells."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from flask import Flask, abort, make_response, render_template, request
from flask_login import current_user

from levelmoor.core.claims.claim_conflicts import Conflict, conflicts
from levelmoor.core.metrology.decision import RULE_WORDS, Verdict
from levelmoor.core.model.conditions import CONDITION_EXAMPLES, CONDITION_WORDS
from levelmoor.core.model.evaluation import CALIBRATION_WORDS, OBTAINED_WORDS, PLANE_WORDS
from levelmoor.core.model.product_kinds import CLAIM_EXAMPLES, PRODUCT_KIND_WORDS
from levelmoor.core.model.quantities import SPECIFICATIONS
from levelmoor.core.model.state import PLACE_FACTS, SETUP_ROLE_WORDS
from levelmoor.core.model.usability import PROFILES
from levelmoor.core.plan import cautions
from levelmoor.core.words.figures import format_range
from levelmoor.formats.columns import FREQUENCY_UNITS, KIND_WORDS, ROLE_WORDS
from levelmoor.records import history, intake, store
from levelmoor.records import tables as t
from levelmoor.records.article_state import latest_round
from levelmoor.records.bench import TeamRows, team_rows
from levelmoor.services.list_card import refresh_card
from levelmoor.web.cell_values import RECORD
from levelmoor.web.context import db, team, wants_part
from levelmoor.web.emissions.view import CarrierView, carriers
from levelmoor.web.hand import hand_of
from levelmoor.web.together.talk import Talk, talk_of
from levelmoor.web.workbench.drawn import SIZES
from levelmoor.web.workbench.view import USABILITY, State, Workbench, build

CONFLICTS_SHOWN = 12


def evaluation_or_404(evaluation_id: int) -> t.Evaluation:
    row = store.evaluation(db(), team().id, evaluation_id)
    if row is None:
        elsewhere = _elsewhere(evaluation_id) if request.method == "GET" else ""
        # A part of a page has no room for it: the page is loaded again, and comes to it.
        whole = {"HX-Refresh": "true", "HX-Reswap": "none"} if wants_part() else {}
        abort(make_response(elsewhere, 404, whole) if elsewhere else 404)
    if request.method == "GET":
        store.know_what_is_not_there(db(), row)
    return row


def _elsewhere(evaluation_id: int) -> str:
    """The page that leads to an evaluation of another of one's teams, or back to one that was removed."""
    row = db().get(t.Evaluation, evaluation_id)
    mine = {m.team_id: m.team for m in current_user.memberships}
    if row is None or row.team_id not in mine:
        return ""
    if row.team_id != team().id:
        return "" if row.deleted_at else render_template("workbench/elsewhere.html", row=row, team=mine[row.team_id])
    gone = history.removal_of(db(), "evaluation", row.id)
    return render_template("workbench/removed.html", row=row, gone=gone)


def state_of_request() -> State:
    values = request.values
    part = values.get("part", 1, type=int)
    return State(values.get("sweep", ""), values.get("claim", ""), values.get("view", ""), part)


@dataclass(frozen=True)
class Screen:
    """What the templates of every step of an evaluation are given; the words they choose from stand in `words_for`."""

    row: t.Evaluation
    bench: Workbench
    instruments: Sequence[t.Instrument]
    lines: Sequence[t.Owned]
    calibration_choices: list[tuple[str, str]]
    conflicts: Sequence[Conflict]
    hand: t.InHand
    bench_round: int
    radio: bool
    talk: Talk
    glance: Sequence[CarrierView] = ()
    waiting: Sequence[intake.Waiting] = ()
    templates: Sequence[tuple[int, str]] = ()
    problems: Sequence[object] = ()
    dropped: object = None

    def given(self, **more: Any) -> dict[str, Any]:
        """For a template, with what a step has of its own."""
        return {**vars(self), **more}


def shown(row: t.Evaluation, state: State | None = None, changed: bool = False, draw: bool = True) -> Screen:
    """The screen of an evaluation; a change also refreshes the list's card.

    Pages that show neither sweep nor figure leave the drawing out.
    """
    rows, published = team_rows(db(), row.team_id), store.published(db(), row.id)
    wanted = request.cookies.get("screen", "")
    sizes = (wanted,) if wanted in SIZES else SIZES  # a browser says how wide it is once its scripts have run
    bench = build(row, rows, state or state_of_request(), published, draw, sizes)
    if changed:
        refresh_card(row, published, bench.evaluation, bench.findings)
    hand = hand_of(row)
    screen = Screen(
        row,
        bench,
        rows.instruments,
        [piece for piece in rows.owned if piece.kind == "line"],
        _calibration_choices(rows),
        conflicts(bench.evaluation.claims, CONFLICTS_SHOWN),
        hand,
        latest_round(row, hand.sample_id, hand.setup_id, hand.setting_id),
        any(s.id == "emissions" for s in bench.steps),
        talk_of(row, bench.evaluation),
    )
    if not draw:
        return screen
    return replace(
        screen,
        glance=() if row.sweeps else carriers(bench.evaluation, bench.findings),
        waiting=intake.waiting(db(), row.id),
        templates=store.with_claims(db(), row.team_id, row.id) if not row.claims else (),
    )


def words_for(app: Flask) -> None:
    """The words that cells choose from, for every template."""
    app.jinja_env.globals.update(
        cautions=cautions,
        kind_words=PRODUCT_KIND_WORDS,
        claim_example=CLAIM_EXAMPLES,
        quantities=[(q.value, spec.words) for q, spec in SPECIFICATIONS.items()],
        specs=SPECIFICATIONS,
        rules=RULE_WORDS,
        profiles=PROFILES.values(),
        obtained=OBTAINED_WORDS,
        calibrations=CALIBRATION_WORDS,
        planes=PLANE_WORDS,
        roles=SETUP_ROLE_WORDS,
        place_facts=PLACE_FACTS,
        frequency_units=FREQUENCY_UNITS,
        kinds=KIND_WORDS,
        Verdict=Verdict,
        USABILITY=USABILITY,
        role_words=ROLE_WORDS,
        condition_words=CONDITION_WORDS,
        condition_examples=CONDITION_EXAMPLES,
    )


def _calibration_choices(rows: TeamRows) -> list[tuple[str, str]]:
    """What can be said of a calibration, the records first, the latest on top."""
    instruments = {i.id: i.name for i in rows.instruments}
    records = [
        (
            f"{RECORD}{c.id}",
            f"{instruments.get(c.instrument_id, 'another instrument')}, {format_range(c.low_hz, c.high_hz)}, "
            f"{c.done_at.replace('T', ' ')}",
        )
        for c in reversed(rows.calibrations)
    ]
    return [*records, *((c.value, words) for c, words in CALIBRATION_WORDS.items())]
