"""A radio's own meter against the analyzer on known loads: an accuracy of the meter's own.

References
----------
.. [1] JCGM 100:2008, 4.3 and annex G: the root mean square of few deviations, with Student's t (memory).
"""

from dataclasses import dataclass

import numpy as np

from levelmoor.core.metrology.quantiles import GUARDED, student
from levelmoor.core.rf.reflection import gamma_from_swr, return_loss_db
from levelmoor.core.words.said import said

FEWEST = 3


@dataclass(frozen=True)
class MeterCheck:
    """Deviations in |gamma|; `directivity_db` is the figure with which the meter's uncertainty is what was seen, and
    `levels` the |gamma| of the lowest and the highest load: beyond them it was not looked at."""

    sound: bool
    pairs: tuple[tuple[float, float], ...]
    u_gamma: float | None
    directivity_db: float | None
    words: str
    levels: tuple[float, float] = (0.0, 0.0)


def check_meter(pairs: tuple[tuple[float, float], ...]) -> MeterCheck:
    """Accuracy of a meter from pairs of SWR: what the analyzer says, what the meter says, on the same loads [1]_.

    Half of a guard band is t(n)/2 times the root mean square of n deviations, t at the share of 97.7 %: three loads do
    not show how far a meter strays. The judge's u is D/sqrt(2) for a directivity D, so D = sqrt(2) u.

    Raises
    ------
    ValueError
        If an SWR is below 1.
    """
    if not pairs:
        return MeterCheck(False, (), None, None, said("meter.none"))
    analyzer, meter = (gamma_from_swr(np.array(column)) for column in zip(*pairs, strict=True))
    if len(pairs) < FEWEST:
        words = said("meter.few", count=len(pairs), needed=FEWEST)
        return MeterCheck(False, pairs, None, None, words)
    away = meter - analyzer
    seen = max(float(np.sqrt(np.mean(away**2))), 1e-3)
    u = seen * student(GUARDED, len(pairs)) / 2
    directivity = float(return_loss_db(np.sqrt(2) * u))
    side = "high" if np.mean(away) > 0.5 * seen else "low" if np.mean(away) < -0.5 * seen else "to both sides"
    low, high = min(a for a, _ in pairs), max(a for a, _ in pairs)
    words = said("meter.good", count=len(pairs), low=low, high=high, side=side, seen=seen, directivity=directivity)
    levels = float(analyzer.min()), float(analyzer.max())
    return MeterCheck(True, pairs, u, directivity, words, levels)
