"""Networks against published examples, scikit-rf, closed forms and brute force."""

from dataclasses import replace

import numpy as np
import pytest
import skrf
from hypothesis import given
from hypothesis import strategies as st

from benchmarks.matching import random_load, searched
from levelmoor.core.matching.knobs import foreseen_gamma, values_at
from levelmoor.core.matching.ladder import impedances, input_impedance, stress
from levelmoor.core.matching.solutions import generic_network, matches, solutions
from levelmoor.core.matching.through_gain import share_through
from levelmoor.core.model.networks import LADDERS, Knob, Network, NetworkKind, Part
from levelmoor.core.rf.reflection import swr_from_gamma
from levelmoor.core.rf.two_port import TwoPort

LOSSLESS = 1e9
OHMS = st.floats(1, 3000)
FINE = Knob(Part.COIL, "coil", 0, 30000, (0, 30000), (0.0, 30.0))


def bare(kind, coil_q=LOSSLESS, capacitor_q=LOSSLESS):
    return Network("n", "n", kind, coil_q=coil_q, capacitor_q=capacitor_q)


# 50 to 200 ohm at 10 MHz, Q 1.732; 200 - j100 to 100 ohm at 500 MHz: Pozar, Microwave Engineering, example 5.1 (memory).
@pytest.mark.parametrize(
    ("kind", "values", "hz", "load", "sees"),
    [
        (NetworkKind.L_SERIES_FIRST, {Part.COIL: 1.378e-6, Part.C_OUT: 137.8e-12}, 10e6, 200, 50),
        (NetworkKind.L_SERIES_FIRST, {Part.COIL: 38.98e-9, Part.C_OUT: 0.923e-12}, 500e6, 200 - 100j, 100),
    ],
    ids=["50 to 200", "Pozar 5.1"],
)
def test_worked_example_of_an_l(kind, values, hz, load, sees):
    network = bare(kind)
    z = complex(input_impedance(network.places, impedances(network, values, hz), load))
    assert z == pytest.approx(sees, rel=0.01)


# The T at 3.6 MHz into 10 ohm, coil Q 150, capacitor Q 2000: computed independently for the brief, handbook form (memory).
@pytest.mark.parametrize(
    ("c_out", "c_in", "coil", "db"), [(100e-12, 54.67e-12, 12.657e-6, 1.730), (500e-12, 240.6e-12, 2.723e-6, 0.383)]
)
def test_t_network_loses_less_with_more_capacitance(c_out, c_in, coil, db):
    network = bare(NetworkKind.T, 150, 2000)
    z = impedances(network, {Part.C_IN: c_in, Part.COIL: coil, Part.C_OUT: c_out}, 3.6e6)
    assert complex(input_impedance(network.places, z, 10)) == pytest.approx(50, rel=0.01)
    assert float(stress(network.places, z, 10).loss_db) == pytest.approx(db, abs=0.005)


@pytest.mark.parametrize("kind", NetworkKind)
def test_ladder_is_the_cascade_of_scikit_rf(kind):
    random = np.random.default_rng(5)
    network, hz = bare(kind, 80, 900), 7e6
    media = skrf.media.DefinedGammaZ0(skrf.Frequency.from_f([hz], unit="hz"), z0=50)
    for _ in range(20):
        values = {p.part: float(random.uniform(20e-12, 400e-12)) for p in network.places}
        values[Part.COIL] = float(random.uniform(0.2e-6, 20e-6))
        load = complex(random.uniform(5, 900), random.uniform(-900, 900))
        z = impedances(network, values, hz)
        whole = None
        for place, own in zip(network.places, z, strict=True):
            one = (
                media.resistor(complex(own))
                if place.series
                else media.shunt(media.resistor(complex(own)) ** media.short())
            )
            whole = one if whole is None else whole**one
        end = skrf.Network(f=[hz], s=np.array([[[(load - 50) / (load + 50)]]]), z0=50, f_unit="hz")
        theirs = complex((whole**end).s[0, 0, 0])
        ours = complex(input_impedance(network.places, z, load))
        assert (ours - 50) / (ours + 50) == pytest.approx(theirs, abs=1e-9)
        s, g = whole.s[0], complex(end.s[0, 0, 0])
        gain = abs(s[1, 0]) ** 2 * (1 - abs(g) ** 2) / (abs(1 - s[1, 1] * g) ** 2 * (1 - abs(theirs) ** 2))
        assert float(stress(network.places, z, load).share) == pytest.approx(gain, rel=1e-9)
        two = [np.full(2, v) for v in (s[1, 0], s[0, 0], s[1, 1])]
        assert share_through(TwoPort(np.array([6e6, 8e6]), *two), hz, g) == pytest.approx(gain, rel=1e-9)


