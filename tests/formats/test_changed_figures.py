"""Figures that are not what was measured, but made of it, are asked about: as they stand they would be another's."""

import numpy as np
import pytest

from levelmoor.formats.capture_file import read_capture_file
from levelmoor.formats.heat_log import read_heat_log
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.rawtext import decode
from levelmoor.formats.readings_file import ReadingKind, read_pasted, read_readings
from levelmoor.formats.spots_csv import read_spots
from levelmoor.formats.sweepfile import ReadOptions, read_sweep_file
from levelmoor.formats.through_file import read_through
from levelmoor.formats.trials_csv import read_trials


def rows(heading, *cells):
    return "\n".join((heading, *(f"{14 + i / 10:.1f};{c}" for i, c in enumerate(cells)), "")).encode()


def sweep(name, data):
    found = read_sweep_file(name.replace("csv", "s1p") if data.startswith(b"#") else name, data)
    if found.guessed:
        raise FileProblem(name, 1, 1, str(found.guessed), "confirmed")
    return found


def heat(name, data):
    return read_heat_log(name, decode(name, data))


def pasted(name, data):
    return read_pasted(data.decode(), ReadingKind.SWR)


def spots(name, data):
    return read_spots(name, data, {})


@pytest.mark.parametrize(
    ("read", "data"),
    [
        (sweep, rows("MHz;SWR x10", 15, 16, 17)),
        (sweep, rows("MHz;SWR * 100", 150, 160, 170)),
        (sweep, rows("MHz;SWR·1000", 1500, 1600, 1700)),
        (sweep, rows("MHz;1/SWR", 1.5, 1.6, 1.7)),
        (sweep, rows("MHz;ln SWR", 1.5, 1.6, 1.7)),
        (sweep, rows("MHz;SWR change", 1.5, 1.6, 1.7)),
        (sweep, rows("MHz;SWR max", 1.5, 1.6, 1.7)),
        (sweep, rows("MHz;SWR mean;SWR min", "1.5;1.4", "1.6;1.5", "1.7;1.6")),
        (sweep, rows("MHz;r;x", "1.5;0.1", "1.6;0.2", "1.7;0.3")),
        (sweep, rows("MHz;R/Z0;X/Z0", "1.5;0.1", "1.6;0.2", "1.7;0.3")),
        (sweep, rows("MHz;R normalised;X normalised", "15;1", "16;2", "17;3")),
        (sweep, rows("MHz;Simulated SWR", 1.5, 1.6, 1.7)),
        (sweep, rows("MHz;R;X;R2;X2", "50;1;60;2", "51;2;61;3", "52;3;62;4")),
        (sweep, b"# Hz S MA R 50\n14 0.2 10\n15 0.3 20\n"),
        (sweep, b"# GHz S MA R 50\n7100 0.2 10\n7200 0.3 20\n"),
        (read_capture_file, rows("MHz;Level dBµV/m", 97, 40, 30)),
        (read_capture_file, rows("MHz;dBm per 3 kHz", -7, -40, -30)),
        (read_capture_file, rows("MHz;mV peak", 100, 0.1, 0.01)),
        (read_capture_file, rows("MHz;Level x0.1 dBm", -30, -600, -700)),
        (read_capture_file, rows("MHz;Level (0.01 dBm)", -30, -6000, -7000)),
        (read_capture_file, rows("MHz;-dBm", 3, 60, 70)),
        (read_capture_file, rows("MHz;Level dBm", -3, -410, -70)),
        (read_through, rows("MHz;S21 dB/m", -0.1, -0.2, -0.3)),
        (read_through, rows("MHz;Loss dB/100 ft", 1, 2, 3)),
        (read_through, rows("MHz;Gain dB", 9, 11, 14)),
        (read_through, rows("MHz;S21 dB", 20, 21, 22)),
        (read_readings, rows("MHz;Fwd dBm;Ref dBm", "40;26", "40;27")),
        (read_readings, rows("MHz;Fwd;Ref", "43;27", "43;28")),
        (read_readings, rows("MHz;R kohm;X ohm", "0.05;10", "0.06;11")),
        (read_readings, rows("MHz;Fwd V;Ref V", "70;9", "70;10")),
        (pasted, b"7000 1.5\n7100 1.6\n"),
        (pasted, b"7.0 1.5 dB\n7.1 1.6 dB\n"),
        (heat, b"Time;Temp (\xc2\xb0C x10)\n0;200\n60;250\n"),
        (heat, b"Time x0.1 s;Temp\n0;20\n60;25\n"),
        (heat, "Time;ΔT °C\n0;1\n60;5\n".encode()),
        (heat, b"Time;Temp rise C\n0;1\n60;5\n"),
        (heat, b"Time;Temp\n0;294\n60;299\n"),
        (heat, b"Time;Temp\n0;72\n60;79\n"),
        (read_trials, b"MHz;Power;SWR after\n14.2;37;1.4\n14.2;47;1.4\n"),
        (read_trials, b"MHz;Power W;Tune time;SWR after\n14.2;50;1800;1.4\n"),
        (spots, b"Time;MHz;SNR dB\n2026-10-17 01:20 PM;7.04;-12\n"),
        (spots, b"Time;MHz;SNR dB\n2026-10-17 12:20 EST;7.04;-12\n"),
        (sweep, b"SWR figures are multiplied by 10\n" + rows("MHz;SWR", 15, 16, 17)),
        (sweep, b"Scale factor: 0.1\n" + rows("MHz;SWR", 15, 16, 17)),
        (sweep, b"All values in dB\n" + rows("MHz;SWR", 3.5, 3.6, 3.7)),
        (sweep, b"# SWR: dB\n" + rows("MHz;SWR", 3.5, 3.6, 3.7)),
        (sweep, b"Simulated with a wire model\n" + rows("MHz;SWR", 1.5, 1.6, 1.7)),
        (sweep, rows("MHz;SWR uncorrected", 1.5, 1.6, 1.7)),
        (read_capture_file, b"All levels in dBm, multiplied by 10\n" + rows("MHz;Level", -30, -600, -700)),
        (read_through, b"All values x 10\n" + rows("MHz;S21 dB", -1, -2, -3)),
        (sweep, b"Return loss x 10\n" + rows("MHz;RL dB", 140, 150, 160)),
        (sweep, b"Z phase x 10\n" + rows("MHz;|Z| ohm;theta rad", "42;1.1", "41;1.2", "40;1.3")),
        (read_through, b"!Loss, dB\tfrequency (MHz) * 10\n1.7\t10\n1.8\t20\n1.9\t30\n"),
        (heat, b"Temperatures x 10\nTime;Temp C\n0;200\n60;250\n"),
        (heat, b"Time: scaled by 10\nElapsed s;Temp C\n0;20\n600;25\n"),
        (read_trials, b"Tune time x 10\nMHz;Power W;Tune time ms;SWR after\n14.2;37;5000;1.4\n"),
        (read_trials, b"Powers x 10\nMHz;Power W;SWR before;SWR after\n14.2;37;3;1.4\n"),
        (read_trials, b"SWR x 10\nMHz;Power W;SWR before;SWR after\n14.2;37;30;14\n"),
        (spots, b"Time zone: UTC+2\nTime;MHz;SNR\n2026-10-17 01:20;7.04;-12\n"),
        (spots, b"Times are local\nTime;MHz;SNR\n2026-10-17 01:20;7.04;-12\n"),
    ],
)  # fmt: skip
def test_what_was_made_of_a_figure_is_asked_about(read, data):
    with pytest.raises(FileProblem):
        read("made.csv", data)


