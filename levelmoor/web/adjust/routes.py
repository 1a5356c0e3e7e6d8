"""Adjust: what is moved, the trips to it, and the next move."""

from typing import Any

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from levelmoor.core.adjusting.dip_names import names_text, parse_names
from levelmoor.core.adjusting.round_log import State
from levelmoor.core.adjusting.starting_length import RESONATOR_WORDS, Resonator
from levelmoor.core.model.adjusting import TEMPLATES, UNITS, ElementKind
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.readings.time_strip import strip_sentence
from levelmoor.core.rf.frequency import parse_frequencies, parse_frequency
from levelmoor.core.rf.own_bands import with_ranges
from levelmoor.core.words.bounds import NUMBERS
from levelmoor.figures.time_strip import place_figure, strip_figure
from levelmoor.records import adjusting
from levelmoor.records import tables as t
from levelmoor.records.adjusting import AdjustProblem
from levelmoor.services.findings import long_work
from levelmoor.web.adjust.lengths import coil_words, length_words
from levelmoor.web.adjust.notebook import notebook
from levelmoor.web.adjust.view import AdjustPage, build, wanted_text, worth_words
from levelmoor.web.cell_values import CellProblem, frequency, number, own_bands_of
from levelmoor.web.cells import set_cell
from levelmoor.web.conflicts import in_words, meanwhile
from levelmoor.web.context import db, for_members
from levelmoor.web.hand import as_shown, choose
from levelmoor.web.removal import removed
from levelmoor.web.workbench.screen import evaluation_or_404, shown
from levelmoor.web.workbench.work import Work, part_of

