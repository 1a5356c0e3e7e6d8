"""Starting lengths, the other way round, and what is asked about."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.adjusting.starting_length import (
    LIGHT_M_PER_S,
    Learnt,
    Resonator,
    asked_about,
    learnt,
    loaded_hz,
    loading_coil_henry,
    usual,
)


def test_a_quarter_wave_in_free_space():
    # 37.5 cm at 200 MHz (common practice, no source).
    assert Learnt(0.25).length_m(200e6) == pytest.approx(0.3747, abs=1e-4)


@pytest.mark.parametrize(
    ("kind", "feet_mhz"), [(Resonator.HALF, 468.0), (Resonator.QUARTER, 234.0), (Resonator.LOOP, 1005.0)]
)
def test_the_handbook_lengths(kind, feet_mhz):
    # 468/f, 234/f and 1005/f feet at f in MHz: handbooks for radio amateurs (memory).
    assert usual(kind).length_m(7.1e6) == pytest.approx(feet_mhz / 7.1 * 0.3048, rel=2e-3)


@given(kind=st.sampled_from(list(Resonator)), hz=st.floats(1e6, 500e6), velocity=st.floats(0.6, 1.0))
def test_length_and_frequency_are_the_other_way_round(kind, hz, velocity):
    by = usual(kind, velocity)
    assert by.frequency_hz(by.length_m(hz)) == pytest.approx(hz, rel=1e-9)


@given(share=st.floats(0.2, 0.6), more=st.floats(0.0, 0.2), one=st.floats(0.3, 2.0), longer=st.floats(1.1, 3.0))
def test_two_pairs_teach_the_share_and_the_end(share, more, one, longer):
    truth = Learnt(share, more)
    found = learnt(Resonator.QUARTER, [(x, truth.frequency_hz(x)) for x in (one, one * longer)])
    assert (found.share, found.more_m) == (pytest.approx(share, rel=1e-6), pytest.approx(more, abs=1e-6))


def test_pairs_of_which_the_longer_one_is_the_higher_are_refused():
    with pytest.raises(ValueError, match="check them for a slip"):
        learnt(Resonator.QUARTER, [(0.5, 130e6), (0.6, 140e6)])


@pytest.mark.parametrize(("length_m", "asked"), [(0.58, "122.9 MHz; 48.2 cm would be 148"), (0.48, ""), (0.44, "")])
def test_a_length_that_gives_another_frequency_is_asked_about(length_m, asked):
    assert asked in asked_about(Resonator.QUARTER, length_m, 148e6)
    assert bool(asked) == bool(asked_about(Resonator.QUARTER, length_m, 148e6))


@given(hz=st.floats(2e6, 25e6), at=st.floats(0.0, 0.8))
def test_a_coil_and_its_resonance_are_the_other_way_round(hz, at):
    length = 1.9
    henry = loading_coil_henry(hz, length, 3e-3, at * length)
    assert loaded_hz(henry, length, 3e-3, at * length) == pytest.approx(hz, rel=1e-5)


def test_a_coil_higher_up_has_to_be_larger():
    coils = [loading_coil_henry(7.1e6, 1.9, 3e-3, x) for x in (0.1, 0.6, 1.2)]
    assert coils == sorted(coils)


def test_a_whip_that_is_long_enough_takes_no_coil():
    with pytest.raises(ValueError, match="without a coil"):
        loading_coil_henry(0.98 * LIGHT_M_PER_S / (4 * 1.9), 1.9, 3e-3, 0.0)
