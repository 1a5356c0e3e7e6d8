import pytest

from levelmoor.core.rf.bandplan import REGIONS, band_plan, bands_covered, find_band, other_services
from levelmoor.core.rf.frequency import DoubtfulFrequency
from levelmoor.core.rf.window_text import parse_windows
from tests.sweeps import rlc_sweep


@pytest.mark.parametrize(
    ("region", "name", "low_mhz", "high_mhz"),
    [
        # ITU Radio Regulations, article 5 (memory).
        (1, "2200m", 0.1357, 0.1378), (1, "160m", 1.81, 2.0), (2, "160m", 1.8, 2.0), (1, "80m", 3.5, 3.8), (2, "80m", 3.5, 4.0),
        (3, "80m", 3.5, 3.9), (1, "60m", 5.3515, 5.3665), (1, "40m", 7.0, 7.2), (2, "40m", 7.0, 7.3), (3, "40m", 7.0, 7.2),
        (1, "20m", 14.0, 14.35), (1, "6m", 50, 52), (2, "6m", 50, 54), (1, "2m", 144, 146), (2, "2m", 144, 148),
        (1, "70cm", 430, 440), (2, "125cm", 222, 225), (3, "23cm", 1240, 1300),
        # Common practice, no source.
        (1, "CB", 26.965, 27.405), (2, "CB-UK", 27.60125, 27.99125), (1, "PMR446", 446.0, 446.2),
    ],
)  # fmt: skip
def test_edges(region, name, low_mhz, high_mhz):
    window = find_band(name, region)
    assert (window.low_hz, window.high_hz) == pytest.approx((low_mhz * 1e6, high_mhz * 1e6))


@pytest.mark.parametrize("region", REGIONS)
def test_bands_rise_and_hold_their_segments(region):
    plan = band_plan(region)
    edges = [x for b in plan.bands for x in (b.low_hz, b.high_hz)]
    assert edges == sorted(edges)
    assert all(b.low_hz <= s.low_hz < s.high_hz <= b.high_hz for b in plan.bands for s in b.segments)
    assert plan.sources
    assert {b.name for b in plan.bands} >= {"2200m", "630m", "160m", "20m", "10m", "6m", "2m", "70cm", "23cm"}


def test_names_are_forgiving():
    assert find_band("70 CM", 1) == find_band("70cm", 1)
    assert find_band("2m voice, FM", 1).low_hz == 145e6
    assert find_band("11 m", 2).name == find_band("citizens' band", 1).name == "CB"
    with pytest.raises(ValueError, match="choose from 2200m"):
        find_band("11 furlongs", 1)


def test_only_bands_wholly_inside_are_covered():
    assert [b.name for b in bands_covered(rlc_sweep(14.0e6, 18.168e6, 11), 1)] == ["20m", "17m"]
    assert other_services().bands[0].name == "CB"


@pytest.mark.parametrize(
    ("typed", "windows"),
    [
        ("2m", [(144e6, 146e6)]), ("2m, 70cm", [(144e6, 146e6), (430e6, 440e6)]), ("144-146", [(144e6, 146e6)]),
        ("144 to 146 MHz", [(144e6, 146e6)]), ("3500–3800 kHz", [(3.5e6, 3.8e6)]), ("3.5 to 3.8; 7 to 7.2", [(3.5e6, 3.8e6), (7e6, 7.2e6)]),
        ("3,5 to 3,8", [(3.5e6, 3.8e6)]), ("20m and 40m", [(14e6, 14.35e6), (7e6, 7.2e6)]), ("7.0 - 7.2", [(7e6, 7.2e6)]),
        ("CB-UK", [(27.60125e6, 27.99125e6)]), ("", []),
    ],
)  # fmt: skip
def test_windows_as_typed(typed, windows):
    assert [(w.low_hz, w.high_hz) for w in parse_windows(typed, 1)] == windows


@pytest.mark.parametrize("typed", ["2m, nonsense", "146 to 144", "144 to"])
def test_windows_refused(typed):
    with pytest.raises(ValueError, match="band|backwards"):
        parse_windows(typed, 1)


def test_doubtful_window_is_asked_about():
    with pytest.raises(DoubtfulFrequency):
        parse_windows("7.000,5 to 7.2", 1)
