"""What each setup as supplied gives by itself, beside the verdict of the claim."""

import pytest

from levelmoor.core.by_setup import by_setup
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.evaluation import Setup
from levelmoor.core.model.state import Role
from tests.core.evidence.cases import PLAIN, at, case

ROOF = Setup("roof", "On a car roof")


def found(*sweeps, second=ROOF):
    return by_setup(case(*sweeps, setups=(PLAIN, second)))


def test_two_setups_as_supplied_each_have_their_verdict_and_worst_swr():
    (of,) = found(at(1.2, "a"), at(2.6, "b", setup_id="roof"))
    assert (of.claim_id, of.sample_id) == ("c", "s")
    assert {r.setup_id: r.verdict for r in of.results} == {"plain": Verdict.PASS, "roof": Verdict.FAIL}
    assert {r.setup_id: round(r.figure, 2) for r in of.results} == {"plain": 1.2, "roof": 2.6}


@pytest.mark.parametrize(
    "second", [Setup("roof", "With a choke", role=Role.ADDED), Setup("roof", "On a car roof", set_aside="It rained.")]
)
def test_a_setup_that_is_not_as_supplied_or_left_out_is_none_of_them(second):
    assert found(at(1.2, "a"), at(2.6, "b", setup_id="roof"), second=second) == ()


def test_one_setup_alone_needs_no_table():
    assert found(at(1.2, "a")) == ()
