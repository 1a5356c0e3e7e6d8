"""Standard uncertainty of a measured |gamma|.

References
----------
.. [1] EURAMET cg-12, Guidelines on the evaluation of vector network analysers (memory).
.. [2] JCGM 100:2008, Guide to the expression of uncertainty in measurement (memory).
"""

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import ArrayLike

from levelmoor.core.curve import Curve
from levelmoor.core.feedline import LineFigures, carried_uncertainty
from levelmoor.core.reflection import FloatArray, swr_from_gamma


@dataclass(frozen=True)
class BenchFigures:
    """What the bench leaves uncorrected, as effective figures after calibration.

    Directivity and source match in dB (positive), tracking linear, repeat as the standard deviation of |gamma|
    over repeat sweeps of the same setup; `repeat` is that over frequency, where repeats were swept. Of a wattmeter
    `watt_accuracy` is the stated accuracy of each power figure as a share of it, of an SWR scale `swr_division` the
    distance of its marks. Where the bench was measured, `directivity` and `full` give directivity and
    tracking as linear figures over frequency and stand in place of the typical ones; `line` is a feed line
    between the calibration and the plane that is judged.
    """

    directivity_db: float = 40.0
    tracking: float = 0.01
    source_match_db: float = 35.0
    repeat_u: float = 0.0
    directivity: Curve | None = None
    full: Curve | None = None
    line: LineFigures | None = None
    repeat: Curve | None = None
    watt_accuracy: float = 0.0
    swr_division: float = 0.0

    @property
    def varies(self) -> bool:
        """Whether the uncertainty differs over frequency beside differing with |gamma|."""
        return any(c is not None for c in (self.directivity, self.full, self.line, self.repeat))

    def __post_init__(self) -> None:
        for name in ("directivity_db", "tracking", "source_match_db", "repeat_u", "watt_accuracy", "swr_division"):
            value = getattr(self, name)
            if not math.isfinite(value) or value < 0:
                raise ValueError(f"{name} is a number of at least 0, not {value}")


def standard_uncertainty(
    magnitude: ArrayLike, bench: BenchFigures, half_step: ArrayLike = 0.0, frequency_hz: ArrayLike | None = None
) -> FloatArray:
    """u(|gamma|): u^2 = (D^2 + (T|g|)^2 + (M|g|^2)^2)/2 + u_repeat^2 + half_step^2/3.

    D, T, M spread like the projection of a vector of unknown phase, whose variance is half its square (the
    U-shaped distribution's divisor [1]_); rounding is rectangular, half of the last digit over sqrt(3) [2]_. Watt
    figures of relative accuracy a each add (|g| a)^2/6, since |g| = sqrt(Pr/Pf); half a division d of an SWR scale adds
    (d (1 - |g|)^2/4)^2/3, both rectangular [2]_. Figures measured over frequency need `frequency_hz`. With a line
    between, |g| is taken back to its near end, where it was measured, and the uncertainty carried through the line.
    """
    g, half = np.asarray(magnitude, dtype=np.float64), np.asarray(half_step, dtype=np.float64)
    f = None if frequency_hz is None else np.asarray(frequency_hz, dtype=np.float64)
    if bench.line is not None and f is not None:
        loss = bench.line.loss_db.at(f)
        a = 10 ** (loss / 10)
        near = standard_uncertainty(g / a, replace(bench, line=None), half / a, f)
        return carried_uncertainty(g, near, loss, bench.line.u_loss_db)
    d: float | FloatArray = 10 ** (-bench.directivity_db / 20)
    t: float | FloatArray = bench.tracking
    if f is not None and bench.directivity is not None:
        d = bench.directivity.at(f)
    if f is not None and bench.full is not None:
        t = bench.full.at(f)
    m = 10 ** (-bench.source_match_db / 20)
    systematic = d**2 + (t * g) ** 2 + (m * g**2) ** 2
    meter = (g * bench.watt_accuracy) ** 2 / 6 + (bench.swr_division * (1 - np.minimum(g, 1)) ** 2 / 4) ** 2 / 3
    repeat: float | FloatArray = bench.repeat_u
    if f is not None and bench.repeat is not None:
        repeat = np.maximum(bench.repeat.at(f), bench.repeat_u)
    return np.asarray(np.sqrt(systematic / 2 + repeat**2 + meter + half**2 / 3))


def swr_interval(magnitude: float, expanded: float) -> tuple[float, float]:
    """SWR at the ends of |gamma| +- U: asymmetric, from 1 upwards, infinite where the upper end reaches 1."""
    low, high = max(magnitude - expanded, 0.0), magnitude + expanded
    return float(swr_from_gamma(low)), float(swr_from_gamma(high))
