"""Cards on paper: A6, A5, or a sheet of labels, with room for a waterproof pen."""

from enum import StrEnum
from typing import Any

from levelmoor.services.on_paper import pdf_of
from levelmoor.services.run_sheet import environment


class CardSize(StrEnum):
    A6 = "a6"
    A5 = "a5"
    LABELS = "labels"


def paper(template: str, size: CardSize, **data: Any) -> bytes:
    """A card as PDF."""
    return pdf_of(environment.get_template(template).render(size=size.value, **data))
