"""The next move held against NEC-2, a general method-of-moments code: three dipoles from one feed, a whip with a coil, and
a dipole with traps are brought to their bands by the proposals alone."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import pytest

from levelmoor.core.adjusting.next_move import Standing, advise
from levelmoor.core.adjusting.response import Observation, Response
from levelmoor.core.adjusting.starting_length import loaded_hz, loading_coil_henry
from levelmoor.core.model.adjusting import Element, ElementKind
from levelmoor.core.rf.dips import find_dips
from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.targets import Aim

PyNEC = pytest.importorskip("PyNEC", reason="NEC-2 is not installed")
MOST_ROUNDS = 5
NEAR = 0.01
"""A dip this near, as a share, is where it is wanted: dipoles hold 2:1 over more than that to each side."""
NOISE = 1e-4


class Model:
    """Wires with loads, and what the feed shows over frequency."""

    def __init__(self, ground: bool = False):
        self.context = PyNEC.nec_context()
        self.geometry = self.context.get_geometry()
        self.ground, self.tag, self.loads = ground, 0, []

    def wire(self, start, end, segments, radius=1e-3):
        self.tag += 1
        self.geometry.wire(self.tag, segments, *start, *end, radius, 1.0, 1.0)
        return self.tag

    def load(self, tag, segment, kind, ohm, henry, farad):
        self.loads.append((kind, tag, segment, segment, ohm, henry, farad))

    def impedance(self, f: np.ndarray, tag: int, segment: int) -> np.ndarray:
        c = self.context
        c.geometry_complete(1 if self.ground else 0)
        if self.ground:
            c.gn_card(1, 0, 0, 0, 0, 0, 0, 0)
        for one in self.loads:
            c.ld_card(*one)
        c.ex_card(0, tag, segment, 0, 1.0, 0, 0, 0, 0, 0)
        c.fr_card(0, f.size, f[0] / 1e6, (f[1] - f[0]) / 1e6)
        c.xq_card(0)
        return np.array([complex(np.ravel(c.get_input_parameters(i).get_impedance())[0]) for i in range(f.size)])


def fan(arms: Sequence[float], f: np.ndarray) -> np.ndarray:
    """Three dipoles from one feed, their arms in cm, ends spread apart."""
    model, gap = Model(), 0.05
    feed = model.wire((-gap, 0, 0), (gap, 0, 0), 1)
    for n, arm in enumerate(arms):
        for side in (-1, 1):
            model.wire((side * gap, 0, 0), (side * arm / 100, 0.25 * (n - 1), -0.15 * n), 15)
    return model.impedance(f, feed, 1)


def coil_whip(above: Sequence[float], f: np.ndarray) -> np.ndarray:
    """A whip over ground with a coil in its middle: the part above it in cm."""
    model = Model(ground=True)
    base = model.wire((0, 0, 0), (0, 0, 0.6), 12, 2e-3)
    model.wire((0, 0, 0.6), (0, 0, 0.6 + above[0] / 100), 12, 2e-3)
    model.load(base, 12, 0, 3.0, 2.6e-6, 0.0)
    return model.impedance(f, base, 1)


def trapped(arms: Sequence[float], f: np.ndarray) -> np.ndarray:
    """A dipole with a trap in each arm, which parts the upper band: inner and outer section in cm."""
    model, gap = Model(), 0.03
    feed = model.wire((-gap, 0, 0), (gap, 0, 0), 1)
    inner, outer = (x / 100 for x in arms)
    henry = 0.9e-6
    farad = 1 / ((2 * np.pi * 71e6) ** 2 * henry)
    for side in (-1, 1):
        near = model.wire((side * gap, 0, 0), (side * inner, 0, 0), 20)
        model.wire((side * inner, 0, 0), (side * (inner + outer), 0, 0), 10)
        model.load(near, 20, 1, 20e3, henry, farad)
    return model.impedance(f, feed, 1)


@dataclass(frozen=True)
class Case:
    make: object
    aims: tuple[Aim, ...]
    elements: tuple[Element, ...]
    spans: tuple[tuple[float, float], ...]


def aim(name, low, high, limit=2.0):
    return Aim(Window(low * 1e6, high * 1e6, name), (low + high) / 2 * 1e6, limit)


TEN, SIX, FOUR = aim("10m", 28, 29), aim("6m", 50, 52), aim("4m", 70, 70.5)
CASES = {
    "three dipoles from one feed": Case(
        fan,
        (TEN, SIX, FOUR),
        (
            Element("0", "10 m ends", ElementKind.DIPOLE_ENDS, "cm", 285.0, bands=("10m",), cut=True),
            Element("1", "6 m ends", ElementKind.DIPOLE_ENDS, "cm", 160.0, bands=("6m",), cut=True),
            Element("2", "4 m ends", ElementKind.DIPOLE_ENDS, "cm", 115.0, bands=("4m",), cut=True),
        ),
        ((22, 31), (38, 55), (57, 76)),
    ),
    "a whip with a coil": Case(
        coil_whip,
        (aim("10m", 28, 29, 3.0),),
        (Element("0", "Whip", ElementKind.COIL_WHIP, "cm", 95.0, low=40.0, high=120.0),),
        ((20, 36),),
    ),
    "a dipole with traps": Case(
        trapped,
        (aim("10m", 38, 39, 3.0), FOUR),
        (
            Element("0", "Inner sections", ElementKind.TRAPPED, "cm", 118.0, bands=("10m", "4m")),
            Element("1", "Outer sections", ElementKind.TRAPPED, "cm", 62.0, bands=("10m",)),
        ),
        ((28, 44), (56, 78)),
    ),
}


def dips(case: Case, at: Sequence[float]) -> list[float]:
    found = []
    for one, (low, high) in zip(case.aims, case.spans, strict=True):
        f = np.linspace(low * 1e6, high * 1e6, 41)
        seen = [d for d in find_dips(Sweep(f, gamma_from_impedance(case.make(at, f), 50))) if not d.at_edge]
        found.append(min(seen, key=lambda d: abs(d.frequency_hz - one.wanted_hz)).frequency_hz)
    return found


@pytest.mark.parametrize("name", CASES)
def test_the_proposals_bring_every_band_to_its_place(name):
    case = CASES[name]
    at, seen = {e.id: e.at for e in case.elements}, []
    for rounds in range(1, MOST_ROUNDS + 1):
        now = dips(case, list(at.values()))
        off = [abs(np.log(f / a.wanted_hz)) / max(a.tolerance, NEAR) for f, a in zip(now, case.aims, strict=True)]
        if max(off) <= 1:
            break
        seen.append(Observation(dict(at), {k: (f, NOISE * f) for k, f in enumerate(now)}))
        response = Response(case.elements, [a.window.name for a in case.aims], [a.wanted_hz for a in case.aims], seen)
        advice = advise(response, case.aims, at, [Standing(f, NOISE * f) for f in now])
        assert advice.moves, (rounds, now, advice.words)
        for move in advice.moves:
            at[move.element_id] += move.by
    assert max(off) <= 1, (rounds, now, at)


def test_a_loaded_whip_resonates_where_its_line_model_says():
    # A line of characteristic impedance 60 (ln(2 l/a) - 1), open at its end (memory), against NEC-2.
    f = np.linspace(20e6, 36e6, 65)
    z = coil_whip([60.0], f)
    by_nec = float(np.interp(0, z.imag, f))
    assert loaded_hz(2.6e-6, 1.2, 2e-3, 0.6) == pytest.approx(by_nec, rel=0.06)
    assert loading_coil_henry(by_nec, 1.2, 2e-3, 0.6) == pytest.approx(2.6e-6, rel=0.2)
