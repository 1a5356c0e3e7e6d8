"""Presets solved from the network: on each band, and between those that were noted."""

from dataclasses import replace

import numpy as np
import pytest

from levelmoor.core.matching.preset_card import foresee_dials, preset_cards
from levelmoor.core.matching.solutions import generic_network, match_at, solutions
from levelmoor.core.matching.solved_presets import load_at, noted_of, solved_at, solved_presets
from levelmoor.core.model.networks import NetworkKind
from levelmoor.core.model.trials import DialPosition, Outcome, Trial
from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window

NETWORK = generic_network(NetworkKind.T)
BANDS = [Window(14e6, 14.35e6, "20m"), Window(18.068e6, 18.168e6, "17m"), Window(24.89e6, 24.99e6, "12m")]


def antenna():
    """A wire whose resistance and reactance go through a wide resonance (a made-up article)."""
    f = np.linspace(12e6, 26e6, 561)
    z = 30 + 400 * np.exp(-(((f - 17e6) / 3e6) ** 2)) + 1j * 300 * np.tanh((17e6 - f) / 2e6)
    return Sweep(f, np.asarray(gamma_from_impedance(z, 50.0)))


def noted(hz, shift=0.0):
    """A trial at the least loss, its antenna dial noted a little off the table."""
    best = solutions(NETWORK, hz, load_at(antenna(), hz))[0]
    dials = tuple(
        DialPosition(NETWORK.knob(p).name, f"{best.dials[p] + (shift if p.value == 'c_out' else 0):.2f}")
        for p in NETWORK.parts
    )
    return Trial(
        f"{hz:.0f}", "s", "u", hz, Outcome.MATCHED, load="wire", load_sweep_id="w", swr_after=1.1, dials=dials,
        network_id=NETWORK.id,
    )  # fmt: skip


def swr_at(preset):
    dials = {p: mark for p, (mark, _) in preset.marks.items()}
    return match_at(NETWORK, dials, preset.frequency_hz, load_at(antenna(), preset.frequency_hz)).swr


def test_between_bands_the_network_is_solved_and_does_better_than_a_straight_line():
    trials = [noted(14.2e6), noted(18.1e6)]
    found = solved_at(NETWORK, antenna(), noted_of(NETWORK, antenna(), trials), 16e6)
    assert found.matched and swr_at(found) < 1.2
    (card,) = preset_cards(trials, [NETWORK], {"w": antenna()}, 1)
    line = foresee_dials(card, 16e6)
    if line is not None:
        parts = {NETWORK.knob(p).name: p for p in NETWORK.parts}
        dials = {parts[knob]: at for knob, at, _ in line.at}
        assert match_at(NETWORK, dials, 16e6, load_at(antenna(), 16e6)).swr > swr_at(found)


def test_every_band_that_was_swept_has_its_line():
    lines = solved_presets(NETWORK, antenna(), [], [*BANDS, Window(7e6, 7.2e6, "40m")])
    assert [one.name for one in lines] == ["20m", "17m", "12m"]
    assert all(swr_at(one) < 1.05 for one in lines if one.matched)
    assert all(u is None for one in lines for _, u in one.marks.values())


def test_noted_marks_move_those_that_the_tables_give_and_say_how_sure_they_are():
    trials = [noted(13.0e6, 0.5), noted(14.2e6, 0.6)]
    found = noted_of(NETWORK, antenna(), trials)
    part = next(p for p in NETWORK.parts if p.value == "c_out")
    assert found.off[part] == pytest.approx([0.5, 0.6], abs=0.1)
    assert 0.05 < solved_at(NETWORK, antenna(), found, 15e6).marks[part][1] < 0.3


def test_what_was_not_swept_is_not_solved():
    assert solved_at(NETWORK, antenna(), noted_of(NETWORK, antenna(), []), 7e6) is None
    flat = replace(antenna(), scalar=True)
    assert solved_at(NETWORK, flat, noted_of(NETWORK, flat, []), 18e6) is None
