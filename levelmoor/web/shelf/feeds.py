"""The shelf for programs that follow it: a feed of every search, and the map of the site.

References
----------
.. [1] RFC 4287, The Atom Syndication Format.
.. [2] JSON Feed, version 1.1 (memory).
.. [3] The Sitemaps XML format of sitemaps.org, protocol 0.9 (memory).
"""

from xml.etree import ElementTree

from flask import Blueprint, Response, jsonify, request, url_for
from sqlalchemy import select

from levelmoor.records import shelf as records
from levelmoor.records import tables as t
from levelmoor.records.shelf import Search, SearchProblem, search_from
from levelmoor.web.context import db

feeds = Blueprint("feeds", __name__)
ATOM = "http://www.w3.org/2005/Atom"
SITEMAP = "http://www.sitemaps.org/schemas/sitemap/0.9"
ENTRIES = 50
MOST_ADDRESSES = 50_000
"""As many as one sitemap may name [3]_."""
FRESH_S = 300


def _asked() -> Search:
    return search_from({**request.args, "order": "newest", "after": ""})


def _title(asked: Search) -> str:
    narrowed = ", ".join(v for k, v in asked.asked.items())
    return f"Levelmoor: reports ({narrowed})" if narrowed else "Levelmoor: published reports"


def _kept_a_while(response: Response) -> Response:
    response.headers["Cache-Control"] = f"public, max-age={FRESH_S}"
    response.add_etag()
    response.make_conditional(request)
    return response


@feeds.errorhandler(SearchProblem)
def wrong(problem: SearchProblem) -> tuple[Response, int]:
    return Response(str(problem), mimetype="text/plain"), 422


@feeds.get("/reports.atom")
def atom() -> Response:
    """The latest reports that a search finds, as Atom [1]_."""
    asked = _asked()
    rows = records.find(db(), asked, ENTRIES).rows
    ElementTree.register_namespace("", ATOM)
    feed = ElementTree.Element(f"{{{ATOM}}}feed")

    def add(parent: ElementTree.Element, name: str, words: str = "", **fields: str) -> ElementTree.Element:
        made = ElementTree.SubElement(parent, f"{{{ATOM}}}{name}", fields)
        made.text = words or None
        return made

    here = url_for("feeds.atom", _external=True, **asked.changed(order="newest").asked)
    add(feed, "title", _title(asked))
    add(feed, "id", here)
    add(feed, "link", rel="self", href=here)
    add(feed, "link", rel="alternate", href=url_for("shelf.listing", _external=True, **asked.asked))
    add(feed, "updated", f"{max((r.published_at for r in rows), default=records.NEVER).isoformat()}Z")
    for row in rows:
        entry = add(feed, "entry")
        address = url_for("reports.public", slug=row.slug, _external=True)
        add(entry, "title", row.title)
        add(entry, "id", address)
        add(entry, "link", href=address)
        add(entry, "updated", f"{row.published_at.isoformat()}Z")
        add(add(entry, "author"), "name", row.team)
        add(entry, "summary", row.found)
    body = ElementTree.tostring(feed, encoding="utf-8", xml_declaration=True)
    return _kept_a_while(Response(body, mimetype="application/atom+xml"))


@feeds.get("/reports/feed.json")
def json_feed() -> Response:
    """The same as JSON Feed [2]_."""
    asked = _asked()
    items = [
        {
            "id": (address := url_for("reports.public", slug=row.slug, _external=True)),
            "url": address,
            "title": row.title,
            "content_text": row.found,
            "date_published": f"{row.published_at.isoformat()}Z",
            "authors": [{"name": row.team}],
            "tags": list(row.bands),
        }
        for row in records.find(db(), asked, ENTRIES).rows
    ]
    response = jsonify(
        version="https://jsonfeed.org/version/1.1",
        title=_title(asked),
        home_page_url=url_for("shelf.listing", _external=True, **asked.asked),
        feed_url=url_for("feeds.json_feed", _external=True, **asked.asked),
        items=items,
    )
    response.mimetype = "application/feed+json"
    return _kept_a_while(response)


@feeds.get("/sitemap.xml")
def sitemap() -> Response:
    """Every public page: reports, products, teams [3]_."""
    ElementTree.register_namespace("", SITEMAP)
    whole = ElementTree.Element(f"{{{SITEMAP}}}urlset")
    columns = (t.ShelfReport.slug, t.ShelfReport.published_at, t.ShelfReport.product_key, t.ShelfReport.team_id)
    rows = db().execute(select(*columns).order_by(t.ShelfReport.report_id.desc()).limit(MOST_ADDRESSES // 2)).all()
    addresses = {url_for("shelf.listing", _external=True): None}
    addresses |= {url_for("reports.public", slug=r.slug, _external=True): r.published_at for r in rows}
    addresses |= {url_for("shelf.product", key=r.product_key, _external=True): None for r in rows}
    addresses |= {url_for("shelf.team", team_id=r.team_id, _external=True): None for r in rows}
    for address, at in list(addresses.items())[:MOST_ADDRESSES]:
        entry = ElementTree.SubElement(whole, f"{{{SITEMAP}}}url")
        ElementTree.SubElement(entry, f"{{{SITEMAP}}}loc").text = address
        if at is not None:
            ElementTree.SubElement(entry, f"{{{SITEMAP}}}lastmod").text = at.date().isoformat()
    body = ElementTree.tostring(whole, encoding="utf-8", xml_declaration=True)
    return _kept_a_while(Response(body, mimetype="application/xml"))


@feeds.get("/robots.txt")
def robots() -> Response:
    """What is public may be indexed; what a team works on is behind a sign-in anyway."""
    words = f"User-agent: *\nDisallow: /e/\nDisallow: /sign-in\nSitemap: {url_for('feeds.sitemap', _external=True)}\n"
    return _kept_a_while(Response(words, mimetype="text/plain"))
