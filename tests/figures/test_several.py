"""Several sweeps in one figure: nothing lost by thinning, geometry of the Smith chart, sizes that a page can carry."""

import json
import re
from itertools import combinations
from xml.etree import ElementTree

import numpy as np
import pytest
import skrf
from hypothesis import given, settings
from hypothesis import strategies as st

from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.rf.reflection import gamma_from_impedance, gamma_from_swr, impedance_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.windows import Window
from levelmoor.figures.curves import Drawn, letters, read_off_all, thinned
from levelmoor.figures.overlay import LossScale, overlay
from levelmoor.figures.resistance import resistance
from levelmoor.figures.scale import Scale
from levelmoor.figures.smith import reactance_circle, resistance_circle, smith
from tests.sweeps import rlc_sweep, with_noise

WINDOW = Window(14.0e6, 14.35e6, "20m")
SVG = "{http://www.w3.org/2000/svg}"


def drawn(count=3, points=401, noise=0.0):
    found = []
    for i in range(count):
        sweep = rlc_sweep(13e6, 15.5e6, points, f0=14.1e6 + 5e4 * i)
        analysis = analyse_sweep(with_noise(sweep, noise, i) if noise else sweep, 50)
        found.append(Drawn("ABCDEFGHIJ"[i], f"side {i}", i, analysis, Residuals()))
    return found


def paths(svg, css):
    return [e for e in ElementTree.fromstring(svg).iter(f"{SVG}path") if css in (e.get("class") or "").split()]


@given(st.integers(0, 2**32 - 1), st.integers(20, 200))
@settings(max_examples=8)
def test_no_extreme_of_a_noisy_sweep_is_lost(seed, columns):
    random = np.random.default_rng(seed)
    f = np.linspace(1e6, 2e6, 3001)
    sweep = Sweep(f, 0.5 * random.random(f.size) * np.exp(2j * np.pi * random.random(f.size)))
    kept_f, kept_g = thinned(analyse_sweep(sweep, 50), 1e6, 2e6, columns)
    slot, kept = (np.minimum(((x - 1e6) / 1e6 * columns).astype(int), columns - 1) for x in (f, kept_f))
    for column in range(columns):
        everything, held = sweep.magnitude[slot == column], np.abs(kept_g[kept == column])
        assert (held.min(), held.max()) == (everything.min(), everything.max())


def test_each_side_has_its_curve_its_letter_and_a_dash_of_its_own():
    svg = overlay(drawn(10), [WINDOW], 2.0)
    curves = paths(svg, "curve")
    assert [c.get("class") for c in curves] == [f"curve k{i}" for i in range(10)]
    letters = {e.text for e in ElementTree.fromstring(svg).iter(f"{SVG}text") if e.get("class") == "letter"}
    assert letters == set("ABCDEFGHIJ")


def test_ten_long_sweeps_stay_within_what_a_page_can_carry():
    ten = drawn(10, 10_001, 5e-4)
    carried = [overlay(ten, [WINDOW], 2.0), overlay(ten, [WINDOW], 2.0, width=380, height=360)]
    assert sum(map(len, carried)) + len(read_off_all(ten, 13e6, 15.5e6)) < 300_000
    both = [resistance(ten), resistance(ten, width=380, height=400)]
    assert sum(map(len, both)) + len(read_off_all(ten, 13e6, 15.5e6)) < 300_000


def test_a_closer_look_has_every_point():
    (one,) = drawn(1, 10_001)
    f, _ = thinned(one.analysis, 14.10e6, 14.14e6, 300)
    assert f.size == one.analysis.sweep.inside(14.10e6, 14.14e6).size


def test_a_curve_is_where_its_sweep_is():
    (one,) = drawn(1)
    scale = Scale(13e6, 15.5e6, 44, 720 - 26, 36, 380 - 40)
    (curve,) = paths(overlay([one], [WINDOW], 2.0), "curve")
    numbers = np.array(re.findall(r"-?[\d.]+", curve.get("d")), dtype=float).reshape(-1, 2)
    f = scale.low_hz + (numbers[:, 0] - scale.left) / (scale.right - scale.left) * 2.5e6
    expected = scale.y(np.abs(one.analysis.sweep.gamma_at(f)))
    assert np.max(np.abs(numbers[:, 1] - expected)) < 1.5


