"""The demo's vertical of three rods over four radials, adjusted in four rounds, of which one went the wrong way."""

import math
from collections.abc import Callable, Mapping

import numpy as np

from levelmoor.demo.dialects import BENCH, touchstone
from levelmoor.instruments.stand_ins.physics import dipole, reflection

RODS = (152.0, 106.0, 52.0)
"""As it was delivered, in cm: the rods for 6 m, 4 m and 2 m."""
DIPS_HZ = (46.3e6, 66.1e6, 138.9e6)
SHARES = ((0.74, 0.08, 0.02), (0.09, 0.79, 0.05), (-0.02, 0.07, 0.84))
"""What share of itself each rod hands on to each band's dip: the rods couple a little."""
FED = ((44.0, 520.0), (56.0, 480.0), (61.0, 430.0))
"""Resistance at the dip and wave resistance in ohm, by band."""
BANDS = ("6m", "4m", "2m")
SPANS = ((43e6, 57e6), (64e6, 74e6), (128e6, 156e6))
MOVES: Mapping[int, tuple[float, float, float]] = {
    2: (-14.8, -6.8, -2.4),
    3: (0.0, 0.0, 3.0),
    4: (-2.4, 0.2, -3.2),
}
"""By how many cm each rod was moved before a round; before the third the short rod went the wrong way."""


def dips_hz(at: tuple[float, ...]) -> list[float]:
    """Where the dips lie with the rods at given lengths."""
    way = [math.log(x / x0) for x, x0 in zip(at, RODS, strict=True)]
    fall = [sum(s * w for s, w in zip(row, way, strict=True)) for row in SHARES]
    return [f * math.exp(-x) for f, x in zip(DIPS_HZ, fall, strict=True)]


def _swept(number: int, band: int) -> Callable[[], bytes]:
    def make() -> bytes:
        moved = [sum(m[i] for n, m in MOVES.items() if n <= number) for i in range(3)]
        f0 = dips_hz(tuple(x + by for x, by in zip(RODS, moved, strict=True)))[band]
        random = np.random.default_rng(900 + 10 * number + band)
        f = np.linspace(*SPANS[band], 501)
        strays = 1 + 2e-4 * float(random.standard_normal())
        z = dipole(f, f0 * strays, *FED[band])
        return touchstone(f, BENCH.measured(reflection(z), random), "MHz", "RI").encode()

    return make


def rotation() -> tuple[list[list[object]], list[list[object]]]:
    """Four minutes at 51 MHz while the yard mast was turned by 45 degrees each half minute, a hand at it meanwhile:
    points and marks of a time strip."""
    random = np.random.default_rng(977)
    points: list[list[object]] = []
    marks: list[list[object]] = []
    for n in range(8):
        marks.append([30.0 * n + 6.0, f"turned to {45 * n}", 45.0 * n])
        for k in range(15):
            at, hand = 30.0 * n + 2.0 * k, k < 3
            swr = 1.34 + 0.17 * math.cos(math.radians(45 * n - 20)) + 0.006 * float(random.standard_normal())
            points.append([at, [round(swr + (0.5 if hand else 0.0), 3)], None, not hand])
    return points, marks


THREESPIRE: dict[str, Callable[[], bytes]] = {
    f"threespire-{band}-round-{number}.s1p": _swept(number, k)
    for number in (1, 2, 3, 4)
    for k, band in enumerate(BANDS)
}
