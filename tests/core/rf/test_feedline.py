"""Feed lines: the reference plane moved, its cost, and the cable check.

Figures from the line's definition and from amateur handbooks' formula for additional loss (memory); the moved plane
against scikit-rf's transmission line.
"""

from dataclasses import replace

import numpy as np
import pytest
import skrf
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.bench.cable_check import check_cable
from levelmoor.core.metrology.uncertainty import Residuals, standard_uncertainty
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.feedline import (
    LineFigures,
    can_be_moved,
    carried_uncertainty,
    move_plane,
    sweep_at_far_end,
    total_loss_db,
)
from levelmoor.core.rf.line_types import find_line_type, line_types
from levelmoor.core.rf.reflection import LIGHT_M_PER_S, gamma_from_swr, swr_from_gamma
from levelmoor.core.rf.sweep import Sweep
from tests.codes import codes


@pytest.mark.parametrize(
    ("swr", "loss", "seen"), [(np.inf, 3.0, 3.01), (5.0, 1.0, 3.25), (5.0, 3.0, 2.00), (1.0, 2.0, 1.0)]
)
def test_loss_lowers_the_swr_that_is_seen(swr, loss, seen):
    near = move_plane(gamma_from_swr(swr), 1e6, -loss, 0.0)
    assert float(swr_from_gamma(complex(near))) == pytest.approx(seen, abs=0.005)


@pytest.mark.parametrize(("matched", "swr", "total"), [(1.0, 3.0, 1.504), (3.0, 2.0, 3.389), (1.0, 1.0, 1.0)])
def test_total_loss_of_a_mismatched_line(matched, swr, total):
    assert float(total_loss_db(matched, gamma_from_swr(swr))) == pytest.approx(total, abs=5e-4)


def test_moved_plane_is_scikit_rfs_line():
    f = np.linspace(50e6, 150e6, 31)
    alpha_np, beta = 0.02, 2 * np.pi * f / (0.66 * LIGHT_M_PER_S)
    media = skrf.media.DefinedGammaZ0(skrf.Frequency.from_f(f, unit="hz"), gamma=alpha_np + 1j * beta, z0=50)
    load = 0.4 * np.exp(1j * np.linspace(0, 3, f.size))
    near = (media.line(7.5, "m") ** skrf.Network(f=f, f_unit="hz", s=load.reshape(-1, 1, 1), z0=50)).s[:, 0, 0]
    loss = 7.5 * alpha_np * 20 / np.log(10)
    assert move_plane(near, f, loss, 7.5 / (0.66 * LIGHT_M_PER_S)) == pytest.approx(load, abs=1e-9)


@given(st.floats(0, 6), st.floats(0, 1e-6), st.floats(0.01, 0.99))
def test_there_and_back_is_where_it_was(loss, delay, magnitude):
    f = np.array([1e6, 30e6, 500e6])
    gamma = magnitude * np.exp(1j * np.array([0.1, 1.0, 2.0]))
    assert move_plane(move_plane(gamma, f, loss, delay), f, -loss, -delay) == pytest.approx(gamma, abs=1e-9)


@given(st.floats(0.0, 0.9), st.floats(0.001, 0.05), st.floats(0, 6), st.floats(0, 0.5))
def test_moving_through_a_line_never_makes_surer(magnitude, u_near, loss, u_loss):
    line = LineFigures(Curve((1e6,), (loss,)), 0.0, u_loss)
    assert float(carried_uncertainty(magnitude, u_near, line, 1e6)) >= u_near * (1 - 1e-12)


def test_carried_uncertainty_by_hand():
    """3 dB line: a = 10^0.3 = 1.9953; 0.01 becomes 0.01995; 0.1 dB of loss on |gamma| 0.5 adds 0.5 ln10/10 0.1 = 0.0115."""
    line = LineFigures(Curve((1e6,), (3.0,)), 0.0, 0.0)
    assert float(carried_uncertainty(0.5, 0.01, line, 1e6)) == pytest.approx(0.019953, abs=1e-6)
    lossy = float(carried_uncertainty(0.5, 0.01, replace(line, u_loss_db=0.1), 1e6))
    assert lossy == pytest.approx(np.hypot(0.019953, 0.011513), abs=1e-6)


