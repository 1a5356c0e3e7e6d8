"""Sweeps through, ADIF, spots, levels and loggers' files: what is read, and what is wrong named with its place."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.model.contacts import Contact, ContactKind
from levelmoor.core.model.through import LevelKind
from levelmoor.formats.adif import read_adif, write_adif
from levelmoor.formats.field_text import read_values
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.spots_csv import read_spots, write_spots
from levelmoor.formats.through_file import read_through
from levelmoor.formats.touchstone_out import write_through

TWO_PORT = b"# MHz S RI R 50\n14 0.1 0 0.5 0.1 0.5 0.1 0.2 0\n15 0.1 0 0.4 0 0.4 0 0.2 0\n"

# -- Through -----------------------------------------------------------------------------------------------------------


def test_what_was_swept_live_is_read_back_as_it_was():
    f = np.array([14e6, 15e6])
    all_four = {n: np.array([0.1 * k + 0.2j, 0.3 - 0.1j * k]) for k, n in enumerate(("s11", "s21", "s12", "s22"), 1)}
    ending, text = write_through(f, all_four, "one\ntwo")
    found = read_through(f"live{ending}", text.encode())
    assert (ending, found.s21.tolist(), found.s22.tolist()) == (
        ".s2p",
        all_four["s21"].tolist(),
        all_four["s22"].tolist(),
    )
    ending, text = write_through(f, {"s21": all_four["s21"]}, "one\ntwo")
    found = read_through(f"live{ending}", text.encode())
    assert (ending, found.s11, found.scalar) == (".csv", None, False)
    assert found.s21 == pytest.approx(all_four["s21"], rel=1e-12)


def test_a_two_port_file_gives_s21_and_both_reflections():
    found = read_through("a.s2p", TWO_PORT)
    assert found.s21.tolist() == [0.5 + 0.1j, 0.4 + 0j]
    assert (found.s11[0], found.s22[0], found.scalar) == (0.1, 0.2, False)


@pytest.mark.parametrize(
    ("text", "db", "scalar"),
    [
        ("MHz;S21 dB\n14;-20\n15;-21\n", [20, 21], True),
        ("Frequency Hz,Loss dB\n14000000,20\n15000000,21\n", [20, 21], True),
        ("MHz;S21 dB;Phase deg\n14;-20;30\n15;-21;40\n", [20, 21], False),
        ("f kHz\tatt\n14000\t0,1\n15000\t0,2\n", [0.1, 0.2], True),
        ("MHz;|S21|\n14;0.1\n15;0.05\n", [20, 26.0206], True),
        ("MHz;S21 mag\n14;-20\n15;-21\n", [20, 21], True),
        ("14 -20\n15 -21\n", [20, 21], True),
        ("MHz,S11 dB,S11 deg,S21 dB,S21 deg\n14,-1,5,-20,30\n15,-2,6,-21,40\n", [20, 21], False),
        ("MHz;S21 real;S21 imag\n14;0.0866025;0.05\n15;0.0682738;0.0572885\n", [20, 21], False),
        ("MHz;|S21|;arg rad\n14;0.1;0.5235988\n15;0.0891251;0.6981317\n", [20, 21], False),
        ("MHz;SWR;Loss dB\n14;1.1;20\n15;1.2;21\n", [20, 21], True),
    ],
)
def test_a_table_of_s21_is_read_as_level_or_loss(text, db, scalar):
    found = read_through("a.csv", text.encode())
    assert found.loss_db == pytest.approx(db)
    assert found.frequency_hz.tolist() == [14e6, 15e6]
    assert found.scalar is scalar
    if not scalar:
        assert np.degrees(np.angle(found.s21)) == pytest.approx([30, 40])


@pytest.mark.parametrize(
    ("name", "data", "said"),
    [
        ("a.s1p", b"# MHz S RI R 50\n14 0.1 0\n15 0.1 0\n", "a one-port file"),
        ("a.s2p", TWO_PORT.replace(b"0.5 0.1 0.5 0.1", b"0 0 0 0"), "S21 below -300 dB"),
        ("a.csv", b"MHz;S21 dB\n15;-20\n14;-20\n", "line 3"),
        ("a.csv", b"MHz;S21 dB\n14;-20\n15;12\n", "passive part"),
        (
            "a.csv",
            b"MHz;S21 real;S21 imag\n14;0.5;0\n15;3;1\n",
            "line 3, column 4: .3.; expected S21 in dB of a passive",
        ),
        ("a.csv", b"MHz,S11 dB,S11 deg\n14,-1,5\n15,-2,6\n", "line 1, column 5: no S21 among the headings"),
        ("a.csv", b"MHz;Z;R;X\n14;1000;200;980\n15;1000;200;980\n", "line 1, column 5: .Z., which is not S21"),
        ("a.csv", b"14;0.1\n15;0.05\n", "line 1, column 4: .0.1., which could be dB or a ratio"),
        ("a.csv", b"MHz;S21 dB;phase\n14;-20;0.5\n15;-21;0.7\n", "which could be degrees or radians"),
        ("a.csv", b"MHz;S21 phase\n14;30\n15;40\n", "no magnitude of S21"),
        ("a.csv", b"# at dusk\n14 -0.05 0.1\n15 -0.04 0.1\n", "3 columns without headings"),
    ],
)
def test_what_is_no_sweep_through_is_refused(name, data, said):
    with pytest.raises(FileProblem, match=said):
        read_through(name, data)


# -- ADIF --------------------------------------------------------------------------------------------------------------

# Written by hand after the specification, ADIF 3.1.4 (memory): any case, types, fields unknown here, lines anywhere.
BY_HAND = b"""Any words before
<adif_ver:5>3.1.4 <EOH>
<call:5>Q0ABC <QSO_DATE:8:D>20261017 <time_on:6>140530<band:3>40m <mode:3>SSB
<rst_sent:2>59<rst_rcvd:2>57 <gridsquare:6>IM25wl <MY_GRIDSQUARE:6>IM06pn <tx_pwr:2>20 <app_x_y:3>a>b <eor>
<CALL:5>Q0DEF<QSO_DATE:8>20261017<FREQ:6>14.205<MODE:2>CW<MY_ANTENNA:5>Choke<EOR>
"""


def test_a_file_written_by_hand_after_the_specification():
    first, second = read_adif("a.adi", BY_HAND, {"choke": "7"}).contacts
    assert (first.call, first.at, first.mode, first.sent, first.received) == (
        "Q0ABC",
        "2026-10-17T14:05",
        "SSB",
        "59",
        "57",
    )
    assert (first.locator, first.power_w, first.band) == ("IM25wl", 20.0, "40m")
    assert (second.frequency_hz, second.setup_id) == (14.205e6, "7")


CONTACTS = st.builds(
    Contact,
    id=st.just("1"), at=st.sampled_from(["2026-10-17T14:05", "2025-01-01T00:00"]),
    frequency_hz=st.sampled_from([7.09e6, 14.2055e6, 145.5e6, 27.555e6]), mode=st.sampled_from(["SSB", "CW", "FT8"]),
    call=st.sampled_from(["Q0ABC", "Q0X/P"]), own_locator=st.sampled_from(["", "IM06pn"]), locator=st.sampled_from(["", "IN12"]),
    power_w=st.sampled_from([None, 0.2, 20.0]), sent=st.sampled_from(["", "59", "-12"]), received=st.sampled_from(["", "57"]),
    setup_id=st.sampled_from(["", "7"]), note=st.sampled_from(["", "QSB <deep>", "ä wind"]),
)  # fmt: skip


@given(st.lists(CONTACTS, min_size=1, max_size=4))
def test_contacts_come_back_from_adif(contacts):
    text = write_adif(contacts, {"7": "On the tripod"}, "1")
    back = read_adif("a.adi", text.encode(), {"on the tripod": "7"}).contacts
    once = {replace(c, note=""): c for c in reversed(contacts)}
    assert {replace(b, id="1") for b in back} == set(once.values())


@pytest.mark.parametrize(
    ("text", "place", "said"),
    [
        ("hello", "line 1", "must end with <EOH>"),
        ("<EOH>\n<CALL:5>Q0ABC<QSO_DATE:8>2026-1-1<BAND:3>40m<EOR>", "line 2, column 14", "YYYYMMDD"),
        ("<EOH>\n<CALL:5>Q0ABC<QSO_DATE:8>20261017<EOR>", "line 2", "without BAND"),
        ("<EOH><CALL:99>Q0ABC<EOR>", "line 1, column 6", "states the wrong length"),
        ("<EOH><CALL:5>Q0ABC", "line 1", "without an end"),
        ("<EOH><CALL:1>Q<QSO_DATE:8>20261017<BAND:3>40m<GRIDSQUARE:2>ZZ<EOR>", "column 46", "a locator such as"),
        ("<EOH>", "line 1", "no contacts"),
        ("<EOH><CALL:" + "9" * 5000 + ">Q<EOR>", "line 1, column 6", "states the wrong length"),
        ("<EOH><CALL:1>Q<QSO_DATE:8>20261017<FREQ:3>nan<EOR>", "column 35", "a frequency in MHz"),
        ("<EOH><CALL:1>Q<QSO_DATE:8>20261017<BAND:3>40m<TX_PWR:3>inf<EOR>", "column 46", "watts"),
        ("<EOH><CALL:1>Q<QSO_DATE:8>20261399<BAND:3>40m<EOR>", "column 15", "a real day and time"),
    ],
)
def test_what_is_wrong_in_adif_is_named_with_its_place(text, place, said):
    with pytest.raises(FileProblem) as problem:
        read_adif("a.adi", text.encode(), {})
    assert place in str(problem.value)
    assert said in str(problem.value)


# -- Spots -------------------------------------------------------------------------------------------------------------


def test_spots_come_back():
    spots = [
        Contact("1", "2026-10-17T19:00", 7.0386e6, "weak", "Q0R", ContactKind.SPOT, "IM06pn", "IN12", 0.2, snr_db=-21.0, setup_id="7"),
        Contact("2", "2026-10-17T19:02", 7.0386e6, "weak", "Q0S", ContactKind.SPOT, snr_db=3.0),
    ]  # fmt: skip
    assert read_spots("s.csv", write_spots(spots, {"7": "Choke"}).encode(), {"choke": "7"}) == spots


@pytest.mark.parametrize(
    "text",
    [
        "Timestamp,Call,MHz,SNR,Drift,Grid,Reporter,RGrid\n2026-05-31 14:20,Q0AAA,7.04,-12,0,IM06pn,Q0DUN,IN12fr\n",
        "date;time;freq kHz;dB;dx call;locator;own locator\n2026-05-31;14:20;7040;-12;Q0DUN;IN12fr;IM06pn\n",
        "Time UTC;QRG Hz;SNR dB;RX Sign;RX Locator;TX Locator\n2026-05-31 14:20;7040000;-12;Q0DUN;IN12fr;IM06pn\n",
    ],
    ids=["who heard whom", "day and time apart", "by sides"],
)
def test_the_other_station_is_the_one_who_heard(text):
    (spot,) = read_spots("s.csv", text.encode(), {})
    assert (spot.call, spot.own_locator, spot.locator) == ("Q0DUN", "IM06pn", "IN12fr")
    assert (spot.at, spot.frequency_hz) == ("2026-05-31T14:20", 7.04e6)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("MHz;SNR\n7.04;-12\n", "no heading for the time"),
        ("Time;MHz;SNR\n2026-10-17 19:00;7.04;loud\n", "line 2, column 3"),
        ("Time;MHz;SNR;Grid\n2026-10-17 19:00;7.04;-12;ZZ\n", "line 2, column 4"),
        ("Time;MHz;SNR\nyesterday;7.04;-12\n", "line 2, column 1"),
    ],
)
def test_what_is_wrong_in_spots_is_named(text, said):
    with pytest.raises(FileProblem, match=said):
        read_spots("s.csv", text.encode(), {})


# -- Levels and heat ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("text", "kind", "values", "unit"),
    [
        ("S7 S6.5 S7", LevelKind.NOISE, (7, 6.5, 7), "S"),
        ("-104 -103,5 dBm", LevelKind.NOISE, (-104, -103.5), "dBm"),
        ("31; 28; 30 mA", LevelKind.CURRENT, (31, 28, 30), "mA"),
        ("12 dB 11 dB", LevelKind.CURRENT, (12, 11), "dB"),
        ("7 7 6", LevelKind.NOISE, (7, 7, 6), "S"),
        ("S9+10 S9 s8", LevelKind.NOISE, (9 + 10 / 6, 9, 8), "S"),
        ("S9+10dB, S9 + 4 dB", LevelKind.NOISE, (9 + 10 / 6, 9 + 4 / 6), "S"),
        ("7 S, 6.5 S", LevelKind.NOISE, (7, 6.5), "S"),
        ("-104dBm -103dBm", LevelKind.NOISE, (-104, -103), "dBm"),
        ("3 dBuV 4 dBµV", LevelKind.NOISE, (3 - 106.9897, 4 - 106.9897), "dBm"),
        ("31mA, 28,5mA", LevelKind.CURRENT, (31, 28.5), "mA"),
        ("0.031 A", LevelKind.CURRENT, (31,), "mA"),
        ("500 uA 40 µA", LevelKind.CURRENT, (0.5, 0.04), "mA"),
        ("60 dBµA", LevelKind.CURRENT, (1,), "mA"),
    ],
)
def test_readings_one_after_the_other(text, kind, values, unit):
    found, named = read_values(text, kind)
    assert (found, named) == (pytest.approx(values, abs=1e-4), unit)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "write the readings"),
        ("loud", '"loud" is not a reading'),
        ("7 x 7", '"x" is not a reading'),
        ("S7 -104 dBm", "in dBm and S are mixed"),
        ("S7+10", "add dB only to S9"),
        ("31 mA", "mA is not a unit for this; write S or dBm"),
        ("7,1,2", "is not a reading"),
        ("S99", "out of range"),
    ],
)
def test_what_is_no_reading_is_refused(text, said):
    with pytest.raises(ValueError, match=said):
        read_values(text, LevelKind.NOISE)


# -- ADIF as programs write it -----------------------------------------------------------------------------------------

GOOD = "<CALL:5>Q0ABC<QSO_DATE:8>20261017<TIME_ON:4>1405<FREQ:5>7.032{}<EOR>\n"


@pytest.mark.parametrize("length", [len("Zoë Ångström"), len("Zoë Ångström".encode())])
def test_a_length_in_bytes_or_characters_swallows_no_contact(length):
    text = "<EOH>" + GOOD.format(f"<COMMENT:{length}>Zoë Ångström") + GOOD.replace("Q0ABC", "Q0DEF").format("")
    found = read_adif("a.adi", text.encode(), {})
    assert ([c.call for c in found.contacts], found.contacts[0].note) == (["Q0ABC", "Q0DEF"], "Zoë Ångström")


@pytest.mark.parametrize(
    ("bad", "said"),
    [
        ("<CALL:5>Q0DEF<QSO_DATE:8>20261399<FREQ:5>7.032<EOR>\n", "line 3: \"20261399\"; expected a real day"),
        ("<CALL:5>Q0DEF<QSO_DATE:8>20261017<TIME_ON:4>2561<FREQ:5>7.032<EOR>\n", "line 3:"),
        ("<CALL:999>Q0DEF<QSO_DATE:8>20261017<FREQ:5>7.032<EOR>\n", "line 3: <CALL:999>"),
    ],
)  # fmt: skip
def test_a_contact_that_cannot_be_read_is_left_out_and_told(bad, said):
    text = "<EOH>\n" + GOOD.format("") + bad + GOOD.replace("Q0ABC", "Q0XYZ").format("")
    found = read_adif("a.adi", text.encode(), {})
    assert [c.call for c in found.contacts] == ["Q0ABC", "Q0XYZ"]
    assert found.told.startswith("1 contact left out: ") and said in found.told


def test_a_contact_that_is_there_twice_comes_once():
    assert len(read_adif("a.adi", ("<EOH>" + 2 * GOOD.format("")).encode(), {}).contacts) == 1


@pytest.mark.parametrize("band", ["8M", "1.25m", "13cm"])
def test_a_band_alone_stays_a_band(band):
    """Bands as the enumeration of ADIF 3.1.4 has them (memory)."""
    text = f"<EOH><CALL:5>Q0ABC<QSO_DATE:8>20261017<BAND:{len(band)}>{band}<EOR>"
    (one,) = read_adif("a.adi", text.encode(), {}).contacts
    out = write_adif([one], {}, "1")
    assert one.band == band.lower() and f"<BAND:{len(band)}>{band.lower()}" in out and "<FREQ" not in out
