"""Readings joined into a sweep with the uncertainty that their display leaves."""

from itertools import groupby

import numpy as np

from levelmoor.core.readings.readings import Reading
from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.sweep import Sweep


def join_readings(readings: tuple[Reading, ...], z0_ohm: float = 50.0) -> Sweep:
    """A sweep from readings by rising frequency: complex where all of them have R and X with its sign, else scalar.

    Readings at one frequency become their mean, and their distance from it joins what rounding leaves open: two
    people who read differently widen the figure, none of them is dropped.

    Raises
    ------
    ValueError
        Where there is no reading.
    """
    if not readings:
        raise ValueError("there is no reading yet")
    ordered = sorted(readings, key=lambda r: r.frequency_hz)
    groups = [list(g) for _, g in groupby(ordered, key=lambda r: round(r.frequency_hz, 3))]
    scalar = not all(r.impedance_ohm() is not None for r in ordered)
    gamma, half = [], []
    for group in groups:
        pairs = [r.magnitude(z0_ohm) for r in group]
        sizes = [p[0] for p in pairs]
        values = sizes if scalar else [complex(gamma_from_impedance(r.impedance_ohm() or 0, z0_ohm)) for r in group]
        gamma.append(sum(values) / len(values))
        mean = sum(sizes) / len(sizes)
        half.append(max(p[1] + abs(p[0] - mean) for p in pairs))
    return Sweep(
        np.array([g[0].frequency_hz for g in groups]),
        np.array(gamma, dtype=np.complex128),
        z0_ohm,
        scalar,
        np.array(half),
    )
