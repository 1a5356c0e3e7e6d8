"""The demo's ring-core choke as physics: swept in the series fixture, in place, and under power; contacts beside it."""

from collections.abc import Callable

import numpy as np

from levelmoor.core.model.contacts import Contact, ContactKind
from levelmoor.core.rf.reflection import ComplexArray, FloatArray
from levelmoor.core.through.choking import s21_of
from levelmoor.formats.adif import write_adif
from levelmoor.formats.spots_csv import write_spots

STRAY_F = 0.22e-12
SPAN = (1e6, 40e6, 391)


def choke_ohm(f: FloatArray) -> ComplexArray:
    """A winding on a lossy core: a flat parallel resonance at 11 MHz."""
    return np.asarray(7200 / (1 + 0.62j * (f / 11e6 - 11e6 / f)))


def _two_port(z: ComplexArray, f: FloatArray, seed: int) -> bytes:
    random = np.random.default_rng(seed)
    with_stray = 1 / (1 / z + 2j * np.pi * f * STRAY_F)
    s21 = s21_of(np.asarray(with_stray, dtype=np.complex128)) * (1 + 0.004 * random.standard_normal(f.size))
    s21 = s21 + 3e-5 * (random.standard_normal(f.size) + 1j * random.standard_normal(f.size))
    s11 = 1 - s21
    rows = [
        f"{x / 1e6:.6f} {a.real:.7f} {a.imag:.7f} {b.real:.7f} {b.imag:.7f} {b.real:.7f} {b.imag:.7f} {a.real:.7f} "
        f"{a.imag:.7f}"
        for x, a, b in zip(f, s11, s21, strict=True)
    ]
    return "\n".join(("! series fixture", "# MHz S RI R 50", *rows, "")).encode()


def choke_swept() -> bytes:
    f = np.linspace(*SPAN)
    return _two_port(choke_ohm(f), f, 1601)


def fixture_empty() -> bytes:
    f = np.linspace(*SPAN)
    return _two_port(np.full(f.size, 1e9 + 0j), f, 1602)


def heat_log() -> bytes:
    """A logger's file: 100 W of carrier through the choke, every half minute for forty minutes."""
    random = np.random.default_rng(1603)
    seconds = np.arange(0, 2401, 30)
    celsius = 18.5 + 46 * -np.expm1(-seconds / 860) + 0.4 * random.standard_normal(seconds.size)
    return "\n".join(("time;C", *(f"{s};{c:.1f}" for s, c in zip(seconds, celsius, strict=True)), "")).encode()


NOISE = {"without": (6.5, 7, 7, 6.5, 7, 7.5, 7), "with": (5, 5.5, 5, 5, 4.5, 5, 5.5)}
CURRENT = {"without": (31, 29, 30, 33, 30), "with": (6.1, 5.8, 6.4, 6.0, 6.2)}
"""S units over some minutes, and mA on the line with 50 W, without and with the choke."""
HOME = "IM06pn"
STATIONS = (
    ("Q0ABE", "IM25wl", "58", "57", 0), ("Q0ABE", "IM25wl", "58", "56", 1), ("Q0DUN", "IN12fr", "59", "58", 0),
    ("Q0DUN", "IN12fr", "59", "57", 1), ("Q0ESK", "IM17wx", "57", "57", 0), ("Q0ESK", "IM17wx", "57", "56", 1),
    ("Q0LOR", "IN31hb", "56", "55", 0), ("Q0TAY", "IM08gj", "59", "59", 0),
)  # fmt: skip
"""Stations that no administration can name so, with the report given and received, and which antenna was in use."""


def contacts(setups: tuple[str, str]) -> bytes:
    """The afternoon's contacts; pairs with two antennas in alternation."""
    made = [
        Contact(
            str(n), f"2026-10-17T14:{5 + 4 * n:02d}", 7.09e6, "SSB", call, own_locator=HOME, locator=locator,
            power_w=20.0, sent=sent, received=received, setup_id=str(which),
        )
        for n, (call, locator, sent, received, which) in enumerate(STATIONS)
    ]  # fmt: skip
    return write_adif(made, dict(enumerate_names(setups)), 1, "demo").encode()


def enumerate_names(setups: tuple[str, str]) -> list[tuple[str, str]]:
    return [(str(n), name) for n, name in enumerate(setups)]


def spots(setups: tuple[str, str]) -> bytes:
    """Weak-signal spots of the evening, the two antennas in turn."""
    random = np.random.default_rng(1604)
    made = []
    for n in range(12):
        far, other = n // 2 % 3, n % 2
        snr = round(-14 - 3 * far - 1.2 * other + float(random.standard_normal()))
        made.append(
            Contact(
                str(n), f"2026-10-17T19:{2 * n:02d}", 7.0386e6, "weak signal", f"Q0R{'ABC'[far]}", ContactKind.SPOT,
                HOME, ("IN20", "IM31", "HN90")[far], 0.2, snr_db=snr, setup_id=str(other),
            )
        )  # fmt: skip
    return write_spots(made, dict(enumerate_names(setups))).encode()


IN_USE = ("Inverted V at 6 m", "Choke, nine turns")
FILES: dict[str, Callable[[], bytes]] = {
    "ringstone-series.s2p": choke_swept,
    "fixture-empty.s2p": fixture_empty,
    "ringstone-heat.csv": heat_log,
    "linkline-contacts.adi": lambda: contacts(IN_USE),
    "linkline-spots.csv": lambda: spots(IN_USE),
}
