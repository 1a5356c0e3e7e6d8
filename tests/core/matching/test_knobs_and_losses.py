"""Dials and their tables; what a match leaves for the antenna; the card of presets."""

import numpy as np
import pytest

from levelmoor.core.matching.behind_match import behind_match, behind_swept
from levelmoor.core.matching.guided_steps import guided_steps
from levelmoor.core.matching.knobs import value_at
from levelmoor.core.matching.preset_card import foresee_dials, preset_cards
from levelmoor.core.matching.solutions import generic_network, match_at, solutions, with_loss
from levelmoor.core.model.networks import Knob, Network, NetworkKind, Part
from levelmoor.core.model.trials import DialPosition, Outcome, Trial
from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.sweep import Sweep

INVERTED = Knob(Part.C_IN, "C", 0, 10, (0, 5, 10), (250, 120, 10))
TAPS = Knob(Part.COIL, "tap", 1, 4, (1, 2, 4), (1, 2, 8), steps=True)


@pytest.mark.parametrize(("dial", "pf"), [(0, 250), (2.5, 185), (10, 10), (12, 10)])
def test_an_inverted_dial_is_read_by_its_table(dial, pf):
    assert float(value_at(INVERTED, dial)) == pytest.approx(pf * 1e-12)


def test_the_other_half_of_a_double_capacitor_is_what_is_left():
    network = generic_network(NetworkKind.DIFFERENTIAL_T)
    match = match_at(network, {Part.C_IN: 30.0, Part.COIL: 50.0}, 7e6, 50)
    assert match.values[Part.C_IN] + match.values[Part.C_OUT] == pytest.approx(260e-12)


def test_a_switched_coil_is_set_to_its_own_taps_alone():
    c = Knob(Part.C_IN, "a", 0, 100, (0, 100), (10, 500)), Knob(Part.C_OUT, "b", 0, 100, (0, 100), (10, 500))
    network = Network("n", "n", NetworkKind.T, (c[0], TAPS, c[1]))
    assert {m.dials[Part.COIL] for m in solutions(network, 7.1e6, 25 - 50j)} <= {1, 2, 4}


def test_power_makes_watts_by_itself_volts_and_amperes_by_its_root():
    load = 25 - 50j
    one = solutions(generic_network(NetworkKind.T), 7.1e6, load)[0]
    at_100 = with_loss(one, 100.0)
    into_load = 100 * one.share
    assert sum(at_100.watts.values()) + into_load == pytest.approx(100)
    peak_a = np.sqrt(2 * into_load / load.real)  # P = Î² R / 2 (memory)
    assert at_100.load_peak_v == pytest.approx(peak_a * abs(load))
    coil = 2 * np.pi * 7.1e6 * one.values[Part.COIL]
    assert at_100.peak_v[Part.COIL] == pytest.approx(np.sqrt(2) * at_100.rms_a[Part.COIL] * coil, rel=1e-3)


def test_two_capacitors_are_tuned_together_to_no_reflection_at_each_place_of_the_coil():
    load, network = 25 - 50j, generic_network(NetworkKind.T)
    found = solutions(network, 7.1e6, load)
    assert len({m.dials[Part.COIL] for m in found}) > 3
    assert max(m.swr for m in found) < 1.0001


@pytest.mark.parametrize(
    ("values", "problem"),
    [
        (((0, 1), (1, 1)), "must rise all the way"),
        (((0,), (1,)), "at least two marks"),
        (((1, 0), (1, 2)), "marks in the table"),
    ],
)
def test_a_table_that_is_none_is_refused(values, problem):
    with pytest.raises(ValueError, match=problem):
        Knob(Part.COIL, "coil", 0, 10, *values)


# -- What a match leaves -----------------------------------------------------------------------------------------------


def test_a_fine_swr_into_an_antenna_for_another_band_is_warned_of():
    """A whip for 2 m on 40 m is a few hundredths of an ohm behind some 2000 ohm of capacitance."""
    network = Network("n", "n", NetworkKind.T, (
        Knob(Part.C_IN, "a", 0, 100, (0, 100), (5, 500)), Knob(Part.COIL, "l", 0, 100, (0, 100), (0.1, 60)),
        Knob(Part.C_OUT, "b", 0, 100, (0, 100), (5, 500))))  # fmt: skip
    load = 0.04 - 2000j
    match = solutions(network, 7.1e6, load)[0]
    left = behind_match(network, match.dials, 7.1e6, load, swr_seen=1.1)
    assert left.share < 0.01
    assert "hides a load" in left.warnings[0]


