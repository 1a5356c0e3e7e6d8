"""The noise floor of a spectrum analyzer as it is set, from a trace with nothing at its input."""

from dataclasses import dataclass

import numpy as np

from levelmoor.core.rf.frequency import format_mhz
from levelmoor.core.rf.trace import Trace

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
        raise ValueError("the resolution bandwidth is above 0 Hz; write the one that was set")
    level = trace.level_db
    spur = level > np.median(level) + SPUR_DB
    floor = float(np.percentile(level[~spur], 95)) if np.any(~spur) else float(np.median(level))
    spurs = tuple((float(f), float(v)) for f, v in zip(trace.frequency_hz[spur], level[spur], strict=True))
    words = f"Noise {floor:.0f} dBm in {rbw_hz / 1e3:g} kHz"
    if spurs:
        loudest = max(spurs, key=lambda s: s[1])
        words += f"; spurs of its own, the loudest {loudest[1]:.0f} dBm at {format_mhz(round(loudest[0], -3))} MHz"
    return NoiseCheck(True, floor, rbw_hz, spurs, words)
