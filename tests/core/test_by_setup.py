"""What each setup as supplied gives by itself, beside the verdict of the claim."""

import pytest

from levelmoor.core.by_setup import by_setup
from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.state import Role
from tests.core.evidence.cases import FORTY, PLAIN, at, case

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


def test_a_band_by_its_name_is_that_of_the_region_as_for_the_verdict():
    """40 m ends at 7.2 MHz in region 1 and at 7.3 in region 2, where nothing was swept above 7.2."""
    claim = Claim("c", Quantity.SWR, (FORTY,), 2.0)
    sweeps = (at(1.2, "a", span=(6.9e6, 7.2e6)), at(1.3, "b", span=(6.9e6, 7.2e6), setup_id="roof"))
    evaluation = case(*sweeps, setups=(PLAIN, ROOF), claims=(claim,), region=2)
    (verdict,) = (f.verdict for f in judge(evaluation).claims)
    (of,) = by_setup(evaluation)
    assert {r.verdict for r in of.results} == {verdict} == {Verdict.NOT_SHOWN}


def test_one_setup_alone_needs_no_table():
    assert found(at(1.2, "a")) == ()
