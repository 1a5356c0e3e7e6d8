"""A known load, open or short at the reference plane: what the calibration has left uncorrected.

References
----------
.. [1] EURAMET cg-12, effective directivity from a load of known reflection (memory).
"""

from dataclasses import dataclass

import numpy as np

from levelmoor.core.rf.curve import Curve, curve_of
from levelmoor.core.rf.frequency import format_mhz
from levelmoor.core.rf.reflection import FloatArray, gamma_from_return_loss, return_loss_db, swr_from_gamma
from levelmoor.core.rf.sweep import Sweep

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
    where = f"at worst SWR {swr:.3f} at {format_mhz(round(worst_hz, -3))} MHz"
    if swr > FLAT_SWR:
        words = (
            f"The load does not match 50 ohm: {where}, more than {FLAT_SWR:g}. Calibrate again at this plane, or look "
            "at the load and the connectors"
        )
        return ResidualCheck(False, figure, worst_hz, worst, words)
    flat = f"The load matches 50 ohm, {where}"
    if load_return_loss_db is None:
        words = f"{flat}; its own return loss is not stated, so it gives no figure: write it down with the load"
        return ResidualCheck(True, figure, worst_hz, worst, words)
    if not independent:
        words = (
            f"{flat}; it is the load that calibrated, or it is not said which one did, so it gives no figure: sweep "
            "another known load, and say on the calibration which load was used"
        )
        return ResidualCheck(True, figure, worst_hz, worst, words)
    words = f"{flat}; effective directivity {directivity:.0f} dB or better over the span"
    return ResidualCheck(True, figure, worst_hz, worst, words, proves=True)


def check_open_or_short(sweep: Sweep) -> ResidualCheck:
    """Effective tracking from a sweep of an open or a short at the plane: how far |gamma| stays from 1.

    The one that calibrated reads 1 whatever is wrong, so the figure can only widen the typical one.
    """
    away = np.abs(sweep.magnitude - 1)
    i = int(np.argmax(away))
    figure = curve_of(sweep.frequency_hz, np.maximum(_envelope(away), 1e-5))
    worst_hz, worst = float(sweep.frequency_hz[i]), float(sweep.magnitude[i])
    where = f"|Γ| is {worst:.3f} at worst, at {format_mhz(round(worst_hz, -3))} MHz"
    if away[i] > FULL_WITHIN:
        words = f"The open or short does not read full: {where}. Calibrate again at this plane"
        return ResidualCheck(False, figure, worst_hz, worst, words)
    return ResidualCheck(True, figure, worst_hz, worst, f"The open or short reads full: {where}")
