"""From frequency and SWR to places on the page."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from levelmoor.core.rf.reflection import FloatArray, gamma_from_swr

TOP_SWR = 10.0
"""Beyond this the skyline is cut, with a mark."""
TOP_GAMMA = float(gamma_from_swr(TOP_SWR))
SWR_TICKS = (1.0, 1.5, 2.0, 3.0, 5.0, 10.0)


@dataclass(frozen=True)
class Scale:
    """A linear frequency axis, and height in |gamma|: SWR 1 at the bottom, the same on every panel.

    |gamma| is what is measured and judged, so guard bands are as wide below the level as above it.
    """

    low_hz: float
    high_hz: float
    left: float
    right: float
    top: float
    bottom: float

    def x(self, frequency_hz: ArrayLike) -> FloatArray:
        share = (np.asarray(frequency_hz, dtype=np.float64) - self.low_hz) / (self.high_hz - self.low_hz)
        return np.asarray(self.left + share * (self.right - self.left))

    def y(self, gamma: ArrayLike) -> FloatArray:
        share = np.clip(np.asarray(gamma, dtype=np.float64) / TOP_GAMMA, 0, 1)
        return np.asarray(self.bottom - share * (self.bottom - self.top))

    def frequency_ticks(self) -> tuple[list[float], int]:
        """Round frequencies at least 80 px apart, and the decimals in MHz that tell them apart (three or more)."""
        span = self.high_hz - self.low_hz
        least = span * 80 / (self.right - self.left)
        size = 10.0 ** np.floor(np.log10(least))
        step = next(float(m * size) for m in (1, 2, 5, 10) if m * size >= least)
        first = np.ceil(self.low_hz / step - 1e-9) * step
        ticks = np.arange(first, self.high_hz + step * 1e-9, step)
        decimals = max(3, int(np.ceil(-np.log10(step / 1e6) - 1e-9)))
        return ticks.tolist(), decimals
