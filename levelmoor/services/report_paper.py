"""A published report on paper, and as pictures: PDF with the bundle inside, PNG of its figures and of its matrix.

References
----------
.. [1] ISO 19005-3, PDF/A-3: any file may be attached.
"""

import io
import re
from importlib.resources import files
from typing import Any

from levelmoor.services.on_paper import FONTS, font_faces, on_paper, pdf_of

VARIANT = "pdf/a-3u"
PICTURE_DPI = 144


def report_pdf(html: str, bundle: bytes, name: str) -> bytes:
    """The report as tagged PDF/A-3 [1]_ with its bundle attached."""
    from weasyprint import Attachment

    attached = Attachment(string=bundle, name=name, description="The evidence with its findings", relationship="Data")
    return _pdf(html, pdf_variant=VARIANT, pdf_tags=True, attachments=[attached])


def picture_png(html: str) -> bytes:
    """The first page of some HTML, as wide as its CSS says, as PNG."""
    import pypdfium2

    document = pypdfium2.PdfDocument(_pdf(html))
    image = document[0].render(scale=PICTURE_DPI / 72).to_pil()
    out = io.BytesIO()
    image.convert("RGB").save(out, format="PNG", optimize=True)
    document.close()
    return out.getvalue()


_SVG = re.compile(r"<svg\b.*?</svg>", re.DOTALL)
_LABEL = re.compile(r'^<svg[^>]*?\saria-label="([^"]*)"')


def _as_images(html: str) -> str:
    """The same with every figure as an image that carries its look, and its sentence for who does not see it."""

    def image(found: re.Match[str]) -> str:
        label = _LABEL.match(found[0])
        return on_paper(found[0]).replace('alt=""', f'alt="{label[1] if label else ""}"', 1)

    return _SVG.sub(image, html)


def paper_css() -> str:
    """The style of a report on paper."""
    own = files("levelmoor.services").joinpath("templates/report_paper.css").read_text("utf-8")
    return f"{font_faces()}\nhtml {{ font-family: {FONTS}; }}\n{own}"


def _pdf(html: str, **options: Any) -> bytes:
    return pdf_of(_as_images(html), **options)
