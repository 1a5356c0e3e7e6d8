import numpy as np
import pytest

from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.resonances import find_resonances
from levelmoor.core.rf.sweep import Sweep


def test_series_and_parallel_are_told_apart():
    # A parallel LC (pole of X at 20 MHz) in series with an L: X rises through zero below and falls through the pole.
    f = np.linspace(10e6, 30e6, 20001)
    pole = 1 / (1e-3 + 1j * (f / 20e6 - 20e6 / f) / 100)
    z = 20 + pole + 1j * 60 * (f / 15e6)
    found = find_resonances(Sweep(f, gamma_from_impedance(z, 50)))
    signs = np.flatnonzero(np.diff(np.sign(z.imag)))
    assert [r.kind for r in found] == ["series" if z.imag[i + 1] > 0 else "parallel" for i in signs]
    assert [r.frequency_hz for r in found] == pytest.approx(f[signs], abs=1500)


def test_scalar_sweep_has_none():
    f = np.linspace(1e6, 2e6, 50)
    assert find_resonances(Sweep(f, np.linspace(-0.5, 0.5, 50).astype(complex), scalar=True)) == []


def test_exact_zero_at_a_point_counts_once():
    f = np.linspace(1e6, 2e6, 21)
    found = find_resonances(Sweep(f, 0.3 + 1j * np.linspace(-0.2, 0.2, 21)))
    assert [r.frequency_hz for r in found] == [1.5e6]
