"""Repeats, whether a difference means anything, and the answers of comparisons."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.comparison.comparison import CannotCompare, compare, likely_question, sides_of
from levelmoor.core.comparison.comparison_model import PlaneView, Question
from levelmoor.core.comparison.comparison_words import CHOKE_NARROWS
from levelmoor.core.comparison.features import BEST_HZ, ZERO_HZ, edge_key, features, width_key
from levelmoor.core.evidence.pieces import repeat_groups
from levelmoor.core.judge import judge
from levelmoor.core.metrology.agreement import agreement
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.metrology.significance import Estimate, Meaning, differ
from levelmoor.core.metrology.spread import spread_of
from levelmoor.core.metrology.uncertainty import Residuals, residual_bound, standard_uncertainty
from levelmoor.core.metrology.unit_share import unit_share
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.conditions import CONDITION_WORDS, Conditions, changed, difference
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Instrument, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.windows import Window
from tests.codes import codes
from tests.sweeps import rlc_sweep

FORTY = Window(7.0e6, 7.3e6, "40m")
ANALYZER = Residuals()


def dipole(f0=7.15e6, q=15.0, r=50.0):
    return rlc_sweep(6.6e6, 7.7e6, 441, f0=f0, q=q, r=r)


def evidence(ident, sweep, setup="plain", sample="one", instrument="analyzer", at=""):
    return Evidence(ident, ident, sample, setup, instrument, Calibration.AT_PLANE, sweep, sha256=ident, taken_on=at)


def case(*sweeps, choke_at="at the antenna"):
    return Evaluation(
        "case",
        Product("antenna"),
        samples=tuple(Sample(n, f"Unit {n}") for n in ("one", "two", "three")),
        setups=(
            Setup("plain", "Plain", conditions=Conditions(height="6 m")),
            Setup("choke", "With choke", conditions=Conditions(height="6 m", accessory="ring-core choke", accessory_at=choke_at)),
        ),
        instruments=(
            Instrument("analyzer", "Analyzer", figures=ANALYZER),
            Instrument("radio", "Radio's meter", figures=Residuals(26, 0.05, 26)),
        ),
        sweeps=sweeps,
    )  # fmt: skip


def ask(evaluation, question=None, windows=(FORTY,), limit=2.0, **more):
    groups = sides_of(evaluation, [e.id for e in evaluation.sweeps])
    return compare(evaluation, groups, question or likely_question(groups), windows, limit, **more)


def repeats(setup, middle, count=4, spread=1.5e3, seed=1, **more):
    random = np.random.default_rng(seed)
    return [
        evidence(f"{setup}{i}", dipole(middle + spread * random.standard_normal(), **more), setup) for i in range(count)
    ]


# 40 m: a shift of 3 kHz is measurement error, one of 20 kHz is not (common practice, no source).
@pytest.mark.parametrize(("shift", "meaning"), [(3e3, Meaning.ERROR), (20e3, Meaning.MOUNTING)])
def test_three_kilohertz_is_error_and_twenty_is_not(shift, meaning):
    found = ask(case(*repeats("plain", 7.15e6), *repeats("choke", 7.15e6 + shift, seed=2)))
    assert found.windows[0].differences[0][BEST_HZ].meaning is meaning


@pytest.mark.parametrize(("mountings", "meaning"), [(1, Meaning.MOUNTING), (4, Meaning.REAL)])
def test_a_change_is_real_once_each_was_put_up_again(mountings, meaning):
    every = [
        replace(e, mounting=1 + n % mountings)
        for setup, middle, seed in (("plain", 7.15e6, 1), ("choke", 7.2e6, 2))
        for n, e in enumerate(repeats(setup, middle, 8, seed=seed))
    ]
    assert ask(case(*every)).windows[0].differences[0][BEST_HZ].meaning is meaning


def test_nothing_differs_and_putting_it_up_again_says_so():
    """Each mounting shifts the dip by more than wind does: with both put up thrice nothing is called real."""
    called = 0
    for seed in range(20):
        random = np.random.default_rng(seed)
        every = []
        for setup in ("plain", "choke"):
            for mounting in range(3):
                middle = 7.15e6 + 6e3 * random.standard_normal()
                again = repeats(f"{setup}", middle, 2, seed=int(random.integers(1e6)))
                every += [
                    replace(e, id=f"{e.id}-{mounting}", sha256=f"{e.id}-{mounting}", mounting=mounting + 1)
                    for e in again
                ]
        called += ask(case(*every)).windows[0].differences[0][BEST_HZ].meaning is Meaning.REAL
    assert called <= 3


@pytest.mark.parametrize(("shift", "meaning"), [(1e3, Meaning.ERROR), (20e3, Meaning.UNKNOWN)])
def test_without_repeats_a_large_shift_is_not_known_to_mean_anything(shift, meaning):
    found = ask(case(evidence("a", dipole()), evidence("b", dipole(7.15e6 + shift), "choke")))
    assert found.windows[0].differences[0][BEST_HZ].meaning is meaning
    assert any("sweep each setup at least 3 times" in s for s in found.sentences)


@given(st.floats(-10, 10), st.floats(0, 5), st.floats(0, 5), st.floats(0.01, 5), st.integers(3, 9))
def test_a_difference_does_not_depend_on_the_order(delta, u, sd, other, n):
    a, b = Estimate(0, u, sd, n), Estimate(delta, other, sd, n)
    one, two = differ(a, b), differ(b, a)
    assert (one.value, one.expanded, one.meaning) == (-two.value, two.expanded, two.meaning)


def test_welch_and_satterthwaite():
    # Two means of 4 and 4 with s = 1 and no other part: nu = 6, t = 2.447 (any t table (memory)).
    found = differ(Estimate(0, 0, 1.0, 4), Estimate(0, 0, 1.0, 4))
    assert found.expanded == pytest.approx(2.447 * np.sqrt(0.5), rel=1e-3)


# Published edges: 80 m 3.650 (2:1), 3.679 (1.5:1), best 3.731, 3.808 (2:1) (common practice, no source).
def test_edges_of_a_curve_drawn_through_readings():
    f = np.array([3.62, 3.650, 3.679, 3.731, 3.808, 3.84]) * 1e6
    swr = np.array([2.6, 2.0, 1.5, 1.1, 2.0, 2.6])
    analysis = analyse_sweep(Sweep(f, gamma_from_swr(swr).astype(complex), scalar=True), 50)
    found = features(analysis, ANALYZER, Window(3.6e6, 3.8e6), 2.0)
    assert found[width_key(2.0)].value == pytest.approx(158e3, abs=1)
    assert found[edge_key(1.5, False)].value == pytest.approx(3.679e6, abs=1)
    assert found[BEST_HZ].value == pytest.approx(3.731e6, abs=1)


def test_uncertainty_of_a_dip_is_what_many_trials_spread():
    true = dipole()
    random = np.random.default_rng(5)
    places = []
    for _ in range(200):
        error = 0.01 * np.exp(2j * np.pi * random.random())
        analysis = analyse_sweep(replace(true, gamma=true.gamma + error), 50)
        places.append(analysis.dips[0].frequency_hz)
    told = features(analyse_sweep(true, 50), Residuals(40, 0, 200), FORTY, 2.0)
    assert told[BEST_HZ].u == pytest.approx(np.std(places), rel=0.15)
    assert told[ZERO_HZ].u == pytest.approx(np.std(places), rel=0.15)


def test_a_choke_that_narrows_the_curve_shows_a_radiating_line():
    with_choke = [replace(e, sample_id="one") for e in repeats("choke", 7.15e6, seed=3, q=25.0)]
    found = ask(case(*repeats("plain", 7.15e6), *with_choke))
    assert found.question is Question.SETUPS
    assert CHOKE_NARROWS in found.windows[0].sentences
    assert "B against A: The same, but with ring-core choke at the antenna." in found.sentences[0]


def test_units_and_the_share_that_fails():
    sweeps = [evidence(s, dipole(r=200), sample=s) for s in ("one", "two", "three")]
    found = ask(case(*sweeps))
    assert found.question is Question.UNITS
    assert found.units.words == "3 of 3 units fail: at least 36.8 % of all units fail (95 % one-sided)."


@pytest.mark.parametrize(
    ("k", "n", "low", "high"),
    # 0.05^(1/3) = 0.3684; rule of three's exact form 1 - 0.05^(1/n) (Clopper and Pearson 1934 (memory)).
    [(3, 3, 0.3684, 1.0), (0, 3, 0.0, 0.6316), (0, 10, 0.0, 0.2589), (1, 2, 0.0253, 0.9747)],
)
def test_exact_limits_of_a_share(k, n, low, high):
    found = unit_share(k, n)
    assert (found.low, found.high) == (pytest.approx(low, abs=1e-4), pytest.approx(high, abs=1e-4))


@given(st.integers(1, 40).flatmap(lambda n: st.tuples(st.integers(0, n), st.just(n))))
def test_a_share_lies_within_its_limits(pair):
    k, n = pair
    found = unit_share(k, n)
    assert found.low <= k / n <= found.high


def test_instruments_that_differ_and_which_one_decides():
    true = dipole(r=60)
    radio = Sweep(true.frequency_hz, np.minimum(true.magnitude * 1.9 + 0.05, 0.95).astype(complex), 50.0, True)
    found = ask(case(evidence("a", true), evidence("r", radio, instrument="radio")))
    (window,) = found.windows
    assert found.question is Question.INSTRUMENTS
    assert not window.agreements[0].agree
    assert any("The verdict is Not shown: The instruments differ" in s for s in window.sentences)


@pytest.mark.parametrize("order", [1, -1])
def test_comparing_and_the_ledger_say_the_same_of_the_instrument_that_decides(order):
    instruments = (
        Instrument("analyzer", "Analyzer"),
        Instrument("radio", "Radio", figures=Residuals(30.0, 0.02, 30.0)),
    )
    sweeps = (evidence("a", dipole(r=55)), evidence("r", dipole(r=56), instrument="radio"))[::order]
    asked = replace(case(*sweeps), instruments=instruments[::order], claims=(Claim("c", Quantity.SWR, (FORTY,), 3.0),))
    found = compare(asked, sides_of(asked, ["a", "r"]), Question.INSTRUMENTS, (FORTY,), 3.0, asked.claims[0])
    (ledger,) = judge(asked).claims[0].windows
    side = next(s for s in found.sides if s.latest.id == ledger.sweep_id)
    assert any(f"The verdict rests on {side.letter}, {side.name}," in s for s in found.windows[0].sentences)
    assert side.latest.instrument_id == "analyzer"


def test_before_and_after_is_told_as_people_say_it():
    before = evidence("b", rlc_sweep(6e6, 9e6, 1501, f0=8.2e6, q=12), at="2026-09-01T10:00")
    after = evidence("a", rlc_sweep(6e6, 9e6, 1501, f0=7.1e6, q=12), at="2026-09-01T12:00")
    both = case(before, after)
    found = compare(both, sides_of(both, ["b", "a"], Question.TIMES), Question.TIMES, (FORTY,), 2.0)
    said = found.windows[0].sentences[0]
    assert "the dip moved from 8.2 to 7.1 MHz" in said and " before, 1.18 now" in said and "more than before" in said
    assert "Γ" not in said


def test_instruments_that_agree_within_their_figures():
    one = dipole()
    other = replace(one, gamma=one.gamma + 0.006)
    found = agreement(one, ANALYZER, other, ANALYZER, FORTY)
    assert found.agree
    assert found.complex_


def test_before_and_after_go_by_time():
    late, early = (
        evidence("late", dipole(7.1e6), at="2026-09-01T12:00"),
        evidence("early", dipole(7.2e6), at="2026-09-01T10:00"),
    )
    both = case(late, early)
    found = compare(both, sides_of(both, ["late", "early"], Question.TIMES), Question.TIMES, (FORTY,), 2.0)
    assert [s.latest.id for s in found.sides] == ["early", "late"]


def test_more_sides_than_a_table_holds_and_none_are_refused():
    many = [evidence(str(i), dipole(), at=str(i)) for i in range(61)]
    groups = [(e,) for e in many]
    with pytest.raises(CannotCompare):
        compare(case(*many), groups, Question.TIMES, (FORTY,), 2.0)
    with pytest.raises(CannotCompare):
        compare(case(), [], Question.TIMES, (FORTY,), 2.0)


def test_a_side_without_a_known_line_is_said_not_to_be_shown_at_the_shack():
    found = ask(case(evidence("a", dipole()), evidence("b", dipole(7.2e6), "choke")), plane=PlaneView.SHACK)
    assert any("line is unknown" in s for s in found.sentences)


def test_repeats_are_the_same_setup_with_the_same_instrument_over_the_same_span():
    plain = repeats("plain", 7.15e6, 3)
    other_span = evidence("wide", rlc_sweep(1e6, 30e6, 401, f0=7.15e6), "plain")
    groups = repeat_groups([*plain, other_span, *repeats("choke", 7.15e6, 2)])
    assert sorted(len(g) for g in groups) == [1, 2, 3]


def test_the_same_file_twice_is_no_repeat():
    one = evidence("a", dipole())
    assert len(repeat_groups([one, replace(one, id="b")])) == 2


def test_spread_of_repeats_is_their_standard_deviation():
    random = np.random.default_rng(4)
    base = dipole(r=100)
    sweeps = {str(i): replace(base, gamma=base.gamma * (1 + 0.02 * random.standard_normal())) for i in range(200)}
    found = spread_of(sweeps)
    assert found.sd.at(6.6e6) == pytest.approx(0.02 * base.magnitude[0], rel=0.15)
    assert np.allclose(found.mean.gamma, np.mean([s.gamma for s in sweeps.values()], axis=0))


def test_fewer_than_three_repeats_have_no_spread():
    assert spread_of({"a": dipole(), "b": dipole(7.1e6)}).sd is None


def test_repeats_widen_the_uncertainty_a_verdict_rests_on():
    claim = Claim("c", Quantity.SWR, (Window(7.14e6, 7.16e6),), 1.5)
    f = [7.15e6 + 6e3 * (i - 1) for i in range(3)]
    sweeps = tuple(evidence(str(i), rlc_sweep(7e6, 7.3e6, 601, f0=f0, q=25)) for i, f0 in enumerate(f))
    wide = replace(case(*sweeps), claims=(claim,), samples=(Sample("one", "Unit"),))
    (new,) = judge(wide).claims
    (one,) = judge(replace(wide, sweeps=sweeps[:1])).claims
    assert new.windows[0].finding.u_gamma > 2 * one.windows[0].finding.u_gamma
    assert new.windows[0].pieces[0].sweep_ids == ("0", "1", "2")


def test_sweeps_of_one_state_that_clearly_differ_are_asked_about_and_decide_nothing():
    claim = Claim("c", Quantity.SWR, (FORTY,), 2.0)
    two = (evidence("good", dipole(q=5)), evidence("bad", dipole(q=60)))
    (found,) = judge(replace(case(*two), claims=(claim,), samples=(Sample("one", "Unit"),))).claims
    assert found.verdict is Verdict.NOT_SHOWN
    assert "clash.adjusted" in codes(found.reason)


def test_a_meter_is_as_uncertain_as_its_watts_and_marks():
    # |g| = sqrt(Pr/Pf), each 5 % rectangular: u = |g| 0.05/sqrt(6).
    quiet = Residuals(200, 0, 200, watt_accuracy=0.05)
    assert float(standard_uncertainty(0.3, quiet)) == pytest.approx(0.3 * 0.05 / np.sqrt(6))
    # Half a mark of 0.2 at SWR 2: d|g|/ds = 2/(s + 1)^2 = 2/9.
    marks = Residuals(200, 0, 200, swr_division=0.2)
    assert float(standard_uncertainty(1 / 3, marks)) == pytest.approx(0.1 * 2 / 9 / np.sqrt(3), rel=1e-6)


@pytest.mark.parametrize(("g", "share"), [(0.0, 0.05), (0.2, 0.05), (0.5, 0.1)])
def test_a_meter_is_as_uncertain_as_its_range_leaves_both_powers(g, share):
    # 5 % of 100 W at 100 W forward is a share of 0.05; of no reflected power at all it leaves sqrt(0.05/0.95).
    ranged = Residuals(200, 0, 200, full_scale_accuracy=share, full_scale_w=100, read_at_w=100)
    worst = np.sqrt((g**2 + share) / (1 - share)) - g
    assert float(residual_bound(g, ranged)) == pytest.approx(worst, abs=1e-9)
    assert float(standard_uncertainty(g, ranged)) == pytest.approx(worst / np.sqrt(6), abs=1e-9)


def test_a_display_that_cuts_digits_off_reads_low():
    shown = Sweep(np.linspace(6.9e6, 7.4e6, 60), np.full(60, 0.3 + 0j), scalar=True, half_step_gamma=np.full(60, 0.02))
    cut, rounds = (
        judge(replace(
            case(evidence("a", shown)), samples=(Sample("one", "Unit"),), claims=(Claim("c", Quantity.SWR, (FORTY,), 2.0),),
            instruments=(Instrument("analyzer", "A", figures=replace(ANALYZER, truncates=t)),),
        )).claims[0].windows[0].finding.worst.swr
        for t in (1.0, 0.0)
    )  # fmt: skip
    assert (rounds, cut) == (pytest.approx(1.3 / 0.7), pytest.approx(1.32 / 0.68))


@pytest.mark.parametrize("name", [n for n in CONDITION_WORDS if not n.startswith("accessory")])
def test_each_condition_that_changes_is_told(name):
    before, after = Conditions(**{name: "this"}), Conditions(**{name: "that"})
    assert changed(before, after) == [(name, "this", "that")]
    assert difference(before, after) == f"The same, but {CONDITION_WORDS[name]} that instead of this."


def test_a_spot_claim_is_judged_by_a_reading_at_it_and_not_by_readings_far_off():
    spot = Claim("c", Quantity.SWR, (Window(7.1e6, 7.1e6),), 2.0)

    def verdict(*mhz):
        f = np.array(mhz) * 1e6
        sweep = Sweep(f, np.linspace(0.1, 0.1 + 0.2 * (f.size - 1), f.size).astype(complex), scalar=True)
        (found,) = judge(replace(case(evidence("a", sweep)), claims=(spot,), samples=(Sample("one", "U"),))).claims
        return found.verdict

    assert verdict(7.1, 7.2) is Verdict.PASS
    assert verdict(7.0, 7.2) is Verdict.NOT_SHOWN


@pytest.mark.parametrize(
    ("before", "after", "words"),
    [
        (Conditions(), Conditions(accessory="choke", accessory_at="at the radio"), "with choke at the radio"),
        (Conditions(accessory="choke", accessory_at="at the radio"), Conditions(), "without choke at the radio"),
        (
            Conditions(accessory="choke", accessory_at="at the radio"),
            Conditions(accessory="choke", accessory_at="at the antenna"),
            "choke at the antenna instead of at the radio",
        ),
        (Conditions(height="6 m"), Conditions(), "height not noted"),
    ],
)
def test_an_accessory_is_told_with_its_place(before, after, words):
    assert difference(before, after) == f"The same, but {words}."
