"""Published reports: frozen, readable by people and programs, and gone from nobody's sight by a later change."""

import io
import json

import pytest

from levelmoor.core.metrology.decision import Verdict
from levelmoor.formats.bundle import verify_bundle
from levelmoor.records.kept import Kept
from levelmoor.web.reports import page as report_page
from tests.browser.test_main_path import touchstone


@pytest.fixture
def report(signed_in):
    """The address of a published report, its evaluation's address, and the client that published it."""
    signed_in.post("/evaluations", data={"product": "Yard <dipole>", "maker": "A & B"})
    address = "/e/" + signed_in.get("/").data.decode().split('href="/e/')[1].split('"')[0]
    number = address.rsplit("/", 1)[1]
    signed_in.post(f"{address}/cell/hand/{number}/calibration", data={"value": "at_plane"})
    signed_in.post(f"{address}/claims", data={"text": "SWR < 1.5 20m", "source": "box"})
    signed_in.post(f"{address}/claims", data={"text": "gain 3 dBi"})
    signed_in.post(f"{address}/sweeps", data={"files": (io.BytesIO(touchstone().encode()), "yard.s1p")})
    answer = signed_in.post(f"{address}/report", data={"listed": "yes"})
    assert answer.status_code == 302, answer.data.decode()
    return answer.location, address, signed_in


@pytest.fixture
def stranger(app, client):
    return app.test_client()


def test_page_says_what_a_reader_needs(report, stranger):
    text = stranger.get(report[0]).data.decode()
    for words in (
        "Yard &lt;dipole&gt;", "A &amp; B", "How it was obtained", "A match is not radiation", "no legal advice",
        "What was not tested", "Gain 3 dBi", "JCGM 106:2012", "reference plane at the sample", "yard.s1p", "not stated",
    ):  # fmt: skip
        assert words in text, words
    assert "<dipole>" not in text


@pytest.mark.parametrize(
    ("path", "accept"), [("", "application/json"), (".json", "*/*"), ("/1.json", "*/*"), ("/1", "application/json")]
)
def test_same_in_json(report, stranger, path, accept):
    got = stranger.get(report[0] + path, headers={"Accept": accept}).get_json()
    assert [f["verdict"] for f in got["findings"]["claims"]] == ["pass", "outside"]
    assert got["evaluation"]["claims"][0]["windows"][0] == {"low_hz": 14e6, "high_hz": 14.35e6, "name": "20m"}


def test_browsers_get_the_page(report, stranger):
    accept = "text/html,application/xhtml+xml,application/xml;q=0.9,*/*;q=0.8"
    assert stranger.get(report[0], headers={"Accept": accept}).mimetype == "text/html"


def test_bundle_is_the_one_whose_digest_the_page_states(report, stranger):
    answer = stranger.get(report[0] + "/1/bundle.zip")
    assert verify_bundle(answer.data).same
    assert answer.headers["ETag"].strip('"') in stranger.get(report[0]).data.decode()
    assert answer.headers["Content-Disposition"] == 'attachment; filename="levelmoor-yard--dipole-1.zip"'


def test_published_verdict_stays_whatever_the_rules_become(report, stranger, monkeypatch):
    """A page drawn years later by a program that would judge otherwise still shows what was published."""
    monkeypatch.setattr(report_page, "_kept", Kept(64))
    for place in (
        "evidence.dossier.judge_window", "verdict.window_verdict.decide_window", "evidence.keyed.judge_emissions",
        "emissions.emission_findings.judge_emissions", "emissions.emission_findings.measure", "bench.at_plane.at_plane",
        "bench.book.check_result", "bench.gates.gates_of", "bench.cable_check.check_cable",
        "emissions.emission_path.path_of", "evidence.court.Court.window",
    ):  # fmt: skip
        monkeypatch.setattr(
            f"levelmoor.core.{place}", lambda *_, **__: pytest.fail("a published report was judged again")
        )
    text = stranger.get(report[0]).data.decode()
    assert "passes with this bench" in text


def test_later_change_leaves_the_first_revision_as_it_was(report, stranger):
    public, address, client = report
    first = stranger.get(public + "/1.json").data
    number = address.rsplit("/", 1)[1]
    text = client.get(address).data.decode()
    claim = text.split('id="claim-')[1].split('"')[0]
    client.post(f"{address}/cell/claim/{claim}/limit", data={"value": "1.1"})
    assert client.post(f"{address}/report", data={"listed": "yes"}).status_code == 422
    assert client.post(f"{address}/report", data={"listed": "yes", "reason": "The box says 1.1."}).status_code == 302
    assert stranger.get(public + "/1.json").data == first
    latest = json.loads(stranger.get(public + ".json").data)
    assert (latest["manifest"]["revision"], latest["findings"]["claims"][0]["verdict"]) == (2, Verdict.FAIL)
    assert "The box says 1.1." in stranger.get(public).data.decode()
    assert "Revision 2 published" in client.get("/").data.decode()
    assert number in address


@pytest.mark.parametrize("path", ["/r/nothing", "/r/nothing/1", "/r/nothing.json", "/r/nothing/1/bundle.zip"])
def test_unknown_report(stranger, path):
    assert stranger.get(path).status_code == 404


def test_unknown_revision(report, stranger):
    assert stranger.get(report[0] + "/7").status_code == 404


def test_raw_file_comes_back_as_it_came(report):
    _, address, client = report
    sweep = client.get(address).data.decode().split("/sweeps/")[1].split("/")[0]
    assert client.get(f"{address}/sweeps/{sweep}/raw").data == touchstone().encode()
