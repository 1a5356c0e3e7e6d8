"""A published revision as PDF, its matrix and figures as pictures: each drawn once, by the judges, and kept."""

from base64 import b64encode
from collections.abc import Callable
from typing import Any

from flask import Blueprint, Response, abort, render_template, request, url_for

from levelmoor.core.model.evaluation import Evaluation
from levelmoor.formats.bundle import read_bundle
from levelmoor.formats.picture import media_type
from levelmoor.records import tables as t
from levelmoor.records.apart import work_apart
from levelmoor.records.drawn import drawn
from levelmoor.services.on_paper import code_of, on_paper
from levelmoor.services.report_paper import paper_css, picture_png, report_pdf
from levelmoor.web.context import maker
from levelmoor.web.downloads import FOR_GOOD, download, for_download
from levelmoor.web.reports.figures import figures_of
from levelmoor.web.reports.page import published_page
from levelmoor.web.reports.published import revision_or_404
from levelmoor.web.reports.stored import key_of, words_around

papers = Blueprint("papers", __name__, template_folder="templates")
FIGURE_KINDS = {"svg": "image/svg+xml", "png": "image/png", "csv": "text/csv"}


def _given(revision: t.ReportRevision) -> dict[str, Any]:
    page = published_page(revision.bundle_sha256, lambda: revision.bundle)
    address = url_for("reports.public", slug=revision.report.slug, number=revision.number, _external=True)
    return {
        **words_around(page),
        "revision": revision,
        "address": address,
        "code": code_of(address),
        "css": paper_css(),
        "on_paper": on_paper,
    }


def _pictures(revision: t.ReportRevision, evaluation: Evaluation) -> Callable[[str], str] | None:
    """Where the pictures of a report are, inside the page itself: paper looks nothing up."""
    if not evaluation.pictures:
        return None
    held = read_bundle(revision.bundle).raw_files

    def inside(digest: str) -> str:
        return f"data:{media_type(held[digest])};base64,{b64encode(held[digest]).decode()}"

    return inside


def _kept(response: Response) -> Response:
    response.headers["Cache-Control"] = FOR_GOOD
    response.add_etag()
    response.make_conditional(request)
    return response


@papers.get("/r/<slug>/<int:number>/report.pdf")
def pdf(slug: str, number: int) -> Response:
    """Two pages with what was found, the rest behind them, and the bundle inside."""
    revision = revision_or_404(slug, number)
    name = f"levelmoor-{for_download(revision.title)}-{number}"

    def draw() -> bytes:
        given = _given(revision)
        given["picture_address"] = _pictures(revision, given["evaluation"])
        html = render_template("reports/paper.html", **given)
        return work_apart(given["evaluation"], report_pdf, html, revision.bundle, f"{name}.zip")

    return _kept(download(drawn(maker(), key_of(revision, "pdf"), draw), f"{name}.pdf", "application/pdf", inline=True))


@papers.get("/r/<slug>/<int:number>/matrix.png")
def matrix(slug: str, number: int) -> Response:
    """The verdicts at a glance, for whoever quotes the report."""
    revision = revision_or_404(slug, number)

    def draw() -> bytes:
        given = _given(revision)
        return work_apart(given["evaluation"], picture_png, render_template("reports/matrix_picture.html", **given))

    return _kept(Response(drawn(maker(), key_of(revision, "matrix"), draw), mimetype="image/png"))


@papers.get("/r/<slug>/<int:number>/figure/<name>.<kind>")
def figure(slug: str, number: int, name: str, kind: str) -> Response:
    """A figure by itself: as SVG, as PNG, or its data as CSV."""
    revision = revision_or_404(slug, number)
    if kind not in FIGURE_KINDS:
        abort(404)

    def draw() -> bytes:
        page = published_page(revision.bundle_sha256, lambda: revision.bundle)
        found = next((f for f in figures_of(page.evaluation, page.findings) if f.name == name), None) or abort(404)
        if kind == "png":
            given = {"figure": on_paper(found.drawing), "css": paper_css()}
            return work_apart(page.evaluation, picture_png, render_template("reports/figure_picture.html", **given))
        return (found.svg if kind == "svg" else found.csv).encode()

    body = drawn(maker(), key_of(revision, f"{name}.{kind}"), draw)
    made = download(body, f"{for_download(revision.title)}-{name}.{kind}", FIGURE_KINDS[kind], inline=True)
    made.headers["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'; sandbox"
    return _kept(made)
