"""Figures of emissions: what stands out of the water is what is over the limit, and nothing is drawn that is not known."""

from xml.etree import ElementTree

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.emissions.captured_lines import Spectrum, measure
from levelmoor.core.emissions.emission_path import PathPiece, look_along
from levelmoor.core.emissions.emissions import judge_emissions
from levelmoor.core.metrology.decision import DecisionRule
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.rule_sets import limit_of, shipped_rule_sets
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.trace import Trace
from levelmoor.figures.emissions import PostRow, emission_posts, limit_curve, path_figure

SVG = "{http://www.w3.org/2000/svg}"
US = shipped_rule_sets()["us-97.307"]
LETTER_PX = 5.8
"""How wide a letter of a figure is on average, a little more than it is in our face."""


def report(*levels, carrier=146e6, spur=None):
    """Carrier and harmonics in dBm at the radio, judged; a level of None is a harmonic that was not covered."""
    peaks = [(n * carrier, dbm) for n, dbm in enumerate(levels, 1) if dbm is not None] + ([spur] if spur else [])
    f, level = zip(*sorted(peaks), strict=True)
    measured = measure(Spectrum("list", Trace(np.array(f), np.array(level, float)), lambda _f: (0.0, 0.5)), carrier)
    watts = 10 ** (levels[0] / 10) / 1e3
    return judge_emissions([measured], limit_of(US, carrier, watts), DecisionRule.GUARDED)


def posts(*rows, **options):
    made = [PostRow(letter, letter, r) for letter, r in zip("ABC", rows, strict=False)]
    return ElementTree.fromstring(emission_posts(made, DecisionRule.GUARDED, **options))


def parts(figure, css, kind="rect"):
    return [e for e in figure.iter(f"{SVG}{kind}") if e.get("class") == css]


@given(st.lists(st.floats(-70, 20), min_size=4, max_size=4))
def test_a_post_stands_out_of_the_water_just_where_its_level_is_over_the_limit(levels):
    made = report(37.0, *levels)
    over = [h for h in made.harmonics if h.level_dbm > made.limit.dbm + 0.2]
    surely_under = [h for h in made.harmonics if h.level_dbm < made.limit.dbm]
    dry = parts(posts(made), "pole out")
    assert len(over) <= len(dry) <= len(made.harmonics) - len(surely_under)
    water = parts(posts(made), "basin")[0]
    assert all(float(p.get("y")) + float(p.get("height")) == pytest.approx(float(water.get("y")), abs=0.2) for p in dry)


def test_a_harmonic_that_was_not_covered_is_an_empty_place_with_a_question():
    figure = posts(report(37.0, -20.0, None, -40.0, None))
    assert [e.text for e in figure.iter(f"{SVG}text")].count("?") == 2
    assert len(parts(figure, "basin-empty", "path")) == 2


def test_without_a_figure_of_the_rule_there_is_no_water():
    figure = posts(report(37.0, -20.0, -30.0, carrier=446e6))
    assert parts(figure, "basin") == parts(figure, "level", "line") == parts(figure, "pole out") == []


def test_units_stand_side_by_side_each_with_its_letter():
    figure = posts(report(37.0, -20.0, -30.0), report(36.0, -10.0, -30.0))
    letters = [e.text for e in figure.iter(f"{SVG}text") if "letter" in e.get("class", "")]
    assert (letters.count("A"), letters.count("B"), len(parts(figure, "pole carrier"))) == (3, 3, 2)


def test_what_is_foreseen_and_not_measured_looks_it():
    made = report(37.0, -20.0)
    both = [PostRow("A", "now", made), PostRow("B", "with the filter", made, foreseen=True)]
    figure = ElementTree.fromstring(emission_posts(both, DecisionRule.GUARDED))
    assert len(parts(figure, "pole carrier foreseen")) == 1


@pytest.mark.parametrize(("width", "height"), [(760, 360), (390, 340)])
def test_every_word_lies_within_the_figure(width, height):
    figures = [
        emission_posts(
            [PostRow("A", "A", report(37.0, 9.0, -12.0, -60.0, -90.0))], DecisionRule.GUARDED, -66.0, "", width, height
        ),
        path_figure(look(), width, height),
        limit_curve(US, 146e6, width, height),
    ]
    for figure in map(ElementTree.fromstring, figures):
        for word in figure.iter(f"{SVG}text"):
            x, room = float(word.get("x")), LETTER_PX * len(word.text)
            left = x - {"end": room, "middle": room / 2}.get(word.get("text-anchor"), 0.0)
            assert left > -12 and left + room < width + 12, word.text
            assert 0 < float(word.get("y")) < height, word.text


def look():
    tap = PathPiece("Forty dB tap", Curve((100e6, 800e6), (40.0, 42.0)), 0.2, 40.0, 25.0)
    return look_along(5.0, 1.0, 146e6, [tap], Instrument("1", "Analyzer", max_input_dbm=20.0), -16.0, -100.0)


def test_the_path_goes_down_by_what_each_piece_takes():
    stairs = parts(ElementTree.fromstring(path_figure(look())), "skyline", "path")[0].get("d")
    heights = [float(v.split("H")[0]) for v in stairs.replace("M", "V").replace(" ", "V").split("V")[2:]]
    levels = [s.level_dbm for s in look().stages]
    assert np.corrcoef(heights, levels)[0, 1] == pytest.approx(-1, abs=1e-4)


def test_a_rule_without_a_figure_for_the_carrier_has_no_curve_and_says_so():
    figure = ElementTree.fromstring(limit_curve(US, 446e6))
    assert parts(figure, "level", "path") == []
    assert "no figure for this carrier" in [e.text for e in figure.iter(f"{SVG}text")]
