"""Doors: names of downloads, addresses to go on to, headers, hosts, sizes, and what a page keeps of a person's text."""

import errno
import io
import pickle
import re
from threading import Event
from types import SimpleNamespace

import pytest
from sqlalchemy.exc import InternalError, OperationalError

from levelmoor.core.judge import judge
from levelmoor.core.rf.windows import Window
from levelmoor.records import store, sweeps
from levelmoor.records import tables as t
from levelmoor.records.article_state import windows_row
from levelmoor.records.worker_line import TooMuch
from levelmoor.web import free_space
from levelmoor.web.app import create_app
from levelmoor.web.downloads import download, for_download

RAW = b"# MHz S RI R 50\n" + b"".join(b"%.3f 0.05 0\n" % (13.9 + i / 400) for i in range(221))
TITLES = ["λ/4 Ωhm", 'a"; filename="b', "天线"]


@pytest.fixture
def case(signed_in, member, maker):
    """An evaluation with a claim and a sweep, ready to be published."""
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), "Antenna")
        row.bench_calibration = "at_plane"
        windows = windows_row((Window(14e6, 14.35e6, "20m"),))
        row.claims.append(t.Claim(quantity="swr", limit=2.0, windows=windows))
        sweeps.add_sweep(session, row, "Ω über.s1p", RAW)
        return row.id


# -- Names of downloads --------------------------------------------------------------------------------------------


@pytest.mark.parametrize("title", TITLES)
def test_whatever_the_title_everything_can_be_downloaded(signed_in, case, maker, title):
    with maker.begin() as session:
        row = session.get(t.Evaluation, case)
        row.title = title
        sweep = row.sweeps[0].id
    report = signed_in.post(f"/e/{case}/report", data={"listed": "yes"}).location
    for path in (
        f"{report}/1/bundle.zip", f"/e/{case}/export", f"/e/{case}/plan/sheet.pdf", f"/e/{case}/sweeps/{sweep}/raw",
        f"/e/{case}/sweeps/{sweep}/as/csv", f"/e/{case}/sweeps/{sweep}/as/s1p",
    ):  # fmt: skip
        answer = signed_in.get(path)
        assert answer.status_code == 200, path
        answer.headers["Content-Disposition"].encode("latin-1")


def test_name_stands_plain_and_whole():
    """RFC 6266 with both parameters, RFC 8187 for the extended one (its example, section 3.2.2: £ and € rates)."""
    value = download(b"", "£ and € rates", "text/plain").headers["Content-Disposition"]
    assert "filename*=UTF-8''%C2%A3%20and%20%E2%82%AC%20rates" in value
    assert 'filename="and  rates"' in value


@pytest.mark.parametrize("title", ["", "///", "\r\nSet-Cookie: x=1", "a" * 300])
def test_name_is_never_empty_and_never_more_than_a_name(title):
    value = download(b"", for_download(title), "text/plain").headers["Content-Disposition"]
    assert re.fullmatch(r'attachment; filename="[\w. ()-]{1,60}"', value)


# -- Addresses, headers, hosts -------------------------------------------------------------------------------------


@pytest.mark.parametrize("target", ["//[x", "//evil.example", "https://evil.example/", "/\\evil.example", "/x\r\nA: b"])
def test_nobody_is_sent_on_to_another_place(client, member, target):
    data = {"email": member.email, "password": member.password}
    assert client.post("/sign-in", query_string={"next": target}, data=data).location == "/"
    assert client.post("/look", data={"look": "night", "back": target}).location == "/"


def test_what_is_a_teams_is_kept_nowhere_on_the_way(signed_in, case):
    for path in ("/", f"/e/{case}", f"/e/{case}/export", f"/e/{case}/plan/sheet.pdf", "/equipment/pad.csv"):
        assert signed_in.get(path).headers["Cache-Control"] == "no-store", path


def test_behind_tls_cookies_and_browsers_keep_to_it(database_url, member):
    app = create_app(database_url, behind_tls=True)
    app.config["WTF_CSRF_ENABLED"] = False
    client = app.test_client()
    data = {"email": member.email, "password": member.password}
    answers = [client.post("/sign-in", data=data), client.post("/look", data={"look": "night"})]
    assert all("Secure" in v for a in answers for k, v in a.headers if k == "Set-Cookie")
    assert "max-age=31536000" in answers[0].headers["Strict-Transport-Security"]
    app.config["SESSIONS"].kw["bind"].dispose()


def test_server_answers_to_its_own_names_alone(database_url):
    app = create_app(database_url, hosts=["bench.club.example"])
    codes = [
        app.test_client().get("/help", headers={"Host": h}).status_code for h in ("bench.club.example", "evil.example")
    ]
    assert codes == [200, 400]
    app.config["SESSIONS"].kw["bind"].dispose()


