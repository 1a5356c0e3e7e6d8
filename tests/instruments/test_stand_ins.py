"""The SCPI client against the stand-ins over real TCP, faults included."""

import numpy as np
import pytest

from levelmoor.core.model.instrument_address import check_reach, parse_address, parse_reach
from levelmoor.core.rf.dips import find_dips
from levelmoor.core.through.choking import series_impedance
from levelmoor.instruments.analyzer import Analyzer, Span
from levelmoor.instruments.connection import Connection
from levelmoor.instruments.driver import driver_text, read_driver, shipped_drivers
from levelmoor.instruments.problem import InstrumentProblem, Trouble
from levelmoor.instruments.stand_ins.instruments import stand_ins
from levelmoor.instruments.stand_ins.physics import KeyedRadio, RingChoke, StandingAntenna
from levelmoor.instruments.stand_ins.server import running

ONE, TWO, SPECTRUM = "Generic one-port analyzer", "Generic two-port analyzer", "Generic spectrum analyzer"
TWO_METRES = Span(140e6, 152e6, 241)


@pytest.fixture
def bench():
    """A stand-in by its place, and the client that speaks to it."""
    opened = []

    def start(place, driver, timeout_s=1.0):
        server = running(stand_ins()[place])
        address = parse_address(server.__enter__().address)
        connection = Connection(address, timeout_s)
        opened.append((server, connection))
        return Analyzer(shipped_drivers()[driver], connection.__enter__())

    yield start
    for server, connection in reversed(opened):
        connection.__exit__(None, None, None)
        server.__exit__(None, None, None)


@pytest.mark.parametrize(
    ("place", "driver", "span", "length_m"),
    [(0, ONE, TWO_METRES, 0.98), (1, TWO, Span(6.8e6, 7.4e6, 241), 20.3), (1, TWO, Span(9.8e6, 10.5e6, 241), 14.1)],
)
def test_a_sweep_arrives_with_its_progress(bench, place, driver, span, length_m):
    analyzer = bench(place, driver)
    assert "simulated" in analyzer.identify()
    analyzer.configure(span)
    shares = []
    sweep = analyzer.sweep(shares.append)
    assert (sweep.low_hz, sweep.high_hz, sweep.points) == (span.low_hz, span.high_hz, span.points)
    assert (shares[0], shares[-1], shares) == (0.0, 1.0, sorted(shares))
    (dip,) = find_dips(sweep)
    assert dip.frequency_hz == pytest.approx(0.955 * 299.792458e6 / (2 * length_m), rel=0.01)


def test_raw_and_corrected_by_the_instruments_own_calibration(bench):
    analyzer = bench(0, ONE)
    analyzer.configure(TWO_METRES)
    for step in ("open", "short", "load", "save"):
        analyzer.calibrate(step)
    f = np.linspace(140e6, 152e6, 241)
    z = StandingAntenna().impedance(f, np.random.default_rng(1))
    true = (z - 50) / (z + 50)
    assert np.max(np.abs(analyzer.sweep().gamma - true)) < 0.01
    analyzer.correct(False)
    assert np.max(np.abs(analyzer.sweep().gamma - true)) > 0.05


def test_a_longer_antenna_dips_lower_and_a_hand_pulls_it_down(bench):
    analyzer = bench(0, ONE)
    analyzer.configure(TWO_METRES)

    def dip():
        return find_dips(analyzer.sweep())[0].frequency_hz

    start = dip()
    analyzer.connection.tell("SIM:LENG 1.0")
    longer = dip()
    assert longer == pytest.approx(start * 0.98, rel=2e-3)
    analyzer.connection.tell("SIM:HAND 0.3")
    assert dip() < longer


def test_wind_moves_the_dip_from_sweep_to_sweep(bench):
    analyzer = bench(0, ONE)
    analyzer.configure(TWO_METRES)
    analyzer.connection.tell("SIM:WIND 1")
    places = [find_dips(analyzer.sweep())[0].frequency_hz for _ in range(4)]
    assert np.std(places) > 100e3


@pytest.mark.parametrize(
    ("fault", "trouble"),
    [("TIMEOUT", Trouble.TIMEOUT), ("GARBAGE", Trouble.GARBAGE), ("DISCONNECT", Trouble.DISCONNECTED)],
)
def test_each_fault_is_told_as_what_it_is(bench, fault, trouble):
    analyzer = bench(0, ONE)
    analyzer.configure(TWO_METRES)
    analyzer.connection.tell(f"SIM:FAUL {fault}")
    with pytest.raises(InstrumentProblem) as problem:
        analyzer.sweep()
    assert problem.value.trouble is trouble


def test_a_span_that_was_not_taken_is_told(bench):
    analyzer = bench(0, ONE)
    analyzer.connection.tell("SIM:FAUL SPAN")
    with pytest.raises(InstrumentProblem, match="the instrument set 140 to") as problem:
        analyzer.configure(TWO_METRES)
    assert problem.value.trouble is Trouble.WRONG_SPAN
    with pytest.raises(InstrumentProblem, match="is that beyond it"):
        analyzer.configure(Span(1e6, 5e9, 241))


def test_nothing_answers_where_nothing_is():
    with running(stand_ins()[0]) as server:
        address = parse_address(server.address)
    with pytest.raises(InstrumentProblem) as problem, Connection(address, 0.5):
        pass
    assert problem.value.trouble is Trouble.UNREACHABLE


