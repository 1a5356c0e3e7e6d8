"""Each column in its unit, or asked about; figures that nothing passive can have, refused."""

import numpy as np
import pytest

from levelmoor.core.rf.reflection import swr_from_gamma
from levelmoor.formats.capture_file import read_capture_file
from levelmoor.formats.column_units import ColumnsProblem
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.sweepfile import ReadOptions, read_sweep_file
from levelmoor.formats.through_file import read_through


def twice(heading, row):
    """A table of two rows, 14 and 14.1 MHz, the other cells as given."""
    return f"{heading}\n14;{row}\n14.1;{row}\n".encode()


@pytest.mark.parametrize(
    ("heading", "row", "swr"),
    [
        ("MHz;Forward dBm;Reflected dBm", "40;20", 1.2222),
        ("MHz;Forward W;Reflected mW", "10;4", 1.0408),
        ("MHz;Fwd [V];Rev [V]", "10;1", 1.2222),
        ("MHz;Forward dBµV;Reflected dBµV", "140;120", 1.2222),
        ("MHz;Return loss Np", "2.302585", 1.2222),
        ("MHz;|S11| %;Phase gon", "50;120", 3),
        ("MHz;|S11| ‰;phase turns", "500;0.3", 3),
        ("MHz;|S11|;Phase mrad", "0.5;1200", 3),
        ("MHz;|Z| kOhm;theta rad", "0.1;0", 2),
        ("MHz;R [kΩ];X [Ω]", "0.1;0", 2),
        ("MHz;R;X", "100 Ω;0 Ω", 2),
        ("MHz;SWR;Return loss dB", "2;9.54", 2),
        ("MHz;SWR;SWR limit", "2;3", 2),
    ],
)
def test_figures_of_a_column_are_in_the_unit_that_it_names(heading, row, swr):
    found = read_sweep_file("a.csv", twice(heading, row)).sweep
    np.testing.assert_allclose(swr_from_gamma(found.magnitude), swr, rtol=1e-3)
    assert found.low_hz == 14e6


@pytest.mark.parametrize(
    ("heading", "row", "said"),
    [
        ("MHz;VSWR (dB)", "3.5", "dB measures decibels, not an SWR"),
        ("MHz;SWR", "3.5 dB", "dB measures decibels, not an SWR"),
        ("MHz;R [mS];X [mS]", "20;0", "do not name a reflection"),
        ("MHz;Return loss %", "20", "% measures a ratio, not a return loss"),
        ("MHz;Forward °C;Reflected W", "20;1", "°C measures a temperature"),
        ("MHz;SWR before;SWR after", "{};2", "could each be meant"),
        ("MHz;SWR stored;SWR live", "{};2", "could each be meant"),
        ("MHz;|S11|;Phase", "0.5;1.2", "degrees or radians"),
        ("MHz;|Z|;Theta", "50;-0.4", "degrees or radians"),
        ("MHz;Re(Y11);Im(Y11)", "0.02;0", "do not name a reflection"),
        ("MHz;Rp;Xp", "50;100", "do not name a reflection"),
        ("MHz;|S11|^2", "0.5", "do not name a reflection"),
        ("MHz;SWR;Return loss dB", "2;20", "makes an SWR of 1.22 and the other columns 2"),
        ("MHz;R;X;SWR", "50;0;1.49", "makes an SWR of 1.49 and the other columns 1"),
    ],
)
def test_what_has_no_such_unit_or_two_meanings_is_asked_about(heading, row, said):
    with pytest.raises(ColumnsProblem, match=said):
        read_sweep_file("a.csv", f"{heading}\n14;{row.format(1.5)}\n14.1;{row.format(1.6)}\n".encode())


@pytest.mark.parametrize(
    ("columns", "swr"),
    [("0:frequency,1:swr dB", 1.4962), ("0:frequency,1:return_loss", 5.0302)],
)
def test_what_a_person_said_of_a_column_is_taken(columns, swr):
    found = read_sweep_file("a.csv", twice("MHz;VSWR (dB)", "3.5"), ReadOptions(columns=columns)).sweep
    np.testing.assert_allclose(swr_from_gamma(found.magnitude), swr, rtol=1e-3)


@pytest.mark.parametrize("unit", ["rad", "gon"])
def test_a_phase_that_a_person_gave_its_unit(unit):
    said = ReadOptions(columns=f"0:frequency,1:abs_gamma,2:phase {unit}")
    found = read_sweep_file("a.csv", twice("MHz;|S11|;Phase", "0.5;1"), said).sweep
    assert np.angle(found.gamma[0]) == pytest.approx({"rad": 1.0, "gon": np.pi / 200}[unit])


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"kHz;SWR\n7,000;1.52\n7,100;1.62\n", 'line 2, column 1: "7,000" with a different decimal sign'),
        (b"MHz;R;X\n14.1;1,234;10\n14.2;890.1;10\n", 'line 2, column 6: "1,234" with a different'),
        (b"MHz;R;X\n14.1;-20;3\n14.2;-20;3\n", "a reflection of 2.32"),
        (b"MHz;SWR\n14;45413\n14.1;1.5\n", "a date"),
        (b"MHz;|S11|;Phase deg\n14;0.5;400\n14.1;.5;380\n", 'a phase of "400"'),
        (b"MHz;Forward W;Reflected W\n14;1;2\n14.1;1;2\n", "reflects more than it receives"),
        (b"MHz;SWR\n14;0.8\n14.1;0.9\n", "at least 1"),
        (b"MHz;R;X\n14;50 Ohm;1 Ohm\n14.1;0.05 kOhm;1 Ohm\n", '"kOhm" after Ω'),
    ],
)
def test_figures_that_cannot_be_are_refused_with_their_place(data, said):
    with pytest.raises(FileProblem, match=said):
        read_sweep_file("a.csv", data)


