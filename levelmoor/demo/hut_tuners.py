"""The demo's tuners as physics: the hut's wire, a pi network by hand, an automatic one with switched parts."""

from collections.abc import Callable
from itertools import product

import numpy as np

from levelmoor.core.matching.guided_steps import nearest
from levelmoor.core.matching.ladder import impedances, input_impedance
from levelmoor.core.matching.solutions import match_at, solutions
from levelmoor.core.model.networks import Knob, Network, NetworkKind, Part
from levelmoor.core.model.trials import DialPosition, Outcome, Trial
from levelmoor.core.rf.reflection import ComplexArray, FloatArray, gamma_from_impedance, swr_from_gamma
from levelmoor.core.trials.load_text import format_load
from levelmoor.demo.dialects import HANDHELD, touchstone
from levelmoor.formats.trials_csv import write_trials
from levelmoor.instruments.stand_ins.physics import reflection

PI = Network(
    "pi",
    "Beckstone, inside",
    NetworkKind.PI,
    (
        Knob(Part.C_IN, "Line", 0, 100, (0, 25, 50, 75, 100), (22, 160, 330, 520, 700)),
        Knob(Part.COIL, "Coil", 1, 14, tuple(range(1, 15)), tuple(round(0.4 * 1.36**n, 2) for n in range(14)), True),
        Knob(Part.C_OUT, "Wire", 0, 100, (0, 25, 50, 75, 100), (14, 70, 140, 215, 290)),
    ),
    coil_q=170.0,
    capacitor_q=1200.0,
    q_source="typical of air coils and air capacitors (memory)",
    rated_v=1200.0,
    rated_a=4.0,
)
WIRE_M, WIRE_OHM = 15.4, 520.0
CARD_HZ = (3.62e6, 3.69e6, 3.76e6, 7.05e6, 7.12e6, 10.12e6, 14.1e6, 14.25e6, 21.2e6)
BANDS_HZ = {"80m": 3.52e6, "80m, top": 3.78e6, "40m": 7.1e6, "20m": 14.175e6, "15m": 21.225e6, "10m": 28.85e6}
LOADS = (16 + 0j, 50 + 0j, 150 + 0j, 600 + 0j)
COILS_H = tuple(0.05e-6 * 2**n for n in range(7))
CAPACITORS_F = tuple(10e-12 * 2**n for n in range(7))
"""The parts that the automatic tuner's relays switch."""


def wire_ohm(f: FloatArray) -> ComplexArray:
    """A wire from the hut's window to the pine over eight radials: an open line that loses by radiating."""
    angle = (0.09 + 1j) * 2 * np.pi * f * WIRE_M * 1.03 / 2.998e8
    return np.asarray(WIRE_OHM / np.tanh(angle) + 11.0)


def hut_wire() -> bytes:
    f = np.linspace(1.5e6, 30e6, 1141)
    gamma = HANDHELD.measured(reflection(wire_ohm(f)), np.random.default_rng(1501))
    return touchstone(f, gamma, "MHz", "RI").encode()


def beckstone_trials() -> bytes:
    """Each frequency of the card matched with the analyzer: the marks as a hand reads them, to a half."""
    random = np.random.default_rng(1502)
    trials: list[Trial] = []
    marks: dict[Part, float] = {}
    for n, hz in enumerate(CARD_HZ):
        load = complex(wire_ohm(np.array([hz]))[0])
        found = [m for m in solutions(PI, hz, load) if m.swr < 1.05]
        best = found[0] if found else solutions(PI, hz, load)[0]
        if found and n and hz / CARD_HZ[n - 1] < 1.1:  # a hand stays near where the knobs stood
            best = nearest(found, marks, PI)
        marks = {p: round(at * 2) / 2 if p is not Part.COIL else at for p, at in best.dials.items()}
        seen = match_at(PI, marks, hz, load).swr
        swr = float(np.clip(seen + 0.02 * abs(random.standard_normal()), 1.01, 9.9))
        before = float(swr_from_gamma(complex(gamma_from_impedance(load, 50.0))))
        dials = tuple(DialPosition(k.name, f"{marks[k.part]:g}") for k in PI.knobs)
        trials.append(
            Trial(
                str(n), "", "", hz, Outcome.MATCHED if swr < 2 else Outcome.GAVE_UP, load="Hut wire",
                swr_before=round(min(before, 99.0), 1), swr_after=round(swr, 2), swr_step=0.01, dials=dials,
                seconds=round(55 + 40 * float(random.random()), 0), taken_on=f"2026-10-10T10:{5 * n:02d}",
            )
        )  # fmt: skip
    return write_trials(trials).encode()


def _reached(hz: float, load: complex) -> float:
    """The least SWR that the switched L network reaches, either way round."""
    best = 99.0
    coils = np.array([sum(p) for p in product(*((0.0, c) for c in COILS_H))])[:, None]
    capacitors = np.array([sum(p) for p in product(*((0.0, c) for c in CAPACITORS_F))])[None, :]
    for kind in (NetworkKind.L_SERIES_FIRST, NetworkKind.L_SHUNT_FIRST):
        bare = Network("", "", kind, coil_q=90.0, capacitor_q=600.0)
        part = Part.C_OUT if kind is NetworkKind.L_SERIES_FIRST else Part.C_IN
        z = impedances(bare, {Part.COIL: coils, part: capacitors}, hz)
        gamma = gamma_from_impedance(input_impedance(bare.places, z, load), 50.0)
        best = min(best, float(np.min(swr_from_gamma(gamma))))
    return best


def tarnhouse_trials() -> bytes:
    """A grid of bands by loads, keyed with 10 W; what it could not match it refused, and one recall took longer."""
    random = np.random.default_rng(1503)
    trials: list[Trial] = []

    def tried(hz: float, load: complex, memory: bool = False, slower: float = 0.0) -> None:
        swr = _reached(hz, load) + 0.12 * float(random.random())
        good = swr < 1.9 and not (load.real > 500 and hz > 20e6)
        before = float(swr_from_gamma(complex(gamma_from_impedance(load, 50.0))))
        took = (0.35 + 0.2 * float(random.random()) if memory else 1.6 + 3.2 * float(random.random())) + slower
        outcome = Outcome.MATCHED if good else Outcome.REFUSED
        trials.append(
            Trial(
                str(len(trials)), "", "", hz, outcome, load=format_load(load), power_w=10.0, memory=memory,
                swr_before=round(before, 1), swr_after=round(swr, 1) if good else None, swr_step=0.1,
                seconds=round(took, 1), taken_on=f"2026-10-11T09:{len(trials) % 60:02d}",
                note="clicks on, then gives the tone of a fault" if not good else "",
            )
        )  # fmt: skip

    for load in LOADS:
        for hz in BANDS_HZ.values():
            tried(hz, load)
    tried(BANDS_HZ["10m"], LOADS[3])
    for name, slower in (("80m", 0.0), ("40m", 0.0), ("20m", 4.9)):
        tried(BANDS_HZ[name], LOADS[2], memory=True, slower=slower)
    return write_trials(trials).encode()


SWEPT: dict[str, Callable[[], bytes]] = {"hut-wire.s1p": hut_wire}
TRIALS: dict[str, Callable[[], bytes]] = {
    "beckstone-trials.csv": beckstone_trials,
    "tarnhouse-trials.csv": tarnhouse_trials,
}