def test_addresses_of_reports_differ_by_their_letters(signed_in, case):
    report = signed_in.post(f"/e/{case}/report", data={"listed": "yes"}).location
    swapped = report[:3] + report[3:].swapcase()
    assert signed_in.get(report).status_code == 200
    assert signed_in.get(swapped).status_code == 404


def test_stranger_sends_nothing_large(client):
    answer = client.post("/sign-in", data={"email": "x" * 30_000, "password": "y"})
    assert answer.status_code == 413


# -- Lists ---------------------------------------------------------------------------------------------------------


def test_list_goes_on_over_its_pages(signed_in, member, maker, monkeypatch):
    monkeypatch.setattr(store, "EVALUATIONS_A_PAGE", 2)
    for n in range(5):
        signed_in.post("/evaluations", data={"product": f"Antenna {n}"})
    seen = [re.findall(r"Antenna \d", signed_in.get(f"/?page={p}").text) for p in (1, 2, 3)]
    assert sorted(name for page in seen for name in set(page)) == [f"Antenna {n}" for n in range(5)]
    assert 'rel="next"' in signed_in.get("/?page=2").text
    assert 'rel="next"' not in signed_in.get("/?page=3").text


def test_long_ledger_of_claims_is_shown_in_parts_and_a_new_claim_in_the_last(signed_in, case, maker, monkeypatch):
    monkeypatch.setattr("levelmoor.web.workbench.view.CLAIMS_A_PART", 2)
    for source in ("second", "third"):
        answer = signed_in.post(f"/e/{case}/claims", data={"text": "SWR < 3 2m", "source": source})
    assert re.findall(r"(\d+–\d+)</a>", answer.text) == ["1–2", "3–3"]
    assert ">third<" in answer.text.split('<table class="ledger">')[1]
    assert ">second<" not in answer.text
    assert ">second<" in signed_in.get(f"/e/{case}?part=1").text


def test_public_list_is_searched(signed_in, client, case, maker):
    with maker.begin() as session:
        session.get(t.Evaluation, case).title = "A rather rare 100% title"
    signed_in.post(f"/e/{case}/report", data={"listed": "yes"})
    assert "A rather rare" in client.get("/reports?words=rare+100%25").text
    assert "A rather rare" not in client.get("/reports?words=r_re").text
    assert "No report matches" in client.get("/reports?words=nothing-of-that-kind").text


# -- History -------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("path", ["/", "/?words=a", "/e/{}", "/e/{}?sweep=1", "/e/{}/compare"])
def test_who_comes_back_by_the_history_gets_the_whole_page(signed_in, case, path):
    path = path.format(case)
    part = signed_in.get(path, headers={"HX-Request": "true"}).text
    whole = signed_in.get(path, headers={"HX-Request": "true", "HX-History-Restore-Request": "true"}).text
    assert "<html" not in part
    assert "<html" in whole


# -- The PDF -------------------------------------------------------------------------------------------------------


def test_title_of_a_sheet_fetches_nothing_and_stays_a_text(maker, member, monkeypatch):
    """A title with CSS in it: neither its address nor a picture of the machine is asked for."""
    from weasyprint.urls import URLFetcher

    from levelmoor.core.plan.plan import make_plan
    from levelmoor.records.mapping import evaluation_of
    from levelmoor.services.run_sheet import sheet_html, sheet_pdf

    asked = []
    usual = URLFetcher.fetch
    monkeypatch.setattr(URLFetcher, "fetch", lambda self, url, headers=None: asked.append(url) or usual(self, url))
    evil = (
        '"; } body { background: url(http://127.0.0.1:9/secret) } @import url("file:///etc/hostname"); x { content: "'
    )
    with maker() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), "x")
        row.title = evil
        row.claims.append(t.Claim(quantity="swr", limit=2.0, windows=windows_row((Window(14e6, 14.35e6, "20m"),))))
        session.flush()
        evaluation = evaluation_of(row)
        html = sheet_html(make_plan(evaluation), evaluation)
        assert "url(http" not in html.split("<style>")[1].split("</style>")[0]
        assert sheet_pdf(make_plan(evaluation), evaluation).startswith(b"%PDF")
    assert all("/static/fonts/" in url or url.startswith("data:image/svg+xml") for url in asked)
    assert asked


def test_pdf_leaves_out_what_is_not_its_own(tmp_path):
    from levelmoor.services.own_files import OwnFiles

    (tmp_path / "own.woff2").write_bytes(b"x")
    fetcher = OwnFiles(tmp_path)
    for url in ("http://127.0.0.1:1/", "file:///etc/passwd", f"{tmp_path.as_uri()}/../x", "data:text/html;base64,AA=="):
        with pytest.raises(ValueError, match="is not fetched"):
            fetcher.fetch(url)


