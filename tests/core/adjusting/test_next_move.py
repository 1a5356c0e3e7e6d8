"""The next move: its direction and amount, what holds it back, and when there is none."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.adjusting.next_move import CUT_SHARE, Aim, Standing, advise
from levelmoor.core.adjusting.response import Observation, Response
from levelmoor.core.model.adjusting import Element, ElementKind
from levelmoor.core.rf.windows import Window

TWO = Aim(Window(144e6, 146e6, "2m"), 145e6, 1.5)
FOUR = Aim(Window(70e6, 70.5e6, "4m"), 70.25e6, 1.5)


def whip(**more):
    return Element("w", "Whip", ElementKind.WHIP, "cm", 50.0, **more)


def told(element, dip_hz, aims=(TWO,), rounds=(), **standing):
    at = {element.id: element.at}
    seen = [*rounds, Observation(at, {0: (dip_hz, 1e4)})]
    response = Response([element], [a.window.name for a in aims], [a.wanted_hz for a in aims], seen)
    return advise(response, aims, at, [Standing(dip_hz, 1e4, **standing)])


@pytest.mark.parametrize(("dip_hz", "sign"), [(130e6, -1), (160e6, 1)])
def test_a_dip_below_is_shortened_and_one_above_lengthened(dip_hz, sign):
    # Dip below the wanted frequency: the element is long (common practice, no source).
    (move,) = told(whip(), dip_hz).moves
    assert move.by * sign > 0


def test_what_makes_it_shorter_the_more_there_is_goes_the_other_way():
    (move,) = told(whip(lengthens=False), 130e6).moves
    assert move.by > 0


@given(dip_hz=st.floats(100e6, 144e6))
def test_what_is_cut_keeps_away_from_the_whole_way(dip_hz):
    moves = told(whip(cut=True), dip_hz).moves
    whole = 50.0 * (1 - dip_hz / 145e6)  # f L is constant: what a whole element lacks at the least
    assert sum(-m.by for m in moves) <= CUT_SHARE * whole * 1.1 + 0.2


@given(dip_hz=st.floats(100e6, 180e6), low=st.floats(40.0, 50.0), high=st.floats(50.0, 60.0))
def test_nothing_goes_farther_than_it_can(dip_hz, low, high):
    for move in told(whip(low=low, high=high), dip_hz).moves:
        assert low - 0.1 <= 50.0 + move.by <= high + 0.1


def test_at_its_end_another_part_has_to_be_moved():
    advice = told(whip(low=50.0, high=60.0), 130e6)
    assert not advice.moves and "move another part" in advice.words[0]


def of_two(element, two, four):
    """The advice for 2 m and 4 m, of which either may have no dip yet."""
    at = {element.id: element.at}
    dips = {k: (s.dip_hz, 1e4) for k, s in enumerate((two, four)) if s.dip_hz}
    response = Response([element], ["2m", "4m"], [TWO.wanted_hz, FOUR.wanted_hz], [Observation(at, dips)])
    return advise(response, (TWO, FOUR), at, [two, four])


UNSEEN, LOW = Standing(None), Standing(130e6, 1e4)


def test_a_band_without_a_dip_does_not_silence_the_others():
    advice = of_two(whip(), LOW, UNSEEN)
    assert [m.by < 0 for m in advice.moves] == [True]
    assert advice.expected[0] is not None and advice.expected[1] is None
    assert "No dip for 4m yet" in advice.words[-1]


def test_nothing_is_cut_that_a_band_without_a_dip_depends_on():
    advice = of_two(whip(cut=True), LOW, UNSEEN)
    assert advice.moves == () and "No dip for 4m yet" in advice.words[0]
    assert of_two(whip(cut=True, bands=("2m",)), LOW, UNSEEN).moves


@pytest.mark.parametrize("other", [UNSEEN, Standing(145e6, 1e4, within=True)], ids=["unseen", "within"])
def test_for_an_unseen_band_alone_nothing_is_moved(other):
    advice = of_two(whip(), other, UNSEEN)
    assert advice.moves == () and not advice.done and "No dip for" in advice.words[0]


def test_within_every_limit_it_says_stop():
    advice = told(whip(), 145e6, within=True)
    assert (advice.moves, advice.done) == ((), True)
    assert "stop here" in advice.words[0]


def test_a_dip_that_is_where_it_is_wanted_and_too_high_wants_a_match():
    advice = told(whip(), 145.01e6, best_swr=1.79, resistance_ohm=28.0)
    assert advice.done and not advice.moves
    assert advice.words == (
        "2m: length gains nothing more. The feed resistance is 28 ohm, so no length brings it under 1.79; a match "
        "would.",
    )


def test_without_a_dip_it_asks_for_a_wider_sweep():
    response = Response([whip()], ["2m"], [145e6], [])
    advice = advise(response, [TWO], {"w": 50.0}, [Standing(None)])
    assert not advice.moves and "sweep from half to twice" in advice.words[0]


def test_elements_that_were_always_moved_together_are_refused_with_what_to_do():
    parts = [Element(i, f"Rod {i}", ElementKind.WHIP, "cm", 50.0) for i in ("a", "b")]
    seen = [Observation({"a": x, "b": x}, {0: (130e6 * 50 / x, 1e4)}) for x in (50.0, 48.0, 46.0)]
    advice = advise(Response(parts, ["2m"], [145e6], seen), [TWO], {"a": 46.0, "b": 46.0}, [Standing(141e6, 1e4)])
    assert not advice.moves
    assert "Move Rod a a little, by itself, and sweep." in advice.words[0]


def test_bands_that_are_right_cost_no_move_of_their_own():
    rods = [
        Element("4", "Long rod", ElementKind.PARALLEL, "cm", 100.0, bands=("4m",)),
        Element("2", "Short rod", ElementKind.PARALLEL, "cm", 50.0, bands=("2m",)),
    ]
    seen = [Observation({"4": 100.0, "2": 50.0}, {0: (70.25e6, 1e3), 1: (140e6, 1e4)})]
    response = Response(rods, ["4m", "2m"], [70.25e6, 145e6], seen)
    advice = advise(response, [FOUR, TWO], {"4": 100.0, "2": 50.0}, [Standing(70.25e6), Standing(140e6)])
    assert [m.element_id for m in advice.moves] == ["2"]


def test_every_expected_dip_comes_with_its_interval():
    advice = told(whip(), 130e6)
    (foreseen,) = advice.expected
    assert foreseen.low_hz < 145e6 < foreseen.high_hz
