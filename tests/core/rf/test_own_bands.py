"""Bands and channels of a team's own."""

import pytest

from levelmoor.core.rf.own_bands import own_bands_text, read_own_bands, with_names, with_ranges
from levelmoor.core.rf.window_text import parse_windows
from levelmoor.core.rf.windows import Window

TEXT = "Fell relay; 35; 35.2\nChannel 3; 35.125"
OWN = read_own_bands(TEXT)


@pytest.mark.parametrize(
    "text",
    [TEXT, "Name; From; To\n" + TEXT, TEXT.replace("; ", "\t"), "Fell relay, 35 MHz, 35200 kHz\nChannel 3,35.125\n\n"],
)
def test_ranges_and_channels_are_read_from_lines(text):
    assert read_own_bands(text) == (Window(35e6, 35.2e6, "Fell relay"), Window(35.125e6, 35.125e6, "Channel 3"))
    assert own_bands_text(read_own_bands(text)) == TEXT


@pytest.mark.parametrize(
    ("text", "name", "low", "high"),
    [
        ("Ch,MHz\n1,156.05", "Channel 1", 156.05, 156.05),
        ("7;35,125", "Channel 7", 35.125, 35.125),
        ("Channel,Frequency (kHz)\n7,35125", "Channel 7", 35.125, 35.125),
        ("No,Name,Frequency,Duplex,Tone\n0,Fell,145.625,-,88.5", "Fell", 145.625, 145.625),
        ("Low\tHigh\tBand\n70.0\t70.5\t4m", "4m", 70, 70.5),
        ("Name;MHz;MHz\nA;35;36", "A", 35, 36),
        ("Name;RX;TX\nA;160.65;156.05", "A", 156.05, 156.05),
        ('"Fell, north",35.1', "Fell, north", 35.1, 35.1),
    ],
)
def test_lists_as_other_programs_write_them(text, name, low, high):
    assert read_own_bands(text) == (Window(low * 1e6, high * 1e6, name),)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("Relay", "line 1"),
        ("a; 7\nb; seven", "line 2"),
        ("a; 7; 6", "lower to a higher"),
        ("a; 7\nA; 8", "twice"),
        ("a; 7\n3.1; 8", "must have 1 to 40 characters"),
        ("Name;MHz\nA", "line 2: write a name, then one"),
        ("a\0; 7", "a name must have 1 to"),
    ],
)
def test_what_is_no_band_is_named_by_its_line(text, said):
    with pytest.raises(ValueError, match=said):
        read_own_bands(text)


@pytest.mark.parametrize(
    ("typed", "name"),
    [("fell relay", "Fell relay"), ("channel 3", "Channel 3"), ("20m", "20m"), ("35-35.2 MHz", "Fell relay")],
)
def test_its_name_is_understood_wherever_a_band_is(typed, name):
    (window,) = with_names(parse_windows(with_ranges(typed, OWN), 1), OWN)
    assert window.name == name


def test_a_name_inside_another_word_is_left_alone():
    assert with_ranges("Channel 30", OWN) == "Channel 30"
