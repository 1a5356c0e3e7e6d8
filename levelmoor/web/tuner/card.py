"""The preset card of a tuner: on the screen, on paper, as CSV."""

from dataclasses import dataclass
from typing import Any

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue

from levelmoor.core.evidence.behind_trials import behind_trial
from levelmoor.core.matching.preset_card import PresetCard, foresee_dials, preset_cards
from levelmoor.core.matching.solved_presets import can_solve, presets_for, solved_for
from levelmoor.core.model.evaluation import Sample
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.words.sentence import sentence
from levelmoor.formats.preset_table import write_presets
from levelmoor.records.database import now
from levelmoor.services.card_paper import CardSize
from levelmoor.services.preset_card import SIZE_WORDS, preset_card_pdf
from levelmoor.web.context import for_members
from levelmoor.web.downloads import download, for_download
from levelmoor.web.workbench.screen import Screen, evaluation_or_404, shown

preset_card = Blueprint(
    "preset_card", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/tuner/card"
)


@dataclass(frozen=True)
class Cards:
    """The cards of one sample, one for each antenna."""

    screen: Screen
    sample: Sample
    cards: list[PresetCard]

    @property
    def setups(self) -> dict[str, str]:
        return {s.id: s.name for s in self.screen.bench.evaluation.setups}


def _cards(evaluation_id: int) -> Cards:
    """Of the sample that is asked for, at first the one on the bench."""
    screen = shown(evaluation_or_404(evaluation_id), draw=False)
    evaluation = screen.bench.evaluation
    wanted = request.args.get("sample", str(screen.hand.sample_id or ""))
    sample = next((s for s in evaluation.samples if s.id == wanted), None) or abort(404)
    mine = [x for x in evaluation.trials if x.sample_id == sample.id]
    sweeps = {e.id: e.sweep for e in evaluation.sweeps}
    return Cards(screen, sample, preset_cards(mine, evaluation.networks, sweeps, evaluation.region))


@preset_card.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    """Where the knobs stand, and where they are thought to stand on a frequency between."""
    of = _cards(evaluation_id)
    bench = of.screen.bench
    wanted, foreseen, wrong = request.args.get("wanted", "").strip(), [], ""
    if wanted:
        try:
            hz = parse_frequency(wanted)
            foreseen = [(c, solved_for(bench.evaluation, c, hz), foresee_dials(c, hz)) for c in of.cards]
        except ValueError as problem:
            wrong = sentence(problem)
    trials = [p.trial for c in of.cards for p in c.presets]
    reach = {x.id: behind_trial(bench.evaluation, bench.behind, x).reach for x in trials}
    data: dict[str, Any] = {"of": of, "reach": reach, "sizes": SIZE_WORDS.items()}
    data["can_solve"] = [can_solve(bench.evaluation, c) for c in of.cards]
    return render_template("tuner/card.html", **of.screen.given(wanted=wanted, foreseen=foreseen, wrong=wrong, **data))


@preset_card.get("/solved")
@for_members
def solved(evaluation_id: int) -> ResponseReturnValue:
    """All bands for the antenna of one card, solved from the network."""
    of, place = _cards(evaluation_id), request.args.get("card", 0, type=int)
    if not 0 <= place < len(of.cards):
        abort(404)
    found = presets_for(of.screen.bench.evaluation, of.cards[place])
    return render_template("tuner/solved.html", solved=found, antenna=of.cards[place].antenna)


@preset_card.get("/card.pdf")
@for_members
def pdf(evaluation_id: int) -> ResponseReturnValue:
    size = request.args.get("size", CardSize.A6.value)
    if size not in list(CardSize):
        abort(404)
    of = _cards(evaluation_id)
    if not of.cards:
        abort(404)
    evaluation = of.screen.bench.evaluation
    data = preset_card_pdf(of.cards, evaluation, of.sample, CardSize(size), now().date().isoformat())
    return download(data, f"presets-{for_download(evaluation.title)}-{size}.pdf", "application/pdf", inline=True)


@preset_card.get("/card.csv")
@for_members
def as_csv(evaluation_id: int) -> ResponseReturnValue:
    of = _cards(evaluation_id)
    name = f"presets-{for_download(of.screen.bench.evaluation.title)}.csv"
    return download(write_presets(of.cards, of.setups).encode(), name, "text/csv")
