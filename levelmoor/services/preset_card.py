"""The preset card of a tuner on paper: where the knobs stand, by antenna and frequency."""

from collections.abc import Sequence

from levelmoor.core.matching.preset_card import PresetCard
from levelmoor.core.model.evaluation import Evaluation, Sample
from levelmoor.services.card_paper import CardSize, paper

SIZE_WORDS = {CardSize.A6: "A6", CardSize.A5: "A5", CardSize.LABELS: "labels on A4"}


def preset_card_pdf(
    cards: Sequence[PresetCard], evaluation: Evaluation, sample: Sample, size: CardSize, made_on: str
) -> bytes:
    """The cards of all antennas of a tuner, each on a page of its own; as labels, one for each setting."""
    setups = {s.id: s.name for s in evaluation.setups}
    return paper(
        "preset_card.html", size, cards=cards, title=evaluation.title, sample=sample, setups=setups, made_on=made_on
    )
