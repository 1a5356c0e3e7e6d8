"""The demo's whip with a sliding coil: one article, a setting for each band, an optional hat, a van beside it."""

from collections.abc import Callable

import numpy as np

from levelmoor.demo.dialects import BENCH, touchstone
from levelmoor.instruments.stand_ins.physics import dipole, reflection

MARKS = {"mark-2": (7.1e6, 44, 2000), "mark-6": (14.19e6, 55, 420), "mark-8": (21.3e6, 71, 420)}
"""Resonance in Hz, resistance and wave resistance in Ω at each mark, put right for its band."""
SPANS = {"mark-2": (6.6e6, 7.7e6), "mark-6": (13.4e6, 15.0e6), "mark-8": (19.9e6, 22.7e6)}


def _swept(mark: str, seed: int, moved: float = 1.0, r0: float | None = None, wave: float = 1.0) -> Callable[[], bytes]:
    def make() -> bytes:
        f0, resistance, of_wave = MARKS[mark]
        random = np.random.default_rng(seed)
        f = np.linspace(*SPANS[mark], 201)
        strays = 1 + 1.5e-4 * float(random.standard_normal())
        z = dipole(f, f0 * moved * strays, r0 or resistance, of_wave * wave)
        return touchstone(f, BENCH.measured(reflection(z), random), "MHz", "RI").encode()

    return make


SLIDEWHIP: dict[str, Callable[[], bytes]] = {
    "slidewhip-mark-2-first.s1p": _swept("mark-2", 811, moved=0.965),
    **{f"slidewhip-mark-2-{n}.s1p": _swept("mark-2", 811 + n) for n in (1, 2, 3)},
    "slidewhip-mark-6.s1p": _swept("mark-6", 821),
    "slidewhip-mark-6-back-1.s1p": _swept("mark-6", 822, moved=1.0009),
    "slidewhip-mark-6-back-2.s1p": _swept("mark-6", 823, moved=0.9994),
    "slidewhip-mark-8.s1p": _swept("mark-8", 831),
    "slidewhip-hat-mark-2.s1p": _swept("mark-2", 841, moved=0.999, r0=49, wave=0.45),
    "slidewhip-van-mark-6.s1p": _swept("mark-6", 851, moved=0.991, r0=41),
}
