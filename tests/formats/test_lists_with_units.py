"""Tables of trials, spots, temperatures and typed lines: figures in the unit they name, or asked about."""

import pytest

from levelmoor.core.claims.claim_line import understand_line
from levelmoor.core.rf.own_bands import own_bands_text, read_own_bands
from levelmoor.formats.csv_out import marked, unmarked, write_csv
from levelmoor.formats.heat_log import read_heat_log
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.spots_csv import read_spots
from levelmoor.formats.trials_csv import read_trials


@pytest.mark.parametrize(
    ("text", "power", "seconds"),
    [
        ("Frequency kHz;Power dBm;Tune time min\n7100;40;0,5\n", 10, 30),
        ("MHz;Power mW;Time (ms)\n7.1;500;1500\n", 0.5, 1.5),
        ("MHz;Power;Time\n7.1;10 W;2 s\n", 10, 2),
        ("MHz;Power;Time\n7.1;37 dBm;2 min\n", 5.01187, 120),
        ("# made at dusk, in the rain\nMHz;Power W;Time s\n7.1;10;2\n", 10, 2),
        ("#MHz;Power W;Time s\n7.1;10;2\n", 10, 2),
        ("MHz;Power kW;Time s\n7,1;1,5;2\n", 1500, 2),
    ],
)
def test_trials_are_in_the_units_they_name(text, power, seconds):
    (trial,) = read_trials("t.csv", text.encode())
    assert trial.frequency_hz == 7.1e6
    assert (trial.power_w, trial.seconds) == (pytest.approx(power), pytest.approx(seconds))


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("MHz;Power V\n7.1;10\n", "column 2: .Power V., which names V; expected one unit of a power"),
        ("MHz;Power W\n7.1;10 V\n", "10 V.: V measures a voltage"),
        ("MHz;Time W\n7.1;10\n", "Time W., which names W"),
        ("Frequency;SWR\n7100;1.5\n", "7100 kHz or 7100 MHz"),
        ("FREQ;SWR\n7032;1.5\n", "7032 kHz or 7032 MHz"),
        ("MHz;SWR;Seconds\n7.1;1,5;2\n", "with a different decimal sign"),
    ],
)
def test_trials_with_two_meanings_are_asked_about(text, said):
    with pytest.raises(FileProblem, match=said):
        read_trials("t.csv", text.encode())


@pytest.mark.parametrize(
    ("when", "at"),
    [
        ("2026-10-17 14:20+02:00", "2026-10-17T12:20"),
        ("2026-10-17T01:20:30 +0200", "2026-10-16T23:20"),
        ("2026-10-17 14:20-05", "2026-10-17T19:20"),
        ("2026-10-17T14:20Z", "2026-10-17T14:20"),
        ("2026-10-17 14:20 UTC", "2026-10-17T14:20"),
    ],
)
def test_times_of_spots_come_to_utc(when, at):
    (spot,) = read_spots("s.csv", f"Time;MHz;SNR\n{when};7.04;-12\n".encode(), {})
    assert spot.at == at


@pytest.mark.parametrize(
    ("heading", "cell", "watts"), [("Power dBm", 23, 0.199526), ("Power mW", 200, 0.2), ("Power", "5 W", 5)]
)
def test_powers_of_spots_are_in_the_unit_they_name(heading, cell, watts):
    (spot,) = read_spots("s.csv", f"Time;MHz;SNR;{heading}\n2026-10-17 14:20;7.04;-12;{cell}\n".encode(), {})
    assert spot.power_w == pytest.approx(watts, rel=1e-5)


def test_a_power_that_may_be_watts_or_dbm_is_asked_about():
    with pytest.raises(FileProblem, match="watts or dBm"):
        read_spots("s.csv", b"Time;MHz;SNR;Power\n2026-10-17 14:20;7.04;-12;23\n", {})


@pytest.mark.parametrize(
    ("text", "seconds"),
    [
        ("Time (hh:mm);Temp °C\n00:00;20\n00:30;30", 1800),
        ("Time mm:ss;Temp °C\n0:00;20\n0:30;30", 30),
        ("Time;Temp °C\n46173.5;20\n46173.506944444;30", 600),
        ("Elapsed days;Temp °C\n0;20\n0.01;30", 864),
    ],
)
def test_clocks_of_loggers(text, seconds):
    assert read_heat_log("h.csv", text.split("\n")).points[1] == (seconds, 30)


def test_a_temperature_in_another_unit_is_asked_about():
    with pytest.raises(FileProblem, match="mV measures a voltage"):
        read_heat_log("h.csv", ["Time s;Probe mV", "0;20", "60;30"])


@pytest.mark.parametrize(
    ("text", "limit", "low"),
    [
        ("choke 5,000 ohm 40m", 5000, 7e6),
        ("power handling 1,500 W", 1500, None),
        ("power 0,125 W", 0.125, None),
        ("SWR < 2 14,000 to 14,350 kHz", 2, 14e6),
        ("SWR < 1,5 40m", 1.5, 7e6),
    ],
)
def test_thousands_in_claims(text, limit, low):
    (claim,) = understand_line(text, 1).claims
    assert claim.limit == limit and (low is None or claim.windows[0].low_hz == low)


@pytest.mark.parametrize("line", ["Fell relay; 35000; 35200", "Fell relay; 7100"])
def test_own_bands_without_a_unit_are_asked_about(line):
    with pytest.raises(ValueError, match="is unclear"):
        read_own_bands(line)


def test_own_bands_come_back():
    bands = read_own_bands("Fell relay; 35.00; 35.20\nDish; 2400 MHz; 2450 MHz")
    assert read_own_bands(own_bands_text(bands)) == bands


@pytest.mark.parametrize("cell", ["=1+1", "+2", "-2.5", "@x", "-x", "'=1", "1,5", "\tx", "plain"])
def test_no_cell_that_goes_out_is_a_formula_and_each_comes_back(cell):
    out = marked(cell)
    assert unmarked(out) == cell
    assert not out.startswith(("=", "@", "\t")) and out != "-x"


def test_every_cell_of_a_table_is_marked():
    assert write_csv([["=a", 1, -2]]) == "'=a;1;-2\n"
