"""Sweeps of known truth for the tests."""

import numpy as np

from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.sweep import Sweep


def rlc(f: np.ndarray, f0: float = 14.2e6, q: float = 50.0, r: float = 50.0) -> np.ndarray:
    """Impedance of a series RLC in ohm."""
    return r * (1 + 1j * q * (f / f0 - f0 / f))


def rlc_sweep(low: float, high: float, points: int, f0: float = 14.2e6, q: float = 50.0, r: float = 50.0) -> Sweep:
    f = np.linspace(low, high, points)
    return Sweep(f, gamma_from_impedance(rlc(f, f0, q, r), 50.0))


def flat(magnitude: float, low: float = 13.9e6, high: float = 14.5e6, points: int = 301) -> Sweep:
    """The same |gamma| at every frequency."""
    f = np.linspace(low, high, points)
    return Sweep(f, np.full(points, magnitude, dtype=complex))


def with_noise(sweep: Sweep, sigma: float, seed: int) -> Sweep:
    random = np.random.default_rng(seed)
    noise = sigma * (random.standard_normal(sweep.points) + 1j * random.standard_normal(sweep.points))
    return Sweep(sweep.frequency_hz, sweep.gamma + noise, sweep.z0_ohm)
