"""The public shelf: reports by words and facets, and pages that gather them by product, maker, kind, band and team."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from flask import Blueprint, abort, render_template, request, url_for
from flask.typing import ResponseReturnValue
from sqlalchemy import func, select

from levelmoor.core.metrology.decision import VERDICT_WORDS
from levelmoor.core.model.product_kinds import PRODUCT_KIND_WORDS, ProductKind
from levelmoor.records import shelf as records
from levelmoor.records import tables as t
from levelmoor.records.shelf import Search, SearchProblem, search_from
from levelmoor.web.context import db, membership
from levelmoor.web.shelf.product import product_page

shelf = Blueprint("shelf", __name__, template_folder="templates")
FACET_WORDS = {
    "kind": "Kind", "band": "Band", "verdict": "Verdict", "maker": "Maker", "team": "Team", "connector": "Connector",
    "year": "Year",
}  # fmt: skip


@dataclass(frozen=True)
class About:
    """What a page is about: its heading, a sentence, and the facet that it is a page of."""

    heading: str = "Published reports"
    lead: str = ""
    facet: str = ""


def value_words(facet: str, value: str) -> str:
    """A value of a facet as it is read."""
    if facet == "kind":
        return PRODUCT_KIND_WORDS[ProductKind(value)]
    return VERDICT_WORDS[value] if facet == "verdict" else value  # type: ignore[index]


def asked_for(fields: Mapping[str, str]) -> tuple[Search, str]:
    """What is asked for, and what is wrong with it; then all is shown."""
    try:
        return search_from(fields), ""
    except SearchProblem as problem:
        return Search(), str(problem)


def _page(about: About, **fixed: str) -> ResponseReturnValue:
    asked, problem = asked_for({**request.args, **fixed})
    found = records.find(db(), asked)
    shown = render_template(
        "shelf/listing.html",
        about=about,
        asked=asked,
        problem=problem,
        found=found,
        facet_words=FACET_WORDS,
        value_words=value_words,
        address=lambda search: _address(search, about.facet, request.view_args or {}),
        feeds=asked.changed(order="newest").asked,
    )
    return shown, 422 if problem else 200


def _address(asked: Search, facet: str, place: Mapping[str, Any]) -> str:
    """Where a search is found: on the page of its own facet as long as it keeps it."""
    fields: dict[str, Any] = dict(asked.asked)
    if facet and facet in fields:
        del fields[facet]
        return url_for(str(request.endpoint), **place, **fields)
    return url_for("shelf.listing", **fields)


@shelf.get("/reports")
def listing() -> ResponseReturnValue:
    return _page(About())


@shelf.get("/kinds/<kind>")
def kind(kind: str) -> ResponseReturnValue:
    if kind not in list(ProductKind):
        abort(404)
    return _page(About(f"Reports by kind: {value_words('kind', kind)}", facet="kind"), kind=kind)


@shelf.get("/bands/<band>")
def band(band: str) -> ResponseReturnValue:
    if db().scalar(select(t.ShelfFacet.value).where(t.ShelfFacet.facet == "band", t.ShelfFacet.value == band)) is None:
        abort(404)
    return _page(About(f"Reports on {band}", "What was tested on this band, by all teams.", "band"), band=band)


@shelf.get("/makers/<key>")
def maker(key: str) -> ResponseReturnValue:
    name = db().scalar(select(t.ShelfReport.maker).where(t.ShelfReport.maker_key == key).limit(1)) or abort(404)
    return _page(About(name, "Every published report on this maker's products, by all teams.", "maker"), maker=name)


@shelf.get("/products/<key>")
def product(key: str) -> ResponseReturnValue:
    rows = records.of_product(db(), key) or abort(404)
    return render_template(
        "shelf/product.html", page=product_page(rows, records.lines_of(db(), [r.report_id for r in rows]))
    )


@shelf.get("/teams/<int:team_id>")
def team(team_id: int) -> ResponseReturnValue:
    """A team's own page: what it says of itself, and its reports."""
    row = db().get(t.Team, team_id) or abort(404)
    published = db().scalar(select(t.Report.id).where(t.Report.team_id == team_id).limit(1)) is not None
    place = membership()
    if not (published or row.about or (place and place.team_id == team_id)):
        abort(404)  # nothing of it is public
    asked, _ = asked_for({"team": row.name, "after": request.args.get("after", "")})
    return render_template("shelf/team.html", team=row, found=records.find(db(), asked), withdrawn=_withdrawn(team_id))


def _withdrawn(team_id: int) -> int:
    withdrawn = select(func.count()).where(t.Report.team_id == team_id, t.Report.withdrawn_at.is_not(None))
    return db().scalar(withdrawn) or 0
