"""The numbers at a glance of what goes through."""

import numpy as np
import pytest

from levelmoor.core.through.through_numbers import through_numbers
from levelmoor.core.through.through_verdict import ThroughCurve

F = np.array([1e6, 2e6, 3e6])
CURVE = ThroughCurve(F, np.array([500.0, 3000.0, 1000.0]), np.ones(3), "Ω")
Z = np.array([300 + 400j, 0 - 3000j, 600 - 800j])


@pytest.mark.parametrize(
    ("hz", "value", "ohm"),
    [(None, None, None), (5e6, None, None), (2e6, 3000.0, -3000j), (1.5e6, 1750.0, 150 - 1300j)],
    ids=["nothing wanted", "not swept", "on a point", "between two"],
)
def test_the_wanted_is_read_between_the_points(hz, value, ohm):
    found = through_numbers(CURVE, Z, hz)
    assert (found.wanted, found.wanted_ohm) == (value, ohm)


def test_the_ends_are_named_with_their_frequencies():
    found = through_numbers(CURVE)
    assert (found.least, found.least_hz, found.most, found.most_hz) == (500.0, 1e6, 3000.0, 2e6)
