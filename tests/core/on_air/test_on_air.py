"""Locators, great circles, two antennas in alternation, and that no verdict reads any of it."""

from dataclasses import replace

import pytest
from geographiclib.geodesic import Geodesic
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.judge import judge
from levelmoor.core.model.contacts import Contact, ContactKind
from levelmoor.core.model.judged_content import judged_content
from levelmoor.core.on_air.alternation import alternations, report_db
from levelmoor.core.on_air.locator import bearing_deg, distance_km, position_of
from tests.core.trials.test_trial_verdict import WHOLE, case

LATITUDE, LONGITUDE = st.floats(-85, 85), st.floats(-179, 179)


@pytest.mark.parametrize(
    ("locator", "lat", "lon"),
    [
        ("AA00", -89.5, -179.0),
        ("JJ00", 0.5, 1.0),
        ("IO84", 54.5, -3.0),
        ("io84pn", 54.5625, -2.7083),
        ("RR99xx", 89.979, 179.958),
    ],
)
def test_a_locator_is_the_middle_of_its_field(locator, lat, lon):
    """By the rule itself: fields of 20 by 10 degrees, squares of 2 by 1, subsquares of 5 by 2.5 minutes (memory)."""
    assert position_of(locator) == pytest.approx((lat, lon), abs=0.001)


@pytest.mark.parametrize("text", ["", "IO8", "SS00", "IO84zz", "1084"])
def test_what_is_no_locator_is_refused(text):
    with pytest.raises(ValueError, match="not a locator"):
        position_of(text)


@given(LATITUDE, LONGITUDE, LATITUDE, LONGITUDE)
def test_distance_and_bearing_are_those_of_a_geodesic(lat1, lon1, lat2, lon2):
    """GeographicLib on the ellipsoid (C. F. F. Karney, 2013): a sphere differs by at most 0.6 %, in bearing by little."""
    theirs = Geodesic.WGS84.Inverse(lat1, lon1, lat2, lon2)
    km = theirs["s12"] / 1e3
    assert distance_km((lat1, lon1), (lat2, lon2)) == pytest.approx(km, rel=0.006, abs=0.5)
    if 50 < km < 18000:
        off = (bearing_deg((lat1, lon1), (lat2, lon2)) - theirs["azi1"] + 180) % 360 - 180
        assert abs(off) < 1.5


@pytest.mark.parametrize(
    ("received", "db"),
    [("59", 54), ("57", 42), ("599", 54), ("59+10dB", 64), ("-12", -12), ("−7", -7), ("good", None), ("", None)],
)
def test_reports_as_db(received, db):
    assert report_db(Contact("1", "2026-10-17T14:00", 7.1e6, received=received)) == db


def spot(minute, setup, snr, call="Q0A", hz=7.04e6):
    return Contact(
        f"{minute}", f"2026-10-17T14:{minute:02d}", hz, "weak", call, ContactKind.SPOT, snr_db=snr, setup_id=setup
    )


def test_pairs_in_alternation_give_a_ratio_with_its_spread():
    """Pairs of +3, +2, +4 dB: 3 dB, twice-sided 95 % by Student's t of two degrees 4.303/sqrt(3) (tables (memory))."""
    contacts = [spot(2 * n, "ab"[n % 2], v) for n, v in enumerate((-10, -7, -12, -10, -9, -5))]
    (found,) = alternations(contacts)
    assert (found.pairs, found.mean_db) == (3, pytest.approx(3.0))
    assert found.spread_db == pytest.approx(4.303 / 3**0.5, abs=0.01)


@pytest.mark.parametrize(
    "second", [spot(20, "b", -5), spot(2, "b", -5, "Q0B"), spot(2, "b", -5, hz=14.1e6)], ids=["late", "another", "band"]
)
def test_what_is_no_pair_is_left_out(second):
    assert alternations([spot(0, "a", -10), second]) == []


def test_two_pairs_tell_no_spread():
    (found,) = alternations([spot(2 * n, "ab"[n % 2], -10 + n) for n in range(4)])
    assert found.spread_db is None
    assert "too few" in found.words


def test_no_verdict_reads_what_was_heard_on_the_air():
    quiet = case(WHOLE)
    loud = replace(quiet, contacts=tuple(spot(n, "u", -30.0) for n in range(20)))
    assert judge(loud) == judge(quiet)
    assert judged_content(loud) == judged_content(quiet)