def test_return_loss_puts_a_better_match_lower():
    scale = LossScale(1, 2, 0, 1, 0, 400)
    assert float(scale.y(0.1)) == pytest.approx(200)  # 20 dB of 40
    assert float(scale.y(1.0)) == 0
    assert float(scale.y(0.0)) == 400


@given(st.floats(0.05, 20), st.floats(-20, 20))
def test_circles_of_the_chart_hold_their_impedances(r, x):
    # scikit-rf's z2s for one port is the independent reference.
    gamma = complex(skrf.network.z2s(np.array([[[50 * (r + 1j * x)]]]), 50)[0, 0, 0])
    circle = resistance_circle(r)
    assert abs(gamma - circle.centre) == pytest.approx(circle.radius, rel=1e-9)
    if abs(x) > 1e-3:
        circle = reactance_circle(x)
        assert abs(gamma - circle.centre) == pytest.approx(circle.radius, rel=1e-6)


def test_swr_circles_and_z0_are_marked():
    svg = smith(drawn(2), [WINDOW])
    words = {e.text for e in ElementTree.fromstring(svg).iter(f"{SVG}text")}
    assert {"1.5:1", "2:1", "3:1", "Z0 50 Ω", "A", "B"} <= words
    radii = [
        float(e.get("r")) for e in ElementTree.fromstring(svg).iter(f"{SVG}circle") if e.get("class") == "level thin"
    ]
    assert radii == pytest.approx([float(gamma_from_swr(s)) * (260 - 26) for s in (1.5, 2, 3)], abs=0.01)


def test_r_and_x_are_drawn_where_they_are_and_scalar_sweeps_are_not():
    sweep = rlc_sweep(13e6, 15.5e6, 101, r=70)
    one = Drawn("A", "a", 0, analyse_sweep(sweep, 50), Residuals())
    scalar = Sweep(sweep.frequency_hz, sweep.magnitude.astype(complex), 50, True)
    other = Drawn("B", "b", 1, analyse_sweep(scalar, 50), Residuals())
    svg = resistance([one, other])
    assert len(paths(svg, "k0")) == 2
    assert len(paths(svg, "k1")) == 0
    assert len(paths(svg, "zero")) == 1


def test_figures_for_the_pointer_give_the_impedance_back():
    (one,) = drawn(1)
    (data,) = json.loads(read_off_all([one], 13e6, 15.5e6))
    gamma = np.array(data["re"]) + 1j * np.array(data["im"])
    z = impedance_from_gamma(gamma, data["z0"])
    truth = impedance_from_gamma(one.analysis.sweep.gamma_at(np.array(data["f"], dtype=float)), 50)
    near = np.abs(gamma) < 0.5
    assert np.allclose(z[near], truth[near], atol=0.05)
    assert np.allclose(gamma_from_impedance(z, 50), gamma)


@given(st.lists(st.tuples(st.floats(0, 100), st.floats(0, 100)), max_size=12))
def test_no_two_letters_meet(places):
    one = drawn(1)[0]
    group = ElementTree.fromstring("<g>" + "".join(letters([(x, y, one) for x, y in places])) + "</g>")
    at = [(float(e.get("cx")), float(e.get("cy"))) for e in group.iter("circle")]
    assert len(at) == len(places)
    assert all(max(abs(a - c), abs(b - d)) > 12.9 for (a, b), (c, d) in combinations(at, 2))


def test_charts_of_two_sizes_on_one_page_cut_at_their_own_rim():
    ids = [
        ElementTree.fromstring(smith(drawn(1), [WINDOW], size=s)).find(f".//{SVG}clipPath").get("id")
        for s in (380, 520)
    ]
    assert len(set(ids)) == 2
