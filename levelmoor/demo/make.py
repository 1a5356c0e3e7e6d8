"""Computes the demo's raw files, each in another dialect that instruments write: python -m levelmoor.demo.make."""

from collections.abc import Callable
from pathlib import Path

import numpy as np

from levelmoor.core.rf.reflection import ComplexArray, FloatArray, impedance_from_gamma, swr_from_gamma
from levelmoor.demo.comparisons import COMPARED
from levelmoor.demo.dialects import BENCH, HANDHELD, touchstone
from levelmoor.demo.hut_tuners import SWEPT, TRIALS
from levelmoor.demo.radios import SPECTRA
from levelmoor.demo.ring_choke import FILES as IN_THE_FIELD
from levelmoor.demo.slidewhip import SLIDEWHIP
from levelmoor.demo.threespire import THREESPIRE
from levelmoor.instruments.stand_ins.physics import SimulatedLine, coupled, dipole, reflection

FOLDER = Path(__file__).with_name("files")
YARD = SimulatedLine(24, 0.0105, 0.80)
RACE = SimulatedLine(20, 0.035, 0.66)
"""Older than it looks: twice the loss of its type."""


def _rollaway(f: FloatArray, shift: float = 1.0) -> ComplexArray:
    """A roll-up wire for two bands: the 2 m half wave, and the 70 cm one over its third harmonic."""
    two = dipole(f, 143.9e6 * shift, 53, 760)
    seventy = dipole(f, 441.5e6 * shift, 58, 640)
    return reflection(np.where(f < 290e6, two, seventy))


def rollaway_2m() -> bytes:
    f = np.linspace(135e6, 155e6, 401)
    gamma = HANDHELD.measured(_rollaway(f), np.random.default_rng(21))
    return ("! Roll-up wire, unit A\r\n" + touchstone(f, gamma, "MHz", "MA").replace("\n", "\r\n")).encode()


def rollaway_70cm() -> bytes:
    f = np.linspace(420e6, 460e6, 401)
    gamma = HANDHELD.measured(_rollaway(f), np.random.default_rng(22))
    return b"\xef\xbb\xbf" + touchstone(f, gamma, "Hz", "RI").encode()


def rollaway_b_survey() -> bytes:
    f = np.linspace(50e6, 900e6, 171)
    gamma = HANDHELD.measured(_rollaway(f, 1.004), np.random.default_rng(23))
    rows = [f"{x / 1e6:.3f};{s:.2f}".replace(".", ",") for x, s in zip(f, swr_from_gamma(gamma), strict=True)]
    return "\n".join(("Frequency MHz;SWR", *rows, "")).encode()


def _fourstay(f: FloatArray) -> ComplexArray:
    return reflection(dipole(f, 70.21e6, 73.5, 600))


def fourstay_near() -> bytes:
    f = np.linspace(69.6e6, 70.9e6, 261)
    gamma = BENCH.measured(_fourstay(f), np.random.default_rng(41))
    return ("! 4 m sleeve dipole on the yard mast\n" + touchstone(f, gamma, "MHz", "DB", "D").lower()).encode()


def fourstay_two_port() -> bytes:
    """A two-port file: the antenna on port 2, a load on port 1, as a bench analyzer saves whatever is connected."""
    f = np.linspace(66e6, 75e6, 301)
    random = np.random.default_rng(42)
    antenna = BENCH.measured(_fourstay(f), random)
    load = BENCH.measured(np.full(f.size, 0.01 + 0j), random)
    leak = 1e-4 * np.ones(f.size)
    rows = [
        f"{x / 1e9:.9f} {a.real:.6f} {a.imag:.6f} {c:.6f} 0 {c:.6f} 0 {b.real:.6f} {b.imag:.6f}"
        for x, a, b, c in zip(f, load, antenna, leak, strict=True)
    ]
    head = ["[Version] 2.0", "# GHz S RI R 50", "[Number of Ports] 2", "[Two-Port Data Order] 12_21"]
    return "\n".join((*head, f"[Number of Frequencies] {f.size}", "[Network Data]", *rows, "[End]", "")).encode()


def _rectangle(f: FloatArray) -> ComplexArray:
    driven = dipole(f, 50.28e6, 42, 820)
    return reflection(coupled(f, driven, 50.6e6, 30, 7))


def rectangle_yard() -> bytes:
    f = np.linspace(49.0e6, 53.0e6, 801)
    gamma = BENCH.measured(_rectangle(f), np.random.default_rng(61))
    z = impedance_from_gamma(gamma, 50)
    rows = [f"{x / 1e3:.1f},{a.real:.2f},{a.imag:.2f}" for x, a in zip(f, z, strict=True)]
    return "\n".join(("Frequency (kHz),R (ohm),X (ohm)", *rows, "")).encode()


def rectangle_shack() -> bytes:
    f = np.linspace(49.0e6, 53.0e6, 401)
    through = YARD.seen_through(f, _rectangle(f))
    gamma = BENCH.measured(through, np.random.default_rng(62))
    return touchstone(f, gamma, "MHz", "RI").encode()


def rectangle_race_line() -> bytes:
    """Through the bad line: its loss makes the antenna look better than it is."""
    f = np.linspace(49.0e6, 53.0e6, 401)
    gamma = BENCH.measured(RACE.seen_through(f, _rectangle(f)), np.random.default_rng(63))
    return touchstone(f, gamma, "MHz", "RI").encode()


def rectangle_hill() -> bytes:
    f = np.linspace(49.0e6, 53.0e6, 201)
    gamma = HANDHELD.measured(_rectangle(f), np.random.default_rng(64))
    return touchstone(f, gamma, "MHz", "MA").encode()


