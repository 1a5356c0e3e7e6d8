"""A trace: levels or ratios in dB over frequency, as a spectrum analyzer or a two-port sweep gives them."""

from dataclasses import dataclass

import numpy as np

from levelmoor.core.rf.reflection import FloatArray
from levelmoor.core.rf.windows import reaches


@dataclass(frozen=True, eq=False)
class Trace:
    """Levels in dBm or dB (n,) at rising frequencies in Hz (n,)."""

    frequency_hz: FloatArray
    level_db: FloatArray

    def __post_init__(self) -> None:
        if self.frequency_hz.shape != self.level_db.shape or self.frequency_hz.size == 0:
            raise ValueError("a trace needs as many frequencies as levels, and at least one")

    def covers(self, frequency_hz: float) -> bool:
        return reaches(self.frequency_hz[0], self.frequency_hz[-1], frequency_hz, frequency_hz)

    def at(self, frequency_hz: float | FloatArray) -> FloatArray:
        return np.asarray(np.interp(frequency_hz, self.frequency_hz, self.level_db))
