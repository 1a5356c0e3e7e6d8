"""Two instruments on one sample: whether they agree within their stated figures, and which one to trust."""

import math
from dataclasses import dataclass

import numpy as np

from levelmoor.core.metrology.uncertainty import Residuals, random_uncertainty, residual_bound, standard_uncertainty
from levelmoor.core.rf.noise import noise_of_magnitude
from levelmoor.core.rf.reflection import FloatArray
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window

NOISES = 3.0
"""How many standard deviations of its noise a point may stray by; of a complex one hardly 1 in 90 strays further."""
AGREE = 0.95
"""The share of frequencies that lie within what both leave open where two instruments agree."""


@dataclass(frozen=True)
class Agreement:
    """Over the frequencies that both have in a window: the share within what both leave open, the worst place with both
    |gamma| there and the distance over that, and the mean u of each. `complex_` tells whether phase counted."""

    share: float
    worst_hz: float
    first: float
    second: float
    ratio: float
    u_first: float
    u_second: float
    complex_: bool

    @property
    def agree(self) -> bool:
        return self.share >= AGREE


def agreement(
    first: Sweep, first_figures: Residuals, second: Sweep, second_figures: Residuals, window: Window
) -> Agreement | None:
    """Compare at the points of the coarser sweep; None where the two share no frequency in the window.

    Two complex sweeps are compared in gamma, else in |gamma|: a scalar one knows no more. Two instruments exactly as
    bad as stated stand apart by up to the sum of their residuals wherever those turn against each other.
    """
    low, high = max(first.low_hz, second.low_hz, window.low_hz), min(first.high_hz, second.high_hz, window.high_hz)
    inside = [s.inside(low, high) for s in (first, second)] if low <= high else []
    if not inside or not all(f.size for f in inside):
        return None
    f = min(inside, key=lambda x: x.size)
    a, b = first.gamma_at(f), second.referred_to(first.z0_ohm).gamma_at(f)
    whole = not (first.scalar or second.scalar)
    sizes = np.abs(a), np.abs(b)
    distance = np.abs(a - b) if whole else np.abs(sizes[0] - sizes[1])
    u = [
        standard_uncertainty(size, figures, _half(sweep, f), f)
        for size, figures, sweep in ((sizes[0], first_figures, first), (sizes[1], second_figures, second))
    ]
    left = [
        residual_bound(size, figures, _half(sweep, f), f)
        for size, figures, sweep in ((sizes[0], first_figures, first), (sizes[1], second_figures, second))
    ]
    spread = [2 * random_uncertainty(s, x, f) for s, x in zip(sizes, (first_figures, second_figures), strict=True)]
    noise = NOISES * math.hypot(noise_of_magnitude(first), noise_of_magnitude(second))
    allowed = np.maximum(left[0] + left[1], 2 * np.hypot(u[0], u[1])) + np.hypot(*spread) + noise
    ratio = distance / np.maximum(allowed, 1e-12)
    worst = int(np.argmax(ratio))
    return Agreement(
        share=float(np.mean(ratio <= 1)),
        worst_hz=float(f[worst]),
        first=float(sizes[0][worst]),
        second=float(sizes[1][worst]),
        ratio=float(ratio[worst]),
        u_first=float(np.mean(u[0])),
        u_second=float(np.mean(u[1])),
        complex_=whole,
    )


def _half(sweep: Sweep, f: FloatArray) -> FloatArray:
    if sweep.half_step_gamma is None:
        return np.zeros(f.size)
    return np.asarray(np.interp(f, sweep.frequency_hz, sweep.half_step_gamma))