def _residual(value: complex, turn_s: float, seed: int) -> Callable[[], bytes]:
    """What a standard at the plane reads: itself, and the directivity that was left, turning with frequency."""

    def make() -> bytes:
        f = np.linspace(48e6, 54e6, 201)
        left = 0.004 * np.exp(-2j * np.pi * f * turn_s)
        noise = 4e-4 * np.random.default_rng(seed).standard_normal((2, f.size))
        return touchstone(f, value + left + noise[0] + 1j * noise[1], "MHz", "RI").encode()

    return make


def _open_line(line: SimulatedLine, top: float, echo: tuple[float, float], seed: int) -> Callable[[], bytes]:
    """A line with its far end open, and an echo on the way: its place in m and its size."""

    def make() -> bytes:
        f = np.linspace(1e6, top, 401)
        place, size = echo
        way = SimulatedLine(place, line.loss_db_per_m, line.velocity).seen_through(f, np.full(f.size, size + 0j))
        gamma = line.seen_through(f, np.full(f.size, 1 - size + 0j)) + way
        return touchstone(f, BENCH.measured(gamma, np.random.default_rng(seed)), "MHz", "RI").encode()

    return make


def _levels(pad: bool, seed: int) -> Callable[[], bytes]:
    """The source through the path, without and with the tap, whose loss rises with frequency."""

    def make() -> bytes:
        f = np.linspace(100e6, 800e6, 141)
        level = -8.0 - 1.2 * np.sqrt(f / 1e9)
        if pad:
            level = level - (39.1 + 1.2 * (f / 500e6) ** 1.2)
        level = level + 0.04 * np.random.default_rng(seed).standard_normal(f.size)
        rows = [f"{x / 1e6:.1f},{v:.2f}" for x, v in zip(f, level, strict=True)]
        return "\n".join(("Frequency MHz,Level dBm", *rows, "")).encode()

    return make


def noise_floor() -> bytes:
    f = np.linspace(100e6, 800e6, 301)
    level = -104 + 1.3 * np.random.default_rng(72).standard_normal(f.size) + 2 * (f / 800e6)
    level[96] = -84.0  # the analyzer's own clock
    return "\n".join(("MHz;dBm", *(f"{x / 1e6:.3f};{v:.1f}" for x, v in zip(f, level, strict=True)), "")).encode()


def _linked(f: FloatArray, f0: float, r0: float, wave: float = 560.0) -> ComplexArray:
    return SimulatedLine(12, 0.004).seen_through(f, reflection(dipole(f, f0, r0, wave)))


def _linked_band(low: float, high: float, f0: float, r0: float, seed: int, wave: float = 560) -> Callable[[], bytes]:
    def make() -> bytes:
        f = np.linspace(low, high, 301)
        gamma = HANDHELD.measured(reflection(dipole(f, f0, r0, wave)), np.random.default_rng(seed))
        return touchstone(f, gamma, "Hz", "MA").encode()

    return make


def linked_survey() -> bytes:
    f = np.linspace(1e6, 60e6, 101)
    gamma = HANDHELD.measured(_linked(f, 10.11e6, 66), np.random.default_rng(34))
    return touchstone(f, gamma, "kHz", "RI").encode()


def linked_shack_meter() -> bytes:
    """A radio's own meter, read at the shack end: SWR alone, one decimal."""
    f = np.arange(7.0e6, 7.2001e6, 0.01e6)
    swr = swr_from_gamma(_linked(f, 7.02e6, 60))
    return "\n".join(("MHz\tSWR", *(f"{x / 1e6:.3f}\t{s:.1f}" for x, s in zip(f, swr, strict=True)), "")).encode()


FILES: dict[str, Callable[[], bytes]] = {
    "rollaway-a-2m.s1p": rollaway_2m,
    "rollaway-a-70cm.s1p": rollaway_70cm,
    "rollaway-b-survey.csv": rollaway_b_survey,
    "fourstay-near.s1p": fourstay_near,
    "fourstay-wide.s2p": fourstay_two_port,
    "rectangle-yard.csv": rectangle_yard,
    "rectangle-shack-end.s1p": rectangle_shack,
    "rectangle-race-line.s1p": rectangle_race_line,
    "rectangle-hill.s1p": rectangle_hill,
    "load-yard.s1p": _residual(0.002 + 0.001j, 4e-9, 81),
    "short-yard.s1p": _residual(-0.996 + 0j, 4e-9, 82),
    "load-shack.s1p": _residual(0.001 - 0.002j, 5e-9, 83),
    "yard-line-open.s1p": _open_line(YARD, 150e6, (6.0, 0.004), 84),
    "race-day-line-open.s1p": _open_line(RACE, 150e6, (8.2, 0.16), 85),
    "linkline-60m.s1p": _linked_band(5.3e6, 5.42e6, 5.356e6, 62, 31),
    "linkline-40m.s1p": _linked_band(6.8e6, 7.4e6, 7.02e6, 60, 32),
    "linkline-30m.s1p": _linked_band(9.9e6, 10.4e6, 10.072e6, 54, 33, 900),
    "linkline-survey.s1p": linked_survey,
    "linkline-shack-meter.csv": linked_shack_meter,
    **COMPARED,
    **SLIDEWHIP,
    **THREESPIRE,
    **SWEPT,
}
TRACES: dict[str, Callable[[], bytes]] = {
    "tap-without.csv": _levels(False, 86),
    "tap-with.csv": _levels(True, 87),
    "noise-floor.csv": noise_floor,
}
"""Levels over frequency, of the pad and of the noise floor."""


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    for name, make in {**FILES, **TRACES, **SPECTRA, **TRIALS, **IN_THE_FIELD}.items():
        (FOLDER / name).write_bytes(make())


if __name__ == "__main__":
    main()
