import pytest

from levelmoor.core.claims.quantity_text import READERS
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.quantities import SPECIFICATIONS, Quantity


def test_every_quantity_is_specified():
    assert set(SPECIFICATIONS) == set(Quantity)


def test_every_quantity_but_other_is_read_from_text():
    assert {quantity for quantity, _ in READERS} == set(Quantity) - {Quantity.OTHER}


@pytest.mark.parametrize(
    ("quantity", "limit", "words"),
    [
        (Quantity.SWR, 1.0, "an SWR limit must be above 1, not 1"),
        (Quantity.RETURN_LOSS, 0.0, "a return loss limit must be above 0 dB, not 0"),
        (Quantity.IMPEDANCE, -50.0, "an impedance must be above 0 Ω, not -50"),
        (Quantity.POWER, 0.0, "a power must be above 0 W, not 0"),
    ],
)
def test_a_limit_that_is_none_is_refused(quantity, limit, words):
    with pytest.raises(ValueError, match=words):
        Claim("", quantity, limit=limit)
