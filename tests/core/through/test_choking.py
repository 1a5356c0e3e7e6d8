"""Choking impedance in the series fixture, and verdicts on what goes through."""

import numpy as np
import pytest
import skrf
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.core.rf.windows import Window
from levelmoor.core.through.choking import choking, s21_of, series_impedance
from levelmoor.core.through.through_verdict import choking_curve, explained, judge_through, loss_curve
from tests.codes import codes

QUIET = Residuals(tracking=1e-4)
F = np.linspace(3e6, 30e6, 541)
BAND = Window(3.5e6, 29e6, "HF")


def swept(ohm, f=F, **more):
    return TwoPort(f, s21_of(np.broadcast_to(np.asarray(ohm, dtype=complex), f.shape)), **more)


# 2 Z0 (1/S21 - 1): computed independently from the definition of S21; the figures of the brief.
@pytest.mark.parametrize(
    ("ohm", "db", "degrees"), [(1000, -20.83, 0), (5000, -34.15, 0), (2000 + 3000j, -31.27, -55.0)]
)
def test_ohm_in_the_series_fixture_are_so_many_db(ohm, db, degrees):
    s21 = complex(s21_of(np.array(ohm)))
    assert 20 * np.log10(abs(s21)) == pytest.approx(db, abs=0.005)
    assert np.degrees(np.angle(s21)) == pytest.approx(degrees, abs=0.05)


@given(r=st.floats(1, 20000), x=st.floats(-20000, 20000))
def test_the_impedance_comes_back(r, x):
    assert complex(series_impedance(s21_of(np.array(complex(r, x))), 50.0)) == pytest.approx(complex(r, x), rel=1e-9)


def test_s21_of_an_impedance_in_series_is_scikit_rfs():
    media = skrf.media.DefinedGammaZ0(skrf.Frequency.from_f([7e6], unit="hz"), z0=50)
    theirs = complex(media.resistor(2000 + 3000j).s[0, 1, 0])
    assert complex(s21_of(np.array(2000 + 3000j))) == pytest.approx(theirs)


def test_a_swept_stray_is_taken_off():
    """A choke of 8 kohm with 0.4 pF across it, the empty fixture swept: 8 kohm come out."""
    y = 2j * np.pi * F * 0.4e-12
    found = choking(swept(1 / (1 / 8000 + y)), QUIET, swept(1 / y))
    assert found.magnitude_ohm == pytest.approx(np.full(F.size, 8000.0), rel=1e-6)
    assert "subtracted" in found.stray


def test_without_the_empty_sweep_more_stays_open_and_more_so_with_more_ohm():
    y = 2j * np.pi * F * 0.4e-12
    alone, with_empty = (choking(swept(1 / (1 / 8000 + y)), QUIET, e) for e in (None, swept(1 / y)))
    assert np.all(alone.u_ohm > 2 * with_empty.u_ohm)
    small, large = (choking(swept(z), QUIET).u_ohm[300] for z in (1000, 4000))
    assert large > 10 * small


@pytest.mark.parametrize("ohm", [2000 + 0j, 300 + 2000j, 1000 - 3000j])
def test_from_the_size_of_s21_alone_the_true_impedance_lies_in_what_is_left_open(ohm):
    bare = TwoPort(F, np.abs(s21_of(np.full(F.size, ohm))).astype(complex), scalar=True)
    found = choking(bare, QUIET)
    assert found.impedance is None
    assert np.all(np.abs(found.magnitude_ohm - abs(ohm)) <= found.half_width_ohm + 1e-6)


@pytest.mark.parametrize("inside", [0.0, 1000.0])
def test_a_fixture_that_was_not_empty_takes_nothing_off(inside):
    found = choking(swept(4000.0), QUIET, swept(inside))
    np.testing.assert_allclose(found.magnitude_ohm, 4000)
    assert "stray.not_empty" in codes(found.stray)


