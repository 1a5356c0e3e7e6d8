"""A path is drawn with as few points as tell it."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from levelmoor.figures.svg import PASSES, UNSEEN_PX, telling


@given(arrays(float, st.integers(2, 400), elements=st.floats(0, 300)))
def test_what_is_left_out_lies_on_what_is_drawn(y):
    x = np.linspace(0, 760, y.size)
    at = telling(x, y)
    kept_x, kept_y = x[at], y[at]
    assert (kept_x[0], kept_x[-1]) == (x[0], x[-1])
    # Measured upright, a steep line counts for more than it is seen: held against its own slope.
    drawn = np.interp(x, kept_x, kept_y)
    slope = np.abs(np.gradient(drawn, x)).max() if y.size > 1 else 0.0
    assert np.abs(drawn - y).max() <= PASSES * UNSEEN_PX * np.hypot(1, 2 * slope) + 1e-9


def test_a_smooth_curve_takes_few_points_and_a_jagged_one_all():
    x = np.linspace(0, 760, 401)
    assert telling(x, 100 + 80 * np.cos(x / 250)).size < 80
    jagged = np.where(np.arange(401) % 2, 10.0, 200.0)
    assert telling(x, jagged).size == 401


@pytest.mark.parametrize("size", [1, 2, 3, 7])
def test_short_paths_stay_as_they_are(size):
    x = np.arange(float(size))
    assert telling(x, x).size == size
