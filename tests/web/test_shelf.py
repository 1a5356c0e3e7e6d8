"""The public shelf of the demo: found by words and facets, paged by place, fed, set beside each other, read by programs."""

import contextlib
import io
import json
import re
import zlib
from xml.etree import ElementTree

import pytest
from sqlalchemy import select

from levelmoor.records import shelf
from levelmoor.records import tables as t
from levelmoor.records.shelf import Search, SearchProblem, search_from
from levelmoor.services.shelving import catch_up
from levelmoor.web.reports import stored

ROLLAWAY = "/products/thornmere-aerial-works-rollaway-2-70"


@pytest.fixture(autouse=True)
def there(demo_loaded):
    pass


@pytest.fixture
def slugs(maker):
    with maker() as session:
        return {r.title: r.slug for r in session.scalars(select(t.ShelfReport))}


def found(session, **asked):
    return sorted(r.title for r in shelf.find(session, search_from(asked), 50).rows if "Rollaway" in r.title)


@pytest.mark.parametrize(
    "words", ["rollaway", "ROLLAWAY", "roll-away", "Rölla", "rollaway 2/70", "thornmere 70cm", "tide"]
)
def test_words_find_it_whatever_their_case_accents_and_hyphens(session, words):
    assert "Rollaway 2/70 at the tide line" in found(session, words=words)


@pytest.mark.parametrize("words", ["rollaway nowhere", "qz", "%", "…", '"', "+-*()~<>@", "a" * 300])
def test_words_that_are_not_there_find_nothing_and_break_nothing(session, words):
    assert found(session, words=words) == []


def test_facets_narrow_and_say_how_many_each_leaves(session):
    offered = dict(shelf.find(session, Search(kind="antenna")).facets["team"])
    assert offered["Saltern Coast Measuring Group"] == 1
    assert found(session, kind="antenna", team="Saltern Coast Measuring Group") == ["Rollaway 2/70 at the tide line"]


@pytest.mark.parametrize("order", ["newest", "name"])
def test_pages_follow_each_other_without_gaps(session, order):
    every, asked = [], Search(order=order)
    whole = [r.report_id for r in shelf.find(session, asked, 5000).rows]
    while asked:
        page = shelf.find(session, asked, 2)
        every += [r.report_id for r in page.rows]
        asked = page.next
    assert every == whole


@pytest.mark.parametrize(
    "wrong",
    [{"kind": "boat"}, {"verdict": "great"}, {"order": "price"}, {"year": "26"}, {"after": "x"}, {"after": "x~y"}],
)
def test_what_is_asked_wrongly_is_said_with_what_would_be_right(client, wrong):
    with pytest.raises(SearchProblem):
        search_from(wrong)
    page, answer = client.get("/reports", query_string=wrong), client.get("/api/v1/reports", query_string=wrong)
    assert (page.status_code, answer.status_code) == (422, 422)
    assert next(iter(wrong.values())) in answer.json["problem"]


def test_what_was_withdrawn_is_found_nowhere_and_keeps_its_page(client, session, slugs):
    assert "Rollaway 2/70, a first look" not in slugs
    report = session.scalar(select(t.Report).where(t.Report.withdrawn_reason.contains("three units")))
    page = client.get(f"/r/{report.slug}")
    assert page.status_code == 200
    assert "Withdrawn" in page.text


def test_a_shelf_that_is_empty_after_an_upgrade_is_filled_from_the_bundles(untouched_demo):
    """In a database of its own: what others search is never without its rows."""
    made = untouched_demo.application.config["SESSIONS"]
    with made.begin() as session:
        before = set(session.scalars(select(t.ShelfReport.report_id)))
        for report_id in before:
            shelf.take_off(session, report_id)
    catch_up(made)
    with made() as session:
        assert set(session.scalars(select(t.ShelfReport.report_id))) == before


def test_a_product_gathers_the_units_of_all_teams(client):
    page = client.get(ROLLAWAY).text
    assert "3 reports by 3 teams" in page
    assert "6 of 6 units fail" in page  # RA-2204 was tested by two teams and is one unit
    assert "agree within their stated uncertainties on the unit with serial number RA-2204" in page


@pytest.mark.parametrize(
    "path",
    ["/kinds/boat", "/bands/1m", "/makers/nobody", "/products/none", "/teams/999999", "/beside/x.1+y.1", "/beside/x"],
)
def test_an_address_of_nothing_is_not_found(client, path):
    assert client.get(path).status_code == 404


@pytest.mark.parametrize(("path", "says"), [("/bands/2m", "Rollaway 2/70"), ("/kinds/tuner", "Tarnhouse Auto"),
                                            ("/makers/thornmere-aerial-works", "Rollaway 2/70")])  # fmt: skip
def test_bands_kinds_and_makers_have_pages(client, path, says):
    assert says in client.get(path).text


def test_two_reports_stand_beside_each_other_at_an_address_that_stays(client, slugs):
    chosen = [slugs["Rollaway 2/70"], slugs["Rollaway 2/70, three units of one batch"]]
    answer = client.get("/beside", query_string={"r": chosen})
    assert answer.status_code == 302
    assert f"{chosen[0]}.2" in answer.location
    page = client.get(answer.location)
    assert "They differ by more than both uncertainties" in page.text
    assert client.get("/beside", query_string={"r": chosen[:1]}).status_code == 422


def test_feeds_and_sitemap_name_the_reports(client, slugs):
    atom = ElementTree.fromstring(client.get("/reports.atom?band=2m").data)
    entries = [e.findtext("{*}title") for e in atom.iterfind("{*}entry")]
    assert "Rollaway 2/70" in entries
    assert "Ringstone Choke" not in entries
    feed = client.get("/reports/feed.json?kind=tuner").json
    assert [i["title"] for i in feed["items"]] == ["Tarnhouse Auto"]
    places = {e.text for e in ElementTree.fromstring(client.get("/sitemap.xml").data).iterfind(".//{*}loc")}
    assert {f"http://localhost/r/{s}" for s in slugs.values()} <= places


