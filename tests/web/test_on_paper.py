"""What paper shows as the screen does: each verdict's shape, letters that are not Latin, labels that can be read."""

import io

import pytest
from PIL import Image

from levelmoor.core.metrology.decision import Verdict
from levelmoor.figures.shapes import verdict_shape
from levelmoor.services.report_paper import paper_css, picture_png

SMALL = "<style>@page { size: 60pt 40pt; margin: 6pt }</style>"


def drawn(html):
    return picture_png(f"<style>{paper_css()}</style>{SMALL}{html}")


def ink(html):
    """How much of the picture is not white."""
    shades = Image.open(io.BytesIO(drawn(html))).convert("L").histogram()
    return sum(n * (255 - shade) for shade, n in enumerate(shades))


def test_each_verdict_has_a_shape_of_its_own():
    """An outline is no pool, and half a pool no whole one."""
    empty, half, whole = (ink(verdict_shape(v, 26)) for v in (Verdict.NOT_SHOWN, Verdict.TOO_CLOSE, Verdict.PASS))
    assert empty < 0.8 * half
    assert half < 0.9 * whole


@pytest.mark.parametrize(("letter", "in_its_place"), [("Ω", "Á"), ("Γ", "g"), ("ő", "o")])
def test_letters_are_not_drawn_by_the_places_of_another_font(letter, in_its_place):
    """In one file these letters have the places that others have in another."""
    together = [drawn(f"<p>{word}</p>") for word in (f"aő{letter}", f"aő{in_its_place}")]
    assert together[0] != together[1]


def test_the_edge_of_a_label_does_not_cover_it():
    label = (
        '<svg xmlns="http://www.w3.org/2000/svg" class="lm-fig" width="50" height="20"><text y="15"{}>144</text></svg>'
    )
    assert drawn(label.format(' class="halo"')) == drawn(label.format(""))
