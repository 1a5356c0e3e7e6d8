"""Tables of dials learnt from sweeps with known loads: which marks, how well, and what is kept."""

from dataclasses import replace

import numpy as np
import pytest

from levelmoor.core.matching.knobs import foreseen_gamma
from levelmoor.core.matching.learnt_tables import learn_tables
from levelmoor.core.matching.solutions import generic_network
from levelmoor.core.model.networks import Network, NetworkKind, Part

TRUE = generic_network(NetworkKind.PI)
LOADS = (25 + 0j, 100 + 0j)


def seen_at(*settings, noise=0.0):
    """What sweeps of the true network show with its knobs at these marks, in the parts' order."""
    chance = np.random.default_rng(4)
    found = []
    for marks in settings:
        dials = dict(zip(TRUE.parts, marks, strict=True))
        for hz in (3.6e6, 7.1e6, 14.1e6):
            for load in LOADS:
                gamma = complex(foreseen_gamma(TRUE, dials, hz, load)) + noise * complex(*chance.normal(size=2))
                found.append((hz, dials, load, gamma))
    return found


def guess(right=()):
    return Network("n", "n", NetworkKind.PI, tuple(
        k if k.part in right else replace(k, value=tuple(v * 1.4 + 1 for v in k.value)) for k in TRUE.knobs))  # fmt: skip


EVERYWHERE = [tuple(np.random.default_rng(n).uniform(0, 100, 3)) for n in range(14)]


def test_tables_are_learnt_from_sweeps_with_known_loads():
    found = learn_tables(guess(), seen_at(*EVERYWHERE, noise=2e-3))
    assert found.left < 5e-3
    for mark, (value, _) in zip(found.marks, [(v, k) for k in TRUE.knobs for v in k.value], strict=True):
        if mark.u is not None:
            assert abs(mark.value - value) <= 4 * mark.u
    assert sum(m.u is not None for m in found.marks) >= 4


def test_one_setting_teaches_nothing_and_changes_no_mark():
    with pytest.raises(ValueError, match="at least two, with different marks"):
        learn_tables(guess(), seen_at((10, 50, 90)))


def test_marks_that_were_not_seen_twice_are_kept_and_told():
    """The transmitter's capacitor stands at one end in all settings but one."""
    settings = [(0, 20, 30), (0, 60, 80), (0, 40, 50), (100, 30, 60)]
    before = guess((Part.C_IN,))
    found = learn_tables(before, seen_at(*settings))
    high = next(m for m in found.marks if m.knob == before.knob(Part.C_IN).name and m.mark == 100)
    assert (high.u, high.settings) == (None, 1)
    assert found.network.knob(Part.C_IN).value[-1] == pytest.approx(before.knob(Part.C_IN).value[-1])
    assert "kept at" in high.words


def test_marks_that_are_not_those_of_the_sweeps_teach_nothing():
    random = np.random.default_rng(5)
    seen = [
        (7.1e6, {p: float(random.uniform(0, 100)) for p in TRUE.parts}, 50 + 0j, complex(np.exp(1j * n)))
        for n in range(12)
    ]
    with pytest.raises(ValueError, match="unexplained"):
        learn_tables(TRUE, seen)
