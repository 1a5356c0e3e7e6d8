"""The level of SWR that sweeps are held to: a claim's own, that of its width, else the usability profile's."""

from levelmoor.core.model.claims import Claim
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.usability import Profile

WIDTH_AT_SWR = 2.0
"""Where a bandwidth is read that does not say at which SWR (common practice, no source)."""


def limit_for(claim: Claim | None, profile: Profile) -> float:
    """The SWR at which a window is judged, planned, compared and drawn for a claim, or without one for a band's use."""
    if claim is None:
        return profile.limit_swr
    if claim.quantity is Quantity.BANDWIDTH:
        return claim.swr_at or WIDTH_AT_SWR
    return claim.limit_swr or profile.limit_swr
