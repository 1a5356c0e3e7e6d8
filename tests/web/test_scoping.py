"""Every route, by a stranger, by a member of another team, and by one who may not edit."""

import io

import pytest

from levelmoor.core.readings import ReadingKind
from levelmoor.records import store, sweeps
from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member
from levelmoor.records.captures import Circumstances, add_capture
from levelmoor.records.raw_files import keep_raw
from levelmoor.records.readings import sheet_on_bench
from tests.conftest import PASSWORD

OPEN = {
    "static",
    "accounts.sign_in",
    "accounts.look",
    "guide.page",
    "reports.listing",
    "reports.public",
    "reports.as_json",
    "reports.bundle",
    "reports.picture",
    "worker.script",
}
RAW = b"# MHz S RI R 50\n14 0.1 0\n14.1 0.1 0\n"


@pytest.fixture(scope="module")
def theirs(maker):
    """An evaluation of another team, with everything in it."""
    with maker.begin() as session:
        team = t.Team(name="Others")
        session.add(team)
        session.flush()
        row = store.open_evaluation(session, team, "Secret antenna")
        row.claims.append(t.Claim(quantity="swr", windows=[], limit=2.0))
        sweep = sweeps.add_sweep(session, row, "a.s1p", RAW)
        sheet = sheet_on_bench(session, row, ReadingKind.SWR)
        pending = t.PendingFile(
            evaluation_id=row.id, raw_file=keep_raw(session, team.id, b"a,b\n1,2\n"), file_name="p.csv"
        )
        session.add(pending)
        capture = add_capture(session, row, "c.csv", b"MHz,dBm\n146,-3\n", Circumstances(146e6))
        session.get(t.Instrument, row.bench_instrument_id).address = "127.0.0.1:9"
        session.get(t.Instrument, row.bench_instrument_id).driver = "Generic one-port analyzer"
        session.flush()
        return {
            "evaluation_id": row.id,
            "sweep_id": sweep.id,
            "row_id": row.claims[0].id,
            "kind": "claim",
            "name": "limit",
            "kind_id": "line",
            "action": "drop",
            "picture_id": 1,
            "setup_id": row.setups[0].id,
            "sheet_id": sheet.id,
            "instrument_id": row.bench_instrument_id,
            "pending_id": pending.id,
            "driver_id": 1,
            "capture_id": capture.id,
            "filter_id": 1,
            "rule_row_id": 1,
            "rule_id": "us-97.307",
            "step": "open",
            "form": "csv",
        }


def every_route(app):
    for rule in app.url_map.iter_rules():
        for method in sorted(rule.methods & {"GET", "POST"}):
            yield rule, method


def address(app, rule, theirs):
    values = {"slug": "none", "number": 1, "digest": "0", "filename": "app.css", **theirs}
    with app.test_request_context():
        return app.url_map.bind("localhost").build(rule.endpoint, {a: values[a] for a in rule.arguments})


def test_stranger_is_sent_to_sign_in(app, client, theirs):
    let_in = []
    for rule, method in every_route(app):
        if rule.endpoint in OPEN:
            continue
        answer = client.open(address(app, rule, theirs), method=method)
        if not (answer.status_code == 302 and "/sign-in" in answer.location):
            let_in.append((rule.endpoint, method, answer.status_code))
    assert let_in == []


def test_member_of_another_team_finds_nothing(app, signed_in, theirs):
    shown = []
    for rule, method in every_route(app):
        if "evaluation_id" not in rule.arguments:
            continue
        for kind in ("claim", "sample", "setup", "instrument", "sweep", "product", "evaluation"):
            answer = signed_in.open(address(app, rule, {**theirs, "kind": kind}), method=method, data={"value": "1"})
            if answer.status_code != 404 or b"Secret" in answer.data:
                shown.append((rule.endpoint, method, kind, answer.status_code))
    assert shown == []


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


def test_only_editors_change_the_teams_settings(client, maker, member):
    with maker.begin() as session:
        add_member(session, member.team, f"plain-{member.email}", "Plain", PASSWORD, editor=False)
    client.post("/sign-in", data={"email": f"plain-{member.email}", "password": PASSWORD})
    assert client.get("/team").status_code == 200
    assert [client.post(p, data={"name": "x"}).status_code for p in ("/team", "/team/members")] == [403, 403]


def test_changes_need_the_token_of_the_page(app, member):
    client = app.test_client()
    assert client.post("/sign-in", data={"email": member.email, "password": member.password}).status_code == 400
    assert client.post("/evaluations", data={"product": "x"}).status_code == 400


def test_sign_in_is_limited(app, client, monkeypatch):
    from levelmoor.web import security

    monkeypatch.setattr(security.limiter, "enabled", True)
    codes = [client.post("/sign-in", data={"email": "a@b.example", "password": "x"}).status_code for _ in range(12)]
    security.limiter.reset()
    assert codes[:10] == [422] * 10
    assert codes[10:] == [429] * 2


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
    cookie = next(v for k, v in answer.headers if k == "Set-Cookie" and v.startswith("session="))
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
