"""Standard uncertainty of a measured |gamma|.

References
----------
.. [1] EURAMET cg-12, Guidelines on the evaluation of vector network analysers (memory).
.. [2] JCGM 100:2008, Guide to the expression of uncertainty in measurement (memory).
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from levelmoor.core.reflection import FloatArray, swr_from_gamma


@dataclass(frozen=True)
class BenchFigures:
    """What the bench leaves uncorrected, as effective figures after calibration.

    Directivity and source match in dB (positive), tracking linear, repeat as the standard deviation of |gamma|
    over repeat sweeps of the same setup.
    """

    directivity_db: float = 40.0
    tracking: float = 0.01
    source_match_db: float = 35.0
    repeat_u: float = 0.0

    def __post_init__(self) -> None:
        for name, value in vars(self).items():
            if not math.isfinite(value) or value < 0:
                raise ValueError(f"{name} is a number of at least 0, not {value}")


def standard_uncertainty(magnitude: ArrayLike, bench: BenchFigures, half_step: ArrayLike = 0.0) -> FloatArray:
    """u(|gamma|): u^2 = (D^2 + (T|g|)^2 + (M|g|^2)^2)/2 + u_repeat^2 + half_step^2/3.

    D, T, M spread like the projection of a vector of unknown phase, whose variance is half its square (the
    U-shaped distribution's divisor [1]_); rounding is rectangular, half of the last digit over sqrt(3) [2]_.
    """
    g, half = np.asarray(magnitude, dtype=np.float64), np.asarray(half_step, dtype=np.float64)
    d = 10 ** (-bench.directivity_db / 20)
    m = 10 ** (-bench.source_match_db / 20)
    systematic = d**2 + (bench.tracking * g) ** 2 + (m * g**2) ** 2
    return np.asarray(np.sqrt(systematic / 2 + bench.repeat_u**2 + half**2 / 3))


def swr_interval(magnitude: float, expanded: float) -> tuple[float, float]:
    """SWR at the ends of |gamma| +- U: asymmetric, from 1 upwards, infinite where the upper end reaches 1."""
    low, high = max(magnitude - expanded, 0.0), magnitude + expanded
    return float(swr_from_gamma(low)), float(swr_from_gamma(high))
