"""One-port correction against scikit-rf's, on random error boxes."""

import numpy as np
import pytest
import skrf
from hypothesis import given, settings
from hypothesis import strategies as st

from levelmoor.core.bench.calibration import ErrorTerms, correct, error_terms, standard_reflections
from levelmoor.core.model.equipment import Kit

F = np.linspace(1e6, 900e6, 21)
KIT = Kit(
    "k", "kit", open_c=(62e-15, -120e-27, 15e-36, -0.2e-45), open_delay_s=12e-12, short_delay_s=9e-12, load_ohm=51
)


def box(seed):
    """A random error box over F: directivity, source match and tracking as an analyzer might leave them."""
    rng = np.random.default_rng(seed)

    def term(size):
        return size * rng.uniform(0.2, 1) * np.exp(1j * (rng.uniform(0, 6) + 2 * np.pi * F * rng.uniform(0, 2e-9)))

    return term(0.3), term(0.3), 1.0 * np.exp(1j * 2 * np.pi * F * rng.uniform(0, 3e-9)) * rng.uniform(0.5, 1)


def measured(terms, gamma):
    e00, e11, t = terms
    return e00 + t * gamma / (1 - e11 * gamma)


def network(gamma):
    return skrf.Network(f=F, f_unit="hz", s=np.asarray(gamma, dtype=complex).reshape(-1, 1, 1), z0=50)


@settings(max_examples=40)
@given(st.integers(0, 2**32 - 1), st.sampled_from([Kit("", ""), KIT]))
def test_agrees_with_scikit_rf_and_with_the_truth(seed, kit):
    terms = box(seed)
    standards = standard_reflections(kit, F)
    raw = [measured(terms, s) for s in standards]
    rng = np.random.default_rng(seed)
    truth = 0.95 * np.sqrt(rng.uniform(0, 1, F.size)) * np.exp(1j * rng.uniform(0, 6.28, F.size))
    ours = correct(error_terms(F, *raw, kit), F, measured(terms, truth))
    theirs = skrf.calibration.OnePort(ideals=[network(s) for s in standards], measured=[network(m) for m in raw])
    theirs.run()
    assert ours == pytest.approx(theirs.apply_cal(network(measured(terms, truth))).s[:, 0, 0], abs=1e-9)
    assert ours == pytest.approx(truth, abs=1e-9)


def test_ideal_standards_are_one_minus_one_and_nothing():
    opened, shorted, load = standard_reflections(Kit("", ""), F)
    assert (opened == 1).all()
    assert (shorted == -1).all()
    assert (load == 0).all()


def test_fringing_capacitance_turns_the_open_as_scikit_rf_turns_it():
    media = skrf.media.DefinedGammaZ0(skrf.Frequency.from_f(F, unit="hz"), gamma=1j * 2 * np.pi * F / 299792458, z0=50)
    theirs = (media.shunt_capacitor(62e-15) ** media.open()).s[:, 0, 0]
    ours = standard_reflections(Kit("", "", open_c=(62e-15, 0, 0, 0)), F)[0]
    assert ours == pytest.approx(theirs, abs=1e-9)


def test_standards_that_read_alike_are_refused_with_their_frequency():
    raw = [measured(box(3), s) for s in (1.0, 1.0, 0.0)]
    with pytest.raises(ValueError, match=r"read the same at .* MHz"):
        error_terms(F, *raw)


def test_raw_sweep_beyond_the_calibration_is_refused():
    terms = error_terms(F, *[measured(box(4), s) for s in (1.0, -1.0, 0.0)])
    with pytest.raises(ValueError, match="calibrate over the whole"):
        correct(terms, np.array([0.5e6, 2e6]), np.array([0.1, 0.1]))


@pytest.mark.parametrize(("lead_m", "read"), [(0.0, True), (2.0, False)])
def test_error_terms_are_not_read_between_points_where_they_turn_too_far(lead_m, read):
    """1 to 1500 MHz in 201 points: through 2 m of lead the tracking turns by over a radian from one to the next."""
    f = np.linspace(1e6, 1500e6, 201)
    turn = np.exp(-4j * np.pi * f * lead_m / 2e8)
    terms = ErrorTerms(f, 0.02 * turn, 0.02 * turn, 0.98 * turn)
    between = f[:-1] + 3e6
    raw = 0.02 * turn[:-1]
    if read:
        assert np.all(np.isfinite(correct(terms, between, raw)))
        return
    with pytest.raises(
        ValueError, match=r"calibrate at the points you sweep, or with steps of [12](?:\.\d)? MHz or less"
    ):
        correct(terms, between, raw)
    assert np.all(np.isfinite(correct(terms, f, 0.02 * turn)))  # at its own points nothing is read between
