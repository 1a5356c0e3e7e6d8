"""The settings card on paper: A6, A5, or a sheet of labels, with room for a waterproof pen."""

from base64 import b64encode
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from levelmoor.core.adjusting.settings_card import Card
from levelmoor.core.model.conditions import CONDITION_WORDS
from levelmoor.core.model.evaluation import Evaluation, Sample, Setup
from levelmoor.services.run_sheet import STATIC, environment


class CardSize(StrEnum):
    A6 = "a6"
    A5 = "a5"
    LABELS = "labels"


SIZE_WORDS = {CardSize.A6: "A6", CardSize.A5: "A5, with the marks' pictures", CardSize.LABELS: "labels on A4"}


@dataclass(frozen=True)
class CardOf:
    """Whose card it is: a sample in a setup of an evaluation."""

    evaluation: Evaluation
    sample: Sample
    setup: Setup

    @property
    def conditions(self) -> str:
        """How it stood, in a line."""
        said = [f"{CONDITION_WORDS[k]} {v}" for k, v in vars(self.setup.conditions).items() if v]
        return "; ".join(w for w in (self.setup.name, self.setup.description, *said) if w)


def card_pdf(
    card: Card, of: CardOf, size: CardSize, made_on: str, pictures: Mapping[str, bytes] | None = None
) -> bytes:
    """The card as PDF; `pictures` are the marks' photographs by setting, JPEG, PNG or WebP."""
    from weasyprint import HTML

    from levelmoor.services.own_files import OwnFiles

    html = card_html(card, of, size, made_on, pictures)
    return bytes(HTML(string=html, base_url=f"{STATIC.as_uri()}/", url_fetcher=OwnFiles(STATIC / "fonts")).write_pdf())


def card_html(card: Card, of: CardOf, size: CardSize, made_on: str, pictures: Mapping[str, bytes] | None = None) -> str:
    """The page that the PDF is made of, complete in itself but for the fonts."""
    images = {k: f"data:image;base64,{b64encode(v).decode()}" for k, v in (pictures or {}).items()}
    return environment.get_template("settings_card.html").render(
        card=card, of=of, size=size.value, made_on=made_on, images=images
    )
