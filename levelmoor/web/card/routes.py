"""The settings card: on the screen, for a telephone in the field, on paper, as CSV."""

from typing import Any

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue

from levelmoor.core.adjusting.settings_card import Card, card_of, carried, most_swept
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.words.figures import brief_mhz
from levelmoor.core.words.sentence import sentence
from levelmoor.formats.settings_table import write_card
from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.services.card_paper import CardSize
from levelmoor.services.settings_card import SIZE_WORDS, CardOf, card_pdf
from levelmoor.web.context import for_members
from levelmoor.web.downloads import download, for_download
from levelmoor.web.workbench.screen import Screen, evaluation_or_404, shown

card = Blueprint("card", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/card")


def _card(screen: Screen) -> tuple[Card, CardOf]:
    """The card of the sample and the setups that are asked for: at first the sample that most evidence in settings is
    of, in all setups in which it was swept so."""
    evaluation, asked = screen.bench.evaluation, request.args
    sample_id, setup_id = most_swept(evaluation)
    wanted = asked.get("sample", sample_id)
    sample = next((s for s in evaluation.samples if s.id == wanted), None) or abort(404)
    known = {s.id: s for s in evaluation.setups}
    ids = tuple(dict.fromkeys(asked.getlist("setup"))) or carried(evaluation, sample.id) or (setup_id,)
    if not all(i in known for i in ids):
        abort(404)
    made = card_of(evaluation, screen.bench.behind, sample.id, ids)
    return made, CardOf(evaluation, sample, tuple(known[i] for i in ids))


@card.get("")
@for_members
def page(evaluation_id: int) -> ResponseReturnValue:
    screen = shown(evaluation_or_404(evaluation_id), draw=False)
    made, of = _card(screen)
    data: dict[str, Any] = {"card": made, "of": of, "sizes": SIZE_WORDS.items(), "marks": _pictures(screen.row)}
    return render_template("card/page.html", **screen.given(**data))


def _pictures(row: t.Evaluation) -> dict[str, t.Picture]:
    """The latest picture of each setting's mark, by the setting."""
    return {str(p.setting_id): p for p in row.pictures if p.setting_id}


@card.get("/card.pdf")
@for_members
def pdf(evaluation_id: int) -> ResponseReturnValue:
    row, wanted = evaluation_or_404(evaluation_id), request.args.get("size", CardSize.A6.value)
    if wanted not in list(CardSize):
        abort(404)
    made, of = _card(shown(row, draw=False))
    size = CardSize(wanted)
    pictures = {k: p.raw_file.data for k, p in _pictures(row).items()} if size is CardSize.A5 else None
    data = card_pdf(made, of, size, now().date().isoformat(), pictures)
    name = f"settings-{for_download(of.evaluation.title)}-{size.value}.pdf"
    return download(data, name, "application/pdf", inline=True)


@card.get("/card.csv")
@for_members
def as_csv(evaluation_id: int) -> ResponseReturnValue:
    made, of = _card(shown(evaluation_or_404(evaluation_id), draw=False))
    return download(write_card(made).encode(), f"settings-{for_download(of.evaluation.title)}.csv", "text/csv")


@card.get("/mark")
@for_members
def mark(evaluation_id: int) -> ResponseReturnValue:
    """The mark that is foreseen for a frequency."""
    screen = shown(evaluation_or_404(evaluation_id), draw=False)
    made, _ = _card(screen)
    typed = request.args.get("wanted", "").strip()
    words = wrong = ""
    try:
        wanted = parse_frequency(typed) if typed else None
    except ValueError as problem:
        wanted, wrong = None, sentence(problem)
    if wanted is not None:
        found = made.mark_for(wanted)
        at = brief_mhz(wanted)
        if found is not None:
            words = f"Mark {found.mark:.3g} ± {2 * found.u:.2g} for {at} MHz, between the swept marks."
        else:
            words = f"There are no swept marks on both sides of {at} MHz."
    return render_template("card/mark_said.html", words=words, wrong=wrong)