def test_a_line_of_75_ohm_moves_what_is_referred_to_its_own_impedance():
    """By the line equation: 50 ohm at the far end of a lossless quarter wave of 75 ohm reads 75^2/50 = 112.5 ohm; taken
    back through it, it is a perfect match again (Pozar, Microwave Engineering, ch. 2 (memory))."""
    f = np.array([50e6])
    near = Sweep(f, np.array([(112.5 - 50) / (112.5 + 50) + 0j]))
    line = LineFigures(Curve((50e6,), (0.0,)), 1 / (4 * 50e6), 0.0, 75.0)
    assert abs(sweep_at_far_end(near, line).gamma[0]) < 1e-12


def test_a_scalar_sweep_is_not_moved_through_a_line_of_another_impedance():
    sweep = Sweep(np.array([1e6, 2e6]), np.array([0.2 + 0j, 0.3 + 0j]), scalar=True)
    assert not can_be_moved(sweep, LineFigures(Curve((1e6,), (1.0,)), 0.0, 0.0, 75.0))
    assert can_be_moved(sweep, LineFigures(Curve((1e6,), (1.0,)), 0.0, 0.0, 50.5))


def test_figures_through_a_line_are_those_at_its_near_end_carried():
    line = LineFigures(Curve((1e6, 100e6), (2.0, 2.0)), 0.0, 0.1)
    bench = Residuals(line=line)
    a = 10**0.2
    near = float(standard_uncertainty(0.3 / a, Residuals()))
    assert float(standard_uncertainty(0.3, bench, 0.0, 50e6)) == pytest.approx(
        float(carried_uncertainty(0.3, near, line, 50e6))
    )


def test_scalar_sweep_is_moved_in_size_alone():
    sweep = Sweep(np.array([1e6, 2e6]), np.array([0.2 + 0j, 0.3 + 0j]), scalar=True)
    moved = sweep_at_far_end(sweep, LineFigures(Curve((1e6,), (3.0,)), 1e-7, 0.1))
    assert moved.gamma == pytest.approx(np.array([0.2, 0.3]) * 10**0.3)


# -- The cable check -------------------------------------------------------------------------------------------------


def swept(length, loss_factor=1.0, kind="RG-213", echo=None, top=150e6, points=401, end=1.0, noise=3e-4):
    """A line with its far end open, as the definition has it; `echo` is place in m and size."""
    line = find_line_type(kind)
    f = np.linspace(1e6, top, points)

    def arrives(metres, size):
        return move_plane(
            np.full(f.size, size + 0j),
            f,
            -line.loss_db(f, metres) * loss_factor,
            -metres / (LIGHT_M_PER_S * line.velocity),
        )

    gamma = arrives(length, end)
    if echo:
        gamma = gamma + arrives(*echo)
    rng = np.random.default_rng(1)
    return Sweep(f, gamma + noise * (rng.standard_normal(points) + 1j * rng.standard_normal(points)))


@pytest.mark.parametrize("kind", sorted(line_types()))
@pytest.mark.parametrize("length", [5.0, 12.0, 30.0])
def test_good_line_of_every_type_shows_no_fault(kind, length):
    sweep = swept(length, kind=kind)
    if find_line_type(kind).z0_ohm != 50:
        sweep = Sweep(sweep.frequency_hz, sweep.gamma, find_line_type(kind).z0_ohm).referred_to(50.0)
    found = check_cable(sweep, find_line_type(kind), length)
    assert found.sound, found.words
    assert "line.beyond" in codes(found.words)
    assert found.z0_ohm is None or found.z0_ohm == pytest.approx(find_line_type(kind).z0_ohm, rel=0.03)
    assert found.length_m == pytest.approx(length, rel=0.01)
    assert found.loss_db.value[-1] == pytest.approx(found.table_db.value[-1], abs=0.1 + 0.1 * found.table_db.value[-1])


