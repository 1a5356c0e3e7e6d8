"""Temperatures against time: typed, and from the files of loggers of any make."""

import time

import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.formats.heat_log import read_heat_log, typed_lines
from levelmoor.formats.problem import FileProblem

TYPED = {
    "lines": "0 20\n60 24.5\n120 27",
    "one line": "0 20; 60 24.5; 120 27",
    "minutes and seconds": "0:00 20\n1:00 24.5 °C\n2:00 27",
    "decimal commas": "0 20,0\n60 24,5\n120 27,0",
    "pairs with semicolons": "0; 20\n60; 24,5\n120; 27",
    "pairs with commas": "0, 20\n60, 24.5\n120, 27",
}
LOGGED = {
    "headings": "time;C\n0;20\n60;24,5\n120;27\n",
    "no headings, more columns": "10:30:00;20;x\n10:31:00;24.5;x\n10:32:00;27;x",
    "past midnight": "23:59:00 20\n0:00:00 24.5\n0:01:00 27",
    "date and time": "2026-10-17 14:20:00;20\n2026-10-17 14:21:00;24.5\n2026-10-17 14:22:00;27",
    "commas alone": "00:00:00.0,20\n00:01:00.0,24.5\n00:02:00.0,27",
    "zone, past midnight": "2026-05-31T23:59:00Z,20\n2026-06-01T00:00:00Z,24.5\n2026-06-01T00:01:00Z,27",
    "date and clock apart": '"Nr.";"Datum";"Uhrzeit";"Temperatur [°C]"\n1;31.05.2026;14:00:00;20\n'
    "2;31.05.2026;14:01:00;24,5\n3;31.05.2026;14:02:00;27\n",
    "half of the day": "Date,Time,Temp (C)\n5/31/2026,11:59:00 AM,20\n5/31/2026,12:00:00 PM,24.5\n5/31/2026,12:01:00 PM,27",
    "date with hours and minutes": "Date;°C\n31.05.2026 09:58;20\n31.05.2026 09:59;24,5\n31.05.2026 10:00;27",
    "Fahrenheit by its heading": "seconds,temp_F\n0,68\n60,76.1\n120,80.6",
    "Fahrenheit in the cells": "0 68°F\n60 76.1 °F\n120 80.6 °F",
    "kelvin, minutes": "# logger\nt[min]\tT[K]\n0\t293.15\n1\t297.65\n2\t300.15\n",
    "minutes in words": "Elapsed (minutes),Temperature\n0,20\n1,24.5\n2,27",
    "milliseconds": "time_ms,temp_c\n0,20\n60000,24.5\n120000,27",
    "seconds since 1970": "timestamp,temperature\n1780236000,20\n1780236060,24.5\n1780236120,27",
    "milliseconds since 1970": "timestamp;temp\n1780236000000;20\n1780236060000;24,5\n1780236120000;27",
    "a probe that is not there": "Time\tCh1\tCh2\n00:00:00\t20\t--\n00:01:00\t24.5\t--\n00:02:00\t27\t--",
    "running number": "Sample,Time,Probe\n1,0,20\n2,60,24.5\n3,120,27",
    "lines above, a word below": "Logger;7\nSerial;A-19\n\nTime (s);Temp (°C)\n0;20\n60;24,5\n120;27\nend of file\n",
    "a row of units": "Time;Temperature\ns;°C\n0;20\n60;24,5\n120;27",
    "time behind": "Temperature °C;Time s\n20;0\n24,5;60\n27;120",
}


@pytest.mark.parametrize("text", (TYPED | LOGGED).values(), ids=(TYPED | LOGGED).keys())
def test_temperatures_as_typed_and_as_loggers_write_them(text):
    log = read_heat_log("log.csv", typed_lines(text))
    assert log.points == ((0, 20), (60, pytest.approx(24.5)), (120, pytest.approx(27)))
    assert log.said == ()


