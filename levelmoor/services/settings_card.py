"""The settings card on paper."""

from base64 import b64encode
from collections.abc import Mapping
from dataclasses import dataclass

from levelmoor.core.adjusting.settings_card import Card
from levelmoor.core.model.conditions import CONDITION_WORDS
from levelmoor.core.model.evaluation import Evaluation, Sample, Setup
from levelmoor.services.card_paper import CardSize, paper

SIZE_WORDS = {CardSize.A6: "A6", CardSize.A5: "A5, with the marks' pictures", CardSize.LABELS: "labels on A4"}


@dataclass(frozen=True)
class CardOf:
    """Whose card it is: a sample in setups of an evaluation."""

    evaluation: Evaluation
    sample: Sample
    setups: tuple[Setup, ...]

    @property
    def conditions(self) -> str:
        """How it stood, in a line; of several setups their names."""
        if len(self.setups) > 1:
            return "; ".join(s.name for s in self.setups)
        (setup,) = self.setups
        said = [f"{CONDITION_WORDS[k]} {v}" for k, v in vars(setup.conditions).items() if v]
        return "; ".join(w for w in (setup.name, setup.description, *said) if w)


def card_pdf(
    card: Card, of: CardOf, size: CardSize, made_on: str, pictures: Mapping[str, bytes] | None = None
) -> bytes:
    """The card as PDF; `pictures` are the marks' photographs by setting, JPEG, PNG or WebP."""
    images = {k: f"data:image;base64,{b64encode(v).decode()}" for k, v in (pictures or {}).items()}
    return paper("settings_card.html", size, card=card, of=of, made_on=made_on, images=images)