adjust = Blueprint("adjust", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/adjust")

COIL = "coil"
"""The kind of resonator that is a whip with a loading coil."""
SHORT = "#next-move"
"""What the live view puts the next move into."""


def _shown(row: t.Evaluation, changed: bool) -> dict[str, Any]:
    screen = shown(row, changed=changed, draw=False)
    evaluation = screen.bench.evaluation
    data = {
        "page": _page(evaluation, screen.hand, True),
        "notebook": notebook(evaluation),
        "strips": [(s, strip_figure(s), place_figure(s), strip_sentence(s)) for s in evaluation.strips],
        "templates": [(k.value, usual.words) for k, usual in TEMPLATES.items()],
        "units": [(u, u) for u in UNITS],
        "resonators": [*((k.value, words) for k, words in RESONATOR_WORDS.items()), (COIL, "whip with a coil")],
        "wanted_text": wanted_text(evaluation.wanted_hz),
        "worth_words": worth_words,
        "target": "#adjust",
    }
    return {**vars(screen), **data}


def _page(evaluation: Evaluation, hand: t.InHand, draw: bool) -> AdjustPage:
    state = State(str(hand.sample_id or ""), str(hand.setup_id or ""), str(hand.setting_id or ""))
    nearer = bool(request.values.get("nearer"))
    return long_work(evaluation, (state, draw, nearer), build, evaluation, state, draw, nearer)


WORK = Work("adjust/work.html", _shown, ("adjustments", "elements", "widths", "strips", "sweeps"))


def _short(row: t.Evaluation, changed: bool = False, wrong: object = "") -> str:
    """The next move alone, for the live view."""
    screen = shown(row, changed=changed, draw=False)
    page = _page(screen.bench.evaluation, screen.hand, False)
    return render_template("adjust/next.html", **screen.given(page=page, wrong=wrong, target=SHORT, changed=changed))


@adjust.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    return render_template("adjust/page.html", **WORK.shown(evaluation_or_404(evaluation_id)))


@adjust.get("/next")
@for_members
def next_move(evaluation_id: int) -> ResponseReturnValue:
    return _short(evaluation_or_404(evaluation_id))


def again(row: t.Evaluation, wrong_in: str = "", wrong: object = "") -> ResponseReturnValue:
    """The work anew, or for the live view the next move alone."""
    if request.form.get("short"):
        return _short(WORK.settled(row, wrong), not wrong, wrong), (422 if wrong else 200)
    return WORK.again(row, wrong_in, wrong)


@adjust.post("/elements")
@for_members
def add_element(evaluation_id: int) -> ResponseReturnValue:
    """Another part that is moved."""
    row = evaluation_or_404(evaluation_id)
    kind = request.form.get("kind", "")
    if kind not in list(ElementKind):
        abort(422)
    try:
        adjusting.add_element(row, ElementKind(kind))
    except AdjustProblem as problem:
        return again(row, "element", problem)
    return again(row)


WORK.keeps(
    adjust, "element", "/elements", lambda row: row.elements, lambda element: f"the part {element.name}",
    ("remove_element", "element_cell"),
)  # fmt: skip


@adjust.post("/wanted")
@for_members
def wanted(evaluation_id: int) -> ResponseReturnValue:
    """The frequencies that it is adjusted for. The live view changes those of its span and leaves the others."""
    row, form = evaluation_or_404(evaluation_id), request.form
    typed = form.get("value", form.get("wanted", ""))
    low, high = NUMBERS["evaluation.wanted_hz"]
    try:
        found = parse_frequencies(with_ranges(typed, (w for w in own_bands_of(row) if w.spot)))
        if "wanted" in form:
            span = parse_frequency(form.get("low", "")), parse_frequency(form.get("high", ""))
            found += [hz for hz in row.wanted_hz if not span[0] <= hz <= span[1]]
        if any(not low <= hz <= high for hz in found) or len(found) > 20:
            raise ValueError("at most 20 frequencies from 1 kHz to 300 GHz, as in 7.1, 14.2")
        row.wanted_hz = sorted(set(found))
        if other := meanwhile(row, "wanted_hz"):
            raise ValueError(in_words(other, typed))
    except ValueError as problem:
        return again(row, "wanted", problem)
    return again(row)


@adjust.post("/dips")
@for_members
def name_dip(evaluation_id: int) -> ResponseReturnValue:
    """This dip is that band's, or is not said to be any more."""
    row, form = evaluation_or_404(evaluation_id), request.form
    sweep = part_of(row.sweeps, form.get("sweep", 0, type=int))
    band = " ".join(form.get("band", "").split())
    try:
        names = {k: hz for k, hz in parse_names(sweep.dips).items() if k != band}
        if form.get("frequency"):
            names[band] = frequency(f"{form['frequency']} Hz")
        set_cell("sweep", sweep, "dips", names_text(names), row)
    except CellProblem as problem:
        return again(row, "dips", problem)
    return again(row)


@adjust.post("/moves")
@for_members
def move(evaluation_id: int) -> ResponseReturnValue:
    """A trip to the article: one part by an amount or to a place, or all that was proposed."""
    row, form = evaluation_or_404(evaluation_id), request.form
    hand = as_shown(row)
    try:
        typed, note = form.get("down_min", "").strip(), " ".join(form.get("note", "").split())[:2000]
        down = number(typed, "minutes, as in 12", *NUMBERS["adjustment.down_min"]) if typed else None
        by = _amounts(row, hand)
        adjusting.move(db(), row, hand, by, current_user.name, form.get("entry", ""), down, note)
    except (AdjustProblem, CellProblem) as problem:
        return again(row, "move", problem)
    return again(row)


def _amounts(row: t.Evaluation, hand: t.InHand) -> dict[int, float]:
    """By how much each part was moved: `by-7` an amount, `to-7` a place."""
    found: dict[int, float] = {}
    stands = adjusting.where(row, hand)
    for key, typed in request.form.items():
        way, _, ident = key.partition("-")
        if way not in ("by", "to") or not ident.isdigit() or not typed.strip():
            continue
        amount = number(typed.replace("−", "-"), "an amount, as in 2 or -0.5", *NUMBERS["element.at"])
        found[int(ident)] = amount - stands.get(int(ident), 0.0) if way == "to" else amount
    return found


@adjust.post("/returned")
@for_members
def returned(evaluation_id: int) -> ResponseReturnValue:
    """The mark was left and gone back to; the next sweep tells how well that repeats."""
    row = evaluation_or_404(evaluation_id)
    try:
        adjusting.leave_and_return(row, as_shown(row), current_user.name)
    except AdjustProblem as problem:
        return again(row, "move", problem)
    return again(row)


@adjust.post("/moves/<int:move_id>/back")
@for_members
def put_back(evaluation_id: int, move_id: int) -> ResponseReturnValue:
    """What was moved is put back: a trip of its own."""
    row = evaluation_or_404(evaluation_id)
    try:
        adjusting.back(db(), row, part_of(row.adjustments, move_id), current_user.name)
    except AdjustProblem as problem:
        return again(row, "move", problem)
    return again(row)


@adjust.post("/moves/<int:move_id>/undone")
@for_members
def not_done(evaluation_id: int, move_id: int) -> ResponseReturnValue:
    """It was not done after all: the trip is struck out, and can be had back."""
    row = evaluation_or_404(evaluation_id)
    made = part_of(row.adjustments, move_id)
    removed(made, f"round {made.round}: {made.words} was cancelled")
    return again(row)


@adjust.post("/state")
@for_members
def state(evaluation_id: int) -> ResponseReturnValue:
    """Another state on the bench: its rounds are shown."""
    row = evaluation_or_404(evaluation_id)
    wanted_ids = [int(i) if i.isdigit() else None for i in request.form.get("state", "").split("-")]
    if len(wanted_ids) != 3:
        abort(422)
    sample_id, setup_id, setting_id = wanted_ids
    known: tuple[list[int | None], ...] = (
        [r.id for r in row.samples],
        [r.id for r in row.setups],
        [None, *(r.id for r in row.settings)],
    )
    if any(one not in of for one, of in zip(wanted_ids, known, strict=True)):
        abort(404)
    choose(row, sample_id=sample_id, setup_id=setup_id, setting_id=setting_id)
    return again(row)


@adjust.get("/length")
@for_members
def length(evaluation_id: int) -> ResponseReturnValue:
    """A starting length, or what a length gives."""
    evaluation_or_404(evaluation_id)
    args = request.args
    kind = Resonator(args["kind"]) if args.get("kind") in list(Resonator) else Resonator.QUARTER
    names = ("wanted", "length", "velocity", "pairs", "coil", "coil_at", "thick")
    typed = {n: args.get(n, "") for n in names}
    words, wrong = coil_words(typed) if args.get("kind") == COIL else length_words(kind, typed)
    return render_template("adjust/length_said.html", words=words, wrong=wrong)
