"""One sweep through an article drawn against what is claimed: on its page, and live as it comes."""

from collections.abc import Iterable
from dataclasses import dataclass

from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.quantities import Quantity, ShownBy
from levelmoor.core.model.through import Fixture
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.core.through.choking import Choking, choking
from levelmoor.core.through.through_verdict import ThroughCurve, choking_curve, loss_curve
from levelmoor.figures.through import through_figure

Read = tuple[ThroughCurve, Choking | None]


@dataclass(frozen=True, eq=False)
class Between:
    """What stands between the ports, with the instrument's figures, the empty fixture, and the claim on it."""

    fixture: Fixture
    figures: Residuals
    empty: TwoPort | None = None
    claim: Claim | None = None

    def read(self, two_port: TwoPort) -> Read:
        """Its loss, or in a fixture its impedance."""
        if self.fixture is Fixture.THROUGH:
            return loss_curve(two_port, self.figures, self.claim.z0_ohm if self.claim else 50.0), None
        found = choking(two_port, self.figures, self.empty)
        return choking_curve(found), found

    def figures_of(self, read: Read, sizes: Iterable[tuple[float, float]]) -> list[str]:
        """The figure of what was read in each of the sizes, width by height."""
        curve, found = read
        z = found.impedance if found else None
        ohm = None if z is None else (z.real, z.imag)
        claim = self.claim
        limit, tolerance, windows = (claim.limit, claim.tolerance, claim.windows) if claim else (None, None, ())
        at_most = claim is not None and claim.quantity is Quantity.INSERTION_LOSS
        return [through_figure(curve, ohm, limit, at_most, tolerance, windows, *size) for size in sizes]


def claim_on(evaluation: Evaluation, fixture: Fixture) -> Claim | None:
    """The first claim that a sweep in this fixture shows; of an empty one nothing is claimed."""
    if fixture is Fixture.OPEN:
        return None
    wanted = (Quantity.CHOKING,) if fixture is Fixture.SERIES else (Quantity.INSERTION_LOSS, Quantity.ATTENUATION)
    claims = [c for c in evaluation.claims if c.quantity.spec.shown_by is ShownBy.THROUGH and c.limit is not None]
    return next((c for c in claims if c.quantity in wanted), None)
