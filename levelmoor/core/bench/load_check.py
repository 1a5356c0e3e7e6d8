"""A known load, open or short at the reference plane: what the calibration has left uncorrected.

References
----------
.. [1] EURAMET cg-12, effective directivity from a load of known reflection (memory).
"""

from dataclasses import dataclass

import numpy as np

from levelmoor.core.rf.curve import Curve, curve_of
from levelmoor.core.rf.reflection import FloatArray, gamma_from_return_loss, return_loss_db, swr_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.words.said import said

FLAT_SWR = 1.10
"""A known good load at the plane reads no more than this (common practice, no source)."""
FULL_WITHIN = 0.10
"""An open or short at the plane reads |gamma| = 1 to within this (common practice, no source)."""
NEIGHBOURHOOD = 0.1
"""Share of the span over which the largest reading stands for the figure at a frequency: residuals turn in phase."""


@dataclass(frozen=True)
class ResidualCheck:
    """What a sweep of a known load (or of an open or short) showed.

    `figure` is over frequency and linear: effective directivity of a load, effective tracking of an open or short.
    """

    sound: bool
    figure: Curve
    worst_hz: float
    worst: float
    words: str
    proves: bool = False
    """Whether the figure was shown independently of the calibration, so that it may stand in place of a typical one."""

    @property
    def worst_away(self) -> float:
        return max(self.figure.value)


def _envelope(values: FloatArray) -> FloatArray:
    """The largest of each point's neighbourhood."""
    reach = max(int(NEIGHBOURHOOD * values.size / 2), 1)
    padded = np.pad(values, reach, mode="edge")
    return np.asarray(np.lib.stride_tricks.sliding_window_view(padded, 2 * reach + 1).max(axis=1))


def check_load(sweep: Sweep, load_return_loss_db: float | None = None, independent: bool = True) -> ResidualCheck:
    """Effective directivity from a sweep of a good load at the plane [1]_.

    The load reads D + its own reflection, so D is at most the sum of both magnitudes: the load's own stated
    reflection is added where it is known. Where that is not stated, or the load is the one that calibrated and not
    `independent` of it, a flat reading shows that nothing is badly wrong, and gives no figure: calibrated with itself,
    any load reads perfect.
    """
    magnitude = sweep.magnitude
    own = 0.0 if load_return_loss_db is None else float(gamma_from_return_loss(load_return_loss_db))
    worst_hz, worst = sweep.worst()
    swr = float(swr_from_gamma(worst))
    figure = curve_of(sweep.frequency_hz, np.maximum(_envelope(magnitude) + own, 1e-5))
    directivity = float(return_loss_db(float(max(figure.value))))
    where = said("load.where", swr=swr, at=worst_hz)
    if swr > FLAT_SWR:
        return ResidualCheck(False, figure, worst_hz, worst, said("load.bad", where=where, limit=FLAT_SWR))
    if load_return_loss_db is None:
        return ResidualCheck(True, figure, worst_hz, worst, said("load.unstated", where=where))
    if not independent:
        return ResidualCheck(True, figure, worst_hz, worst, said("load.own", where=where))
    words = said("load.good", where=where, directivity=directivity)
    return ResidualCheck(True, figure, worst_hz, worst, words, proves=True)


def check_open_or_short(sweep: Sweep) -> ResidualCheck:
    """Effective tracking from a sweep of an open or a short at the plane: how far |gamma| stays from 1.

    The one that calibrated reads 1 whatever is wrong, so the figure can only widen the typical one.
    """
    away = np.abs(sweep.magnitude - 1)
    i = int(np.argmax(away))
    figure = curve_of(sweep.frequency_hz, np.maximum(_envelope(away), 1e-5))
    worst_hz, worst = float(sweep.frequency_hz[i]), float(sweep.magnitude[i])
    where = said("full.where", size=worst, at=worst_hz)
    if away[i] > FULL_WITHIN:
        return ResidualCheck(False, figure, worst_hz, worst, said("full.bad", where=where))
    return ResidualCheck(True, figure, worst_hz, worst, said("full.good", where=where))
