"""A report in other people's pages: a small page that may be framed, and what finds it there.

References
----------
.. [1] oEmbed, the format of oembed.com, version 1.0, rich responses (memory).
"""

from urllib.parse import urlsplit

from flask import Blueprint, Response, abort, jsonify, make_response, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import escape

from levelmoor.records import shelf
from levelmoor.records import tables as t
from levelmoor.web.context import db
from levelmoor.web.reports.published import report_or_404
from levelmoor.web.security import POLICY

embedded = Blueprint("embedded", __name__, template_folder="templates")
WIDTH, HEIGHT = 480, 260
FRAMED = POLICY.replace("frame-ancestors 'none'", "frame-ancestors *")
"""The one page that others may frame: nothing on it can be pressed but the way to the report."""


def _row(slug: str) -> t.ShelfReport:
    return shelf.on_shelf(db(), report_or_404(slug).id) or abort(404)


@embedded.get("/r/<slug>/embed")
def page(slug: str) -> Response:
    """The verdicts of a report in a few lines."""
    response = make_response(render_template("reports/embed.html", row=_row(slug)))
    response.headers["Content-Security-Policy"] = FRAMED
    response.headers["Cache-Control"] = "public, max-age=300"
    return response


@embedded.get("/oembed")
def oembed() -> ResponseReturnValue:
    """How a report's address is shown by whoever quotes it [1]_."""
    wanted = request.args.get("url", "")[:500]
    parts = [p for p in urlsplit(wanted).path.split("/") if p]
    if len(parts) < 2 or parts[0] != "r":
        return jsonify(problem=f"“{wanted[:200]}” is not the address of a report here. Give one as url=…/r/…"), 404
    if request.args.get("format", "json") != "json":
        return jsonify(problem="Only format=json is answered."), 501
    row = _row(parts[1])
    place = url_for("embedded.page", slug=row.slug, _external=True)
    return jsonify(
        version="1.0",
        type="rich",
        title=f"{row.title}, tested by {row.team}",
        provider_name="Levelmoor",
        provider_url=url_for("shelf.listing", _external=True),
        width=WIDTH,
        height=HEIGHT,
        html=f'<iframe src="{escape(place)}" width="{WIDTH}" height="{HEIGHT}" title="{escape(row.title)}"></iframe>',
    )
