"""A radio's own meter against the analyzer on known loads: an accuracy of the meter's own.

References
----------
.. [1] Root mean square of the deviations as a standard uncertainty, JCGM 100:2008, 4.3 (memory).
"""

from dataclasses import dataclass

import numpy as np

from levelmoor.core.reflection import gamma_from_swr, return_loss_db

FEWEST = 3


@dataclass(frozen=True)
class MeterCheck:
    """Deviations in |gamma|; `directivity_db` is the figure with which the meter's uncertainty is what was seen."""

    sound: bool
    pairs: tuple[tuple[float, float], ...]
    u_gamma: float | None
    directivity_db: float | None
    words: str


def check_meter(pairs: tuple[tuple[float, float], ...]) -> MeterCheck:
    """Accuracy of a meter from pairs of SWR: what the analyzer says, what the meter says, on the same loads [1]_.

    The judge's u is D/sqrt(2) for a directivity D, so D = sqrt(2) u.

    Raises
    ------
    ValueError
        If an SWR is below 1.
    """
    if not pairs:
        return MeterCheck(False, (), None, None, "No load was read yet")
    analyzer, meter = (gamma_from_swr(np.array(column)) for column in zip(*pairs, strict=True))
    if len(pairs) < FEWEST:
        words = f"{len(pairs)} of {FEWEST} loads: the meter's accuracy is not known yet"
        return MeterCheck(False, pairs, None, None, words)
    away = meter - analyzer
    u = max(float(np.sqrt(np.mean(away**2))), 1e-3)
    directivity = float(return_loss_db(np.sqrt(2) * u))
    side = "high" if np.mean(away) > 0.5 * u else "low" if np.mean(away) < -0.5 * u else "to both sides"
    words = f"Over {len(pairs)} loads the meter reads {side} by {u:.3f} in |Γ| (as directivity, {directivity:.0f} dB)"
    return MeterCheck(True, pairs, u, directivity, words)
