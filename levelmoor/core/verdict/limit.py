"""The level of SWR that sweeps are held to: a claim's own, that of its width, else the usability profile's."""

from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.quantities import Quantity, ShownBy
from levelmoor.core.model.usability import Profile
from levelmoor.core.rf.windows import Window

WIDTH_AT_SWR = 2.0
"""Where a bandwidth is read that does not say at which SWR (common practice, no source)."""


def limit_for(claim: Claim | None, profile: Profile) -> float:
    """The SWR at which a window is judged, planned, compared and drawn for a claim, or without one for a band's use."""
    if claim is None:
        return profile.limit_swr
    if claim.quantity is Quantity.BANDWIDTH:
        return claim.swr_at or WIDTH_AT_SWR
    return claim.limit_swr or profile.limit_swr


def limits_in(evaluation: Evaluation) -> tuple[tuple[Window, float], ...]:
    """The windows of an evaluation with the SWR each is held to: its claims', but for those of what goes through, which
    no reflection shows, and the team's own bands. One inside another of the same limit says nothing more."""
    claims = [c for c in evaluation.claims if c.quantity.spec.shown_by is not ShownBy.THROUGH]
    every = [(w, limit_for(c, evaluation.profile)) for c in claims for w in c.windows]
    claimed = {(w.low_hz, w.high_hz) for w, _ in every}
    own = [w for w in evaluation.own_bands if (w.low_hz, w.high_hz) not in claimed]
    every = list(dict.fromkeys(every + [(w, limit_for(None, evaluation.profile)) for w in own]))

    def inside(one: tuple[Window, float], other: tuple[Window, float]) -> bool:
        (a, limit), (b, same) = one, other
        return one != other and limit >= same and b.low_hz <= a.low_hz and a.high_hz <= b.high_hz

    return tuple(one for one in every if not any(inside(one, other) for other in every))
