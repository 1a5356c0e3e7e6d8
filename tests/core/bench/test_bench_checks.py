"""Known load, open or short, pad, meter and noise: what each check shows, sound or not."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.bench.load_check import check_load, check_open_or_short
from levelmoor.core.bench.meter_check import check_meter
from levelmoor.core.bench.noise_check import check_noise
from levelmoor.core.bench.pad_check import check_pad
from levelmoor.core.metrology.uncertainty import Residuals, standard_uncertainty
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.trace import Trace

F = np.linspace(140e6, 150e6, 201)


def residual(magnitude, turn=8e-7):
    return Sweep(F, magnitude * np.exp(-2j * np.pi * F * turn))


def test_flat_load_gives_its_directivity():
    found = check_load(residual(0.009), 60.0)
    assert (found.sound, found.proves) == (True, True)
    assert "40 dB" in found.words
    assert float(found.figure.at(145e6)) == pytest.approx(0.01)


def test_loads_own_reflection_is_added():
    """At 40 dB read and 40 dB stated, D may be as large as both: 34 dB."""
    found = check_load(residual(0.01), 40.0)
    assert float(found.figure.at(145e6)) == pytest.approx(0.02)


def test_load_that_is_not_flat_fails():
    found = check_load(residual(float(gamma_from_swr(1.11))))
    assert not found.sound
    assert "Calibrate again" in found.words


@given(st.integers(1, 200), st.floats(0.005, 0.04))
def test_directivity_over_frequency_is_never_less_than_what_was_read(place, peak):
    gamma = np.full(F.size, 0.002 + 0j)
    gamma[place - 1] = peak
    found = check_load(Sweep(F, gamma))
    assert np.all(found.figure.at(F) >= np.abs(gamma) - 1e-12)


def test_full_reflection_gives_tracking():
    found = check_open_or_short(residual(0.98))
    assert found.sound
    assert float(found.figure.at(145e6)) == pytest.approx(0.02)
    assert not check_open_or_short(residual(0.85)).sound


def test_measured_directivity_takes_the_place_of_the_typical_one():
    """By hand: D 0.02, no other term, |gamma| 0: u = 0.02/sqrt 2."""
    bench = Residuals(40.0, 0.0, 80.0, directivity=check_load(residual(0.02)).figure)
    assert float(standard_uncertainty(0.0, bench, 0.0, 145e6)) == pytest.approx(0.02 / np.sqrt(2), rel=1e-6)


# -- Pad -------------------------------------------------------------------------------------------------------------

G = np.linspace(100e6, 800e6, 71)


def test_pad_is_the_difference_of_two_levels_at_each_frequency():
    loss = 40.5 + G / 1e9
    found = check_pad(Trace(G, np.full(G.size, -10.0)), Trace(G, -10.0 - loss), (146e6, 292e6, 438e6), 40.0)
    assert [f.attenuation_db for f in found.figures] == pytest.approx([40.646, 40.792, 40.938])
    assert found.differs_db == pytest.approx(0.646)
    assert "use the measured figures" in found.words
    assert found.sound


def test_pad_near_its_label_is_not_said_to_differ():
    found = check_pad(Trace(G, np.zeros(G.size)), Trace(G, np.full(G.size, -40.3)), (146e6,), 40.0)
    assert "label" not in found.words


def test_harmonic_that_the_traces_do_not_reach_is_missing():
    found = check_pad(Trace(G, np.zeros(G.size)), Trace(G, np.full(G.size, -40.0)), (450e6, 900e6))
    assert found.missing == (900e6,)
    assert not found.sound


def test_pads_uncertainty_by_hand():
    """Two levels of 0.1 dB each, and mismatch 1.2 against 1.2 (|g|^2 = 0.00826, 0.0715 dB) at both sides, over root 2."""
    found = check_pad(Trace(G, np.zeros(G.size)), Trace(G, np.full(G.size, -40.0)))
    assert found.u_db == pytest.approx(np.sqrt(2 * 0.1**2 + 0.0715**2), abs=1e-3)


def test_traces_of_different_spans_are_refused():
    with pytest.raises(ValueError, match="no frequency in common"):
        check_pad(Trace(G, np.zeros(G.size)), Trace(G + 1e9, np.zeros(G.size)))


# -- Meter and noise -------------------------------------------------------------------------------------------------


def test_meter_gets_an_accuracy_of_its_own():
    """By hand: SWR 1.5 read as 2.0 is 0.2 read as 1/3, 0.1333 off; three of those, t(3) at 97.7 % is 3.307, so that
    half of the guard band is 0.1333 x 3.307/2 = 0.2205 (Student's t, any table (memory))."""
    found = check_meter(((1.5, 2.0),) * 3)
    assert found.u_gamma == pytest.approx(0.2205, abs=1e-4)
    assert found.directivity_db == pytest.approx(10.12, abs=0.02)
    assert "reads high" in found.words
    carried = Residuals(found.directivity_db, 0.0, 80.0)
    assert float(standard_uncertainty(0.0, carried)) == pytest.approx(found.u_gamma, rel=1e-6)


def test_two_loads_are_too_few_to_know():
    found = check_meter(((1.5, 1.6), (2.0, 2.1)))
    assert not found.sound
    assert "not known yet" in found.words


def test_noise_floor_leaves_spurs_out():
    level = np.full(200, -100.0)
    level[50] = -70.0
    found = check_noise(Trace(np.linspace(1e6, 1e9, 200), level), 10e3)
    assert found.floor_dbm == pytest.approx(-100)
    assert len(found.spurs) == 1
    with pytest.raises(ValueError, match="resolution bandwidth"):
        check_noise(Trace(np.array([1e6]), np.array([-100.0])), 0)