def test_shorted_end_does_as_well_as_an_open_one():
    assert check_cable(swept(20, end=-1.0), find_line_type("RG-213"), 20).sound


def of_75_ohm(length, top=150e6):
    """The same line made with 75 ohm, swept with an analyzer of 50 ohm."""
    sweep = swept(length, top=top)
    return Sweep(sweep.frequency_hz, sweep.gamma, 75.0).referred_to(50.0)


def test_pair_of_connectors_is_told_and_is_no_fault():
    """A short bump of a pair of plain connectors grows with frequency: 0.08 at 500 MHz in the middle of the line."""
    plain = swept(20, top=500e6, points=1601)
    bump = swept(10, top=500e6, points=1601, end=0.08)
    f = plain.frequency_hz
    found = check_cable(Sweep(f, plain.gamma + bump.gamma * f / f[-1]), find_line_type("RG-213"), 20)
    assert found.sound, found.words


@pytest.mark.parametrize(
    ("line", "words"),
    [
        (swept(20, loss_factor=2.0), "dB is usual: it may be old, wet or another type"),
        (swept(20, loss_factor=0.4), "shorter, or another type"),
        (swept(12), r"ends after 12\.0 m of 20 m"),
        (swept(26), r"26\.0 m long electrically"),
        (swept(20, echo=(8.0, 0.15)), r"echo at 8\.\d m"),
        (swept(16), r"ends after 16\.0 m of 20 m"),
        (swept(16, top=30e6), r"ends after 16\.\d m of 20 m"),
        (swept(20, loss_factor=1.5, top=30e6), "dB is usual: it may be old, wet or another type"),
        (of_75_ohm(20), "it has 7. Ω, not 50 Ω"),
        (of_75_ohm(20, top=30e6), "it has 7. Ω, not 50 Ω"),
    ],
)
def test_bad_line_is_told_with_its_reason(line, words):
    found = check_cable(line, find_line_type("RG-213"), 20)
    assert not found.sound
    assert any(__import__("re").search(words, r) for r in found.reasons), found.reasons


def test_sweep_too_coarse_for_the_length_says_which_step_would_do():
    with pytest.raises(ValueError, match=r"sweep with steps of (\d+) kHz or less") as said:
        check_cable(swept(60, points=61), find_line_type("RG-213"), 60)
    step = 1e3 * int(str(said.value).rsplit("steps of ", 1)[1].split()[0])
    assert check_cable(swept(60, points=int(149e6 / step) + 2), find_line_type("RG-213"), 60).length_m


def test_unknown_type_names_those_there_are():
    with pytest.raises(ValueError, match="RG-213"):
        find_line_type("RG-999")
    assert find_line_type("rg 58/u").name == "RG-58"


@pytest.mark.parametrize(
    ("kind", "mhz", "db_per_100m", "tolerance"),
    [("RG-58", 100, 16, 2), ("RG-213", 100, 7, 1), ("RG-174", 100, 28, 3), ("low-loss foam 10 mm", 100, 4.1, 0.5)],
)
def test_table_is_near_handbook_figures(kind, mhz, db_per_100m, tolerance):
    """Matched loss at 100 MHz per 100 m, handbook tables (memory)."""
    assert float(find_line_type(kind).loss_db(mhz * 1e6, 100)) == pytest.approx(db_per_100m, abs=tolerance)


@given(st.floats(0, 3), st.floats(0, 200e-9), st.floats(0, 0.1))
def test_a_line_backwards_undoes_it_and_its_uncertainty(loss, delay, u_loss):
    line = LineFigures(Curve((1e6, 30e6), (loss / 2, loss)), delay, u_loss)
    f = np.linspace(1e6, 30e6, 31)
    near = Sweep(f, 0.4 * np.exp(2j * np.pi * f / 7e6))
    far = sweep_at_far_end(near, line)
    assert np.allclose(sweep_at_far_end(far, line.backwards).gamma, near.gamma)
    at_near = standard_uncertainty(far.magnitude, Residuals(line=line), 0.0, f)
    assert np.all(at_near >= standard_uncertainty(near.magnitude, Residuals(), 0.0, f) - 1e-12)
