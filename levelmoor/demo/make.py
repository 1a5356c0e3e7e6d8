"""Computes the demo's raw files, each in another dialect that instruments write: python -m levelmoor.demo.make."""

from collections.abc import Callable
from pathlib import Path

import numpy as np

from levelmoor.core.reflection import ComplexArray, FloatArray, impedance_from_gamma, swr_from_gamma
from levelmoor.demo.models import Analyzer, Line, coupled, dipole, reflection

FOLDER = Path(__file__).with_name("files")
HANDHELD = Analyzer(directivity=0.006 - 0.004j, noise=8e-4, drift=0.004)
BENCH = Analyzer()


def touchstone(f: FloatArray, gamma: ComplexArray, unit: str, notation: str, exponent: str = "e") -> str:
    """The option line and data of a one-port file."""
    scale = {"Hz": 1.0, "kHz": 1e3, "MHz": 1e6, "GHz": 1e9}[unit]
    if notation == "RI":
        pairs = np.column_stack((gamma.real, gamma.imag))
    else:
        size = 20 * np.log10(np.abs(gamma)) if notation == "DB" else np.abs(gamma)
        pairs = np.column_stack((size, np.degrees(np.angle(gamma))))
    rows = [f"{x / scale:.9g}\t{a:.6e}\t{b:.6e}".replace("e", exponent) for x, (a, b) in zip(f, pairs, strict=True)]
    return "\n".join((f"# {unit} S {notation} R 50", *rows, ""))


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
    through = Line(24, 0.0105).seen_through(f, _rectangle(f))
    gamma = BENCH.measured(through, np.random.default_rng(62))
    return touchstone(f, gamma, "MHz", "RI").encode()


def _linked(f: FloatArray, f0: float, r0: float, wave: float = 560.0) -> ComplexArray:
    return Line(12, 0.004).seen_through(f, reflection(dipole(f, f0, r0, wave)))


def _linked_band(low: float, high: float, f0: float, r0: float, seed: int) -> Callable[[], bytes]:
    def make() -> bytes:
        f = np.linspace(low, high, 301)
        gamma = HANDHELD.measured(reflection(dipole(f, f0, r0, 560)), np.random.default_rng(seed))
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
    "linkline-60m.s1p": _linked_band(5.3e6, 5.42e6, 5.356e6, 62, 31),
    "linkline-40m.s1p": _linked_band(6.8e6, 7.4e6, 7.02e6, 60, 32),
    "linkline-30m.s1p": _linked_band(9.9e6, 10.4e6, 10.11e6, 73.6, 33),
    "linkline-survey.s1p": linked_survey,
    "linkline-shack-meter.csv": linked_shack_meter,
}


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    for name, make in FILES.items():
        (FOLDER / name).write_bytes(make())


if __name__ == "__main__":
    main()
