import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.metrology.decision import DecisionRule, Verdict, conformity_probability, decide, worst_verdict
from levelmoor.core.metrology.uncertainty import Residuals, standard_uncertainty, swr_interval
from levelmoor.core.rf.reflection import gamma_from_return_loss, return_loss_db, swr_from_gamma


@pytest.mark.parametrize(
    ("loss", "directivity", "loss_ends", "swr_ends"),
    [
        (20, 40, (19.17, 20.92), (1.198, 1.247)),
        (20, 30, (17.61, 23.30), (1.147, 1.303)),
        (10, 30, (9.17, 10.92), (1.796, 2.067)),
    ],
)
def test_directivity_table(loss, directivity, loss_ends, swr_ends):
    # Worst-case addition of the directivity vector, as in common error charts (memory); computed independently.
    gamma, d = gamma_from_return_loss(loss), gamma_from_return_loss(directivity)
    assert sorted(np.round(return_loss_db([gamma + d, gamma - d]), 2)) == list(loss_ends)
    assert [round(s, 3) for s in swr_interval(float(gamma), float(d))] == list(swr_ends)


def test_terms_add_as_the_formula_says():
    # EURAMET cg-12 (memory): u^2 = (D^2 + (T g)^2 + (M g^2)^2)/2 + u_repeat^2, by hand for g = 0.5.
    bench = Residuals(directivity_db=40, tracking=0.02, source_match_db=20, repeat_u=0.003)
    by_hand = ((0.01**2 + 0.01**2 + (0.1 * 0.25) ** 2) / 2 + 0.003**2) ** 0.5
    assert standard_uncertainty(0.5, bench) == pytest.approx(by_hand, rel=1e-12)


def test_rounding_is_rectangular():
    # JCGM 100:2008 (memory): half width over the root of three.
    bench = Residuals(directivity_db=400, tracking=0, source_match_db=400)
    assert standard_uncertainty(0.2, bench, 0.03) == pytest.approx(0.03 / 3**0.5)


def test_unphysical_figures_are_refused():
    with pytest.raises(ValueError, match="tracking"):
        Residuals(tracking=-0.1)


@given(st.floats(0, 1.2), st.floats(0, 0.5))
def test_interval_holds_the_swr_and_is_lopsided(gamma, expanded):
    low, high = swr_interval(gamma, expanded)
    assert 1 <= low <= swr_from_gamma(gamma) <= high


def test_zener_diode():
    # JCGM 106:2012, the Zener diode example (memory): limit -5.40 V, value -5.47 V, u = 0.05 V.
    assert round(conformity_probability(-5.40, -5.47, 0.05), 2) == 0.92


@pytest.mark.parametrize(("p", "z"), [(0.80, 0.84), (0.90, 1.28), (0.95, 1.64), (0.99, 2.33), (0.999, 3.09)])
def test_quantiles_of_jcgm_106_table_1(p, z):
    # JCGM 106:2012, table 1 (memory), to the digits it prints.
    assert conformity_probability(z, 0, 1) == pytest.approx(p, abs=0.003)


@given(st.floats(0, 1), st.floats(0, 1), st.floats(1e-4, 0.2))
def test_guarded_verdicts_are_sure(limit, value, u):
    p = conformity_probability(limit, value, u)
    verdict = decide(limit, value, u, DecisionRule.GUARDED)
    assert (verdict is Verdict.PASS) == (value + 2 * u <= limit)
    assert verdict is not Verdict.PASS or p >= 0.977
    assert verdict is not Verdict.FAIL or p <= 0.023


def test_simple_acceptance_never_doubts():
    assert [decide(0.3, v, 0.1, DecisionRule.SIMPLE) for v in (0.3, 0.3001)] == [Verdict.PASS, Verdict.FAIL]


def test_worst_of_several():
    order = [Verdict.PASS, Verdict.NOT_SHOWN, Verdict.TOO_CLOSE, Verdict.FAIL]
    assert [worst_verdict(order[: i + 1]) for i in range(4)] == order
    assert worst_verdict([]) is Verdict.NOT_SHOWN