# -- Too much ------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("wide.csv", b"1," * 9000 + b"1\n", "more than 200 columns"),
        ("long.csv", b"1," * 200_000 + b"1\n", "a line of"),
        ("quote.csv", b'Frequency MHz,SWR\n14,"' + b"1" * 15_000 + b"\n15,1.2\n", "quote.csv"),
        ("lines.csv", b"\n" * 300_000 + b"1,2\n", "lines"),
        ("ghz.s1p", b"# Hz S RI R 50\n0.14 0.1 0\n0.1401 0.1 0\n0.1402 0.1 0\n", "the option line says Hz"),
    ],
)
def test_file_that_is_too_much_is_refused_and_the_good_one_of_the_drop_is_kept(signed_in, case, name, data, words):
    files = [(io.BytesIO(data), name), (io.BytesIO(RAW.replace(b"0.05", b"0.06")), "good.s1p")]
    text = signed_in.post(f"/e/{case}/sweeps", data={"files": files}).text
    assert words in text
    assert "good.s1p" in text


def test_picture_of_too_many_pixels_is_refused_before_it_is_unpacked(signed_in, case):
    from PIL import Image

    out = io.BytesIO()
    Image.new("1", (8000, 8000)).save(out, "PNG")
    text = signed_in.post(f"/e/{case}/pictures", data={"pictures": (io.BytesIO(out.getvalue()), "big.png")}).text
    assert "8000 by 8000 pixels" in text


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("plan/ticks", "[" * 20_000),
        ("readings/{sheet}/changes", '{"changes":' + "[" * 20_000),
        ("readings/{sheet}/check", "[" * 20_000),
    ],
)
def test_json_that_lies_too_deep_is_refused(signed_in, case, maker, path, body):
    from levelmoor.core.readings.readings import ReadingKind
    from levelmoor.records.readings import SheetPlace

    with maker() as session:
        sheet = SheetPlace.on_bench(session.get(t.Evaluation, case), ReadingKind.SWR)
    answer = signed_in.post(f"/e/{case}/{path.format(sheet=sheet)}", data=body, content_type="application/json")
    assert answer.status_code in (200, 422)


def test_rule_set_and_driver_that_lie_too_deep_are_refused(signed_in):
    deep = b"[" * 20_000 + b"]" * 20_000
    assert signed_in.post("/team/rules/file", data={"file": (io.BytesIO(deep), "r.json")}).status_code == 422
    assert signed_in.post("/equipment/live/drivers", data={"commands": deep.decode()}).status_code == 422


@pytest.mark.parametrize(
    ("path", "data", "words"),
    [
        ("claims", {"text": "SWR < 2 " + "x" * 3000}, "characters are allowed"),
        ("cell/claim/{claim}/windows", {"value": "20m, " * 600}, "characters are allowed"),
        ("cell/claim/{claim}/source", {"value": "x" * 2001}, "At most 2000"),
        ("cell/evaluation/{case}/notes", {"value": "x" * 20_000}, "At most 10000"),
    ],
)
def test_text_that_is_too_long_is_refused_and_said(signed_in, case, maker, path, data, words):
    with maker() as session:
        claim = session.get(t.Evaluation, case).claims[0].id
    answer = signed_in.post(f"/e/{case}/{path.format(claim=claim, case=case)}", data=data)
    assert answer.status_code == 422
    assert words in answer.text


def test_spot_claim_is_planned_drawn_and_printed(signed_in, case):
    """Help's own example: a claim at one frequency."""
    signed_in.post(f"/e/{case}/claims", data={"text": "SWR < 2 at 7.1 MHz"})
    for path in ("plan", "plan/sheet", "plan/sheet.pdf", "report", "compare", ""):
        assert signed_in.get(f"/e/{case}/{path}".rstrip("/")).status_code == 200, path


# -- What stands folded --------------------------------------------------------------------------------------------


def test_what_stands_folded_comes_when_it_is_opened_and_stays_with_the_page(signed_in, case):
    page = signed_in.get(f"/e/{case}").text
    claim = re.search(r'id="claim-(\d+)"', page)[1]
    field = f'id="claim-{claim}-limit"'
    assert field not in page
    assert field in signed_in.get(f"/e/{case}/open/claim-{claim}").text
    assert field in signed_in.get(f"/e/{case}", headers={"Levelmoor-Opened": f"case,claim-{claim}"}).text


@pytest.mark.parametrize("name", ["claim-0", "claim-", "claim", "sweep-1", "anything"])
def test_nothing_else_is_opened(signed_in, case, name):
    assert signed_in.get(f"/e/{case}/open/{name}").status_code == 404


