"""The next move: its direction and amount, what holds it back, and when there is none."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.adjusting.bounded import CUT_SHARE
from levelmoor.core.adjusting.next_move import Standing, advise
from levelmoor.core.adjusting.response import Observation, Response, prior_slope
from levelmoor.core.model.adjusting import Element, ElementKind
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.targets import Aim

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


UNSEEN, LOW = Standing(None, look=((30e6, 60e6),)), Standing(130e6, 1e4)


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


@pytest.mark.parametrize(
    ("look", "said"), [(((73e6, 290e6),), "73–290"), (((73e6, 120e6), (180e6, 290e6)), "180–290"), ((), "say so")]
)
def test_without_a_dip_it_asks_for_what_was_not_swept_and_for_nothing_else(look, said):
    response = Response([whip()], ["2m"], [145e6], [])
    advice = advise(response, [TWO], {"w": 50.0}, [Standing(None, look=look)])
    assert not advice.moves and said in advice.words[0]
    assert ("sweep" in advice.words[0].replace("was swept", "")) is bool(look)


def test_of_elements_that_were_always_moved_together_one_is_moved_a_little_by_itself():
    parts = [Element(i, f"Rod {i}", ElementKind.WHIP, "cm", 50.0) for i in ("a", "b")]
    seen = [Observation({"a": x, "b": x}, {0: (130e6 * 50 / x, 1e4)}) for x in (50.0, 48.0, 46.0)]
    advice = advise(Response(parts, ["2m"], [145e6], seen), [TWO], {"a": 46.0, "b": 46.0}, [Standing(141e6, 1e4)])
    assert advice.probing and len(advice.moves) == 1
    assert abs(advice.moves[0].by) <= 0.05 * 46.0 + 0.2


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


@pytest.mark.parametrize(
    "kind", [ElementKind.HAT, ElementKind.LINK, ElementKind.COIL_WHIP, ElementKind.TRAPPED, ElementKind.TAP]
)
@given(dip_hz=st.floats(100e6, 190e6))
def test_a_part_whose_effect_is_not_known_is_moved_by_a_tenth_of_itself_at_most(kind, dip_hz):
    moves = told(Element("w", "Part", kind, "cm", 50.0), dip_hz).moves
    assert all(abs(m.by) <= 5.0 + 0.1 for m in moves)


@given(
    kind=st.sampled_from([ElementKind.WHIP, ElementKind.PARALLEL, ElementKind.LINK, ElementKind.TRAPPED]),
    dip_hz=st.floats(110e6, 190e6),
    off=st.floats(-1.0, 2.0),
)
def test_a_first_move_overshoots_by_a_third_of_the_way_at_most(kind, dip_hz, off):
    """The truth is up to twice the prior's standard deviation off its mean."""
    mean, sd = prior_slope(Element("w", "Part", kind, "cm", 50.0), "2m")
    way = math.log(TWO.wanted_hz / dip_hz)
    (*moves,) = told(Element("w", "Part", kind, "cm", 50.0), dip_hz).moves
    for move in moves:
        gone = (mean - off * sd) * math.log((50.0 + move.by) / 50.0)
        hand = abs(mean - off * sd) * 0.2 / 40
        assert abs(gone) <= 4 / 3 * abs(way) + hand and gone * way >= -hand * abs(way)


def test_a_curve_that_falls_to_the_end_of_the_sweep_says_its_direction():
    beyond = Standing(150e6 * 1.03, 4e6, beyond_hz=150e6, look=((150e6, 174e6),))
    response = Response([whip()], ["2m"], [145e6], [Observation({"w": 50.0}, {0: (154.5e6, 4e6)})])
    advice = advise(response, [TWO], {"w": 50.0}, [beyond])
    assert [m.by > 0 for m in advice.moves] == [True]
    assert "lengthen" in advice.words[-1] and "150–174" in advice.words[-1]


def test_what_is_done_says_how_far_the_target_is_and_goes_on_if_asked():
    at, now = {"w": 50.0}, [Standing(146.2e6, 1e4, within=True)]
    response = Response([whip()], ["2m"], [145e6], [Observation(at, {0: (146.2e6, 1e4)})])
    stop = advise(response, [TWO], at, now)
    assert (stop.done, stop.could_be_nearer, stop.moves) == (True, True, ())
    assert "1.2 MHz" in stop.words[1]
    assert [m.by > 0 for m in advise(response, [TWO], at, now, nearer=True).moves] == [True]
    near = advise(response, [TWO], at, [Standing(145.05e6, 1e4, within=True)], nearer=True)
    assert near.done and not near.could_be_nearer


@given(
    kind=st.sampled_from(list(ElementKind)), dip_hz=st.floats(100e6, 190e6), cut=st.booleans(), low=st.floats(45.0, 50.0),
    high=st.floats(50.0, 55.0),
)  # fmt: skip
def test_no_part_of_any_kind_goes_beyond_its_ends_or_is_cut_for_the_whole_way(kind, dip_hz, cut, low, high):
    part = Element("w", "Part", kind, "cm", 50.0, low=low, high=high, cut=cut)
    for move in told(part, dip_hz).moves:
        assert low - 0.1 <= 50.0 + move.by <= high + 0.1
        if cut and move.by < 0:
            assert -move.by <= CUT_SHARE * (50.0 - low) + 0.2


HATS = [
    Element(str(k), f"Hat {k}", ElementKind.HAT, "cm", x, bands=("abc"[k],))
    for k, x in enumerate((937.9, 470.6, 350.3))
]
WANTED = [Aim(Window(7.0e6, 7.2e6, "a"), 7.1e6, 2.0), Aim(Window(14e6, 14.35e6, "b"), 14.175e6, 2.0),
          Aim(Window(21e6, 21.45e6, "c"), 21.225e6, 2.0)]  # fmt: skip
TRIPS = [
    ((937.9, 470.6, 350.3), (2.96, 2.07, 0.74)),
    ((981.1, 485.6, 354.1), (2.10, 0.63, 1.14)),
    ((1059.7, 485.6, 371.9), (1.12, 1.27, 1.51)),
    ((1102.1, 506.0, 379.3), (0.29, -0.50, 1.75)),
]
"""Where three hats stood, and how far off each dip was, per cent: the third strays, and none of the models knows why."""


def test_what_a_hand_can_set_is_not_said_to_be_too_small():
    seen = [
        Observation(dict(zip("012", at, strict=True)),
                    {k: (a.wanted_hz * math.exp(o / 100), 5e-4 * a.wanted_hz) for k, (a, o) in enumerate(zip(WANTED, off, strict=True))})
        for at, off in TRIPS
    ]  # fmt: skip
    now = [Standing(*seen[-1].dips_hz[k], within=k < 2, best_swr=1.1) for k in range(3)]
    response = Response([*HATS], ["a", "b", "c"], [a.wanted_hz for a in WANTED], seen)
    advice = advise(response, WANTED, seen[-1].at, now)
    assert advice.moves and not advice.done


def test_where_every_cut_could_go_too_far_that_is_said():
    advice = told(whip(cut=True), 144.2e6)
    assert not advice.moves and "too far" in advice.words[0]


def test_where_what_helps_one_band_harms_another_that_is_said():
    # One whip for both: off against each other, each by the square of its tolerance, so that no move helps both.
    off = 2e-4 * (TWO.tolerance / FOUR.tolerance) ** 2 * 10, 2e-4 * 10
    advice = of_two(whip(), Standing(145e6 * math.exp(off[0]), 1e4), Standing(70.25e6 * math.exp(-off[1]), 1e4))
    assert not advice.moves and "takes another further off" in advice.words[0]
