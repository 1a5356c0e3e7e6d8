import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.rf.frequency import DoubtfulFrequency, parse_frequency
from levelmoor.core.words.figures import format_mhz, format_step


@pytest.mark.parametrize(
    ("typed", "hertz"),
    [
        ("7.2", 7.2e6), ("7200 kHz", 7.2e6), ("7.2MHz", 7.2e6), ("144.5M", 144.5e6), ("145.5m", 145.5e6), ("7,129", 7.129e6),
        ("1.296 GHz", 1.296e9), ("136000 Hz", 136e3), (" 50 ", 50e6), ("14200k", 14.2e6), ("7.1e3 kHz", 7.1e6), (".472", 472e3),
        ("146e6", 146e6), ("7.2E+6", 7.2e6),
    ],
)  # fmt: skip
def test_understood(typed, hertz):
    assert parse_frequency(typed) == hertz


@pytest.mark.parametrize("typed", ["7.129,5", "7.129.500", "1,000,000 Hz", "7100", "7032.5", "35000", "7200000"])
def test_what_may_be_two_frequencies_is_asked_about(typed):
    with pytest.raises(DoubtfulFrequency, match="is unclear"):
        parse_frequency(typed, asks=True)


@pytest.mark.parametrize("typed", ["", "abc", "7.2 lightyears", "-7", "0", "nan", "inf", "1e30"])
def test_refused(typed):
    with pytest.raises(ValueError, match="frequency|300 GHz"):
        parse_frequency(typed)


@given(st.integers(1, 299_999_999_999))
def test_shown_frequency_is_read_back_to_a_hertz(hertz):
    assert parse_frequency(format_mhz(hertz).replace("\u202f", "")) == hertz


def test_shown_in_groups():
    assert (format_mhz(14.2e6), format_mhz(5.3515e6)) == ("14.200", "5.351\u202f500")
    assert [format_step(s) for s in (250, 10_500, 9e6)] == ["250 Hz", "10.5 kHz", "9 MHz"]
