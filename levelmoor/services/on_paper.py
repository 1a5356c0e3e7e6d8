"""What everything on paper shares: the fonts shipped with the application, figures as images, codes, PDF."""

import io
import re
from base64 import b64encode
from importlib.resources import files
from pathlib import Path
from typing import Any

import segno

STATIC = Path(str(files("levelmoor.web").joinpath("static")))
FAMILIES = {
    "Levelmoor Sans": ("latin", ""),
    "Levelmoor Sans Extended": ("latin-ext", "U+0100-02AF"),
    "Levelmoor Sans Greek": ("greek", "U+0370-03FF"),
}
"""Each file has a name of its own: of several under one name the letters of one are drawn by the places of another, and
50 Ω reads 50 Á."""
FONTS = ", ".join(f"'{name}'" for name in (*FAMILIES, "DejaVu Sans")) + ", sans-serif"


def font_faces() -> str:
    """The fonts as CSS; FONTS names them in the order in which letters are looked for."""
    return "\n".join(
        f"@font-face {{ font-family: '{name}'; src: url('fonts/source-sans-3-{part}.woff2'); font-weight: 200 900;"
        f"{f' unicode-range: {letters};' if letters else ''} }}"
        for name, (part, letters) in FAMILIES.items()
    )


def on_paper(svg: str) -> str:
    """A figure as an image that carries its own style in day colours: paper knows no variables of the page, and draws
    the edge of a letter over the letter."""
    sheet = files("levelmoor.figures").joinpath("figure.css").read_text("utf-8")
    plain = re.sub(r"/\*.*?\*/|\.lm-fig \.halo \{.*?\}", "", sheet, flags=re.DOTALL)
    plain = re.sub(r"var\(--[a-z-]+,\s*([^()]+)\)", r"\1", plain)
    head, rest = svg.split(">", 1)
    if " xmlns=" not in head:  # without it no style reaches what is inside
        head += ' xmlns="http://www.w3.org/2000/svg"'
    style = re.sub(r"\.lm-(?:fig|shape) (?=[a-z.])", "", plain).replace('"Source Sans 3 Variable"', FONTS)
    alone = f"{head}><style>text {{ font-family: {FONTS}; }} {style}</style>{rest}"
    return f'<img alt="" src="data:image/svg+xml;base64,{b64encode(alone.encode()).decode()}">'


def code_of(text: str) -> str:
    """A square code as SVG that leads a telephone's camera to an address."""
    out = io.BytesIO()
    segno.make(text, error="m").save(out, kind="svg", border=1, scale=2, xmldecl=False, svgns=True, nl=False)
    return out.getvalue().decode()


def pdf_of(html: str, **options: Any) -> bytes:
    """Some HTML as PDF, with no file but the application's own fonts."""
    from weasyprint import HTML  # it takes a second to load, and few ask for paper

    from levelmoor.services.own_files import OwnFiles

    page = HTML(string=html, base_url=f"{STATIC.as_uri()}/", url_fetcher=OwnFiles(STATIC / "fonts"))
    return bytes(page.write_pdf(**options))
