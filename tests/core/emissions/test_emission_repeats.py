"""Repeats of a capture, and what belongs together."""

import dataclasses

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.bench.book import BenchBook
from levelmoor.core.emissions.captured_lines import Intercepts, Spectrum, measure
from levelmoor.core.emissions.emission_findings import foresee, groups_of
from levelmoor.core.emissions.emission_repeats import mean_of
from levelmoor.core.emissions.emissions import judge_emissions
from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.model.captures import Capture
from levelmoor.core.model.evaluation import Evaluation, Product
from levelmoor.core.model.rule_sets import limit_of, shipped_rule_sets
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.trace import Trace

US = shipped_rule_sets()["us-97.307"]
QUIET = {292.0: -60.0, 438.0: -60.0, 584.0: -60.0, 730.0: -60.0}


def listed(levels, pad=0.0, u=0.3, stated=None):
    """A peak list whose levels are at the radio, seen through a pad."""
    at = {146.0: 37.0, **QUIET, **levels}
    f = np.array(sorted(at))
    trace = Trace(f * 1e6, np.array([at[x] for x in f]) - pad)
    return measure(Spectrum(f"pad {pad:g}", trace, lambda _f: (pad, u), 0.0, 0.0, stated), 146e6)


@given(st.lists(st.floats(-30, -24.1), min_size=3, max_size=8))
def test_a_mean_lies_within_its_repeats_and_its_uncertainty_adds_their_spread(levels):
    second = mean_of([listed({292.0: level}) for level in levels]).lines[0]
    assert min(levels) - 1e-9 <= second.level_dbm <= max(levels) + 1e-9
    expected = np.hypot(0.3, np.std(levels, ddof=1) / np.sqrt(len(levels)))
    assert second.u_db == pytest.approx(expected, rel=1e-6)


def test_two_repeats_tell_no_spread():
    second = mean_of([listed({292.0: -20.0}), listed({292.0: -22.0})]).lines[0]
    assert (second.level_dbm, second.u_db, second.spread_db, second.repeats) == (-21.0, 0.3, None, 2)


def test_a_spur_of_any_repeat_counts_at_its_highest():
    merged = mean_of([listed({}), listed({159.4: -8.0}), listed({159.4: -2.0})])
    assert [(s.frequency_hz, s.level_dbm) for s in merged.spurs] == [(159.4e6, -2.0)]


def test_the_reason_says_that_it_is_a_mean_and_how_far_the_repeats_spread():
    merged = mean_of([listed({292.0: level}) for level in (-10.0, -11.0, -12.0)])
    report = judge_emissions([merged], limit_of(US, 146e6, 5), DecisionRule.GUARDED)
    assert "mean of 3 captures that spread by 1.0 dB" in report.harmonics[0].reason


def test_a_spur_that_falls_with_more_pad_was_made_in_the_analyzer():
    near, far = listed({159.4: -5.0}, 40.0), listed({159.4: -25.0}, 50.0)
    alone, tested = (judge_emissions(c, limit_of(US, 146e6, 5), DecisionRule.GUARDED) for c in ([near], [near, far]))
    assert (alone.verdict, tested.verdict, tested.spurious) == (Verdict.FAIL, Verdict.PASS, ())


def test_a_harmonic_that_the_capture_with_more_pad_does_not_hold_is_not_tested():
    near = listed({292.0: 0.0}, 40.0, stated=Intercepts())
    far = dataclasses.replace(
        near, pad_db=50.0, lines=tuple(dataclasses.replace(x, level_dbm=None) for x in near.lines)
    )
    report = judge_emissions([near, far], limit_of(US, 146e6, 5), DecisionRule.GUARDED)
    assert report.harmonics[0].verdict is Verdict.NOT_SHOWN


# -- What belongs together -----------------------------------------------------------------------------------------


def capture(ident, carrier=146.0, second=-30.0, **more):
    at = {carrier: 37.0, **{n * carrier: -60.0 for n in (3, 4, 5)}, 2 * carrier: second}
    f = np.array(sorted(at))
    trace = Trace(f * 1e6, np.array([at[x] for x in f]) - 40)
    path = Curve((1e6, 1e9), (40.0, 40.0))
    return Capture(ident, ident, "unit", "hut", "i", carrier * 1e6, trace, offset=path, **more)


def groups(*captures):
    evaluation = Evaluation("radio", Product("radio"), captures=captures)
    return groups_of(evaluation, BenchBook(evaluation))


@pytest.mark.parametrize(
    ("other", "count"),
    [
        (capture("b"), 1),
        (capture("b", taken_on="2026-09-20T10:00"), 1),
        (capture("b", mode="FM low"), 2),
        (capture("b", carrier=145.0), 2),
        (capture("b", filter_name="low-pass"), 2),
    ],
    ids=["the same", "another day", "another mode", "another carrier", "with a filter"],
)
def test_captures_of_one_unit_carrier_mode_and_filter_belong_together(other, count):
    assert len(groups(capture("a"), other)) == count


def test_repeats_of_one_day_are_one_and_those_of_two_days_are_two():
    one, two = capture("a", taken_on="2026-09-20T10:00"), capture("b", taken_on="2026-09-20T11:00")
    other = capture("c", taken_on="2026-09-21T10:00")
    assert [len(groups(one, x)[0].measured) for x in (two, other)] == [1, 2]


def test_what_a_filter_is_foreseen_to_do_comes_off_every_line_that_it_was_swept_at():
    group = groups(capture("a"))[0]
    filtered = foresee(group, Trace(np.array([100e6, 300e6, 500e6]), np.array([-0.5, -20.0, -50.0])), "low-pass")
    carrier, (second, third, fourth, _) = filtered.measured[0].carrier, filtered.measured[0].lines
    assert carrier.level_dbm == pytest.approx(37 - 0.5 - 19.5 * 46 / 200)
    assert second.level_dbm == pytest.approx(-30 - 0.5 - 19.5 * 192 / 200)
    assert third.level_dbm == pytest.approx(-60 - 20 - 30 * 138 / 200)
    assert fourth.level_dbm is None