def test_what_equals_the_empty_fixture_stays_a_number():
    same = swept(1 / (2j * np.pi * F * 1e-12))
    assert np.all(np.isfinite(choking(same, QUIET, same).u_ohm))


def verdict(claim, two_port, window=BAND, empty=None):
    curve = (
        choking_curve(choking(two_port, QUIET, empty))
        if claim.quantity is Quantity.CHOKING
        else loss_curve(two_port, QUIET)
    )
    found = judge_through(claim, curve, window, DecisionRule.GUARDED)
    return found.verdict, found.reason


def claimed(quantity, limit, tolerance=None):
    return Claim("c", quantity, (BAND,), limit, tolerance=tolerance)


NO_STRAY = swept(1e9)
RISING = 1000 + 7000 * (F - F[0]) / (F[-1] - F[0])


@pytest.mark.parametrize(
    ("ohm", "expected"),
    [(6000.0, Verdict.PASS), (4000.0, Verdict.FAIL), (RISING, Verdict.FAIL), (5001.0, Verdict.TOO_CLOSE)],
    ids=["enough", "too little", "at the low end", "a hair"],
)
def test_a_choke_is_judged_at_its_least(ohm, expected):
    found, words = verdict(claimed(Quantity.CHOKING, 5000.0), swept(ohm), empty=NO_STRAY)
    assert found is expected, words


def test_a_choke_is_not_believed_beyond_what_the_fixture_lets():
    found, words = verdict(claimed(Quantity.CHOKING, 30000.0), swept(31000.0))
    assert found is Verdict.NOT_SHOWN
    assert "0.3 pF assumed" in words


def pad(db):
    size = np.broadcast_to(10 ** (-np.asarray(db) / 20), F.shape).astype(complex)
    nothing = np.zeros(F.size, dtype=complex)
    return TwoPort(F, size, nothing, nothing)


@pytest.mark.parametrize(
    ("claim", "db", "expected"),
    [
        (claimed(Quantity.ATTENUATION, 30.0, 0.5), 30.2, Verdict.PASS),
        (claimed(Quantity.ATTENUATION, 30.0, 0.5), 30.7, Verdict.FAIL),
        (claimed(Quantity.ATTENUATION, 30.0, 0.5), np.linspace(29.6, 30.7, F.size), Verdict.FAIL),
        (claimed(Quantity.ATTENUATION, 40.0), 45.0, Verdict.PASS),
        (claimed(Quantity.ATTENUATION, 40.0), 39.0, Verdict.FAIL),
        (claimed(Quantity.INSERTION_LOSS, 0.3), 0.1, Verdict.PASS),
        (claimed(Quantity.INSERTION_LOSS, 0.3), 0.4, Verdict.FAIL),
        (claimed(Quantity.INSERTION_LOSS, 0.3), 0.3, Verdict.TOO_CLOSE),
    ],
)
def test_what_goes_through_is_judged_at_every_point(claim, db, expected):
    found, words = verdict(claim, pad(db))
    assert found is expected, words


@pytest.mark.parametrize(
    ("window", "expected"),
    [(Window(2e6, 29e6, "lower"), Verdict.NOT_SHOWN), (Window(7.0e6, 7.2e6, "40m"), Verdict.PASS),
     (Window(40e6, 50e6, "above"), Verdict.NOT_SHOWN), (Window(14.2e6, 14.2e6, "spot"), Verdict.PASS)],
)  # fmt: skip
def test_a_window_is_shown_where_it_was_swept_finely_enough(window, expected):
    claim = claimed(Quantity.INSERTION_LOSS, 0.3)
    assert verdict(claim, pad(0.1), window)[0] is expected


def test_a_step_that_could_hide_something_shows_nothing():
    coarse = TwoPort(F[::60], pad(0.1).s21[::60])
    found, words = verdict(claimed(Quantity.INSERTION_LOSS, 0.3), coarse)
    assert found is Verdict.NOT_SHOWN
    assert "or less" in words


def test_db_against_ohm():
    assert [round(db, 2) for _, db in explained()] == [20.83, 34.15]
