import re
from xml.etree import ElementTree

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as hnp

from levelmoor.cli.check_text import check_text
from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.window_verdict import judge_window
from levelmoor.figures.landscape import Waterline, landscape, text_skyline, view_around
from levelmoor.figures.scale import Scale
from levelmoor.figures.shapes import verdict_shape
from levelmoor.figures.strip import tiny_skyline
from levelmoor.figures.thinning import keep_extremes
from tests.sweeps import flat, rlc_sweep

TWENTY = Window(14e6, 14.35e6, "20m")


@given(hnp.arrays(float, st.integers(3, 4000), elements=st.floats(0, 1)), st.integers(1, 300))
def test_thinning_keeps_every_columns_extremes(y, columns):
    x = np.arange(y.size, dtype=float)
    kept = keep_extremes(x, y, columns)
    assert kept.size <= max(2 * columns + 2, 2 * columns + 2 if y.size > 2 * columns + 2 else y.size)
    slot = np.minimum((x / x[-1] * columns).astype(int), columns - 1)
    for column in np.unique(slot):
        everything, held = y[slot == column], y[kept[slot[kept] == column]]
        assert (held.min(), held.max()) == (everything.min(), everything.max())


def drawn(sweep, **options):
    figure = landscape(analyse_sweep(sweep, 50), [Waterline(TWENTY, 2.0, 0.02)], Residuals(), **options)
    return ElementTree.fromstring(figure)


def area(figure, name):
    """Greatest height in pixels that a filled shape of a class reaches."""
    paths = [e.get("d") for e in figure.iter() if e.get("class") == name]
    heights = [[float(p) for p in d.strip("MZ").split()[1::2]] for d in paths]
    return max((max(h) - min(h) for h in heights), default=0.0)


@pytest.mark.parametrize(("magnitude", "wet", "dry"), [(0.1, True, False), (0.6, False, True)])
def test_water_is_within_the_limit_and_a_ridge_beyond_it(magnitude, wet, dry):
    figure = drawn(flat(magnitude))
    assert (area(figure, "water") > 1, area(figure, "ridge") > 1) == (wet, dry)


def test_no_water_where_nothing_is_shown():
    figure = landscape(analyse_sweep(flat(0.1), 50), [Waterline(TWENTY, 2.0, shown=False)], Residuals())
    assert 'class="water"' not in figure
    assert 'class="point"' in figure


def test_same_swr_stands_equally_high_on_every_panel():
    one, two = Scale(1e6, 2e6, 0, 100, 0, 200), Scale(4e8, 5e8, 0, 300, 0, 200)
    assert one.y(0.4) == two.y(0.4)
    assert one.y(0) == 200


def test_curve_beyond_ten_is_cut_with_a_mark():
    assert any(e.get("class") == "cut" for e in drawn(rlc_sweep(10e6, 20e6, 2001)).iter())


def test_a_name_cannot_break_out_of_the_figure():
    figure = landscape(
        analyse_sweep(flat(0.1), 50), [Waterline(Window(14e6, 14.35e6, '<b>"&'), 2.0)], Residuals(), label='"><script>'
    )
    ElementTree.fromstring(figure)
    assert "<script>" not in figure


def test_long_sweep_stays_small():
    assert (
        len(landscape(analyse_sweep(rlc_sweep(1e6, 60e6, 100_001), 50), [Waterline(TWENTY, 2.0)], Residuals()))
        < 150_000
    )


def test_view_stays_within_the_sweep():
    assert view_around(rlc_sweep(13.95e6, 15e6, 101), [TWENTY]) == (13.95e6, 14.4375e6)


def test_shapes_and_strips_are_well_formed():
    assert len({verdict_shape(v) for v in Verdict}) == len(Verdict)
    strip = ElementTree.fromstring(tiny_skyline(rlc_sweep(13e6, 15e6, 401), TWENTY, 2.0, 0.57))
    assert strip[0].text == "20m: 57 % within 2:1"


def test_text_skyline_has_water_below_the_level():
    rows = text_skyline(analyse_sweep(rlc_sweep(13.9e6, 14.5e6, 401), 50), Waterline(TWENTY, 2.0))
    assert "~" in rows[-4]
    assert "#" in rows[2]


@given(st.floats(1e5, 1e9), st.floats(1e-4, 0.9), st.floats(200, 1600))
def test_ticks_are_round_apart_and_told_apart(low, share, width):
    scale = Scale(low, low * (1 + share), 0, width, 0, 100)
    ticks, decimals = scale.frequency_ticks()
    places = scale.x(np.array(ticks))
    assert np.all(np.diff(places) >= 79.9)
    assert np.all((places >= -1e-6) & (places <= width + 1e-6))
    assert len({f"{t / 1e6:.{decimals}f}" for t in ticks}) == len(ticks)


def test_check_as_text_says_what_the_json_says():
    analysis = analyse_sweep(rlc_sweep(14.15e6, 15e6, 401), 50)
    finding = judge_window(analysis, TWENTY, 2.0, Residuals(), DecisionRule.GUARDED)
    lines = "\n".join(check_text("a.s1p: touchstone 1.1", analysis, [finding], skyline=False))
    assert "401 points, 14.150–15.000 MHz, step up to 2.125 kHz" in lines
    assert re.search(r"2:1  14\.150–14\.30.+ MHz  at least", lines)
    assert "Fail" in lines
    assert finding.reason in lines


def test_only_the_first_points_of_a_long_unshown_window_are_dotted():
    figure = landscape(analyse_sweep(flat(0.1, points=5001), 50), [Waterline(TWENTY, 2.0, shown=False)], Residuals())
    assert figure.count('class="point"') == 200


@pytest.mark.parametrize("limit", [1.2, 1.4, 1.5, 1.7, 2.0])
@pytest.mark.parametrize("r", [28.0, 33.0, 40.0])
def test_the_words_of_a_dip_lie_on_no_limit_and_under_no_mark(limit, r):
    sweep = rlc_sweep(13.5e6, 15e6, 301, q=12, r=r)
    svg = landscape(analyse_sweep(sweep, 50), [Waterline(TWENTY, limit)], Residuals(), width=380, height=330)
    figure = ElementTree.fromstring(svg)
    texts = [e for e in figure.iter() if e.tag.endswith("text")]
    (dip,) = [e for e in texts if e.get("class") == "halo name"]
    for words in (e for e in texts if "level-text" in (e.get("class") or "")):
        assert (
            abs(float(dip.get("y")) - float(words.get("y"))) >= 14
            or abs(float(dip.get("x")) - float(words.get("x"))) > 56
        )
    assert svg.index("halo name") > svg.rindex('class="zero"')
