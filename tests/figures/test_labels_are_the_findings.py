"""What a figure shows of the demo is what was found: the drawn share, the loss of a line, the levels of harmonics."""

import re
from xml.etree import ElementTree

import numpy as np
import pytest

from levelmoor.core.bench.book import BenchBook
from levelmoor.core.bench.cable_check import CableCheck
from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import DecisionRule
from levelmoor.core.model.bench_records import CheckKind
from levelmoor.figures.check_figure import check_figure
from levelmoor.figures.emissions import PostRow, emission_posts
from levelmoor.figures.strip import band_strip
from levelmoor.records.exporting import exported
from tests.records.test_bench_records import demo_rows  # noqa: F401  the fixture

SVG = "{http://www.w3.org/2000/svg}"


@pytest.fixture
def demo(session, demo_rows):  # noqa: F811
    cores = [exported(session, row).evaluation for row in demo_rows]
    return [(core, judge(core)) for core in cores]


def texts(svg):
    return ["".join(e.itertext()).strip() for e in ElementTree.fromstring(svg).iter(f"{SVG}text")]


def drawn_share(svg):
    """How much of the skyline lies in the water, by its own coordinates."""
    root = ElementTree.fromstring(svg)
    level = float(next(e for e in root.iter(f"{SVG}line") if e.get("class") == "level").get("y1"))
    within = whole = 0.0
    for path in (e for e in root.iter(f"{SVG}path") if e.get("class") == "skyline"):
        x, y = np.array(re.findall(r"([-\d.]+)[ ,]([-\d.]+)", path.get("d")), dtype=float).T
        at = np.linspace(x[0], x[-1], 2000)
        under = np.interp(at, x, y) >= level - 0.05  # downwards on the page is less reflection
        within, whole = within + float(under.mean()) * (x[-1] - x[0]), whole + x[-1] - x[0]
    return within / whole


def test_a_strip_draws_the_share_that_was_found(demo):
    shares = [(drawn_share(band_strip(core, u)), u.share) for core, found in demo for u in found.usability]
    assert len(shares) > 10
    for drawn, found in shares:
        assert drawn == pytest.approx(found, abs=0.06)


def drawn_at_the_end(svg, css):
    """The last point of a curve, in the units that the figure's own axis gives."""
    root = ElementTree.fromstring(svg)
    ticks = [e for e in root.iter(f"{SVG}text") if re.fullmatch(r"\d+", e.text or "") and e.get("text-anchor") == "end"]
    (one, other), middle = (ticks[0], ticks[-1]), 4  # a tick's words stand so much under its line
    y = [float(t.get("y")) - middle for t in (one, other)]
    values = [float(t.text) for t in (one, other)]
    curve = next(e for e in root.iter(f"{SVG}path") if css in (e.get("class") or "").split())
    last = float(re.findall(r"-?[\d.]+", curve.get("d"))[-1])
    return values[0] + (last - y[0]) / (y[1] - y[0]) * (values[1] - values[0])


def test_the_figure_of_a_line_draws_what_was_found(demo):
    core = next(core for core, _ in demo if any(c.kind is CheckKind.CABLE for c in core.checks))
    book = BenchBook(core)
    for check in (c for c in core.checks if c.kind is CheckKind.CABLE):
        result = book.result(check)
        assert isinstance(result, CableCheck)
        svg = check_figure(check, result)
        assert drawn_at_the_end(svg, "skyline") == pytest.approx(result.seen_db.value[-1], abs=0.1)
        assert ElementTree.fromstring(svg).find(f"{SVG}title").text == result.words


def test_posts_bear_the_levels_that_were_found(demo):
    reports = [e.report for _, found in demo for e in found.emissions]
    assert reports
    for report in reports:
        said = texts(emission_posts([PostRow("A", "one", report)], DecisionRule.GUARDED))
        levels = [report.carrier.level_dbm, *(h.level_dbm for h in report.harmonics if h.level_dbm is not None)]
        written = [t.replace("−", "-").removeprefix("≤").strip() for t in said]
        assert [f for f in (f"{x:.0f}" for x in levels) if f not in written] == []
