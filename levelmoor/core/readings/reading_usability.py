"""What a handful of readings says of a band: at the places where they were taken, and nothing in between."""

from dataclasses import dataclass

import numpy as np

from levelmoor.core.model.usability import Usability, usability
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.coarseness import LEAST_POINTS
from levelmoor.core.words.said import said

FEWEST_READINGS = 5
LARGEST_GAP = 1 / 3
"""Largest distance between neighbours, as a share of the band, with which readings stand for the band."""


def speaks_of(sweep: Sweep, window: Window) -> bool:
    """Whether a sweep has enough inside a window to be looked at there: as many points as the gate asks for, or of
    readings as many as stand for a band."""
    least = 1 if window.spot else FEWEST_READINGS if sweep.scalar else LEAST_POINTS
    return sweep.covers(window.low_hz, window.high_hz) and sweep.inside(window.low_hz, window.high_hz).size >= least


@dataclass(frozen=True)
class ReadingUsability:
    """The state at the readings, the share of the readings within the limit, and the sentence that says so."""

    state: Usability
    share: float
    sentence: str


def usability_at_readings(sweep: Sweep, band: Window, limit_swr: float) -> ReadingUsability | None:
    """Usability of a band from readings of SWR alone that run from edge to edge; None where they are too few or too far
    apart, or where the sweep is fine enough to be judged as one.
    """
    if not sweep.scalar or not sweep.covers(band.low_hz, band.high_hz):
        return None
    f = sweep.inside(band.low_hz, band.high_hz)
    if not FEWEST_READINGS <= f.size < LEAST_POINTS:
        return None
    gaps = np.diff(np.concatenate(([band.low_hz], f, [band.high_hz])))
    if float(gaps.max()) > LARGEST_GAP * (band.high_hz - band.low_hz):
        return None
    within = np.abs(sweep.gamma_at(f)) <= float(gamma_from_swr(limit_swr))
    count, share = int(within.sum()), float(within.mean())
    return ReadingUsability(usability(share), share, said("use.readings", limit=limit_swr, within=count, of=f.size))
