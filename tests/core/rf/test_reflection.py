import numpy as np
import pytest
import skrf
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.rf import reflection as r

ohms = st.floats(0.01, 1e5)


@pytest.mark.parametrize(
    ("swr", "loss_db", "percent"),
    [
        (1.1, 26.44, 0.23),
        (1.5, 13.98, 4.0),
        (2, 9.54, 11.11),
        (3, 6.02, 25),
        (5, 3.52, 44.44),
    ],
)
def test_table_of_swr(swr, loss_db, percent):
    # Pozar, Microwave Engineering, ch. 2 (memory); figures computed independently of this code.
    gamma = r.gamma_from_swr(swr)
    shown = (r.return_loss_db(gamma), 100 * gamma**2)
    assert [round(float(x), 2) for x in shown] == [loss_db, percent]


@given(ohms, st.floats(-1e5, 1e5), ohms)
def test_impedance_and_back(resistance, reactance, z0):
    z = complex(resistance, reactance)
    assert r.impedance_from_gamma(r.gamma_from_impedance(z, z0), z0) == pytest.approx(z, rel=1e-6, abs=1e-6 * abs(z))


@given(st.complex_numbers(max_magnitude=0.999), ohms, ohms)
def test_reference_change_agrees_with_scikit_rf(gamma, one, two):
    # scikit-rf as the independent reference: renormalise a one-port with power waves of real impedances.
    other = skrf.network.renormalize_s(np.array([[[gamma]]]), one, two, s_def="traveling")[0, 0, 0]
    assert complex(r.refer_to(gamma, one, two)) == pytest.approx(complex(other), rel=1e-7, abs=1e-9)


def test_open_circuit_stays_open_in_another_reference():
    assert complex(r.refer_to(1.0, 50, 75)) == 1


@pytest.mark.parametrize("gamma", [1.0, 1.2, -1.0, 1j])
def test_full_reflection_is_infinite_swr(gamma):
    assert np.isinf(r.swr_from_gamma(gamma))


def test_swr_below_one_is_refused():
    with pytest.raises(ValueError, match="at least 1"):
        r.gamma_from_swr([1.5, 0.9])


@pytest.mark.parametrize(
    ("ohm", "swr", "half"),
    [(37, 1.34, 0.005), (65, 1.35, 0.005), (48, 1.2, 0.05), (51.5, 1.06, 0.005)],
)
def test_displayed_swr_agrees_with_resistance(ohm, swr, half):
    # Common practice, no source.
    assert r.swr_agrees_with_resistance(swr, half, ohm, 0.5)


def test_swr_below_what_resistance_forces_is_a_contradiction():
    assert not r.swr_agrees_with_resistance(1.2, 0.05, 37, 0.5)


def test_wattmeter_at_swr_1_3():
    # Common practice, no source: 50 W forward at SWR 1.3 gives 0.85 W back.
    assert round(float(50 * r.gamma_from_swr(1.3) ** 2), 2) == 0.85
    assert r.swr_from_gamma(r.gamma_from_powers(50, 0.8507)) == pytest.approx(1.3, abs=1e-3)
