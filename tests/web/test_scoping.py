"""What a member of another team, a page of another site and a bad file come to."""

import io

import pytest

from levelmoor.records import store, sweeps
from levelmoor.records import tables as t

RAW = b"# MHz S RI R 50\n14 0.1 0\n14.1 0.1 0\n"


@pytest.fixture(scope="module")
def theirs(maker):
    """An evaluation of another team."""
    with maker.begin() as session:
        team = t.Team(name="Yet others")
        session.add(team)
        session.flush()
        row = store.open_evaluation(session, team, "Secret antenna")
        row.claims.append(t.Claim(quantity="swr", windows=[], limit=2.0))
        sweep = sweeps.add_sweep(session, row, "a.s1p", RAW)
        return {"row_id": row.claims[0].id, "sweep_id": sweep.id}


def test_list_and_search_show_own_evaluations_only(signed_in, theirs):
    assert b"Secret antenna" not in signed_in.get("/").data
    assert b"Secret antenna" not in signed_in.get("/?words=Secret").data


def test_rows_of_another_evaluation_cannot_be_reached_through_ones_own(signed_in, theirs):
    signed_in.post("/evaluations", data={"product": "Mine"})
    mine = signed_in.get("/").data.decode().split('href="/e/')[1].split('"')[0]
    for path in (
        f"cell/claim/{theirs['row_id']}/limit",
        f"remove/sweep/{theirs['sweep_id']}",
        f"sweeps/{theirs['sweep_id']}/read",
    ):
        assert signed_in.post(f"/e/{mine}/{path}", data={"value": "3"}).status_code == 404
    assert signed_in.get(f"/e/{mine}/sweeps/{theirs['sweep_id']}/raw").status_code == 404


def test_changes_need_the_token_of_the_page(app, member):
    client = app.test_client()
    assert client.post("/sign-in", data={"email": member.email, "password": member.password}).status_code == 400
    assert client.post("/evaluations", data={"product": "x"}).status_code == 400


@pytest.mark.parametrize("target", ["//evil.example", "https://evil.example/", "/\\evil.example"])
def test_sign_in_goes_on_to_our_own_pages_only(client, member, target):
    answer = client.post(f"/sign-in?next={target}", data={"email": member.email, "password": member.password})
    assert answer.location == "/"


def test_headers(signed_in):
    answer = signed_in.get("/")
    policy = answer.headers["Content-Security-Policy"]
    assert "script-src 'self';" in policy
    assert "unsafe" not in policy
    assert answer.headers["X-Content-Type-Options"] == "nosniff"


def test_cookie_is_kept_from_scripts_and_other_sites(client, member):
    answer = client.post("/sign-in", data={"email": member.email, "password": member.password})
    cookie = next(v for k, v in answer.headers if k == "Set-Cookie" and v.startswith("levelmoor="))
    assert "HttpOnly" in cookie
    assert "SameSite=Lax" in cookie


def test_upload_of_a_bad_file_stores_nothing_and_says_where(signed_in):
    signed_in.post("/evaluations", data={"product": "Mine"})
    mine = signed_in.get("/").data.decode().split('href="/e/')[1].split('"')[0]
    files = [(io.BytesIO(b"# MHz S RI R 50\n14 0.1 x\n"), "bad.s1p"), (io.BytesIO(RAW), "good.s1p")]
    text = signed_in.post(f"/e/{mine}/sweeps", data={"files": files}).data.decode()
    assert "Line 2, column 8" in text
    assert "good.s1p" in text
    assert text.count("data-sweep") == 1
