"""Hands off: when sweeps count and when they do not."""

import pytest

from levelmoor.core.adjusting.hands import SETTLED, STEADY_AGAIN, UNSTEADY, Hands

DIPS = (50.5e6, 70.3e6, 145e6)


def told(*steps, every_s=0.5, steady_s=3.0):
    """The states of sweeps whose dips are all shifted by the shares of `steps`, one after the other."""
    hands = Hands(steady_s)
    return [hands.tell(n * every_s, [f * (1 + s) for f in DIPS]).state for n, s in enumerate(steps)]


def test_what_stands_still_counts():
    assert set(told(0, 0.0004, -0.0003, 0.0002)) == {SETTLED}


def test_a_hand_moves_all_dips_at_once_and_is_not_counted_until_they_stand_still():
    states = told(0, 0, -0.02, -0.021, 0, *([0] * 8))
    assert states[2:5] == [UNSTEADY] * 3
    assert states.index(STEADY_AGAIN) == 11  # the first still sweep is the sixth, 3 s are six more
    assert states[12:] == [SETTLED]


def test_a_slow_drift_is_wind_and_counts():
    assert set(told(*(0.001 * n for n in range(10)))) == {SETTLED}


def test_it_is_said_once_that_it_is_steady_again():
    assert told(0, -0.02, *([-0.02] * 20)).count(STEADY_AGAIN) == 1


def test_a_dip_that_appears_is_no_standing_still():
    hands = Hands()
    hands.tell(0.0, DIPS)
    assert hands.tell(0.5, (*DIPS, 200e6)).state == UNSTEADY


def test_another_span_begins_anew():
    hands = Hands()
    hands.tell(0.0, DIPS, of="wide")
    assert hands.tell(0.5, DIPS[:1], of="narrow").state == SETTLED


@pytest.mark.parametrize(("level", "state"), [(0.31, SETTLED), (0.36, UNSTEADY)])
def test_without_a_dip_in_sight_the_level_tells(level, state):
    hands = Hands()
    hands.tell(0.0, (), (0.3, 0.3))
    assert hands.tell(0.5, (), (0.3, level)).state == state


@pytest.mark.parametrize(("steady_s", "sweeps"), [(1.0, 2), (5.0, 10)])
def test_how_long_it_has_to_stand_still_is_settable(steady_s, sweeps):
    states = told(0, -0.02, *([-0.02] * 20), steady_s=steady_s)
    assert states.index(STEADY_AGAIN) == 2 + sweeps
