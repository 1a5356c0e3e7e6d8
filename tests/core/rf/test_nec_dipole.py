"""A dipole by NEC-2, a general method-of-moments code, as the independent truth for reading off a sweep."""

import numpy as np
import pytest

from levelmoor.core.rf.dips import find_dips
from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.resonances import find_resonances
from levelmoor.core.rf.sweep import Sweep

PyNEC = pytest.importorskip("PyNEC", reason="NEC-2 is not installed")
LIGHT = 299_792_458.0


def dipole_impedance(frequencies_hz: np.ndarray, length_m: float, radius_m: float = 0.5e-3) -> np.ndarray:
    found = []
    for f in frequencies_hz:
        context = PyNEC.nec_context()
        geometry = context.get_geometry()
        geometry.wire(1, 51, 0, 0, -length_m / 2, 0, 0, length_m / 2, radius_m, 1, 1)
        context.geometry_complete(0)
        context.fr_card(0, 1, float(f) / 1e6, 0)
        context.ex_card(0, 1, 26, 0, 1, 0, 0, 0, 0, 0)
        context.xq_card(0)
        found.append(complex(np.ravel(context.get_input_parameters(0).get_impedance())[0]))
    return np.array(found)


def test_half_wave_dipole_is_near_the_textbook():
    # Balanis, Antenna Theory (memory): 73 + j42.5 ohm for an infinitely thin half-wave dipole.
    z = dipole_impedance(np.array([100e6]), LIGHT / 100e6 / 2)[0]
    assert z.real == pytest.approx(73, abs=15)
    assert z.imag == pytest.approx(42.5, abs=5)


def test_resonance_and_dip_of_a_simulated_dipole():
    f = np.linspace(85e6, 105e6, 81)
    z = dipole_impedance(f, LIGHT / 100e6 / 2)
    sweep = Sweep(f, gamma_from_impedance(z, 50))
    (resonance,), (dip,) = find_resonances(sweep), find_dips(sweep)
    truth = np.interp(0, z.imag, f)
    assert resonance.frequency_hz == pytest.approx(truth, rel=1e-4)
    assert resonance.kind == "series"
    assert dip.frequency_hz < resonance.frequency_hz  # R falls with frequency below, so 50 ohm is nearer there


def test_shorter_dipole_resonates_higher():
    # Common practice, no source: dip below the wanted frequency, the element is too long.
    f = np.linspace(85e6, 115e6, 61)
    at = [
        find_resonances(Sweep(f, gamma_from_impedance(dipole_impedance(f, length), 50)))[0].frequency_hz
        for length in (1.50, 1.40)
    ]
    assert at[1] / at[0] == pytest.approx(1.50 / 1.40, rel=0.01)


def test_the_dip_moves_the_right_way_and_amount_with_the_length():
    # Common practice, no source: 74.4 to 100 MHz needs about 0.744 of the length.
    long = LIGHT / 74.4e6 / 2
    dips = []
    for length, middle in ((long, 72e6), (0.744 * long, 96e6)):
        f = np.linspace(0.9 * middle, 1.12 * middle, 45)
        dips.append(find_dips(Sweep(f, gamma_from_impedance(dipole_impedance(f, length), 50)))[0].frequency_hz)
    assert dips[1] / dips[0] == pytest.approx(1 / 0.744, rel=0.01)
