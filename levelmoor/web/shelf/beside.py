"""Two to six published reports beside each other, at an address of its own that names their revisions."""

from collections.abc import Sequence
from dataclasses import dataclass

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from levelmoor.core.metrology.decision import Verdict, worst_verdict
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.shelf.beside import (
    FEWEST,
    MOST,
    Side,
    SideCurve,
    bands_of,
    curve_on,
    differences,
    unlike_rules,
    window_of,
)
from levelmoor.core.shelf.entry import ShelfLine, shelf_entry
from levelmoor.figures.curves import Drawn
from levelmoor.figures.landscape import view_around
from levelmoor.figures.overlay import overlay
from levelmoor.records import tables as t
from levelmoor.web.reports.page import published_page
from levelmoor.web.reports.published import revision_or_404

beside = Blueprint("beside", __name__, template_folder="templates")
BETWEEN, NUMBER = "+", "."


@dataclass(frozen=True)
class Column:
    """One report of the comparison, with the letter of its curve."""

    letter: str
    revision: t.ReportRevision
    side: Side
    lines: Sequence[ShelfLine]

    def cell(self, claim: tuple[str, str]) -> list[ShelfLine]:
        """The verdicts of the units that count, on one question."""
        return [x for x in self.lines if x.counted and (x.quantity, x.band or x.window) == claim]

    def verdict(self, claim: tuple[str, str]) -> Verdict | None:
        cell = self.cell(claim)
        return worst_verdict(x.verdict for x in cell) if cell else None


@beside.get("/beside")
def choose() -> ResponseReturnValue:
    """From the reports that were ticked on the shelf to the address that names their latest revisions."""
    slugs = list(dict.fromkeys(request.args.getlist("r")))
    if not FEWEST <= len(slugs) <= MOST:
        words = f"Tick {FEWEST} to {MOST} reports to set beside each other; {len(slugs)} are ticked."
        return render_template("problem.html", words=words, code=422), 422
    names = BETWEEN.join(f"{slug}{NUMBER}{revision_or_404(slug).number}" for slug in slugs)
    return redirect(url_for("beside.page", names=names))


@beside.get("/beside/<names>")
def page(names: str) -> ResponseReturnValue:
    """The comparison on one band; the revisions that it names never change, so neither does it."""
    columns = _columns(names)
    bands = bands_of([c.side for c in columns])
    band = request.args.get("band", bands[0] if bands else "")
    if band and band not in bands:
        abort(404)
    shown = [(c, curve) for c in columns if (curve := curve_on(c.side, band))] if band else []
    curves = [curve for _, curve in shown]
    return render_template(
        "shelf/beside.html",
        names=names,
        columns=columns,
        questions=_questions(columns),
        bands=bands,
        band=band,
        shown=shown,
        figure=_figure(shown, band) if shown else "",
        differences=differences(curves, band),
        rules=unlike_rules(curves),
    )


def _columns(names: str) -> list[Column]:
    asked = names.split(BETWEEN)
    if not FEWEST <= len(asked) <= MOST or len(set(asked)) < len(asked):
        abort(404)
    columns = []
    for letter, name in zip("ABCDEF", asked, strict=False):
        slug, _, number = name.rpartition(NUMBER)
        revision = revision_or_404(slug, int(number)) if number.isdecimal() else abort(404)
        drawn = published_page(revision.bundle_sha256, lambda r=revision: r.bundle)  # type: ignore[misc]
        side = Side(revision.title, drawn.evaluation, drawn.findings)
        columns.append(Column(letter, revision, side, shelf_entry(drawn.evaluation, drawn.findings).lines))
    return columns


def _questions(columns: Sequence[Column]) -> dict[tuple[str, str], list[str]]:
    """What at least two of the reports were asked, with each one's own words: the claim may differ."""
    asked: dict[tuple[str, str], dict[str, list[str]]] = {}
    for column in columns:
        for line in column.lines:
            words = asked.setdefault((line.quantity, line.band or line.window), {})
            words.setdefault(column.letter, [])
            if line.claim not in words[column.letter]:
                words[column.letter].append(line.claim)
    return {
        key: list(dict.fromkeys(claim for claims in by.values() for claim in claims))
        for key, by in asked.items()
        if len(by) >= FEWEST
    }


def _figure(shown: Sequence[tuple[Column, SideCurve]], band: str) -> str:
    drawn = [
        Drawn(column.letter, curve.side.name, place, analyse_sweep(curve.sweep, curve.claim.z0_ohm), curve.figures)
        for place, (column, curve) in enumerate(shown)
    ]
    window = window_of(band, shown[0][1])
    view = view_around(shown[0][1].sweep, [window])
    label = f"SWR on {band}: " + ", ".join(f"{c.letter} {curve.side.name}" for c, curve in shown)
    return overlay(drawn, [window], 2.0, view, label=label)