@pytest.mark.parametrize("size", [0.05, 0.3, 0.9])
def test_shares_written_as_decibels_are_refused(size):
    with pytest.raises(FileProblem, match="are the figures really in DB"):
        read_sweep_file("a.s1p", f"# MHz S DB R 50\n14 {size} 10\n14.1 {size} 20\n".encode())


def test_touchstone_angles_that_turn_at_pi_are_refused():
    rows = "".join(f"{14 + i / 100} 0.5 {angle}\n" for i, angle in enumerate((1.5, 3.1, -3.1, -1.5)))
    with pytest.raises(FileProblem, match="angles that wrap at ±π"):
        read_sweep_file("a.s1p", f"# MHz S MA R 50\n{rows}".encode())


PLAIN = "MHz;SWR\n14,0;1,5\n14,1;1,4\n"


@pytest.mark.parametrize(
    "data",
    [
        b'"MHz","SWR"\n"14,0","1,5"\n"14,1","1,4"\n',
        b"MHz,SWR,Remark\n14,1.5,dusk\n14.1,1.4,\n",
        b"MHz;SWR;Remark\n14,0;1,5;dusk\n14,1;1,4;\n",
        PLAIN.encode("utf-16-le"),
        PLAIN.encode("utf-16-be"),
        b"#MHz;SWR\n14;1.5\n14.1;1.4\n",
        b"# taken in the yard, at dusk\n# Frequency kHz,SWR\n14000,1.5\n14100,1.4\n",
        b"All frequencies in kHz\nFrequency;SWR\n14000;1.5\n14100;1.4\n",
        b"Units: kHz\nBandwidth: 3 Hz\nFrequency;SWR\n14000;1.5\n14100;1.4\n",
        b"Hz;SWR\n14 000 000;1,5\n14 100 000;1,4\n",
        b"MHz;Frequency kHz;SWR\n14;14000;1.5\n14.1;14100;1.4\n",
        b"Hz;SWR\n14.000.000;1,5\n14.100.000;1,4\n",
    ],
    ids=range(12),
)
def test_ways_to_write_the_same_sweep(data):
    found = read_sweep_file("a.csv", data)
    assert found.guessed == () and found.sweep.frequency_hz.tolist() == [14e6, 14.1e6]
    np.testing.assert_allclose(swr_from_gamma(found.sweep.magnitude), [1.5, 1.4])


def test_headings_inside_a_remark_are_a_remark():
    found = read_sweep_file("a.csv", b"# note: SWR, as seen from the mast\n14,1.5\n14.1,1.4\n")
    assert found.guessed == ("frequencies in MHz", "the other figures are SWR")


@pytest.mark.parametrize(
    ("heading", "level", "dbm"),
    [
        ("MHz;Level dBmV", 48.7506, 1.7609),  # dBmV at 50 Ω: dBm + 46.9897
        ("MHz;Level dBµV (75 ohm)", 108.7506, 0),
        ("MHz;Level dBV", -13.0103, 0),
        ("MHz;Level nW", 100, -40),
        ("MHz;pW", 100, -70),
        ("MHz;Level mV", 223.607, 0),
    ],
)
def test_levels_in_any_unit(heading, level, dbm):
    found = read_capture_file("a.csv", twice(heading, level))
    assert found.trace.level_db[0] == pytest.approx(dbm, abs=1e-3) and found.unit_named


@pytest.mark.parametrize(
    "heading",
    [
        "Limit dBm;Level dBm",
        "Noise dBm;Peak dBm",
        "Trace A;Trace B",
        "Peak dBm;Limit",
        "Level dB;Text",
        "Level °C;Text",
    ],
)
def test_a_level_that_may_be_another_line_is_asked_about(heading):
    with pytest.raises(ColumnsProblem):
        read_capture_file("a.csv", f"MHz;{heading}\n145;-30;-40\n290;-31;-50\n".encode())


@pytest.mark.parametrize(
    ("heading", "row", "loss"),
    [
        ("S21 percent", "3", 30.458),
        ("|S21|^2", "0.5", 3.0103),
        ("Loss Np", "1", 8.6859),
        ("S21 dB;arg mrad", "-3;500", 3),
    ],
)
def test_s21_in_any_unit(heading, row, loss):
    assert read_through("a.csv", twice(f"MHz;{heading}", row)).loss_db[0] == pytest.approx(loss, abs=1e-3)


@pytest.mark.parametrize("heading", ["Zc", "Level dBm", "Loss before;Loss after", "S21 dB;noise floor dB"])
def test_what_is_no_s21_or_one_of_two_is_not_taken_for_it(heading):
    rows = ("14;-3;-90", "14.1;-3.2;-91") if ";" in heading else ("14;-3", "14.1;-3.2")
    with pytest.raises(FileProblem):
        read_through("a.csv", "\n".join((f"MHz;{heading}", *rows)).encode())


def test_kept_evidence_is_read_as_it_was_taken_in():
    """What came in before such questions were asked stands on pages and in bundles."""
    levels = b"MHz;Peak dBm;Average dBm\n145;-30;-40\n290;-31;-50\n"
    assert read_capture_file("a.csv", levels, first=True).trace.level_db.tolist() == [-30, -31]
    through = b"Frequency;Loss before dB;Loss after dB\n1.2;3;4\n1.4;3;4\n"
    assert read_through("a.csv", through, first=True).loss_db[0] == pytest.approx(3)


def test_a_quote_that_is_not_closed_is_told_at_its_place():
    with pytest.raises(FileProblem, match="line 3, column 6: an unclosed quote"):
        read_sweep_file("slip.csv", b'Frequency MHz;SWR\n70.1;1.5\n70.2;"1.6\n70.3;1.4\n')
