"""Resonances: where X = 0, which is not always where SWR is lowest."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from levelmoor.core.rf.noise import noise_of_magnitude
from levelmoor.core.rf.sweep import Sweep

Kind = Literal["series", "parallel"]


@dataclass(frozen=True)
class Resonance:
    """A crossing of X = 0: series where X rises with frequency, parallel where it falls."""

    frequency_hz: float
    kind: Kind
    gamma: complex


def find_resonances(sweep: Sweep, noise: float | None = None) -> list[Resonance]:
    """All resonances by rising frequency; none for a scalar sweep.

    X has the sign of Im(gamma), and Im(gamma) is linear between points, so the crossing is exact. A crossing
    counts once Im(gamma) stands clear of zero on both sides, so that noise about X = 0 makes none of its own.
    """
    if sweep.scalar or sweep.points < 2:
        return []
    y = sweep.gamma.imag
    clear = max(1e-9, 5 * (noise_of_magnitude(sweep) if noise is None else noise))
    decided = np.flatnonzero(np.abs(y) > clear)
    turns = np.flatnonzero(np.diff(np.sign(y[decided])) != 0)
    found = []
    for turn in turns:
        i, j = int(decided[turn]), int(decided[turn + 1])
        frequency = _crossing(sweep.frequency_hz[i : j + 1], y[i : j + 1])
        kind: Kind = "series" if y[j] > 0 else "parallel"
        found.append(Resonance(frequency, kind, complex(sweep.gamma_at(frequency))))
    return found


def _crossing(f: np.ndarray, y: np.ndarray) -> float:
    """Frequency at which y changes sign between its ends; of several crossings the middle one."""
    zeros = f[y == 0]
    k = np.flatnonzero(y[:-1] * y[1:] < 0)
    crossings = np.sort(np.concatenate((zeros, f[k] - y[k] * (f[k + 1] - f[k]) / (y[k + 1] - y[k]))))
    return float(crossings[crossings.size // 2])
