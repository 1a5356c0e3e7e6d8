"""Which entries of a sheet count, and where to read next."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.readings.reading_sheet import Entry, next_frequency, sheet_lines, support
from levelmoor.core.readings.readings import ReadingKind
from levelmoor.core.readings.slips import Expected
from levelmoor.core.rf.windows import Window

FORTY = Window(7e6, 7.2e6, "40m")
WHERE = Expected((FORTY,))


def entry(ident, mhz, swr, **answers):
    return Entry(ident, {"frequency": mhz, "swr": swr}, answers)


def test_an_entry_with_an_open_question_does_not_count_until_it_is_answered():
    good = [entry("a", "7.0", "1.5"), entry("b", "7.1", "1.4")]
    asked = sheet_lines([*good, entry("c", "71.5", "1.4")], ReadingKind.SWR, WHERE)
    assert [line.counts for line in asked] == [True, True, False]
    answered = sheet_lines([*good, entry("c", "71.5", "1.4", place="as read")], ReadingKind.SWR, WHERE)
    assert all(line.counts for line in answered)
    assert answered[2].note == "place: as read"


def test_what_cannot_be_understood_is_kept_with_its_field():
    (line,) = sheet_lines([entry("a", "7.1", "l.5")], ReadingKind.SWR, WHERE)
    assert (line.reading, line.counts, line.problem.field) == (None, False, "swr")


def test_a_misplaced_reading_is_no_measure_for_the_others():
    lines = sheet_lines(
        [entry("a", "70.0", "9"), entry("b", "7.0", "1.2"), entry("c", "7.1", "1.2")], ReadingKind.SWR, WHERE
    )
    assert [len(line.asked) for line in lines] == [1, 0, 0]


@given(st.integers(0, 24))
def test_every_place_is_proposed_once_until_a_claim_on_the_window_has_its_points(count):
    taken = []
    for _ in range(count):
        at = next_frequency([FORTY], taken)
        if at is None:
            break
        assert FORTY.low_hz <= at <= FORTY.high_hz
        assert at not in taken
        taken.append(at)
    assert len(taken) == min(count, 21)
    if count >= 11:
        assert np.diff(sorted(taken[:11])) == pytest.approx(20e3)


def test_the_window_that_is_being_read_is_read_on():
    sixty = Window(5.3515e6, 5.3665e6, "60m")
    assert next_frequency([sixty, FORTY], []) == 5.3515e6
    assert next_frequency([sixty, FORTY], [5.3515e6]) == 5.353e6
    assert next_frequency([sixty, FORTY], [7.0e6, 7.02e6]) == 7.04e6


def test_spots_are_proposed_first():
    assert next_frequency([FORTY, Window(7.09e6, 7.09e6)], []) == 7.09e6


@pytest.mark.parametrize(
    ("count", "words"), [(0, "No reading counts yet"), (1, "1 reading counts"), (4, "needs 21 readings")]
)
def test_what_the_readings_support_is_said(count, words):
    lines = sheet_lines([entry(str(i), f"7.{i}", "1.5") for i in range(count)], ReadingKind.SWR, WHERE)
    assert words in support(lines, [FORTY])