# -- No room left --------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "problem",
    [
        OSError(errno.ENOSPC, "No space left on device"),
        OperationalError("INSERT", {}, Exception(1114, "The table is full")),
        InternalError("INSERT", {}, Exception(1021, "Disk full")),
    ],
    ids=["the system", "a table", "the database"],
)
def test_a_full_disk_is_told_as_such(signed_in, case, app, monkeypatch, problem):
    def full(*_args, **_kwargs):
        raise problem

    monkeypatch.setitem(app.config, "PROPAGATE_EXCEPTIONS", False)
    monkeypatch.setattr("levelmoor.records.intake.add_sweep", full)
    files = [(io.BytesIO(RAW.replace(b"0.05", b"0.07")), "full.s1p")]
    answer = signed_in.post(f"/e/{case}/sweeps", data={"files": files})
    assert answer.status_code == 507 and "The disk of this server is full" in answer.text


def test_a_disk_that_is_nearly_full_keeps_nothing_more_and_is_read_from(signed_in, case, monkeypatch, tmp_path):
    monkeypatch.setenv(free_space.FOLDER, str(tmp_path))
    claims = {"text": "SWR < 2 20m", "source": "box"}
    before = signed_in.get(f"/e/{case}").text.count('<tbody class="claim" id="claim-')
    for free, code in ((free_space.LEAST_BYTES - 1, 507), (free_space.LEAST_BYTES, 200)):
        monkeypatch.setattr(free_space.shutil, "disk_usage", lambda _folder, free=free: SimpleNamespace(free=free))
        assert signed_in.post(f"/e/{case}/claims", data=claims).status_code == code
        kept = re.findall(r'<tbody class="claim" id="claim-', signed_in.get(f"/e/{case}").text)
        assert (len(kept) > before) is (code == 200)


def test_a_change_that_takes_too_much_to_judge_is_told_and_not_kept(signed_in, case, monkeypatch):
    def too_much(_evaluation):
        raise TooMuch("time")

    before = signed_in.get(f"/e/{case}/export").data
    with monkeypatch.context() as slow:
        slow.setattr("levelmoor.services.findings.judge_apart", too_much)
        files = [(io.BytesIO(RAW.replace(b"0.05", b"0.09")), "slow.s1p")]
        answer = signed_in.post(f"/e/{case}/sweeps", data={"files": files})
    assert answer.status_code == 503 and "takes too much time for this server" in answer.text
    assert signed_in.get(f"/e/{case}/export").data == before


def test_a_page_whose_evaluation_is_being_judged_says_so_and_comes_by_itself(signed_in, case, monkeypatch):
    may_end = Event()

    def slow(evaluation):
        may_end.wait(60)
        return judge(evaluation)

    monkeypatch.setattr("levelmoor.records.apart.LONG_POINTS", 1)
    monkeypatch.setattr("levelmoor.web.errors.PATIENCE_S", 0.05)
    monkeypatch.setattr("levelmoor.services.findings.judge_apart", slow)
    answer = signed_in.get(f"/e/{case}")
    may_end.set()
    assert answer.status_code == 503 and "still being judged" in answer.text
    assert answer.headers["Refresh"] == "2"


@pytest.mark.parametrize("page", ["compare", "plan", "report", "adjust", "tuner", "through"])
def test_what_a_page_makes_of_a_long_evaluation_is_made_apart_and_not_waited_for(signed_in, case, monkeypatch, page):
    may_end = Event()

    def slow(evaluation, work, *args):
        may_end.wait(60)
        return pickle.loads(pickle.dumps(work(*args)))

    monkeypatch.setattr("levelmoor.records.apart.LONG_POINTS", 1)
    monkeypatch.setattr("levelmoor.services.findings.judge_apart", judge)
    monkeypatch.setattr("levelmoor.web.errors.PATIENCE_S", 1.0)
    monkeypatch.setattr("levelmoor.services.findings.work_apart", slow)
    answer = signed_in.get(f"/e/{case}/{page}")
    may_end.set()
    monkeypatch.setattr("levelmoor.web.errors.PATIENCE_S", 60.0)
    assert answer.status_code == 503 and "still being judged" in answer.text
    assert signed_in.get(f"/e/{case}/{page}").status_code == 200


def test_a_file_that_is_refused_where_nobody_expects_it_is_told_in_words(signed_in, case, maker, monkeypatch):
    monkeypatch.setattr("levelmoor.records.sweeps.EVALUATION_POINTS", 300)
    with maker() as session:
        sweep = session.query(t.Sweep.id).filter(t.Sweep.evaluation_id == case).scalar()
    answer = signed_in.post(f"/e/{case}/sweeps/{sweep}/again")
    assert answer.status_code == 422 and "the sweeps of this evaluation already have 221" in answer.text
