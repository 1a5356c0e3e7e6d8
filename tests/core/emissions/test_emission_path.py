"""The path before anything is keyed: input safe, rating enough, measured where it matters, limit above the noise."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.emissions.emission_path import PathPiece, look_along, path_of
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.rf.curve import Curve

ANALYZER = Instrument("1", "the analyzer", max_input_dbm=20.0)
CARRIER = 146e6
EVERYWHERE = (100e6, 800e6)


def piece(db, name="tap", stands_w=25.0, span=EVERYWHERE, u=0.2):
    return PathPiece(name, Curve(span, (db, db)), u, db, stands_w)


def look(*pieces, watts=5.0, duty=1.0, instrument=ANALYZER, limit=-16.0, noise=-100.0):
    return look_along(watts, duty, CARRIER, pieces, instrument, limit, noise)


def problems(*pieces, **asked):
    return " ".join(look(*pieces, **asked).problems)


def test_a_path_that_will_do_is_told_with_its_levels():
    # Common practice, no source: 5 W is +37 dBm, and 41 dB bring it to -4 dBm.
    found = look(piece(41.0))
    assert [round(s.level_dbm, 1) for s in found.stages] == [37.0, -4.0, -4.0]
    assert found.problems == ()
    assert found.answer == "Input safe, rating enough, limit above the noise."


@pytest.mark.parametrize(("db", "safe"), [(26.0, False), (27.0, True), (40.0, True)])
def test_the_input_stays_10_db_under_its_maximum(db, safe):
    assert ("more pad" not in problems(piece(db))) == safe


def test_an_input_whose_maximum_is_not_written_down_is_not_called_safe():
    assert "not on record" in problems(piece(60.0), instrument=Instrument("1", "the analyzer"))


@pytest.mark.parametrize("pieces", [(), (PathPiece("lead", Curve(EVERYWHERE, (30, 30)), 0.1, stands_w=math.inf),)])
def test_a_path_without_a_pad_is_refused_whatever_its_cable_loses(pieces):
    assert "no pad in the path" in problems(*pieces)


@pytest.mark.parametrize(
    ("order", "wrong"), [(("large", "small"), ""), (("small", "large"), "small is rated for 1 W, but 5 W reaches it")]
)
def test_what_a_pad_must_stand_depends_on_what_comes_before_it(order, wrong):
    made = {"large": piece(40.0, "large", 25.0), "small": piece(10.0, "small", 1.0)}
    found = problems(*(made[name] for name in order))
    assert wrong in found if wrong else "rated" not in found


def test_the_duty_cycle_counts_for_what_a_pad_must_stand():
    assert "rated" in problems(piece(40.0, stands_w=2.0))
    assert "rated" not in problems(piece(40.0, stands_w=2.0), duty=0.25)


def test_a_rating_that_is_not_told_is_not_called_enough():
    answer = look(piece(41.0, stands_w=None), duty=0.5).answer
    assert "rating enough" not in answer
    assert "rated for 2.5 W" in answer


def test_a_pad_not_measured_at_the_carrier_counts_by_its_label_and_is_asked_for():
    found = look(PathPiece("tap", None, 0.3, 40.0, 25.0))
    assert found.stages[-1].level_dbm == pytest.approx(-3.0, abs=0.02)
    assert "not measured at the carrier" in found.problems[0]


def test_harmonics_beyond_what_was_measured_are_named_before_keying():
    assert "harmonics 4, 5" in problems(piece(41.0, span=(100e6, 500e6)))


@pytest.mark.parametrize(("noise", "clear"), [(-67.2, True), (-67.0, False)])
def test_the_limit_stands_10_db_above_the_noise_where_the_path_takes_most(noise, clear):
    sloping = PathPiece("tap", Curve((146e6, 730e6), (40.0, 41.1)), 0.2, 40.0, 25.0)
    found = look(sloping, noise=noise)
    assert found.limit_seen_dbm == pytest.approx(-57.1)
    assert ("short of being" not in " ".join(found.problems)) == clear


def test_noise_that_is_not_known_is_not_claimed_to_lie_under_the_limit():
    assert look(piece(41.0), noise=None).answer == "Input safe, rating enough."


@given(st.lists(st.tuples(st.floats(0.1, 60), st.floats(0.01, 1)), min_size=1, max_size=4), st.floats(100e6, 800e6))
def test_the_path_adds_up_and_its_u_is_never_under_that_of_a_piece(made, frequency_hz):
    db, u = path_of([piece(a, u=b) for a, b in made])(frequency_hz)
    assert db == pytest.approx(sum(a for a, _ in made))
    assert u > max(b for _, b in made)


def test_beyond_one_piece_the_path_has_no_figure():
    assert path_of([piece(40.0), piece(10.0, span=(100e6, 500e6))])(584e6) is None
