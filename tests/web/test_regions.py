"""Bands are names: another region asks what becomes of the ranges that claims and settings name, and history tells."""

import pytest

from levelmoor.records import store
from levelmoor.records import tables as t


@pytest.fixture
def case(signed_in, member, maker):
    """An evaluation in region 1 that claims 40m by name and a range by its figures."""
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), "Whip")
        row.region = 1
        for window in (
            {"low_hz": 7.0e6, "high_hz": 7.2e6, "name": "40m"},
            {"low_hz": 7.0e6, "high_hz": 7.2e6, "name": ""},
        ):
            row.claims.append(t.Claim(quantity="swr", windows=[window], limit=2.0))
        row.settings.append(
            t.ArticleSetting(name="mark 1", windows=[{"low_hz": 7.0e6, "high_hz": 7.2e6, "name": "40m"}])
        )
        session.flush()
        return row.id


def set_region(client, case, **more):
    return client.post(f"/e/{case}/cell/evaluation/{case}/region", data={"value": "2", **more})


def kept(maker, case):
    with maker() as session:
        row = session.get(t.Evaluation, case)
        windows = [w for of in (*row.claims, *row.settings) for w in of.windows]
        return row.region, [(w["name"], w["high_hz"]) for w in windows]


def test_another_region_asks_before_anything_changes(signed_in, case, maker):
    answer = set_region(signed_in, case)
    assert answer.status_code == 422
    said = " ".join(answer.text.split())
    assert "Region 2 has different bands." in said and "7–7.2 MHz becomes 7–7.3 MHz" in said
    assert kept(maker, case) == (1, [("40m", 7.2e6), ("", 7.2e6), ("40m", 7.2e6)])


def test_the_bands_of_the_new_region_are_taken_and_history_tells(signed_in, case, maker):
    assert set_region(signed_in, case, bands="take").status_code == 200
    assert kept(maker, case) == (2, [("40m", 7.3e6), ("", 7.2e6), ("40m", 7.3e6)])
    assert "40m 7.000–7.300 MHz" in signed_in.get(f"/e/{case}/history").text


def test_ranges_that_are_kept_lose_the_band_s_name(signed_in, case, maker):
    assert set_region(signed_in, case, bands="keep").status_code == 200
    region, windows = kept(maker, case)
    assert region == 2 and [high for _, high in windows] == [7.2e6] * 3
    assert "40m" not in [name for name, _ in windows]
