"""Widths from a notebook: how a line is read, what its edges leave open, and the verdict on a bandwidth claimed."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.widths import WidthReading
from levelmoor.core.readings.width_text import TypedWidth, read_width
from levelmoor.core.readings.width_verdict import judge_width, width_uncertainty
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.window_text import parse_windows
from levelmoor.formats.widths_csv import read_widths, write_widths
from tests.core.adjusting.test_round_log import case, swept
from tests.sweeps import rlc_sweep, with_noise


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("40m 7.012 to 7.174 at 2:1", TypedWidth("40m", 7.012e6, 7.174e6, 2.0, None, None, 1e3)),
        ("3.612 to 3.695 at 2:1", TypedWidth("80m", 3.612e6, 3.695e6, 2.0, None, None, 1e3)),
        ("7,01-7,17 @1,5, best 7,09 1,2", TypedWidth("40m", 7.01e6, 7.17e6, 1.5, 7.09e6, 1.2, 1e4)),
        ("2m: 144 to 146.5", TypedWidth("2m", 144e6, 146.5e6, 2.0, None, None, 1e6)),
        ("CB 27.000 to 27.400 at 1.4:1", TypedWidth("CB", 27e6, 27.4e6, 1.4, None, None, 1e3)),
        ("7012 khz to 7174 kHz at 2", TypedWidth("40m", 7.012e6, 7.174e6, 2.0, None, None, 1e3)),
    ],
)
def test_a_line_of_a_notebook_is_read(text, found):
    read = read_width(text, 1)
    assert {**vars(read), "step_hz": round(read.step_hz)} == vars(found)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("40m wide", "is not a width; write it like"),
        ("40m 7.174 to 7.012 at 2:1", "write the lower edge first"),
        ("20m 7.012 to 7.174 at 2:1", "is not on 20m"),
        ("40m 7.012 to 7.174 at 2:1, best 7.3", "the best must lie between the edges"),
        ("40m 7.012 to 7.174 at 1:1", "the SWR at the edges must be above 1"),
        ("40m 7.012 to 7.174 at 2:1, best 7.1 2.5", "the best no higher than that"),
    ],
)
def test_what_is_no_width_says_what_would_be_right(text, words):
    with pytest.raises(ValueError, match=words):
        read_width(text, 1)


def reading(low, high, **more):
    return WidthReading("w", "s1", "u1", "i1", "2m", low, high, step_hz=1e3, **more)


@pytest.mark.parametrize(
    ("claimed", "verdict"), [(3.5e6, Verdict.PASS), (4.0e6, Verdict.TOO_CLOSE), (4.6e6, Verdict.FAIL)]
)
def test_a_bandwidth_is_judged_with_its_guard_band(claimed, verdict):
    found, reason = judge_width(reading(143e6, 147e6), claimed, Residuals(directivity_db=35.0), DecisionRule.GUARDED)
    assert found is verdict, reason
    assert "4.000 MHz wide at 2:1" in reason or "4 MHz wide at 2:1" in reason


def test_the_spread_of_read_edges_is_what_their_u_says():
    # Edges of noisy sweeps of one truth, read off as a notebook would have them, against u by the figures.
    figures, read = Residuals(1000.0, 0.0, 1000.0, noise=0.004), []
    for seed in range(60):
        analysis = analyse_sweep(with_noise(rlc_sweep(13e6, 15.5e6, 2001, q=20.0), 0.004, seed), 50.0)
        (dip,) = analysis.dips
        width = analysis.width(dip, float(gamma_from_swr(2.0)))
        read.append(width.width_hz)
    told = width_uncertainty(WidthReading("w", "s", "u", "i", "20m", 13.95e6, 13.95e6 + np.mean(read)), figures)
    assert 0.9 < told / np.std(read, ddof=1) < 2  # the curve around an edge takes some of the noise out


@given(low=st.floats(144e6, 145e6), width=st.floats(0.2e6, 2e6), claimed=st.floats(0.1e6, 3e6))
def test_a_wider_reading_never_judges_worse(low, width, claimed):
    order = [Verdict.FAIL, Verdict.TOO_CLOSE, Verdict.PASS]
    one, other = (
        judge_width(reading(low, low + w), claimed, Residuals(), DecisionRule.GUARDED)[0] for w in (width, 1.3 * width)
    )
    assert order.index(other) >= order.index(one)


def found_of(*sweeps, widths, **more):
    claim = Claim("b", Quantity.BANDWIDTH, parse_windows("2m", 1), 3000.0, swr_at=2.0, **more)
    (found,) = judge(replace(case(*sweeps, widths=widths), claims=(claim,))).claims
    return found


def test_two_days_of_the_notebook_that_contradict_each_other_show_nothing():
    found = found_of(
        widths=(reading(143e6, 147e6, taken_on="2026-05-01"), reading(144e6, 145e6, taken_on="2026-06-01"))
    )
    assert found.verdict is Verdict.NOT_SHOWN
    assert "2026-05-01" in found.reason and "2026-06-01" in found.reason


@pytest.mark.parametrize(("edges", "verdict"), [((143.4e6, 146.6e6), "pass"), ((144.9e6, 145.1e6), "not_shown")])
def test_a_sweep_that_shows_it_leads_and_the_notebook_must_not_contradict_it(edges, verdict):
    found = found_of(swept("one", 145e6, 1), widths=(reading(*edges),))
    assert found.verdict == verdict


@pytest.mark.parametrize("other", [{"swr": 1.5}, {"sample_id": "s2"}])
def test_what_was_read_at_another_swr_or_of_another_sample_says_nothing(other):
    of = {**vars(reading(143e6, 147e6)), **other}
    assert found_of(widths=(WidthReading(**of),)).verdict is Verdict.NOT_SHOWN


def test_edges_of_another_band_say_nothing():
    forty = WidthReading("w", "s1", "u1", "i1", "40m", 7.0e6, 7.2e6)
    assert found_of(widths=(forty,)).verdict is Verdict.NOT_SHOWN


def test_a_table_comes_back_as_it_was_written():
    rows = [("2026-05-01", read_width("40m 7.012 to 7.174 at 2:1, best 7.09 1.2", 1), 2, "wind; cold")]
    assert read_widths(write_widths(rows), 1) == rows
