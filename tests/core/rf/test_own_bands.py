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
    ("text", "said"),
    [
        ("Relay", "line 1"),
        ("a; 7\nb; seven", "line 2"),
        ("a; 7; 6", "lower to a higher"),
        ("a; 7\nA; 8", "twice"),
        ("a; 7\n3; 8", "has letters"),
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