@pytest.mark.parametrize(
    ("heading", "swr"),
    [
        ("MHz;SWR;SWR max", 1.5),  # which is the same in each row: a limit
        ("MHz;SWR;SWR uncertainty", 1.5),
    ],
)
def test_what_stands_beside_a_figure_is_passed_over(heading, swr):
    found = sweep("made.csv", rows(heading, "1.5;2", "1.6;2", "1.7;2"))
    magnitude = np.abs(found.sweep.gamma[0])
    assert (1 + magnitude) / (1 - magnitude) == pytest.approx(swr)


def test_readings_in_a_smaller_unit_keep_the_digits_of_the_display():
    (reading,) = read_readings("made.csv", rows("MHz;Fwd W;Ref mW", "10;400")).readings
    assert (reading.reflected.text, reading.reflected.value, reading.reflected.half) == ("0.400", 0.4, 0.0005)


def test_a_file_that_was_taken_in_before_reads_as_it_did():
    data = rows("MHz;SWR max;SWR", "2.5;1.5", "2.6;1.6", "2.7;1.7")
    magnitude = np.abs(read_sweep_file("made.csv", data, ReadOptions(unit="MHz", kind="swr")).sweep.gamma[0])
    assert (1 + magnitude) / (1 - magnitude) == pytest.approx(1.5)


@pytest.mark.parametrize(
    "line", ["Scale factor: 1.000", "Radials 2 x 10 m", "SWR (A)", "Measured on a simulated hand", "Z0: 50"]
)
def test_lines_above_that_say_nothing_of_the_figures_are_passed_over(line):
    assert sweep("made.csv", line.encode() + b"\n" + rows("MHz;SWR", 1.5, 1.6, 1.7)).sweep.z0_ohm == 50.0


@pytest.mark.parametrize("line", ["Z0 = 75", "Zref (ohm);75", "System impedance: 75"])
def test_a_line_above_names_the_reference_impedance(line):
    assert sweep("made.csv", line.encode() + b"\n" + rows("MHz;SWR", 1.5, 1.6, 1.7)).sweep.z0_ohm == 75.0


def test_a_line_above_names_the_unit_of_powers():
    (reading,) = read_readings("made.csv", b"Powers in mW\n" + rows("MHz;Forward;Reflected", "5000;200")).readings
    (trial,) = read_trials("made.csv", b"Power in dBm\nMHz;Power;SWR before;SWR after\n14.2;40;3;1.4\n")
    assert (reading.forward.value, trial.power_w) == (5.0, pytest.approx(10.0))


def test_lines_above_name_the_units_of_a_logger():
    log = heat("made.csv", b"Temperature in F\nTime in minutes\nTime;Temp\n0;32\n2;50\n")
    assert log.points == ((0.0, 0.0), (120.0, 10.0))


@pytest.mark.parametrize("line", [b"Temperature: K-type sensor", b"Time: 14:20", b"Time step: 10 s"])
def test_lines_above_that_name_no_unit_of_a_logger_are_passed_over(line):
    assert heat("made.csv", line + b"\nTime;Temp\n0;32\n2;50\n").points == ((0.0, 32.0), (2.0, 50.0))


def test_a_bare_figure_in_brackets_is_the_reference_impedance():
    assert sweep("made.csv", rows("MHz;SWR (75)", 1.5, 1.6, 1.7)).sweep.z0_ohm == 75.0


@pytest.mark.parametrize(("heading", "first"), [("S21 dB", -0.1), ("Gain dB", -0.1), ("Loss dB", 0.1)])
def test_what_is_next_to_nothing_keeps_its_sign(heading, first):
    found = read_through("made.csv", rows(f"MHz;{heading}", first, 2 * first, -first))
    assert found.loss_db == pytest.approx([0.1, 0.2, -0.1])
