"""A pasted table of settings."""

import pytest

from levelmoor.formats.settings_table import read_settings


def names(text, region=1):
    return [(s.name, [w.name for w in s.windows]) for s in read_settings(text, region)]


@pytest.mark.parametrize(
    "text",
    [
        "mark 2; 40m\nmark 6; 20m, 17m",
        "mark 2\t40m\nmark 6\t20m 17m",
        "mark 2: 40m\n\nmark 6: 20m/17m\n",
        "mark 2, 40m\nmark 6; 20m, 17m",
        "setting;bands\nmark 2;40m\nmark 6;20m, 17m",
    ],
)
def test_one_setting_to_a_line_however_it_is_parted(text):
    assert names(text) == [("mark 2", ["40m"]), ("mark 6", ["20m", "17m"])]


def test_a_name_with_a_decimal_comma_stays_whole():
    assert names("1,85 m; 80m\n2,40 m, 60m") == [("1,85 m", ["80m"]), ("2,40 m", ["60m"])]


def test_a_name_alone_is_for_all_bands():
    assert names("as delivered") == [("as delivered", [])]


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "one setting per line"),
        ("; 40m", "line 1: write the setting's name first"),
        ("mark 2; 40m\nMark 2; 20m", "line 2: Mark 2 appears twice"),
        ("mark 2; 40m\nmark 3; 41x", "line 2: "),
    ],
)
def test_a_line_that_cannot_be_read_is_named(text, words):
    with pytest.raises(ValueError, match=words):
        read_settings(text, 1)
