"""Readings typed or pasted as a table, as people write them."""

import pytest

from levelmoor.core.readings.readings import ReadingKind
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.readings_file import read_pasted, read_readings

K = ReadingKind


@pytest.mark.parametrize(
    "text",
    [
        "7.0 1.5\n7.1 1.4", "7,0;1,5\n7,1;1,4", "7.0,1.5\n7.1,1.4", "7.0\t1.5\n7.1\t1.4", "7,0 1,5\n7,1 1,4",
        "7000 kHz 1.5\n7.1 MHz 1.4", "7000kHz;1.5\n7100kHz;1.4", "MHz;SWR\n7,0;1,5\n7,1;1,4",
        "Frequency kHz,SWR\n7000,1.5\n7100,1.4", "\n 7.0 1.5\n7.1 1.4\n\n",
    ],
)  # fmt: skip
def test_one_table_in_the_ways_people_write_it(text):
    read = read_pasted(text, K.SWR).readings
    assert [(r.frequency_hz, r.swr.value) for r in read] == [(pytest.approx(7e6), 1.5), (pytest.approx(7.1e6), 1.4)]


@pytest.mark.parametrize(
    "text",
    [
        "Frequency MHz;SWR;Note\n7.0;1.5\n7.1;1.4;\n",
        "Frequency MHz,SWR,Note\n7.0,1.5,windy\n7.1,1.4\n",
        "Reading,Note,Frequency MHz,SWR\n1,,7.0,1.5\n2,,7.1,1.4,\n",
    ],
)
def test_the_last_field_of_a_row_may_be_missing(text):
    read = read_readings("r.csv", text.encode()).readings
    assert [(r.frequency_hz, r.swr.value) for r in read] == [(pytest.approx(7e6), 1.5), (pytest.approx(7.1e6), 1.4)]


def test_figures_stand_in_the_order_of_the_sheets_fields():
    (powers,) = read_pasted("7.0 50 0.85", K.POWERS).readings
    assert (powers.forward.value, powers.reflected.value) == (50, 0.85)
    (impedance,) = read_pasted("7.0 50 -3", K.R_X).readings
    assert impedance.impedance_ohm() == 50 - 3j


@pytest.mark.parametrize(
    ("text", "line", "words"),
    [
        ("", 1, "one reading per line"),
        ("  \n", 1, "one reading per line"),
        ("7.0 1.5\n7.1 wide", 2, '"wide" is not an SWR'),
        ("7.0 1.5\n\n7.1", 3, "no SWR in this row"),
        ("-7 1", 1, "not a frequency above zero"),
        ("MHz;R;X\n7,0;1,5;3", 1, "another kind of reading"),
        ("seven", 1, "seven"),
    ],
)
def test_what_is_no_table_is_refused_with_its_line(text, line, words):
    with pytest.raises(FileProblem, match=words) as problem:
        read_pasted(text, K.SWR)
    assert problem.value.line == line
