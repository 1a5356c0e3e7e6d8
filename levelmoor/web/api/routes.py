"""The API: published reports for programs, read only."""

from typing import Any

import numpy as np
from flask import Blueprint, Response, abort, jsonify, render_template, request, url_for
from sqlalchemy import func, select
from werkzeug.exceptions import HTTPException

from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.product_kinds import ProductKind
from levelmoor.core.rf.reflection import swr_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.formats.csv_out import write_csv
from levelmoor.formats.touchstone_out import write_s1p
from levelmoor.records import shelf as records
from levelmoor.records import tables as t
from levelmoor.records.shelf import ORDERS, SearchProblem, search_from
from levelmoor.web.api import answers as a
from levelmoor.web.api.described import Described, Parameter
from levelmoor.web.context import db
from levelmoor.web.reports.figures import figures_of
from levelmoor.web.reports.page import ReportPage, published_page
from levelmoor.web.reports.published import revision_or_404

api = Blueprint("api", __name__, url_prefix="/api/v1", template_folder="templates")
described = Described(api)
PRODUCTS_A_PAGE = 50
SEARCHED = (
    Parameter("words", "words in product, maker, team, band, claim; each may be the beginning of one"),
    Parameter("kind", "what kind of product it is", [k.value for k in ProductKind]),
    Parameter("band", "a band by its name, such as 2m"),
    Parameter("verdict", "a verdict that counts in the report", [v.value for v in Verdict]),
    Parameter("maker", "the maker's name"),
    Parameter("team", "the team's name"),
    Parameter("connector", "the connector's family, such as BNC"),
    Parameter("year", "when it was published, four digits"),
    Parameter("order", "newest first, or by product", ORDERS),
    Parameter("after", "where the page starts; copy it from `next`"),
)


@api.after_request
def for_all_origins(response: Response) -> Response:
    response.headers["Access-Control-Allow-Origin"] = "*"
    return response


@api.errorhandler(SearchProblem)
def wrong(problem: SearchProblem) -> tuple[Response, int]:
    return jsonify(problem=str(problem)), 422


@api.errorhandler(HTTPException)
def none(error: HTTPException) -> tuple[Response, int]:
    words = "Nothing on the shelf has this address." if error.code == 404 else str(error.description)
    return jsonify(problem=words), error.code or 500


@api.get("/")
def about() -> str:
    """The page that describes all addresses, with how to read them by programs that people have."""
    row = db().scalar(select(t.ShelfReport).order_by(t.ShelfReport.published_at.desc()).limit(1))
    return render_template("api/about.html", endpoints=described.endpoints, example=row, at=_here())


@api.get("/openapi.json")
def openapi() -> Response:
    return jsonify(described.openapi(_here()))


def _here() -> str:
    return url_for("api.about", _external=True).rstrip("/")


def _item(row: t.ShelfReport) -> a.ReportItem:
    return a.ReportItem(
        **{name: getattr(row, name) for name in a.ReportItem.model_fields if hasattr(row, name) and name != "verdicts"},
        verdicts=dict(row.verdicts),
        page=url_for("reports.public", slug=row.slug, _external=True),
        bundle=url_for("reports.bundle", slug=row.slug, number=row.revision, _external=True),
    )


def _on_shelf(slug: str) -> t.ShelfReport:
    return db().scalar(select(t.ShelfReport).where(t.ShelfReport.slug == slug)) or abort(404)


def _page(row: t.ShelfReport) -> ReportPage:
    last = revision_or_404(row.slug)
    return published_page(last.bundle_sha256, lambda: last.bundle)


@described.get("/reports", a.ReportList, SEARCHED)
def reports() -> a.ReportList:
    """Search the published reports."""
    found = records.find(db(), search_from(request.args))
    following = url_for("api.reports", _external=True, **found.next.asked) if found.next else None
    return a.ReportList(count=found.count, reports=[_item(r) for r in found.rows], next=following)


@described.get("/reports/<slug>", a.ReportItem)
def report(slug: str) -> a.ReportItem:
    """One report."""
    return _item(_on_shelf(slug))


@described.get("/reports/<slug>/claims", a.Claims)
def claims(slug: str) -> a.Claims:
    """The claims of a report."""
    found: dict[str, a.ClaimItem] = {}
    for line in records.lines_of(db(), [_on_shelf(slug).report_id]):
        item = found.setdefault(
            line.claim, a.ClaimItem(claim=line.claim, quantity=line.quantity, limit=line.limit, bands=[])
        )
        if line.band and line.band not in item.bands:
            item.bands.append(line.band)
    return a.Claims(claims=list(found.values()))


@described.get("/reports/<slug>/findings", a.Findings)
def findings(slug: str) -> a.Findings:
    """The verdicts of a report, by claim, window and unit."""
    lines = records.lines_of(db(), [_on_shelf(slug).report_id])
    names = a.FindingItem.model_fields
    return a.Findings(findings=[a.FindingItem(**{n: getattr(x, n) for n in names}) for x in lines])


