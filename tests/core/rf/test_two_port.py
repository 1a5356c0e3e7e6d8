"""A two-port in another reference, against scikit-rf."""

import numpy as np
import pytest
import skrf
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.rf.two_port import TwoPort

F = np.array([7e6, 14e6])
ohms = st.floats(5, 500)


@given(ohms, ohms, ohms, st.floats(-300, 300), st.sampled_from([25.0, 75.0, 600.0]))
def test_reference_is_changed_as_scikit_rf_does(series, shunt, other, reactance, z0):
    frequency = skrf.Frequency.from_f(F, unit="hz")
    media = skrf.media.DefinedGammaZ0(frequency, z0=50)
    made = media.resistor(series) ** media.shunt(media.resistor(shunt + 0j) ** media.short()) ** media.resistor(other)
    made.s = made.s * np.exp(1j * reactance / 300)  # any reciprocal one will do
    one = TwoPort(F, made.s[:, 1, 0], made.s[:, 0, 0], made.s[:, 1, 1]).referred_to(z0)
    theirs = skrf.network.renormalize_s(made.s, 50, z0, s_def="traveling")
    np.testing.assert_allclose(one.s21, theirs[:, 1, 0], rtol=1e-9)
    np.testing.assert_allclose(one.s11, theirs[:, 0, 0], rtol=1e-9, atol=1e-12)
    np.testing.assert_allclose(one.s22, theirs[:, 1, 1], rtol=1e-9, atol=1e-12)


def test_without_its_reflections_it_keeps_its_reference():
    alone = TwoPort(F, np.array([0.1, 0.1 + 0j]), z0_ohm=75)
    with pytest.raises(ValueError, match="without S11 and S22 cannot be converted to 50"):
        alone.referred_to(50)
