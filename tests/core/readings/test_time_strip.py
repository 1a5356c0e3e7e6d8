"""Time strips: the numbers since each mark, what does not count, and the sentence for the report."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.model.time_strips import StripKind, StripMark, StripPoint, TimeStrip
from levelmoor.core.readings.time_strip import check_strip, placed, since_marks, strip_sentence
from levelmoor.figures.time_strip import place_figure, strip_figure


def strip(kind, swrs, marks=(), counts=None):
    points = tuple(StripPoint(float(n), (s,), None, True if counts is None else counts[n]) for n, s in enumerate(swrs))
    return TimeStrip("1", "s", "u", "i", kind, (145e6,), points, tuple(StripMark(*m) for m in marks))


def test_numbers_begin_anew_at_each_mark():
    found = since_marks(strip(StripKind.WIND, [1.2, 1.3, 2.0, 2.2, 2.1], [(2.0, "hand on", None)]))
    assert [(s.count, s.middle, s.low, s.high) for s in found] == [(2, 1.25, 1.2, 1.3), (3, 2.1, 2.0, 2.2)]


def test_what_does_not_count_is_left_out():
    found = since_marks(strip(StripKind.WIND, [1.2, 9.0, 1.4], counts=[True, False, True]))
    assert (found[0].count, found[0].high) == (2, 1.4)


def test_a_rotation_says_where_it_is_least_and_most():
    swrs = [1.3, 1.31, 1.6, 1.61, 1.45, 1.44]
    marks = [(0.0, "turned to 0", 0.0), (2.0, "turned to 450", 450.0), (4.0, "turned to 180", 180.0)]
    words = strip_sentence(strip(StripKind.ROTATION, swrs, marks))
    assert words == (
        "Over 3 azimuths at 145 MHz SWR is 1.31 at 0° to 1.60 at 90°, a change of 0.30; while it was still it varied by 0.01: it depends on the position."
    )


def test_a_change_no_larger_than_standing_still_is_said_to_be_none():
    marks = [(0.0, "5 m", 5.0), (2.0, "1 m", 1.0)]
    assert "no more than while it was still" in strip_sentence(strip(StripKind.DISTANCE, [1.3, 1.5, 1.4, 1.5], marks))


def test_wind_is_told_by_its_range():
    words = strip_sentence(strip(StripKind.WIND, [1.3, 1.5, 1.4] * 40))
    assert "SWR stayed between 1.30 and 1.50, half the time below 1.40" in words


def test_marks_without_figures_are_at_no_place():
    assert placed(strip(StripKind.ROTATION, [1.2, 1.3], [(0.0, "wind", None)])) == []


@given(st.lists(st.one_of(st.none(), st.floats(1.0, 50.0)), min_size=1, max_size=40), st.sampled_from(list(StripKind)))
def test_every_strip_has_a_sentence_and_a_figure(swrs, kind):
    marks = [(0.0, "0", 0.0), (len(swrs) / 2, "90", 90.0)]
    one = strip(kind, swrs, marks)
    assert strip_sentence(one) and strip_figure(one).startswith("<svg")
    assert isinstance(place_figure(one), str)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"wanted_hz": ()}, "wanted_hz"),
        ({"points": ()}, "points: there are 0"),
        ({"points": (StripPoint(0.0, (0.5,)),)}, "points.0"),
        ({"points": (StripPoint(-1.0, (1.5,)),)}, "points.0"),
        ({"marks": (StripMark(0.0, "x" * 81),)}, "marks.0"),
        ({"marks": (StripMark(0.0, "turned", float("nan")),)}, "marks.0"),
        ({"begun_at": "noon"}, "begun_at"),
        ({"note": "x" * 2001}, "note"),
    ],
)
def test_what_comes_from_outside_is_held_against_its_bounds(change, words):
    from dataclasses import replace

    with pytest.raises(ValueError, match=words):
        check_strip(replace(strip(StripKind.WIND, [1.5]), **change))
