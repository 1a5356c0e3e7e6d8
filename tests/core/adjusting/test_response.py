"""How dips answer to moves: the prior, what rounds teach, and whether the intervals hold."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.adjusting.response import Observation, Response
from levelmoor.core.model.adjusting import Adjustment as Trip
from levelmoor.core.model.adjusting import Element, ElementKind, Move, positions

WHIP = Element("w", "Whip", ElementKind.WHIP, "cm", 50.0)
COIL = Element("c", "Coil", ElementKind.SLIDING_COIL, "mark", 5.0, low=0.0, high=9.0)


def seen(*rounds):
    return [Observation({"w": x}, {0: (hz, 1e-4 * hz)}) for x, hz in rounds]


def test_without_moves_the_ratio_of_lengths_is_foreseen():
    # 74.4 to 100 MHz needs about 0.744 of the length (common practice, no source).
    predicted = Response([WHIP], ["2m"], [100e6], seen((50.0, 74.4e6))).predict(0, {"w": 0.744 * 50.0})
    assert predicted.low_hz < 100e6 < predicted.high_hz
    assert predicted.hz == pytest.approx(100e6, rel=0.03)


def test_a_second_round_teaches_what_a_centimetre_is_worth():
    response = Response([WHIP], ["2m"], [145e6], seen((50.0, 130e6), (48.0, 133e6)))
    slope, u = response.slope(0, 0, {"w": 49.0})
    assert slope * 131.5e6 == pytest.approx(-1.5e6, rel=0.1)
    assert response.learnt(0, 0)
    assert u * 131.5e6 < 0.2e6


@given(
    share=st.floats(0.5, 1.2),
    at=st.lists(st.floats(35.0, 65.0), min_size=2, max_size=6, unique=True),
    to=st.floats(30.0, 70.0),
)
def test_a_line_in_the_logarithm_is_found_again(share, at, to):
    if max(at) - min(at) < 3:
        return
    truth = lambda x: 140e6 * (x / 50.0) ** -share  # noqa: E731
    response = Response([WHIP], ["2m"], [145e6], seen(*((x, truth(x)) for x in at)))
    assert response.predict(0, {"w": to}).holds(truth(to))


def test_the_order_of_rounds_does_not_matter():
    rounds = seen((50.0, 130e6), (48.0, 133e6), (45.0, 139e6))
    one, other = (Response([WHIP], ["2m"], [145e6], r) for r in (rounds, rounds[::-1]))
    assert one.predict(0, {"w": 44.0}).hz == pytest.approx(other.predict(0, {"w": 44.0}).hz, rel=1e-6)


def test_intervals_hold_for_a_scale_that_bends():
    held = 0
    for n in range(200):
        random = np.random.default_rng(n)
        slope, bend = random.uniform(0.1, 1.1), random.normal(0, 0.15)

        def truth(x, s=slope, b=bend):
            return 7e6 * math.exp(-s * (x - 5) / 9 + b * ((x - 5) / 9) ** 2)

        rounds = [
            Observation({"c": x}, {0: (truth(x) * math.exp(random.normal(0, 1e-3)), 5e3)}) for x in (5.0, 4.0, 6.5)
        ]
        response = Response([COIL], ["40m"], [7e6], rounds)
        to = random.uniform(2.0, 8.0)
        held += response.predict(0, {"c": to}).holds(truth(to))
    assert held >= 190  # 95 % of 200


def test_elements_that_were_always_moved_together_are_not_told_apart():
    other = Element("v", "Other", ElementKind.WHIP, "cm", 50.0)
    together = [Observation({"w": x, "v": x}, {0: (130e6 * 50 / x, 1e4)}) for x in (50.0, 48.0, 46.0)]
    alone = [*together, Observation({"w": 44.0, "v": 46.0}, {0: (145e6, 1e4)})]
    assert not Response([WHIP, other], ["2m"], [145e6], together).told_apart(0, 0, 1)
    assert Response([WHIP, other], ["2m"], [145e6], alone).told_apart(0, 0, 1)


@given(moves=st.lists(st.tuples(st.integers(2, 9), st.floats(-5, 5)), max_size=8))
def test_an_element_stands_where_all_its_moves_have_brought_it(moves):
    trips = [Trip(str(n), "s", "u", round=r, moves=(Move("w", by),)) for n, (r, by) in enumerate(moves)]
    for upto in range(1, 10):
        there = positions([WHIP], trips, upto)["w"]
        assert there == pytest.approx(50.0 + sum(by for r, by in moves if r <= upto), abs=1e-5)
