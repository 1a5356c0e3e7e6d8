"""The path between points: exact figures against a fine grid on the same path."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from hypothesis.extra import numpy as hnp

from levelmoor.core.rf.sweep import Sweep


@st.composite
def sweeps(draw):
    count = draw(st.integers(2, 12))
    steps = draw(hnp.arrays(float, count, elements=st.floats(0.1, 5)))
    parts = draw(hnp.arrays(float, (2, count), elements=st.floats(-0.7, 0.7)))
    no_gap = np.zeros(count - 1, dtype=bool)
    return Sweep(1e6 * (1 + np.cumsum(steps)), parts[0] + 1j * parts[1], gap_after=no_gap)


def grid(sweep: Sweep, points: int = 20001) -> np.ndarray:
    return np.abs(sweep.gamma_at(np.linspace(sweep.low_hz, sweep.high_hz, points)))


@given(sweeps())
def test_best_is_the_least_on_the_path(sweep):
    frequency, value = sweep.best()
    assert value == pytest.approx(np.abs(sweep.gamma_at(frequency)), abs=1e-9)
    assert value <= grid(sweep).min() + 1e-12


@given(sweeps())
def test_worst_is_the_most_on_the_path(sweep):
    assert sweep.worst()[1] >= grid(sweep).max() - 1e-12


@given(sweeps(), st.floats(0.01, 0.99))
def test_share_is_that_of_the_path(sweep, level):
    assume(np.all(np.abs(sweep.magnitude - level) > 1e-6))  # a flat stretch at the level itself may fall either way
    assert sweep.share_within(level) == pytest.approx(np.mean(grid(sweep) <= level), abs=2e-3)


@given(sweeps(), st.floats(0, 1), st.floats(0, 1))
def test_a_cut_has_the_values_of_the_whole_at_its_ends(sweep, one, two):
    low, high = sorted(sweep.low_hz + s * (sweep.high_hz - sweep.low_hz) for s in (one, two))
    part = sweep.cut(low, high)
    assert part is not None
    np.testing.assert_allclose(part.gamma[[0, -1]], sweep.gamma_at(np.array([low, high])), atol=1e-12)


@pytest.mark.parametrize(
    ("f", "g", "words"),
    [
        ([], [], "at least one"), ([1, 2], [0], "as many"), ([2, 1], [0, 0], "rise"), ([1, 1], [0, 0], "rise"),
        ([1, 2], [0, np.nan], "finite"),
    ],
)  # fmt: skip
def test_impossible_sweeps_are_refused(f, g, words):
    with pytest.raises(ValueError, match=words):
        Sweep(np.array(f, dtype=float), np.array(g, dtype=complex))