def test_a_keyed_radio_and_its_harmonic_behind_the_pad(bench):
    analyzer = bench(2, SPECTRUM)
    analyzer.connection.tell("SIM:KEY OFF")
    analyzer.configure(Span(100e6, 400e6, 601, rbw_hz=100e3))
    analyzer.trace()
    assert analyzer.peak()[1] < -60
    analyzer.connection.tell("SIM:CARR 146E6;:SIM:PAD 40;:SIM:KEY ON")
    trace = analyzer.trace()
    at, level = analyzer.peak()
    radio = KeyedRadio()
    assert (at, level) == (pytest.approx(146e6, abs=0.5e6), pytest.approx(radio.level_dbm - 40, abs=0.3))
    assert float(trace.at(292e6)) == pytest.approx(radio.level_dbm - radio.down_db[0] - 40, abs=0.5)


def test_an_input_that_overloads_makes_harmonics_that_fall_faster_than_the_pad(bench):
    analyzer = bench(2, SPECTRUM)
    analyzer.connection.tell("SIM:CARR 146E6;:SIM:KEY ON;:SIM:PAD 10")
    analyzer.configure(Span(430e6, 450e6, 401, rbw_hz=100e3))
    strong = float(analyzer.trace().at(438e6))
    analyzer.connection.tell("SIM:PAD 20")
    assert strong - float(analyzer.trace().at(438e6)) > 12


def test_a_choke_between_the_ports_is_swept_and_the_reflection_goes_on(bench):
    analyzer = bench(3, TWO)
    span = Span(3.5e6, 30e6, 101)
    analyzer.configure(span)
    found = analyzer.through()
    assert set(found) == {"s11", "s21", "s12", "s22"}
    f = np.linspace(3.5e6, 30e6, 101)
    assert series_impedance(found["s21"], 50.0) == pytest.approx(RingChoke().impedance(f), rel=0.03)
    assert found["s11"] + found["s21"] == pytest.approx(np.ones(101), abs=5e-4)  # of what is in series
    assert analyzer.sweep().gamma == pytest.approx(found["s11"], abs=5e-4)


def test_from_an_antenna_to_the_free_port_leads_nothing(bench):
    analyzer = bench(1, TWO)
    analyzer.configure(TWO_METRES)
    found = analyzer.through()
    assert np.abs(found["s21"]).max() < 2e-4
    assert found["s22"] == pytest.approx(np.ones(TWO_METRES.points), abs=2e-4)
    assert np.abs(found["s11"]).max() > 0.1


def test_an_analyzer_of_one_port_has_nothing_between_them(bench):
    analyzer = bench(0, ONE)
    analyzer.configure(TWO_METRES)
    with pytest.raises(InstrumentProblem, match="from port to port"):
        analyzer.through()


def test_every_driver_survives_being_written_and_read():
    for driver in shipped_drivers().values():
        assert read_driver(driver_text(driver)) == driver


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (("INIT:IMM;*OPC", "INIT:IMM\\nRST"), "one line"),
        (("{low_hz:.0f}", "{low_hz.__class__}"), "may contain"),
        (("{low_hz:.0f}", "{low_hz"), "not closed"),
        (('"pairs"', '"other"'), "pairs"),
        (('"kind"', '"sort"'), "kind"),
        (("{low_hz:.0f}", "{low_hz:d}"), "cannot be filled in"),
        (("SENS:FREQ:STAR {low_hz:.0f}", "SENS:FREQ:STAR 144e6"), "no command sets low_hz"),
        (("CALC:DATA? SDATA", "CALC:DATA SDATA"), "asks for nothing"),
        (("INIT:IMM;*OPC", "INIT:IMM {points}"), "only commands under set"),
        (('"pairs"', '"levels"'), "reflection comes as pairs"),
    ],
)
def test_a_driver_that_is_no_plain_table_of_commands_is_refused(change, words):
    with pytest.raises(ValueError, match=words):
        read_driver(driver_text(shipped_drivers()[ONE]).replace(*change))


@pytest.mark.parametrize(
    ("setting", "address", "reached"),
    [
        ("127.0.0.1:5025-5029", "127.0.0.1:5027", True),
        ("127.0.0.1:5025-5029", "127.0.0.1:3306", False),
        ("192.168.1.0/24:5025", "192.168.1.77:5025", True),
        ("192.168.1.0/24", "192.168.2.1:5025", False),
        ("[::1]:5025", "[::1]:5025", True),
        ("", "127.0.0.1:5025", False),
    ],
)
def test_only_what_the_setting_names_is_reached(setting, address, reached):
    if reached:
        check_reach(parse_address(address), parse_reach(setting))
    else:
        with pytest.raises(ValueError, match="LEVELMOOR_INSTRUMENTS"):
            check_reach(parse_address(address), parse_reach(setting))


@pytest.mark.parametrize(
    "text", ["8.8.8.8:80", "169.254.169.254:80", "0.0.0.0:80", "example.org:80", "10.0.0.1", "10.0.0.1:0"]
)
def test_other_hosts_names_and_missing_ports_are_refused(text):
    with pytest.raises(ValueError):
        parse_address(text)


def test_a_setting_cannot_open_the_world():
    with pytest.raises(ValueError, match="neither a loopback nor a private"):
        parse_reach("0.0.0.0/0")
