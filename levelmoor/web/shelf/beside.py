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
    WIDTH_AT,
    Side,
    SideCurve,
    bands_of,
    curve_on,
    differences,
    unlike_rules,
    window_of,
)
from levelmoor.core.shelf.entry import ShelfLine, shelf_entry
from levelmoor.core.words.counting import counted
from levelmoor.figures.curves import Drawn
from levelmoor.figures.landscape import view_around
from levelmoor.figures.overlay import overlay
from levelmoor.records import tables as t
from levelmoor.web.errors import say
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

    def cell(self, question: str) -> tuple[Verdict, float | None] | None:
        """The worst verdict of the units that count, with their worst SWR; None where the question was not asked."""
        lines = [x for x in self.lines if x.counted and x.question == question]
        if not lines:
            return None
        return worst_verdict(x.verdict for x in lines), max((x.swr for x in lines if x.swr is not None), default=None)


@beside.get("/beside")
def choose() -> ResponseReturnValue:
    """From the reports that were ticked on the shelf to the address that names their latest revisions."""
    slugs = list(dict.fromkeys(request.args.getlist("r")))
    if not FEWEST <= len(slugs) <= MOST:
        ticked = counted(len(slugs), "report is", "reports are")
        return say(f"Tick {FEWEST} to {MOST} reports to see them side by side; {ticked} ticked.", 422)
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
        questions=list(dict.fromkeys(line.question for c in columns for line in c.lines)),
        bands=bands,
        band=band,
        shown=shown,
        figures=_figures(shown, band) if shown else (),
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


def _figures(shown: Sequence[tuple[Column, SideCurve]], band: str) -> tuple[str, str]:
    """The curves over each other, and the same for a telephone."""
    drawn = [
        Drawn(column.letter, curve.side.name, place, analyse_sweep(curve.sweep, curve.claim.z0_ohm), curve.figures)
        for place, (column, curve) in enumerate(shown)
    ]
    window = window_of(band, shown[0][1])
    view = view_around(shown[0][1].sweep, [window])
    label = f"SWR on {band}: " + ", ".join(f"{c.letter} {curve.side.name}" for c, curve in shown)
    narrow = overlay(drawn, [window], WIDTH_AT, view, label=label, width=380, height=360)
    return overlay(drawn, [window], WIDTH_AT, view, label=label), narrow
