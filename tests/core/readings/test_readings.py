"""Readings as displayed, the slips that are asked about, and the sweep they join into."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.model.usability import Usability
from levelmoor.core.readings.reading_sweep import join_readings
from levelmoor.core.readings.reading_usability import usability_at_readings
from levelmoor.core.readings.readings import FieldProblem, ReadingKind, parse_shown, parse_swr, reading_of
from levelmoor.core.readings.slips import Expected, SlipKind, slips
from levelmoor.core.rf.reflection import gamma_from_swr, swr_from_gamma
from levelmoor.core.rf.windows import Window
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.readings_file import read_readings, write_readings
from levelmoor.formats.sweepfile import read_sweep_file

SWR, R_X, POWERS = ReadingKind.SWR, ReadingKind.R_X, ReadingKind.POWERS
EIGHTY = Window(3.5e6, 3.8e6, "80m")


def swr_reading(mhz, swr, ident="a"):
    return reading_of(ident, SWR, {"frequency": str(mhz), "swr": str(swr)})


def asked(reading, expected=None, others=()):
    return {s.kind for s in slips(reading, expected or Expected(), tuple(others))}


@pytest.mark.parametrize(
    ("text", "value", "half"),
    [("37", 37, 0.5), ("1.34", 1.34, 0.005), ("1,5", 1.5, 0.05), ("1.5:1", 1.5, 0.05), ("-12", -12, 0.5)],
)
def test_a_displayed_figure_keeps_its_last_digit(text, value, half):
    shown = parse_shown(text, "figure", signed=True)
    assert (shown.value, shown.half) == (value, pytest.approx(half))


@pytest.mark.parametrize(
    ("kind", "typed", "field"),
    [
        (SWR, {"frequency": "7.1", "swr": "0.9"}, "swr"),
        (SWR, {"frequency": "", "swr": "1.5"}, "frequency"),
        (SWR, {"frequency": "7.1", "swr": "abc"}, "swr"),
        (R_X, {"frequency": "7.1", "r": "50"}, "x"),
        (R_X, {"frequency": "7.1", "r": "-5", "x": "0"}, "r"),
        (POWERS, {"frequency": "7.1", "forward": "0", "reflected": "0"}, "forward"),
    ],
)
def test_what_is_no_reading_names_its_field(kind, typed, field):
    with pytest.raises(FieldProblem) as problem:
        reading_of("a", kind, typed)
    assert problem.value.field == field


# Common practice, no source: what displays showed beside each other.
@pytest.mark.parametrize(("r", "swr"), [("37", "1.34"), ("65", "1.35"), ("48", "1.2"), ("51.5", "1.06")])
def test_a_displayed_pair_that_rounding_allows_is_not_asked_about(r, swr):
    reading = reading_of("a", ReadingKind.R_ABS_X, {"frequency": "7.1", "r": r, "x": "0", "swr": swr})
    assert SlipKind.RESISTANCE not in asked(reading)


def test_an_swr_below_what_r_forces_is_asked_about():
    reading = reading_of("a", R_X, {"frequency": "7.1", "r": "25", "x": "0", "swr": "1.5"})
    assert SlipKind.RESISTANCE in asked(reading)


def test_an_swr_that_r_and_x_contradict_is_asked_about():
    reading = reading_of("a", R_X, {"frequency": "7.1", "r": "50", "x": "40", "swr": "1.5"})
    assert asked(reading) == {SlipKind.IMPEDANCE}


@pytest.mark.parametrize(
    ("typed", "meant"), [("37.17", "3.717 MHz"), ("3717", "3.717 MHz"), ("0.3717", "3.717 MHz"), ("3.717", None)]
)
def test_decimal_slips_and_kilohertz_for_megahertz(typed, meant):
    found = [s for s in slips(swr_reading(typed, 1.5), Expected((EIGHTY,))) if s.kind is SlipKind.PLACE]
    assert [s.meant for s in found] == ([] if meant is None else [meant])


def test_a_frequency_the_instrument_cannot_make():
    assert SlipKind.INSTRUMENT in asked(swr_reading(145, 1.5), Expected(range_hz=(0.1e6, 60e6)))


def test_a_frequency_the_radio_may_not_transmit_on():
    meter = Expected(may_transmit=(Window(7e6, 7.2e6, "40m"),))
    assert asked(swr_reading(7.25, 1.5), meter) == {SlipKind.TRANSMIT}
    assert asked(swr_reading(7.15, 1.5), meter) == set()


def test_more_reflected_than_forward():
    reading = reading_of("a", POWERS, {"frequency": "7.1", "forward": "5", "reflected": "50"})
    assert SlipKind.REFLECTED in asked(reading)


def test_a_value_far_off_its_neighbours_and_a_tenth_of_it_as_what_was_meant():
    others = [swr_reading(7.00, 1.4, "a"), swr_reading(7.02, 1.3, "b"), swr_reading(7.06, 1.3, "d")]
    found = slips(swr_reading(7.04, 13, "c"), Expected(), tuple(others))
    assert [(s.kind, s.meant) for s in found] == [(SlipKind.NEIGHBOURS, "1.3")]


def test_a_dip_between_falling_sides_is_no_slip():
    others = [swr_reading(m, s, str(m)) for m, s in ((7.0, 6), (7.02, 3), (7.06, 3), (7.08, 6))]
    assert asked(swr_reading(7.04, 1.1), Expected(), others) == set()


def test_one_to_one_everywhere_is_asked_of_the_last_reading_alone():
    five = [swr_reading(7 + i / 100, 1.0, str(i)) for i in range(5)]
    assert SlipKind.FLAT in asked(five[4], Expected(), five[:4])
    assert SlipKind.FLAT not in asked(five[0], Expected(), five[1:])
    assert SlipKind.FLAT not in asked(five[3], Expected(), five[:3])


def test_forward_and_reflected_power():
    # 50 W at 1.3 is 0.85 W back (common practice, no source).
    reading = reading_of("a", POWERS, {"frequency": "7.1", "forward": "50", "reflected": "0.85"})
    assert reading.swr_value() == pytest.approx(1.3, abs=0.001)


@given(st.lists(st.tuples(st.integers(1000, 9000), st.integers(100, 3000)), min_size=1, max_size=30))
def test_joined_readings_rise_and_hold_what_was_read(pairs):
    readings = tuple(swr_reading(f"{k} kHz", s / 100, str(i)) for i, (k, s) in enumerate(pairs))
    sweep = join_readings(readings)
    assert sweep.scalar
    assert sorted({r.frequency_hz for r in readings}) == sweep.frequency_hz.tolist()
    for reading in readings:
        off = abs(float(sweep.gamma_at(reading.frequency_hz).real) - reading.magnitude()[0])
        assert off <= sweep.half_step_at(reading.frequency_hz) + 1e-12


def test_readings_with_signed_x_join_into_a_complex_sweep_and_without_into_a_scalar_one():
    typed = {"frequency": "7.1", "r": "40", "x": "-10"}
    assert not join_readings((reading_of("a", R_X, typed),)).scalar
    assert join_readings((reading_of("a", ReadingKind.R_ABS_X, typed),)).scalar


def test_a_handful_of_readings_shows_usability_at_its_places_and_says_so():
    f = np.linspace(7.0, 7.2, 7)
    band = Window(7e6, 7.2e6, "40m")
    sweep = join_readings(tuple(swr_reading(f"{x:.4f}", 1.5 if x < 7.15 else 2.5, str(x)) for x in f))
    found = usability_at_readings(sweep, band, 2.0)
    assert found.state is Usability.PART
    assert "5 of 7 readings" in found.sentence
    few = join_readings(tuple(swr_reading(f"{x:.4f}", 1.5, str(x)) for x in f[::3]))
    assert usability_at_readings(few, band, 2.0) is None


def test_a_sheet_written_is_the_sheet_read():
    first = {"frequency": "7.1", "r": "37", "x": "-12", "swr": "1.5", "note": "confirmed"}
    data = write_readings(R_X, [first, {"frequency": "7.05", "r": "41,5", "x": "3", "swr": ""}])
    found = read_readings("sheet.csv", data)
    assert found.kind is R_X
    assert [t["r"] for t in found.typed] == ["37", "41.5"]
    file = read_sweep_file("sheet.csv", data)
    assert file.format == "readings"
    assert file.sweep.frequency_hz.tolist() == [7.05e6, 7.1e6]


def test_a_strangers_sheet_of_powers_and_a_slip_in_it():
    found = read_readings("w.csv", b"Freq kHz;Fwd;Rev\n14100;50;0,85\n14200;50;2\n")
    assert found.kind is POWERS
    assert found.readings[0].frequency_hz == 14.1e6
    with pytest.raises(FileProblem) as problem:
        read_readings("w.csv", b"Freq kHz;Fwd;Rev\n14100;50;0,85\n14200;x;2\n")
    assert (problem.value.line, problem.value.column) == (3, 7)


def test_rounding_of_each_reading_is_its_own():
    file = read_sweep_file("s.csv", b"Reading,Note,Frequency MHz,SWR\n1,,7.1,1.5\n2,,7.2,12\n")
    halves = file.sweep.half_step_gamma
    assert halves[0] == pytest.approx((gamma_from_swr(1.55) - gamma_from_swr(1.45)) / 2)
    assert halves[1] == pytest.approx((gamma_from_swr(12.5) - gamma_from_swr(11.5)) / 2)


def test_an_swr_that_a_meter_calls_infinite():
    assert float(swr_from_gamma(float(gamma_from_swr(parse_swr("∞").value)))) > 500


@pytest.mark.parametrize(
    ("typed", "low", "high"),
    [
        ("< 1.2", 1.0, 1.2), ("over 3", 3.0, 999.0), ("> 3:1", 3.0, 999.0), ("off scale", 3.0, 999.0),
        ("refused", 3.0, 999.0), ("at most 1,5", 1.0, 1.5),
    ],
)  # fmt: skip
def test_what_a_display_only_bounds_is_taken_as_a_bound(typed, low, high):
    shown = parse_swr(typed)
    assert (shown.low, shown.high, shown.text) == (low, high, typed)
    reading = reading_of("1", ReadingKind.SWR, {"frequency": "7.1", "swr": typed})
    middle, half = reading.magnitude()
    assert middle - half == pytest.approx((low - 1) / (low + 1))
    assert middle + half == pytest.approx((high - 1) / (high + 1))