@pytest.mark.parametrize(("q_source", "wider"), [("typical of its kind", True), ("measured on a Q meter", False)])
def test_a_typical_q_leaves_more_open_than_a_measured_one(q_source, wider):
    network = generic_network(NetworkKind.T)
    dials = solutions(network, 3.6e6, 10 + 0j)[0].dials
    left = behind_match(Network(**{**vars(network), "q_source": q_source}), dials, 3.6e6, 10 + 0j)
    assert left.low < left.share < left.high
    assert (left.high - left.low > 0.1) is wider


def test_the_line_behind_the_tuner_takes_its_part():
    """1 dB of matched loss at SWR 3 is 1.504 dB in all (amateur handbooks (memory))."""
    network = generic_network(NetworkKind.T)
    dials = solutions(network, 7.1e6, 100 + 0j)[0].dials
    alone, with_line = (behind_match(network, dials, 7.1e6, 100 + 0j, line=x) for x in (None, (1.0, 0.5)))
    assert -10 * np.log10(with_line.share / alone.share) == pytest.approx(1.504, abs=0.002)


@pytest.mark.parametrize("load", [None, 100 + 0j])
def test_without_network_or_load_the_share_is_not_known(load):
    left = behind_match(None, {}, 7e6, load, line=(3.0, 0.333))
    assert left.share is None
    assert bool(left.usual) is (load is not None)
    assert "is unknown" in left.words
    assert left.high < 0.5


def test_what_passes_the_rating_is_said_with_its_part():
    network = Network(**{**vars(generic_network(NetworkKind.T)), "rated_v": 500.0})
    dials = solutions(network, 3.6e6, 10 + 0j)[0].dials
    assert "above its 500 V" in behind_match(network, dials, 3.6e6, 10 + 0j, 1000.0).warnings[0]


def test_a_sweep_through_the_tuner_decides_what_it_keeps():
    assert behind_swept(0.5, None, 1.2).share == 0.5
    assert "3.01 dB" in behind_swept(0.5, None, 1.2).words
    assert "hides a load" in behind_swept(0.05, None, 1.2).warnings[0]


# -- By hand, and the card ---------------------------------------------------------------------------------------------


@pytest.mark.parametrize("kind", NetworkKind)
def test_the_steps_begin_at_mid_scale_and_end_with_the_stop(kind):
    words = [s.words for s in guided_steps(generic_network(kind))]
    assert words[0].startswith("Set the capacitors to mid scale")
    assert "stop" in words[-1]
    assert ("there are two matches" in " ".join(words)) is (kind in (NetworkKind.T, NetworkKind.DIFFERENTIAL_T))


def _trial(n, hz, marks, load="Wire", **more):
    dials = tuple(
        DialPosition(k, f"{m:g}") for k, m in zip(("transmitter side", "coil", "antenna side"), marks, strict=True)
    )
    return Trial(str(n), "1", "1", hz, Outcome.MATCHED, load=load, swr_after=1.1, dials=dials, **more)


def test_each_antenna_has_a_card_and_the_latest_setting_counts():
    trials = [
        _trial(1, 7.1e6, (40, 20, 30), taken_on="2026-10-01"), _trial(2, 7.1e6, (41, 20, 30), taken_on="2026-10-02"),
        _trial(3, 7.1e6, (10, 20, 30), load="Loop"), Trial("4", "1", "1", 7.2e6, Outcome.GAVE_UP, load="Wire"),
    ]  # fmt: skip
    wire, loop = preset_cards(trials, (), {}, 1)
    assert [p.at("transmitter side") for p in wire.presets] == ["41"]
    assert loop.antenna == "Loop"


def test_marks_between_two_settings_are_foreseen_with_a_spread():
    (card,) = preset_cards([_trial(1, 7.0e6, (40, 20, 30)), _trial(2, 7.2e6, (44, 20, 26))], (), {}, 1)
    (c_in, at, spread), *_ = foresee_dials(card, 7.1e6).at
    assert (c_in, round(at)) == ("transmitter side", 42)
    assert 0 < spread < 4
    assert foresee_dials(card, 7.3e6) is None


def test_edges_without_touching_come_from_the_antenna_as_swept():
    f = np.linspace(6.5e6, 7.7e6, 601)
    load = 40 + 1j * 900 * (f / 7.1e6 - 7.1e6 / f)
    sweep = Sweep(f, gamma_from_impedance(load, 50.0), 50.0)
    network = generic_network(NetworkKind.T)
    best = solutions(network, 7.1e6, 40 + 0j)[0]
    trial = _trial(1, 7.1e6, best.dials.values(), load_sweep_id="s", network_id="generic")
    (card,) = preset_cards([trial], (network,), {"s": sweep}, 1)
    inner, outer = card.presets[0].edges
    assert outer.low_hz < inner.low_hz < 7.1e6 < inner.high_hz < outer.high_hz
