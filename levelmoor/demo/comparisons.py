"""The demo's sweeps to compare: chokes of more and fewer turns in wind, a beam turned near a pole, two instruments."""

from collections.abc import Callable

import numpy as np

from levelmoor.core.rf.reflection import ComplexArray, FloatArray, swr_from_gamma
from levelmoor.demo.dialects import BENCH, HANDHELD, touchstone
from levelmoor.instruments.stand_ins.physics import coupled, dipole, reflection

CHOKES = {
    "plain": (10.072e6, 54, 900),
    "nine-turns": (10.121e6, 57, 1180),
    "four-turns": (10.106e6, 56, 1060),
    "beads": (10.076e6, 54, 915),
}
"""Resonance in Hz, resistance and wave resistance in Ω: the more a choke holds back, the less the line radiates."""
WINDS = {"plain": 4, "nine-turns": 4, "four-turns": 1, "beads": 3}
AZIMUTHS = {0: 14.0, 90: 5.0, 180: 1.5, 270: 4.0}
"""How strongly the pole couples, in ohm, with the beam turned away from its first direction by so many degrees."""


def _in_wind(choke: str, number: int) -> Callable[[], bytes]:
    def make() -> bytes:
        f0, r0, wave = CHOKES[choke]
        random = np.random.default_rng(900 + 10 * list(CHOKES).index(choke) + number)
        f = np.linspace(9.88e6, 10.34e6, 201)
        moved = f0 + 3.2e3 * float(random.standard_normal())
        gamma = HANDHELD.measured(reflection(dipole(f, moved, r0, wave)), random)
        return touchstone(f, gamma, "MHz", "RI").encode()

    return make


def _beam(azimuth: int) -> Callable[[], bytes]:
    def make() -> bytes:
        f = np.linspace(49.0e6, 53.0e6, 401)
        driven = dipole(f, 50.28e6, 42, 820)
        z = coupled(f, coupled(f, driven, 50.6e6, 30, 7), 50.9e6, 12, AZIMUTHS[azimuth])
        return touchstone(f, BENCH.measured(reflection(z), np.random.default_rng(950 + azimuth)), "MHz", "RI").encode()

    return make


def _sleeve(f: FloatArray) -> ComplexArray:
    return reflection(dipole(f, 70.21e6, 73.5, 600))


def meter() -> bytes:
    """The hut radio's own meter at the same antenna: it reads high, as two decimals would not show."""
    f = np.arange(70.0e6, 70.501e6, 0.05e6)
    swr = swr_from_gamma(np.minimum(np.abs(_sleeve(f)) * 1.4 + 0.06, 0.9))
    rows = [f"{x / 1e3:.0f};{s:.1f}".replace(".", ",") for x, s in zip(f, swr, strict=True)]
    return "\n".join(("Freq kHz;SWR", *rows, "")).encode()


COMPARED: dict[str, Callable[[], bytes]] = {
    **{f"linkline-{p}-{n}.s1p": _in_wind(p, n) for p, count in WINDS.items() for n in range(1, count + 1)},
    **{f"rectangle-azimuth-{a}.s1p": _beam(a) for a in AZIMUTHS},
    "fourstay-hut-meter.csv": meter,
}
SLIPS = (
    ("7.000", "1.4"),
    ("7.025", "1.2"),
    ("70.50", "1.2"),
    ("7.075", "1.6"),
    ("7.100", "1.9"),
    ("7.125", "23"),
    ("7.150", "2.8"),
)
"""Readings of the 40 m wire with two slips of the pen: a decimal point, and 2.3 as 23."""
