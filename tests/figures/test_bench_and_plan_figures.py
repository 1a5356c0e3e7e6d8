"""The figures of bench and plan say in their accessible names what they show, and draw what they say."""

import re
from dataclasses import replace
from itertools import pairwise
from xml.etree import ElementTree

import numpy as np
import pytest

from levelmoor.core.bench.check_results import check_result
from levelmoor.core.model.bench_records import BenchCheck, CheckKind
from levelmoor.core.model.equipment import Equipment, FeedLine, Pad
from levelmoor.core.model.plan_wishes import PlanWishes
from levelmoor.core.plan.plan import make_plan
from levelmoor.core.plan.plan_model import StageKind
from levelmoor.core.rf.trace import Trace
from levelmoor.figures.check_figure import check_figure
from levelmoor.figures.plan_figures import cover_map, cover_rows, time_axis
from levelmoor.figures.profile import Post, Profile, profile
from tests.core.plan.test_plan import ANALYZER, CASE
from tests.core.rf.test_feedline import swept
from tests.sweeps import flat

SVG = "{http://www.w3.org/2000/svg}"
F = np.linspace(100e6, 800e6, 71)
OWNED = Equipment(pads=(Pad("p", "tap", 40, 25),), lines=(FeedLine("f", "line", "RG-213", 20.0),))
CHECKS = {
    "load": BenchCheck("1", CheckKind.LOAD, "", sweep=flat(0.01)),
    "load that is not flat": BenchCheck("1", CheckKind.LOAD, "", sweep=flat(0.2)),
    "short": BenchCheck("1", CheckKind.OPEN_OR_SHORT, "", sweep=flat(0.99)),
    "line": BenchCheck("1", CheckKind.CABLE, "", item_id="f", sweep=swept(20)),
    "bad line": BenchCheck("1", CheckKind.CABLE, "", item_id="f", sweep=swept(20, loss_factor=3)),
    "pad": BenchCheck(
        "1", CheckKind.PAD, "", item_id="p", figures=(("fundamental_hz", 146e6),),
        traces=(Trace(F, np.zeros(71)), Trace(F, -41.0 - F / 1e9)),
    ),
    "meter": BenchCheck("1", CheckKind.METER, "", pairs=((1.1, 1.2), (2.0, 2.3), (3.0, 3.2))),
    "noise": BenchCheck(
        "1", CheckKind.NOISE, "", figures=(("rbw_hz", 1e4),), traces=(Trace(F, np.where(np.arange(71) == 9, -60.0, -100.0)),)
    ),
}  # fmt: skip


def parts(svg, css):
    return [e for e in ElementTree.fromstring(svg).iter() if e.get("class") == css]


@pytest.mark.parametrize("name", CHECKS)
def test_every_check_has_a_figure_named_by_its_result(name):
    result = check_result(CHECKS[name], OWNED)
    root = ElementTree.fromstring(check_figure(CHECKS[name], result))
    assert root.find(f"{SVG}title").text == result.words
    assert root.get("role") == "img"


@pytest.mark.parametrize(("name", "water"), [("load", True), ("load that is not flat", False), ("bad line", False)])
def test_water_stands_where_a_check_is_within_its_limit_and_ridge_where_not(name, water):
    """Areas between curve and level: one of the two has no height."""
    svg = check_figure(CHECKS[name], check_result(CHECKS[name], OWNED))

    def height(css):
        numbers = [float(x) for x in re.findall(r"-?\d+\.\d+|-?\d+", parts(svg, css)[0].get("d"))]
        middle = len(numbers) // 4 * 2
        upper, lower = numbers[1:middle:2], numbers[middle + 1 :: 2][::-1]
        return max(abs(a - b) for a, b in zip(upper, lower, strict=False))

    assert (height("water") > 1) is water
    assert (height("ridge") > 1) is not water


def test_pads_harmonics_stand_as_posts_with_their_figures():
    svg = check_figure(CHECKS["pad"], check_result(CHECKS["pad"], OWNED))
    assert len(parts(svg, "post")) == 5
    assert "41.15" in svg
    assert "label 40 dB" in svg


def test_axis_holds_every_curve_level_and_post():
    data = Profile(F, np.full(71, -3.0), "dB", np.full(71, 20.0), "level", [Post(400e6, 60.0, "high")])
    ys = [float(e.get("cy")) for e in parts(profile(data, "figure"), "dip")]
    assert all(0 < y < 250 for y in ys)


def test_words_from_outside_are_escaped():
    assert "<b>" not in profile(Profile(F, np.zeros(71), "<b>", np.ones(71), "<b>", [Post(F[3], 0.5, "<b>")]), "<b>")


# -- The plan --------------------------------------------------------------------------------------------------------


def test_time_axis_has_a_block_for_every_stage():
    plan = make_plan(CASE)
    svg = time_axis(plan)
    for kind, css in (
        (StageKind.REBUILD, "lane-rebuild"),
        (StageKind.CALIBRATION, "lane-calibration"),
        (StageKind.SWEEP, "lane-sweep"),
    ):
        assert len(parts(svg, css)) == plan.count(kind)
    blocks = parts(svg, "lane-rebuild")
    assert all(float(a.get("x")) < float(b.get("x")) for a, b in pairwise(blocks))


def test_map_fills_what_is_covered_and_leaves_the_rest_empty():
    plan = make_plan(CASE)
    rows = cover_rows(plan)
    svg = cover_map(rows)
    assert (len(parts(svg, "water")), len(parts(svg, "basin-empty"))) == (2, 0)
    assert "2m: analyzer, 4 runs" in ElementTree.fromstring(svg).find(f"{SVG}title").text
    keys = tuple(r.key for r in plan.runs if r.name == "2m")
    without = make_plan(replace(CASE, wishes=PlanWishes(dropped=keys)))
    svg = cover_map(cover_rows(without))
    assert (len(parts(svg, "water")), len(parts(svg, "basin-empty"))) == (1, 1)
    assert "no sweep shows it" in svg


def test_points_of_the_map_are_those_inside_the_window():
    """13.965 MHz and 4.2 kHz a step: the 9th step is the first above 14.000, the 91st the last below 14.350: 83."""
    (row,) = [r for r in cover_rows(make_plan(CASE)) if r.window.name == "20m"]
    assert "83 points inside, step 4.2 kHz" in cover_map([row])


def test_passes_of_a_small_instrument_are_told_apart():
    few = make_plan(replace(CASE, instruments=(replace(ANALYZER, points=11),)))
    (row,) = [r for r in cover_rows(few) if r.window.name == "20m"]
    svg = cover_map([row])
    assert "3 passes" in svg
    assert len(parts(svg, "stakes")) == 3
