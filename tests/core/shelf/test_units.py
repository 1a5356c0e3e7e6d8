"""All units of a product: exact limits, scores between teams, batches. Figures by hand, by scipy.stats where named."""

import pytest
from scipy import stats

from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.shelf.units import TestedUnit, batch_of, unit_pool

TestedUnit.__test__ = False


def unit(team, serial="", gamma=0.2, verdict=Verdict.PASS, u=0.01, counted=True, name="Unit 1"):
    return TestedUnit(f"{team}'s report", team, name, serial, counted, verdict, 1.5, gamma, u)


def test_a_serial_number_tested_by_two_teams_is_one_unit():
    pool = unit_pool([unit("A", "S-100"), unit("B", "s-100", verdict=Verdict.FAIL), unit("B", "S-101")])
    assert (pool.share.count, pool.share.of) == (1, 2)


def test_controls_and_counterfeits_are_apart():
    pool = unit_pool([unit("A", "S-100"), unit("A", "S-101", verdict=Verdict.FAIL, counted=False)])
    assert (pool.share.count, pool.share.of, len(pool.apart)) == (0, 1, 1)


def test_e_n_of_one_unit_at_two_teams_by_hand():
    # |0.20 - 0.23| / sqrt(0.02^2 + 0.02^2) = 1.06: more than both expanded uncertainties leave open.
    pool = unit_pool([unit("A", "S-100", 0.20), unit("B", "S-100", 0.23)])
    assert pool.pairs[0].score == pytest.approx(1.0607, abs=1e-4)
    assert pool.pairs[0].apart


def test_teams_with_different_units_are_compared_with_the_spread_between_units():
    near = unit_pool([unit("A", "1", 0.20), unit("A", "2", 0.30), unit("B", "3", 0.21), unit("B", "4", 0.29)])
    assert not near.pairs[0].apart
    assert near.differ  # by more than u = 0.01 explains


@pytest.mark.parametrize(("gammas", "differ"), [((0.20, 0.205, 0.195), False), ((0.20, 0.26, 0.14), True)])
def test_units_differ_where_chi_squared_says_so(gammas, differ):
    pool = unit_pool([unit("A", str(n), g) for n, g in enumerate(gammas)])
    mean = sum(gammas) / 3
    assert pool.differ is differ
    assert bool(stats.chi2.sf(sum(((g - mean) / 0.01) ** 2 for g in gammas), 2) < 0.05) is differ


def test_an_odd_batch_is_named_with_fishers_chance():
    old = [unit("A", f"RA-23{n:02}", verdict=Verdict.FAIL) for n in range(4)]
    new = [unit("A", f"RA-22{n:02}") for n in range(5)]
    (odd,) = unit_pool([*old, *new]).odd
    assert (odd.batch, odd.fails, odd.units, odd.other_fails, odd.others) == ("RA-23..", 4, 4, 0, 5)
    assert odd.chance == pytest.approx(stats.fisher_exact([[4, 0], [0, 5]], alternative="greater")[1])


@pytest.mark.parametrize(("serial", "batch"), [("RA-2305", "RA-23.."), ("12", ""), ("", ""), ("F2-10467", "F2-104..")])
def test_a_batch_is_what_stands_before_the_last_digits(serial, batch):
    assert batch_of(serial) == batch


def test_no_unit_says_nothing():
    pool = unit_pool([])
    assert (pool.decided, pool.differ, pool.pairs, pool.odd) == (0, None, (), ())