@described.get("/reports/<slug>/figures", a.Figures)
def figures(slug: str) -> a.Figures:
    """The figures of a report, as pictures and as data."""
    row = _on_shelf(slug)
    page = _page(row)

    def at(name: str, kind: str) -> str:
        return url_for("papers.figure", _external=True, slug=slug, number=row.revision, name=name, kind=kind)

    items = []
    for f in figures_of(page.evaluation, page.findings):
        said: dict[str, Any] = {n: getattr(f, n) for n in ("name", "claim", "window", "unit", "says")}
        items.append(a.FigureItem(**said, svg=at(f.name, "svg"), csv=at(f.name, "csv")))
    return a.Figures(figures=items)


@described.get("/reports/<slug>/sweeps", a.Sweeps)
def sweeps(slug: str) -> a.Sweeps:
    """The sweeps of reflection that a report holds."""
    of = _page(_on_shelf(slug)).evaluation
    units, setups = {s.id: s.label for s in of.samples}, {s.id: s.name for s in of.setups}
    instruments = {i.id: i.name for i in of.instruments}

    def at(number: int, kind: str) -> str:
        return url_for(f"api.sweep_{kind}", slug=slug, number=number, _external=True)

    items = [
        a.SweepItem(
            id=str(n),
            name=e.name,
            unit=units[e.sample_id],
            setup=setups[e.setup_id],
            instrument=instruments[e.instrument_id],
            points=e.sweep.points,
            low_hz=e.sweep.low_hz,
            high_hz=e.sweep.high_hz,
            csv=at(n, "csv"),
            touchstone=at(n, "touchstone"),
        )
        for n, e in enumerate(of.sweeps, 1)
    ]
    return a.Sweeps(sweeps=items)


@described.get("/reports/<slug>/sweeps/<int:number>.csv", "text/csv")
def sweep_csv(slug: str, number: int) -> Response:
    """One sweep: frequency in Hz, SWR, and the reflection coefficient where its phase is known."""
    sweep = _sweep(slug, number)
    swr = swr_from_gamma(np.clip(sweep.magnitude, 0, 1))
    columns = ["frequency_hz", "swr", *([] if sweep.scalar else ["gamma_real", "gamma_imag"])]
    rows: list[list[object]] = [list(columns)]
    for i, f in enumerate(sweep.frequency_hz):
        parts = [] if sweep.scalar else [f"{sweep.gamma[i].real:.6g}", f"{sweep.gamma[i].imag:.6g}"]
        rows.append([f"{f:.12g}", f"{swr[i]:.6g}", *parts])
    return Response(write_csv(rows, ","), mimetype="text/csv")


@described.get("/reports/<slug>/sweeps/<int:number>.s1p", "text/plain")
def sweep_touchstone(slug: str, number: int) -> Response:
    """One sweep as Touchstone; of one without phase the size alone is true, and the file says so."""
    sweep = _sweep(slug, number)
    unknown = "SWR alone was measured: the angles are unknown and written as 0"
    said = unknown if sweep.scalar else f"Levelmoor report {slug}"
    return Response(write_s1p(sweep, said), mimetype="text/plain")


def _sweep(slug: str, number: int) -> Sweep:
    every = _page(_on_shelf(slug)).evaluation.sweeps
    if not 1 <= number <= len(every):
        abort(404)
    return every[number - 1].sweep


@described.get("/products", a.ProductList, [SEARCHED[0], SEARCHED[-1]])
def products() -> a.ProductList:
    """Products that were tested, by their keys."""
    asked = search_from({"words": request.args.get("words", "")})
    shown, found = t.ShelfReport, [records.matching(asked.words)] if asked.words else []
    query = (
        select(shown.product_key, func.max(shown.product), func.max(shown.maker), func.max(shown.kind), func.count())
        .where(shown.product_key > request.args.get("after", ""), *found)
        .group_by(shown.product_key)
        .order_by(shown.product_key)
        .limit(PRODUCTS_A_PAGE + 1)
    )
    rows = db().execute(query).all()
    names = a.ProductItem.model_fields
    items = [a.ProductItem.model_validate(dict(zip(names, r, strict=True))) for r in rows[:PRODUCTS_A_PAGE]]
    more = {"words": asked.words, "after": items[-1].key} if len(rows) > PRODUCTS_A_PAGE else {}
    following = url_for("api.products", _external=True, **{k: v for k, v in more.items() if v}) if more else None
    return a.ProductList(products=items, next=following)


@described.get("/products/<key>", a.ReportList)
def product(key: str) -> a.ReportList:
    """All reports on one product, by all teams."""
    rows = records.of_product(db(), key) or abort(404)
    return a.ReportList(count=len(rows), reports=[_item(r) for r in rows], next=None)
