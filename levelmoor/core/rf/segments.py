"""Joining segments: sweeps of one sample in one setup, taken one after the other, as one sweep."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from levelmoor.core.rf.sweep import Sweep


def join_segments(sweeps: tuple[Sweep, ...]) -> Sweep:
    """One sweep over all of them, by rising frequency. Where two overlap each keeps its side of the overlap's middle.

    Raises
    ------
    ValueError
        If a gap wider than both neighbours' steps lies between two, or they differ in reference or kind.
    """
    ordered = sorted(sweeps, key=lambda s: (s.low_hz, s.high_hz))
    joined = ordered[0]
    for sweep in ordered[1:]:
        joined = _join(joined, sweep)
    return joined


def _join(low: Sweep, high: Sweep) -> Sweep:
    if (low.z0_ohm, low.scalar) != (high.z0_ohm, high.scalar):
        raise ValueError(
            "the parts of one sweep need the same reference impedance, and must be all complex or all SWR alone"
        )
    gap = high.low_hz - low.high_hz
    if gap > 1.01 * max(low.largest_step_hz, high.largest_step_hz):
        raise ValueError(
            f"between {low.high_hz / 1e6:.6g} and {high.low_hz / 1e6:.6g} MHz nothing was swept; the parts of "
            f"one sweep must touch or overlap"
        )
    if high.high_hz <= low.high_hz:
        return low
    middle = (low.high_hz + high.low_hz) / 2 if gap <= 0 else low.high_hz
    one = low.frequency_hz <= middle
    two = high.frequency_hz > max(middle, float(low.frequency_hz[one][-1]) if one.any() else middle)
    half = None
    if low.half_step_gamma is not None and high.half_step_gamma is not None:
        half = np.concatenate((low.half_step_gamma[one], high.half_step_gamma[two]))
    return replace(
        low,
        frequency_hz=np.concatenate((low.frequency_hz[one], high.frequency_hz[two])),
        gamma=np.concatenate((low.gamma[one], high.gamma[two])),
        half_step_gamma=half,
    )


def side_by_side(sweeps: Sequence[Sweep]) -> Sweep:
    """Sweeps of several spans as one, with a gap wherever nothing was swept between two; of what two of them cover the
    one with more points shows it. All are taken in the first one's impedance; one scalar sweep makes the whole scalar.
    """
    if len(sweeps) == 1:
        return sweeps[0]
    z0, scalar = sweeps[0].z0_ohm, any(s.scalar for s in sweeps)
    f, g, owner = np.zeros(0), np.zeros(0, dtype=np.complex128), np.zeros(0, dtype=int)
    for n, one in enumerate(sorted(sweeps, key=lambda s: -s.points / max(s.high_hz - s.low_hz, 1.0))):
        free = np.ones(one.points, dtype=bool)
        for other in np.unique(owner):
            mine = f[owner == other]
            free &= (one.frequency_hz < mine[0]) | (one.frequency_hz > mine[-1])
        gamma = one.referred_to(z0).gamma[free]
        f = np.concatenate((f, one.frequency_hz[free]))
        g = np.concatenate((g, np.abs(gamma) if scalar else gamma))
        owner = np.concatenate((owner, np.full(int(free.sum()), n)))
    order = np.argsort(f, kind="stable")
    return Sweep(f[order], g[order], z0, scalar)
