"""How far a verdict on emissions reaches: to the capture's end, beside the carrier, and within the service of a rule."""

from dataclasses import replace

import numpy as np
import pytest

from levelmoor.core.bench.pad_check import check_pad
from levelmoor.core.emissions.captured_lines import Intercepts, Spectrum, measure
from levelmoor.core.emissions.emission_path import look_along
from levelmoor.core.emissions.emissions import judge_emissions
from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.model.captures import Capture
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.evaluation import Evaluation, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.rule_sets import Limit, NoFigure, limit_of, shipped_rule_sets
from levelmoor.core.model.state import Role
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.trace import Trace
from levelmoor.core.rf.windows import Window
from tests.codes import codes

US, ITU = shipped_rule_sets()["us-97.307"], shipped_rule_sets()["itu-amateur-a"]
PAD = 50.0
NOISE = -110.0
TWO_METRES = Window(144e6, 146e6, "2m")


def trace(*lines, low=100e6, high=800e6, points=7001, rbw=100e3):
    """Lines in MHz and dBm as a radio makes them, seen through the pad, over noise, by a filter of one bandwidth."""
    f = np.linspace(low, high, points)
    level = np.full(points, NOISE)
    for mhz, dbm in lines:
        at = dbm - PAD - 3 * ((f - mhz * 1e6) / (rbw / 2)) ** 2
        level = np.maximum(level, at)
    return Trace(f, level)


def measured(seen, *, rbw=10e3, pad=PAD, carrier=146e6, stated=None):
    return measure(Spectrum(f"pad {pad:g}", seen, lambda _f: (pad, 0.3), rbw, 0.3, stated), carrier)


def by_us(*captures, **more):
    return judge_emissions(captures, limit_of(US, 146e6, 5.0), DecisionRule.GUARDED, **more)


CLOSE = trace((146, 37), low=145.5e6, high=146.5e6, points=1001, rbw=1e3)
"""The carrier alone, resolved."""


@pytest.mark.parametrize("order", [2, 5, 6, 8])
def test_every_harmonic_to_the_end_of_the_capture_is_judged(order):
    seen = trace((146, 37), (order * 146, 10), high=1.3e9, points=12001)
    report = by_us(measured(seen), measured(CLOSE, rbw=1e3))
    assert [h.n for h in report.harmonics if h.verdict is Verdict.FAIL] == [order]
    assert report.harmonics[-1].n == 8
    assert report.verdict is Verdict.FAIL


@pytest.mark.parametrize("away_mhz", [0.2, 1.2, -1.2, 5.0, 61.3])
def test_a_line_beside_the_carrier_is_judged(away_mhz):
    at = 146 + away_mhz
    near = trace((146, 37), (at, 15), low=144e6, high=148e6, points=4001, rbw=1e3)
    report = by_us(measured(trace((146, 37), (at, 15), rbw=30e3)), measured(near, rbw=1e3))
    assert [round(s.frequency_hz / 1e6, 1) for s in report.spurious if s.verdict is Verdict.FAIL] == [round(at, 1)]
    assert report.verdict is Verdict.FAIL


def test_what_the_bandwidth_does_not_separate_is_not_shown_with_the_bandwidth_that_would():
    (found,) = by_us(measured(trace((146, 37)), rbw=100e3)).spurious
    assert found.verdict is Verdict.NOT_SHOWN
    assert "line.unresolved" in codes(found.reason)


def test_beside_the_carrier_a_path_that_was_measured_from_the_carrier_on_will_do():
    from_carrier = Spectrum("c", CLOSE, lambda f: (PAD, 0.3) if f >= 146e6 else None, 1e3, 0.3)
    report = by_us(measured(trace((146, 37)), rbw=1e3), measure(from_carrier, 146e6))
    assert report.verdict is Verdict.PASS


def test_skirts_over_the_limit_hide_what_stands_in_them():
    wide = trace((146, 37), low=144e6, high=148e6, points=4001, rbw=300e3)
    report = by_us(measured(wide, rbw=1e3))
    assert [(s.verdict, s.bound) for s in report.spurious] == [(Verdict.NOT_SHOWN, True)]
    assert "hides" in report.spurious[0].reason


def test_a_clean_capture_with_the_carrier_resolved_passes():
    assert by_us(measured(trace((146, 37)), rbw=1e3), measured(CLOSE, rbw=1e3)).verdict is Verdict.PASS


# -- The analyzer's own products -------------------------------------------------------------------------------------


def pair(first_dbm, second_dbm, stated=None):
    """The second harmonic at the radio as read with less and with 10 dB more pad."""
    seen = [trace((146, 37), (292, first_dbm)), trace((146, 37), (292, second_dbm))]
    more = Trace(seen[1].frequency_hz, seen[1].level_db - 10)
    return measured(seen[0], stated=stated, rbw=1e3), measured(more, pad=PAD + 10, stated=stated, rbw=1e3)


@pytest.mark.parametrize("read", [(-30.0, -14.0), (-30.0, -22.0), (-10.0, 5.0)])
def test_neither_pass_nor_fail_rests_on_a_level_that_rises_with_more_pad(read):
    second = by_us(*pair(*read)).harmonics[0]
    assert second.verdict is Verdict.NOT_SHOWN
    assert "pad.higher" in codes(second.reason)


def test_a_pass_within_reach_of_the_stated_intercepts_needs_the_test_too():
    strong = Intercepts(second_dbm=7.0, third_dbm=60.0)  # makes -33 dBm of a carrier of -13 dBm
    one, more = pair(-17.0, -17.0, strong)
    alone, both = by_us(one).harmonics[0], by_us(one, more).harmonics[0]
    assert (alone.verdict, "could have cancelled" in alone.reason) == (Verdict.NOT_SHOWN, True)
    assert both.verdict is Verdict.PASS