@given(
    r=OHMS, x=st.floats(-2000, 2000), c_in=OHMS, c_out=OHMS, coil=st.floats(0.05, 30), kind=st.sampled_from(NetworkKind)
)
def test_what_goes_in_is_heat_or_reaches_the_load(r, x, c_in, c_out, coil, kind):
    network = bare(kind, 100, 1000)
    values = {Part.C_IN: c_in * 1e-12, Part.C_OUT: c_out * 1e-12, Part.COIL: coil * 1e-6}
    inside = stress(network.places, impedances(network, values, 7e6), complex(r, x), 80.0)
    assert sum(map(float, inside.watts)) + 80 * float(inside.share) == pytest.approx(80, rel=1e-9)


@pytest.mark.parametrize("load", [25 - 100j, 200 + 50j, 10 + 0j, 800 - 300j], ids=str)
@pytest.mark.parametrize("hz", [3.65e6, 14.2e6])
def test_no_position_of_the_dials_is_better_than_what_is_found(load, hz):
    network = generic_network(NetworkKind.T)
    found = solutions(network, hz, load)
    assert all(m.swr < 1.05 for m in found)
    best = found[0].share
    columns = np.random.default_rng(7).uniform(0, 100, (len(network.parts), 200_000))
    tried = dict(zip(network.parts, columns, strict=True))
    swr = swr_from_gamma(foreseen_gamma(network, tried, hz, load))
    share = stress(network.places, impedances(network, values_at(network, tried), hz), load).share
    assert not np.any((swr <= 1.05) & (share >= best + 0.005))
    assert np.any(swr <= 1.3)


@pytest.mark.parametrize("kind", NetworkKind)
def test_no_match_that_a_search_finds_is_missed(kind):
    """SciPy's least squares from random dials; benchmarks.matching does it for three hundred loads."""
    chance, network, seen = np.random.default_rng(11), generic_network(kind), 0
    while seen < 2:
        hz, load = random_load(chance)
        theirs = searched(network, hz, load, chance, starts=6)
        if np.isfinite(theirs):
            best = solutions(network, hz, load)[0]
            assert matches(best) and best.loss_db <= theirs + 0.01, (hz, load, theirs, best)
            seen += 1


@pytest.mark.parametrize(
    ("hz", "load", "loss_db"),
    [
        (18.1e6, 2374.5 - 76.2j, 0.22),
        (14.2e6, 2000 + 500j, 0.20),
        (7.1e6, 10 - 250j, 1.36),
        (18.1e6, 7.1 + 442.4j, 0.30),
    ],
)
def test_hard_loads_are_matched_by_a_t_with_the_least_loss(hz, load, loss_db):
    best = solutions(generic_network(NetworkKind.T), hz, load)[0]
    assert matches(best) and best.loss_db <= loss_db


def test_a_tap_of_a_coil_that_clicks_is_not_passed_over():
    coil = Knob(Part.COIL, "coil", 0, 9, tuple(range(10)), tuple(0.3 * (n + 1) ** 1.5 for n in range(10)), steps=True)
    usual = generic_network(NetworkKind.T)
    clicking = replace(usual, knobs=tuple(coil if k.part is Part.COIL else k for k in usual.knobs))
    best = solutions(clicking, 18.1e6, 7.1 + 442.4j)[0]
    assert matches(best) and best.dials[Part.COIL] == 0


def test_an_l_network_matches_in_its_two_ways():
    """Pozar, example 5.1 (memory): of the L with the shunt at the load, b = 0.29 with x = 1.22 is the low pass."""
    knobs = (
        Knob(Part.COIL, "coil", 0, 100, (0, 100), (0.0, 0.1)),
        Knob(Part.C_OUT, "antenna", 0, 100, (0, 100), (0.0, 5.0)),
    )
    network = Network("l", "l", NetworkKind.L_SERIES_FIRST, knobs, coil_q=LOSSLESS, capacitor_q=LOSSLESS)
    (match,) = [m for m in solutions(network, 500e6, 200 - 100j, 100.0) if m.swr < 1.01]
    assert match.values[Part.COIL] == pytest.approx(38.98e-9, rel=0.005)
    assert match.values[Part.C_OUT] == pytest.approx(0.923e-12, rel=0.005)


def test_a_load_out_of_reach_gives_the_setting_that_comes_nearest():
    (nearest,) = solutions(generic_network(NetworkKind.PI), 1.85e6, 2 + 0j)
    assert nearest.swr > 2


@pytest.mark.parametrize("load", [0j, -5 + 1j, complex(np.inf, 0)], ids=str)
def test_what_takes_no_power_is_refused(load):
    with pytest.raises(ValueError, match="load without resistance"):
        solutions(generic_network(NetworkKind.T), 7e6, load)


def test_every_kind_has_its_ladder():
    assert set(LADDERS) == set(NetworkKind)
