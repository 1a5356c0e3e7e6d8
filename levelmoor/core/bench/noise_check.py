"""The noise floor of a spectrum analyzer as it is set, from a trace with nothing at its input."""

from dataclasses import dataclass

import numpy as np

from levelmoor.core.rf.trace import Trace
from levelmoor.core.words.said import said

SPUR_DB = 10.0
"""A line this far above the median is a spur of the analyzer's own, not noise."""


@dataclass(frozen=True)
class NoiseCheck:
    """The floor in dBm in the resolution bandwidth it was taken in, and spurs above it as (Hz, dBm)."""

    sound: bool
    floor_dbm: float
    rbw_hz: float
    spurs: tuple[tuple[float, float], ...]
    words: str


def check_noise(trace: Trace, rbw_hz: float) -> NoiseCheck:
    """The level under which 95 % of the trace lies, spurs left out.

    Raises
    ------
    ValueError
        If the bandwidth is not above zero.
    """
    if not rbw_hz > 0:
        raise ValueError("the resolution bandwidth must be above 0 Hz; enter the one that was set")
    level = trace.level_db
    spur = level > np.median(level) + SPUR_DB
    floor = float(np.percentile(level[~spur], 95)) if np.any(~spur) else float(np.median(level))
    spurs = tuple((float(f), float(v)) for f, v in zip(trace.frequency_hz[spur], level[spur], strict=True))
    loudest = max(spurs, key=lambda s: s[1], default=None)
    told = said("noise.spur", dbm=loudest[1], at=loudest[0]) if loudest else ""
    words = said("noise.floor", dbm=floor, rbw=rbw_hz / 1e3, spurs=told)
    return NoiseCheck(True, floor, rbw_hz, spurs, words)
