"""Cards on paper: A6, A5, or a sheet of labels, with room for a waterproof pen."""

from enum import StrEnum
from typing import Any

from levelmoor.services.run_sheet import STATIC, environment


class CardSize(StrEnum):
    A6 = "a6"
    A5 = "a5"
    LABELS = "labels"


def paper(template: str, size: CardSize, **data: Any) -> bytes:
    """A card as PDF."""
    from weasyprint import HTML

    from levelmoor.services.own_files import OwnFiles

    html = environment.get_template(template).render(size=size.value, **data)
    return bytes(HTML(string=html, base_url=f"{STATIC.as_uri()}/", url_fetcher=OwnFiles(STATIC / "fonts")).write_pdf())
