"""Spectra as instruments and people write them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.formats.capture_file import read_capture_file, typed_levels
from levelmoor.formats.cell_units import out_of_cells
from levelmoor.formats.column_units import ColumnsProblem
from levelmoor.formats.problem import FileProblem


@pytest.mark.parametrize(
    ("heading", "value", "dbm"),
    [
        ("Level dBm", -3.0, -3.0),
        ("Power W", 5.0, 36.99),
        ("P mW", 1.0, 0.0),
        ("dBuV", 107.0, 0.01),
        ("Ampl (dBW)", -30.0, 0.0),
    ],
)
def test_levels_come_in_the_unit_that_their_heading_names(heading, value, dbm):
    file = read_capture_file("x.csv", f"MHz,{heading}\n146,{value}\n".encode())
    assert file.trace.level_db[0] == pytest.approx(dbm, abs=0.011)


def test_peaks_in_any_order_and_columns_as_a_person_named_them():
    file = read_capture_file("x.csv", b"n;what;where\n1;-50;292\n2;-33;146\n", "MHz", "2:frequency,1:level dBW")
    assert file.trace.frequency_hz.tolist() == [146e6, 292e6]
    assert file.trace.level_db.tolist() == [-3.0, -20.0]


@pytest.mark.parametrize(("heading", "named"), [("Level", False), ("Level dBm", True), ("Level mW", True)])
def test_a_unit_that_nothing_names_is_told_from_one_that_is_named(heading, named):
    assert read_capture_file("x.csv", f"MHz,{heading}\n146,3\n".encode()).unit_named is named


def test_powers_of_nothing_are_refused_with_their_place():
    with pytest.raises(FileProblem) as problem:
        read_capture_file("x.csv", b"MHz,W\n146,5\n292,0\n")
    assert (problem.value.line, problem.value.column) == (3, 5)


def test_a_peaks_number_before_a_comma_leaves_its_frequency_the_unit():
    file = read_capture_file("x.csv", b"Peak,Frequency,Level dBm\n1,2400 MHz,-3\n2,4800 MHz,-45\n")
    assert file.trace.frequency_hz.tolist() == [2.4e9, 4.8e9]


def test_typed_levels_are_read_back():
    file = read_capture_file("x.csv", typed_levels("146 MHz -3.3; 292 MHz -28.1"))
    assert file.trace.level_db.tolist() == [-3.3, -28.1]


# -- Headings ------------------------------------------------------------------------------------------------------

TWO = ([145.5e6, 291e6], [-3.0, -45.0])


def read(text):
    trace = read_capture_file("x.csv", text.encode()).trace
    return trace.frequency_hz.tolist(), trace.level_db.tolist()


@pytest.mark.parametrize(
    "text",
    [
        "MHz,dBm\n145.5,-3\n291,-45\n",
        "Trace\nPoints,2\nFrequency [Hz],Amplitude [dBm]\n145500000,-3.0\n291000000,-45.0\n",
        "freq_hz;Max hold dBm\n145500000;-3,0\n291000000;-45,0\n",
        "Peak,Frequency MHz,Level\n1,145.5,-3\n2,291,-45\n",
        "Name;MHz;dBm\nH1;145.5;-3.0\nH2;291;-45.0\n",
        "145.5\t-3\n291\t-45\n",
        "! a list\nMarker;Frequency;Level\nM1;145.5 MHz;-3.0 dBm\nM2;0.291 GHz;-45 dBm\n",
        "Peak,Frequency,Amplitude\n1,145.5 MHz,-3.0 dBm\n2,291000 kHz,-45.0 dBm\n",
        "145,5 MHz;−3,0 dBm\n291 MHz;−45,0 dBm\n",
        "1,145.5 MHz,-3 dBm\n".replace("1,", "", 1) + "291 MHz,-45 dBm\n",
    ],
    ids=["plain", "lines above", "two levels", "numbered", "named", "no headings", "units in cells", "mixed units",
         "decimal comma and minus sign", "units and no headings"],
)  # fmt: skip
def test_headings_and_units_are_taken_as_they_come(text):
    assert read(text) == TWO


@pytest.mark.parametrize(
    "text",
    ["Peak,Frequency MHz,Reading\n1,145.5,-3\n", "MHz,SWR\n145.5,1.2\n", "a,b,c\n145.5,-3,4\n"],
    ids=["a peak's number is not a level", "an SWR is not a level", "no words"],
)
def test_what_the_columns_are_is_asked_where_the_headings_do_not_tell(text):
    with pytest.raises(ColumnsProblem):
        read(text)


@pytest.mark.parametrize(
    "columns", ["0:frequency,0:level dBm", "0:frequency", "0:frequency,9:level dBm", "0:frequency,1:level dBq", "x"]
)
def test_columns_that_cannot_be_so_are_refused(columns):
    with pytest.raises(FileProblem, match="one column as the frequency"):
        read_capture_file("x.csv", b"a;b\n1;2\n", "MHz", columns)


def test_levels_in_different_units_are_refused_with_their_place():
    with pytest.raises(FileProblem) as problem:
        read("145.5 MHz;-3.0 dBm\n291 MHz;0.1 mW\n")
    assert (problem.value.line, problem.value.column) == (2, 13)


@given(st.integers(1, 10**12), st.sampled_from(["Hz", "kHz", "MHz", "GHz"]))
def test_a_frequency_in_a_cell_keeps_its_value(thousandths, unit):
    text = f"{thousandths // 1000}.{thousandths % 1000:03d} {unit};-3 dBm"
    lines, *_ = out_of_cells("x.csv", [text])
    scale = {"Hz": 1.0, "kHz": 1e3, "MHz": 1e6, "GHz": 1e9}[unit]
    assert float(lines[0].split(";")[0]) * 1e6 == pytest.approx(thousandths / 1000 * scale, rel=1e-12)


def test_units_above_the_table_change_nothing():
    lines = ["Center;145 MHz;-3 dBm", *(f"{f};-90" for f in range(100, 110))]
    assert out_of_cells("x.csv", lines) == (lines, "", "")