def test_a_figure_has_its_picture_and_its_data(client, slugs):
    at = f"/r/{slugs['Rollaway 2/70']}/2/figure/claim-1-1"
    rows = client.get(f"{at}.csv").text.splitlines()
    assert rows[0] == "frequency_hz,swr,swr_low,swr_high,limit"
    low, swr, high = (float(rows[1].split(",")[n]) for n in (2, 1, 3))
    assert low < swr < high
    assert client.get(f"{at}.svg").mimetype == "image/svg+xml"
    assert client.get(f"{at}.png").data[:4] == b"\x89PNG"
    assert client.get(f"{at}.doc").status_code == client.get(f"{at}9.svg").status_code == 404


def test_the_pdf_holds_the_bundle_and_words_for_its_shapes(client, session, slugs):
    import pypdfium2

    report = session.scalar(select(t.Report).where(t.Report.slug == slugs["Rollaway 2/70"]))
    data = client.get(f"/r/{report.slug}/2/report.pdf").data
    document = pypdfium2.PdfDocument(data)
    assert [bytes(document.get_attachment(n).get_data()) for n in range(document.count_attachments())] == [
        report.revisions[-1].bundle
    ]
    first = document[0].get_textpage().get_text_range()
    assert "Too close to call" in first
    assert "Not shown" in first
    assert f"/r/{report.slug}/2" in first  # the address stands on each page
    pages = [page.get_textpage().get_text_range() for page in document]
    assert ["Annex: the evidence" in words for words in pages].index(True) <= 2  # two pages at most say it all
    assert "Before you transmit" in pages[0] + pages[1]
    streams = [zlib.decompressobj().decompress(part) for part in data.split(b"stream\n")[1:] if part[:1] == b"x"]
    assert any(b'pdfaid:part="3"' in stream for stream in streams)
    assert any(b"/StructTreeRoot" in stream for stream in streams)


def test_the_page_is_framed_by_nobody_and_the_small_one_by_all(client, slugs):
    slug = slugs["Rollaway 2/70"]
    assert "frame-ancestors 'none'" in client.get(f"/r/{slug}").headers["Content-Security-Policy"]
    assert "frame-ancestors *" in client.get(f"/r/{slug}/embed").headers["Content-Security-Policy"]
    quoted = client.get("/oembed", query_string={"url": f"http://localhost/r/{slug}/2"}).json
    assert f"/r/{slug}/embed" in quoted["html"]
    assert client.get("/oembed?url=http://elsewhere.example/x").status_code == 404


def test_a_page_is_drawn_once_and_light(client, slugs, monkeypatch):
    slug = slugs["Rollaway 2/70"]
    first = client.get(f"/r/{slug}")
    monkeypatch.setattr(stored, "_draw", None)  # drawing it again would fail
    again = client.get(f"/r/{slug}")
    assert first.status_code == again.status_code == 200
    assert len(first.data) < 300_000
    linked = json.loads(re.search(r'<script type="application/ld\+json">(.*?)</script>', first.text, re.DOTALL)[1])
    assert linked["about"]["name"] == "Rollaway 2/70"


# -- The API --------------------------------------------------------------------------------------------------------------


def test_the_description_names_every_address_and_every_answer_fits_it(client, slugs):
    described = client.get("/api/v1/openapi.json").json
    values = {"slug": slugs["Rollaway 2/70"], "number": "1", "key": ROLLAWAY.rpartition("/")[2]}
    for path, does in described["paths"].items():
        answer = client.get("/api/v1" + path.format(**values))
        (kind,) = does["get"]["responses"]["200"]["content"]
        assert (answer.status_code, answer.mimetype) == (200, kind), path
        assert answer.headers["Access-Control-Allow-Origin"] == "*"
        again = client.get("/api/v1" + path.format(**values), headers={"If-None-Match": answer.headers["ETag"]})
        assert again.status_code == 304, path
    assert client.get("/api/v1/reports/none").json["problem"]


def test_the_next_page_is_where_the_answer_says(client, monkeypatch):
    monkeypatch.setattr(shelf.find, "__defaults__", (2,))
    first = client.get("/api/v1/reports?order=name").json
    second = client.get(first["next"]).json
    assert first["count"] == second["count"]
    assert not {r["slug"] for r in first["reports"]} & {r["slug"] for r in second["reports"]}


def test_one_address_may_ask_so_often_and_no_more(client, monkeypatch):
    from levelmoor.web.api import rate

    monkeypatch.setattr(rate, "_buckets", type(rate._buckets)({"127.0.0.1": (0.0, rate.time.monotonic())}))
    answer = client.get("/api/v1/reports")
    assert (answer.status_code, answer.headers["Retry-After"]) == (429, "1")


@pytest.mark.parametrize(("package", "says"), [("pandas", "verdict"), ("scikit-rf", "1.")])
def test_the_lines_that_the_page_shows_do_what_they_say(client, live, package, says, tmp_path, monkeypatch):
    import urllib.request

    monkeypatch.chdir(tmp_path)
    page = urllib.request.urlopen(f"{live}/api/v1/").read().decode()
    lines = re.search(rf'data-lines="{package}"[^>]*>(.*?)</pre>', page, re.DOTALL)[1]
    said = io.StringIO()
    with contextlib.redirect_stdout(said):
        exec(lines.replace("&#34;", '"'), {})
    assert says in said.getvalue()
    assert len(lines.strip().splitlines()) == 5
