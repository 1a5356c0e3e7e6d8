"""The demo's two handhelds, one clean and one not, as spectra through the club's pads."""

from collections.abc import Callable

import numpy as np

from levelmoor.instruments.stand_ins.physics import AnalyzerInput, KeyedRadio

CARRICK = KeyedRadio(145.5e6, 36.2, (32.0, 47.5, 59.0, 73.0), keyed=True)
FELLSIDE = KeyedRadio(145.5e6, 36.9, (66.5, 72.0, 80.0, 84.0), keyed=True)
RBW_HZ = 3e3


def _tap_db(f: np.ndarray) -> np.ndarray:
    """The tap as it is: the same model that its bench check was swept with."""
    return 39.1 + 1.2 * (f / 500e6) ** 1.2


def _spectrum(radio: KeyedRadio, more_db: float, seed: int) -> Callable[[], bytes]:
    def make() -> bytes:
        f = np.linspace(70.5e6, 757.5e6, 2291)
        lines = [(at, level - float(_tap_db(np.array(at))) - more_db) for at, level in radio.lines()]
        seen = AnalyzerInput(0.0, 60.0, 30.0, -142.0)
        level = seen.levels(f, lines, RBW_HZ, np.random.default_rng(seed))
        rows = [f"{x / 1e6:.3f};{v:.2f}".replace(".", ",") for x, v in zip(f, level, strict=True)]
        return "\n".join(("Freq MHz;Level dBm", *rows, "")).encode()

    return make


NEAR_RBW_HZ = 1e3


def _near(radio: KeyedRadio, seed: int) -> Callable[[], bytes]:
    """The same beside the carrier, finer: what stands within a per cent of it."""

    def make() -> bytes:
        f = np.linspace(144e6, 147e6, 3001)
        lines = [(at, level - float(_tap_db(np.array(at)))) for at, level in radio.lines()][:1]
        level = AnalyzerInput(0.0, 60.0, 30.0, -142.0).levels(f, lines, NEAR_RBW_HZ, np.random.default_rng(seed))
        rows = [f"{x / 1e6:.3f};{v:.1f}".replace(".", ",") for x, v in zip(f, level, strict=True)]
        return "\n".join(("Freq MHz;Level dBm", *rows, "")).encode()

    return make


def low_pass() -> bytes:
    """A seventh-order low-pass for 2 m that might be added, swept through: 0.4 dB at the carrier, steep above."""
    f = np.linspace(50e6, 780e6, 366)
    loss = 0.35 + 10 * np.log10(1 + (f / 185e6) ** 14)
    rows = [
        f"{x / 1e6:.1f} 0 0 {10 ** (-d / 20):.6e} 0 {10 ** (-d / 20):.6e} 0 0 0" for x, d in zip(f, loss, strict=True)
    ]
    return "\n".join(("# MHz S MA R 50", *rows, "")).encode()


SPECTRA: dict[str, Callable[[], bytes]] = {
    "carrick-tap.csv": _spectrum(CARRICK, 0.0, 701),
    "carrick-tap-and-ten.csv": _spectrum(CARRICK, 10.1, 702),
    "fellside-tap.csv": _spectrum(FELLSIDE, 0.0, 703),
    "fellside-tap-and-ten.csv": _spectrum(FELLSIDE, 10.1, 704),
    "carrick-near.csv": _near(CARRICK, 705),
    "fellside-near.csv": _near(FELLSIDE, 706),
    "low-pass-2m.s2p": low_pass,
}
