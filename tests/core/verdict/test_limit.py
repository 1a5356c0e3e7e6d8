"""The windows a sweep is seen against, with the SWR each is held to."""

from dataclasses import replace

from levelmoor.core.model.claims import Claim
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.limit import limits_in
from tests.core.plan.test_plan import CASE, TWENTY

SWR = Claim("1", Quantity.SWR, (TWENTY,), 1.5)


def test_what_goes_through_has_no_water_line():
    choking = Claim("2", Quantity.CHOKING, (Window(3.5e6, 30e6),), 5000.0)
    assert limits_in(replace(CASE, claims=(SWR, choking))) == ((TWENTY, 1.5),)


def test_own_bands_are_held_to_the_profile_where_no_claim_names_them():
    relay = Window(35e6, 35.2e6, "Fell relay")
    own = (replace(TWENTY, name="Our twenty"), relay)
    assert limits_in(replace(CASE, claims=(SWR,), own_bands=own)) == ((TWENTY, 1.5), (relay, CASE.profile.limit_swr))


def test_a_window_inside_another_of_the_same_limit_says_nothing_more():
    inner = replace(SWR, id="2", windows=(Window(14.1e6, 14.2e6),))
    assert limits_in(replace(CASE, claims=(SWR, inner))) == ((TWENTY, 1.5),)
    strict = replace(inner, limit=1.2)
    assert set(limits_in(replace(CASE, claims=(SWR, strict)))) == {(TWENTY, 1.5), (inner.windows[0], 1.2)}