def test_the_clock_of_this_machine_is_not_asked(monkeypatch):
    """At 2 in the morning clocks go on to 3 there: a minute of the log stays a minute."""
    monkeypatch.setenv("TZ", "Europe/Berlin")
    time.tzset()
    try:
        log = read_heat_log("log.csv", ["2026-03-29 01:59:00;20", "2026-03-29 03:01:00;24"])
    finally:
        monkeypatch.undo()
        time.tzset()
    assert log.points == ((0, 20), (62 * 60, 24))


PROBES = "Time s,Probe 1 °C,Probe 2 °C\n0,20,19\n60,24.5,19.2\n120,27,19.4"


@pytest.mark.parametrize(("wanted", "last"), [("probe 1", 27), ("Probe 2 °C", 19.4)])
def test_of_several_probes_the_one_that_is_named_counts(wanted, last):
    log = read_heat_log("log.csv", PROBES.splitlines(), wanted)
    assert log.points[-1] == (120, last) and wanted.lower() in log.said[0].lower()


def test_rows_without_a_reading_are_passed_over_and_counted():
    log = read_heat_log("log.csv", ["0;20", "60;OL", "120;27", "180;---", "240;30"])
    assert log.points == ((0, 20), (120, 27), (240, 30)) and log.said == ("2 rows without a reading",)


@pytest.mark.parametrize(
    ("text", "line", "column", "said"),
    [
        ("", 1, 1, "at least two"),
        ("0 20\n0 21", 2, 1, "a time after the one before it"),
        ("0 20\nwarm\n", 2, 1, '"warm"'),
        ("0 20\n60 9999", 2, 2, "-60 to 1000 °C"),
        ("0;20\n60;2x4\n120;27", 2, 2, '"2x4"'),
        ("warm 20\n60 24\n120 27", 1, 1, '"warm"'),
        ("time;C\nsoon;20\n60;24\n120;27", 2, 1, '"soon"'),
        ("14:20 20\n14:21 24\n14:22 27", 1, 1, "could be either"),
        (PROBES, 1, 3, "2 temperatures: Probe 1 °C, Probe 2 °C; write the heading"),
        ("Nr;Time\n1;0\n2;60", 1, 1, "no column of temperatures"),
        ("31.05.2026 10:00:00;20\n01.06.2026 12:00:00;24", 2, 1, "rows less than half a day apart"),
        ("0 20\n-60 24", 2, 1, "0 to 1e+06 s"),
    ],
)
def test_what_is_no_course_is_refused_with_its_place(text, line, column, said):
    with pytest.raises(FileProblem) as caught:
        read_heat_log("log.csv", typed_lines(text))
    assert (caught.value.line, caught.value.column) == (line, column)
    assert said in str(caught.value)


CELL = st.sampled_from(
    ["0", "60", "4:30", "14:20:00", "2 PM", "31.05.2026", "24,5", "70 °F", "T", "°C", "Nr", "OL", "x", ""]
)


@given(rows=st.lists(st.lists(CELL, max_size=4), max_size=6), separator=st.sampled_from([";", ",", "\t", " "]))
def test_whatever_stands_in_a_file_is_a_rising_course_or_refused_with_a_place(rows, separator):
    lines = [separator.join(row) for row in rows]
    try:
        points = read_heat_log("log.csv", lines).points
    except FileProblem as problem:
        assert 1 <= problem.line <= max(len(lines), 1) and problem.column >= 1
    else:
        times = [at for at, _ in points]
        assert times[0] == 0 and times == sorted(set(times))


@pytest.mark.parametrize(
    ("lines", "found"),
    [
        ("# MHz S RI R 50\n14 0.1 0.2\n15 0.1 0.3", "a Touchstone file"),
        ("Frequency MHz,Level dBm\n100,-47\n105,-48", '"Frequency MHz", which is a frequency'),
        ("X ohm;R ohm\n1;41.3\n2;41.4", '"X ohm", which is a resistance'),
    ],
)
def test_a_file_of_something_else_is_no_run(lines, found):
    with pytest.raises(FileProblem, match=found):
        read_heat_log("a.csv", lines.split("\n"))
