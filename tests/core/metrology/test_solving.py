"""The small searches against those of SciPy, which the tests alone load."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq, minimize_scalar, nnls

from levelmoor.core.metrology.solving import fit_at_least_zero, lowest, root

WITHIN = st.floats(0.05, 0.95)


@given(WITHIN)
def test_a_root_is_where_brents_method_finds_it(at):
    def cubic(x):
        return (x - at) * (x**2 + 1)

    assert root(cubic, 0.0, 1.0) == pytest.approx(brentq(cubic, 0.0, 1.0), abs=1e-10)


def test_one_sign_at_both_ends_is_refused():
    with pytest.raises(ValueError, match="between a value above zero and one below"):
        root(lambda x: x + 1, 0.0, 1.0)


@given(WITHIN)
def test_a_minimum_is_where_the_bounded_search_finds_it(at):
    def valley(x):
        return np.cosh(3 * (x - at))

    found = minimize_scalar(valley, bounds=(0, 1), method="bounded", options={"xatol": 1e-9})
    assert lowest(valley, 0.0, 1.0) == pytest.approx(found.x, abs=1e-5)


@settings(max_examples=50)
@given(st.integers(0, 2**32 - 1))
def test_a_fit_without_negative_terms_is_that_of_lawson_and_hanson(seed):
    random = np.random.default_rng(seed)
    basis, values = random.random((30, 3)), random.standard_normal(30)
    assert fit_at_least_zero(basis, values) == pytest.approx(nnls(basis, values)[0], abs=1e-9)