# -- Captures in an evaluation ---------------------------------------------------------------------------------------

PATH = Curve((1e6, 2e9), (PAD, PAD))


def capture(ident="c", **more):
    given = {"trace": trace((146, 37)), "carrier_hz": 146e6, "offset": PATH, "rbw_hz": 1e3, **more}
    return Capture(ident, ident, "s", given.pop("setup_id", "u"), "i", **given)


def evaluation(*captures, claims=(), rules=("us-97.307",), **more):
    sets = tuple(s for i, s in shipped_rule_sets().items() if i in rules)
    close = tuple(replace(c, id=f"{c.id}-close", name=f"{c.name}-close", trace=CLOSE) for c in captures)
    return Evaluation(
        "radio", Product("radio"), samples=(Sample("s", "Unit"),), setups=(Setup("u", "Hut"),),
        instruments=(Instrument("i", "Analyzer", second_intercept_dbm=80, third_intercept_dbm=80, level_u_db=0.3),),
        captures=(*captures, *close), claims=claims, rule_sets=sets, **more,
    )  # fmt: skip


def claim(**more):
    return Claim("k", Quantity.EMISSIONS, (TWO_METRES,), **more)


def of_claim(asked, *captures, **more):
    (found,) = judge(evaluation(*captures, claims=(asked,), **more)).claims
    return found


def test_an_offset_entered_in_the_analyzer_is_taken_off_what_it_showed():
    shown = trace((146, 37), (292, -30))
    with_offset = Trace(shown.frequency_hz, shown.level_db + PAD)
    (report,) = (f.report for f in judge(evaluation(capture(trace=with_offset, entered_db=PAD))).emissions)
    assert report.carrier.level_dbm == pytest.approx(37.0, abs=0.1)
    assert report.carrier.indicated_dbm == pytest.approx(37.0 - PAD, abs=0.1)


@pytest.mark.parametrize(
    ("mhz", "where"), [(446.1, "446"), (27.2, "27"), (155.0, "155")], ids=["PMR", "citizens' band", "business radio"]
)
def test_amateur_rules_say_nothing_of_a_carrier_outside_the_amateur_service(mhz, where):
    found = limit_of(ITU, mhz * 1e6, 5.0, region=1)
    assert isinstance(found, NoFigure)
    assert "covers the amateur service" in found.words and where in found.words


def test_a_carrier_on_an_amateur_band_has_a_figure():
    assert isinstance(limit_of(ITU, 145e6, 5.0, region=1), Limit)


def test_a_claim_can_name_a_rule_set_and_is_judged_by_all_of_it():
    good = of_claim(claim(stated="us-97.307"), capture())
    bad = of_claim(claim(stated="US-97.307"), capture(trace=trace((146, 37), (292, 10))), rules=())
    assert (good.verdict, bad.verdict) == (Verdict.PASS, Verdict.FAIL)
    assert bad.reason.startswith("By us-97.307: harmonic 2")


@pytest.mark.parametrize(
    ("limit", "unit", "verdict"),
    [
        (-20.0, "dBm", Verdict.PASS),
        (-40.0, "dBm", Verdict.FAIL),
        (60.0, "dB", Verdict.PASS),
        (70.0, "dB", Verdict.FAIL),
    ],
)
def test_a_claim_can_be_absolute_or_counted_from_the_carrier(limit, unit, verdict):
    found = of_claim(claim(limit=limit, unit=unit), capture(trace=trace((146, 37), (292, -28))))
    assert found.verdict is verdict


def test_a_ratio_to_the_carrier_has_the_carriers_own_uncertainty():
    report = by_us(measured(trace((146, 37), (292, -28))), relative=True).harmonics[0]
    plain = by_us(measured(trace((146, 37), (292, -28)))).harmonics[0]
    assert report.u_db == pytest.approx(np.sqrt(2) * plain.u_db)


def test_emissions_are_judged_by_rule_sets_without_any_claim():
    (found,) = judge(evaluation(capture())).emissions
    assert (found.rule_id, found.report.verdict) == ("us-97.307", Verdict.PASS)


def test_a_capture_with_something_added_does_not_decide_a_claim():
    asked = evaluation(capture(setup_id="x"), claims=(claim(limit=40.0, unit="dB"),))
    asked = replace(asked, setups=(*asked.setups, Setup("x", "With a filter", role=Role.ADDED)))
    (found,) = judge(asked).claims
    assert found.verdict is Verdict.NOT_SHOWN


# -- Pads ------------------------------------------------------------------------------------------------------------

SPAN = np.array([100e6, 800e6])


def test_a_normalised_trace_through_no_pad_is_not_taken_for_a_pad():
    through = check_pad(Trace(SPAN, np.array([0.0, 0.0])), Trace(SPAN, np.array([-0.1, 0.1])), (146e6,), 40.0)
    assert (through.no_pad, through.sound) == (True, False)
    assert "insert the pad" in through.words


def test_beyond_its_curve_a_pad_counts_by_its_label_wherever_it_is_asked():
    from levelmoor.core.emissions.emission_path import PathPiece

    pad = PathPiece("tap", Curve((300e6, 500e6), (43.0, 43.2)), 0.2, 40.0, 25.0)
    found = look_along(5.0, 1.0, 146e6, [pad], Instrument("i", "A", max_input_dbm=20.0), -16.0, -100.0)
    assert pad.at(146e6) == 40.0
    assert found.stages[1].level_dbm == pytest.approx(found.stages[0].level_dbm - 40.0)
