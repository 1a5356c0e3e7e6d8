"""The planner: what it says it covers, the judge's own gates let count; worked examples; order, time and changes."""

from dataclasses import replace
from itertools import pairwise, permutations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.pieces import Piece
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.bench_records import BenchCheck, CheckKind
from levelmoor.core.model.claims import Claim, Tuner
from levelmoor.core.model.connectors import parse_connector
from levelmoor.core.model.equipment import Adapter, Equipment, FeedLine, Instrument, InstrumentClass, Pad
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Plane, Product, Sample, Setup
from levelmoor.core.model.plan_wishes import OwnRun, PlanWishes
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.plan.plan import make_plan
from levelmoor.core.plan.plan_change import changes, snapshot
from levelmoor.core.plan.plan_model import RunKind, StageKind
from levelmoor.core.plan.plan_order import changes as rebuilds
from levelmoor.core.plan.plan_order import order_pairs
from levelmoor.core.plan.plan_sweeps import cut_by_frequency, cut_into_segments, span_around, step_wanted
from levelmoor.core.rf.bandplan import band_plan
from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.segments import join_segments
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.coarseness import coarseness, step_for_window
from tests.core.rf.test_feedline import swept as line_swept
from tests.sweeps import rlc, rlc_sweep

TWENTY, TWO = Window(14e6, 14.35e6, "20m"), Window(144e6, 146e6, "2m")
ANALYZER = Instrument(
    "i", "analyzer", instrument_class=InstrumentClass.ANALYZER, low_hz=1e5, high_hz=500e6, points=101, memories=1
)
CASE = Evaluation(
    "case",
    Product("antenna"),
    samples=(Sample("a", "Unit A"), Sample("b", "Unit B")),
    claims=(Claim("1", Quantity.SWR, (TWENTY, TWO), 2.0),),
    setups=(Setup("u", "mast"), Setup("v", "branch")),
    instruments=(ANALYZER,),
)


def swept(run, response):
    """What the planned passes give, put together."""
    parts = []
    for s in run.segments:
        f = np.linspace(s.low_hz, s.high_hz, s.points)
        parts.append(Sweep(f, response(f)))
    return join_segments(tuple(parts))


def first(plan, kind=RunKind.WINDOW):
    return next(r for r in plan.runs if r.kind is kind)


# -- A plan covers what it says it covers ----------------------------------------------------------------------------

frequencies = st.floats(1e6, 480e6)
windows = st.builds(lambda low, share: Window(low, low * (1 + share)), frequencies, st.floats(0.0005, 0.6))
claims = st.lists(st.tuples(st.lists(windows, min_size=1, max_size=3), st.floats(1.2, 5)), min_size=1, max_size=4).map(
    lambda rows: tuple(Claim(str(i), Quantity.SWR, tuple(w), limit) for i, (w, limit) in enumerate(rows))
)
instruments = st.lists(
    st.builds(
        lambda i, low, high, points, d: Instrument(
            str(i), f"analyzer {i}", "", Residuals(d), "", InstrumentClass.ANALYZER, low, high, points
        ),
        st.integers(0, 99),
        st.sampled_from([0.0, 1e5, 3e6, 50e6]),
        st.sampled_from([0.0, 60e6, 500e6, 3e9]),
        st.sampled_from([0, 11, 51, 101, 401, 1601]),
        st.floats(25, 50),
    ),
    min_size=1,
    max_size=3,
    unique_by=lambda i: i.id,
)


@settings(max_examples=80)
@given(claims, instruments, st.integers(1, 2))
def test_every_window_it_covers_counts_by_the_judges_gates(wanted, owned, setups):
    """Each run is swept as planned, on an antenna of no narrow dip, and judged: none is too coarse or short of room."""
    case = replace(CASE, claims=wanted, instruments=tuple(owned), setups=CASE.setups[:setups])
    plan = make_plan(case)
    runs = {r.key: r for r in plan.runs}
    assert {(c.claim_id, c.sample_id, c.window) for c in plan.covers} | {
        (u.claim_id, u.sample_id, u.window) for u in plan.uncovered
    } == {(c.id, s.id, w) for c in wanted for s in case.samples for w in c.windows}
    evidence = {}
    for cover in plan.covers:
        run = runs[cover.run_key]
        if run.key not in evidence:
            sweep = swept(run, lambda f: np.full(f.size, 0.1 + 0j))
            setup, instrument = run.setup_id, run.choice.instrument
            evidence[run.key] = Evidence(run.key, "", run.sample_id, setup, instrument.id, Calibration.AT_PLANE, sweep)
    bench = Dossier(replace(case, sweeps=tuple(evidence.values())))
    for cover in plan.covers:
        claim = next(c for c in wanted if c.id == cover.claim_id)
        found = bench.judged(Piece((evidence[cover.run_key],)), cover.window, claim.limit, 50.0, case.rule)
        assert found.verdict != "not_shown", found.reason
        low, high = evidence[cover.run_key].sweep.low_hz, evidence[cover.run_key].sweep.high_hz
        instrument = runs[cover.run_key].choice.instrument
        assert low >= instrument.low_hz
        assert not instrument.high_hz or high <= instrument.high_hz


@settings(max_examples=60)
@given(st.floats(14.05e6, 14.3e6), st.floats(20, 2000), st.sampled_from([51, 101, 201]))
def test_with_a_survey_the_sweep_is_fine_enough_for_the_dip_it_showed(f0, q, points):
    """A survey of 2001 points, a plan from it, the planned passes: the dip is wide enough in steps."""
    survey = Evidence(
        "e", "survey", "a", "u", "i", Calibration.AT_PLANE, rlc_sweep(13.5e6, 14.9e6, 2001, f0, q)
    )  # fmt: skip
    claim = Claim("1", Quantity.SWR, (TWENTY,), 2.0)
    case = replace(
        CASE, claims=(claim,), samples=CASE.samples[:1], setups=CASE.setups[:1], sweeps=(survey,),
        instruments=(replace(ANALYZER, points=points),),
    )  # fmt: skip
    run = first(make_plan(case))
    gamma = swept(run, lambda f: gamma_from_impedance(rlc(f, f0, q), 50.0))
    again = replace(survey, id="n", sweep=gamma)
    found = Dossier(replace(case, sweeps=(again,))).judged(Piece((again,)), TWENTY, 2.0, 50.0, case.rule)
    assert "steps wide" not in found.reason, (run.step_needed_hz, found.reason)


@given(st.floats(1e6, 100e6), st.floats(1e3, 5e6), st.floats(500, 1e5), st.sampled_from([0, 11, 101, 801]))
def test_segments_are_within_points_and_step_and_leave_no_gap(low, span, step, points):
    pieces = cut_into_segments(low, low + span, step, points)
    assert pieces[0].low_hz == low
    assert pieces[-1].high_hz == low + span
    assert all(a.high_hz == b.low_hz for a, b in pairwise(pieces))
    assert all(p.step_hz <= step * (1 + 1e-6) for p in pieces)
    assert not points or all(p.points <= points for p in pieces)


@pytest.mark.parametrize(("low", "high", "passes"), [(3.5, 54, 4), (25, 1300, 5), (136, 174, 1), (14, 14.35, 1)])
def test_a_wide_window_is_cut_so_that_the_step_grows_with_the_frequency(low, high, passes):
    """A step of f/140 and 201 points carry a pass to 2.4 times its low end."""
    window = Window(low * 1e6, high * 1e6)
    step = step_for_window(window)
    pieces = cut_by_frequency(*span_around(window), window, step, 201)
    assert len(pieces) == passes
    assert all(a.high_hz == b.low_hz for a, b in pairwise(pieces))
    f = np.unique(np.concatenate([np.linspace(p.low_hz, p.high_hz, p.points) for p in pieces]))
    analysis = analyse_sweep(Sweep(f, np.full(f.size, 0.1 + 0j)), 50)
    assert coarseness(analysis, analysis.sweep.cut(window.low_hz, window.high_hz), window, 0.3).reason == ""
    # Where a dip that was seen asks for less, the step is the same throughout.
    assert len({round(p.step_hz) for p in cut_by_frequency(*span_around(window), window, step / 2, 201)}) == 1


# -- Worked by hand --------------------------------------------------------------------------------------------------


def test_twenty_metres_by_hand():
    """350 kHz, a tenth of room on each side is 35 kHz; the gate's step is 350/21 = 16.6 kHz; 101 points do in one pass."""
    run = first(make_plan(CASE))
    assert run.windows == (TWENTY,)
    (segment,) = run.segments
    assert (segment.low_hz, segment.high_hz, segment.points) == (13.965e6, 14.385e6, 101)
    assert run.step_needed_hz == 16.6e3
    assert span_around(TWENTY) == (13.965e6, 14.385e6)


def test_few_points_make_several_passes():
    """420 kHz at 16.6 kHz are 26 points; an instrument of 11 gives ten steps a pass, so three passes."""
    run = first(make_plan(replace(CASE, instruments=(replace(ANALYZER, points=11),))))
    assert len(run.segments) == 3
    assert run.points == 31


def test_more_passes_than_an_afternoon_holds_are_said_to_be_too_many():
    known = Evidence("e", "survey", "a", "u", "i", Calibration.AT_PLANE, rlc_sweep(14.19e6, 14.21e6, 2001, q=20000))
    few = replace(ANALYZER, points=11)
    case = replace(CASE, samples=CASE.samples[:1], setups=CASE.setups[:1], instruments=(few,), sweeps=(known,))
    assert any("passes of 11 points; use an instrument with more points" in u.reason for u in make_plan(case).uncovered)


def test_known_dip_asks_for_the_step_its_width_needs():
    """Q 500 at 14.2 MHz: 20.08 kHz at 2:1, three steps of half of that: 3.34 kHz."""
    known = analyse_sweep(rlc_sweep(14.1e6, 14.3e6, 2001, q=500), 50.0)
    assert step_wanted(TWENTY, 2.0, (known,)) == pytest.approx(3.34e3, abs=0.02e3)
    assert step_wanted(TWENTY, 2.0) == 16.6e3


def test_survey_comes_first_and_reaches_beyond_the_windows():
    plan = make_plan(CASE)
    survey = plan.runs[0]
    assert survey.kind is RunKind.SURVEY
    assert survey.low_hz < 14e6 / 1.2
    assert survey.high_hz > 146e6 * 1.2
    assert any("2m could lie between two points" in w or "20m" in w for w in survey.watch)


def test_two_samples_in_two_setups_take_four_rebuilds_back_and_forth():
    plan = make_plan(CASE)
    pairs = list(dict.fromkeys((r.sample_id, r.setup_id) for r in plan.runs))
    assert len(pairs) == 4
    assert rebuilds(pairs) == 3
    assert plan.count(StageKind.REBUILD) == 4


def test_time_by_hand():
    """One sample, one setup: survey, 20 m, 2 m. Three spans with one memory: 20 + 3 x 6 + 3 x 2 = 44 minutes."""
    case = replace(CASE, samples=CASE.samples[:1], setups=CASE.setups[:1])
    assert make_plan(case).minutes == 44
    again = replace(case, samples=CASE.samples, instruments=(replace(ANALYZER, memories=3),))
    assert make_plan(again).minutes == 20 + 3 * 6 + 3 * 2 + 20 + 3 * 2  # the calibrations are kept for the second


def test_calibration_past_its_age_is_done_again():
    case = replace(
        CASE, setups=CASE.setups[:1], instruments=(replace(ANALYZER, memories=3),),
        age_limit_h=0.5, wishes=PlanWishes(rebuild_min=60),
    )  # fmt: skip
    assert make_plan(case).count(StageKind.CALIBRATION) == 6


@given(st.lists(st.tuples(st.sampled_from("abcd"), st.sampled_from("uvwxyz")), unique=True, max_size=16))
def test_order_visits_every_pair_once(pairs):
    assert sorted(order_pairs(pairs)) == sorted(pairs)


@settings(max_examples=40)
@given(st.lists(st.tuples(st.sampled_from("abc"), st.sampled_from("uvw")), unique=True, max_size=6))
def test_no_other_order_has_fewer_changes(pairs):
    assert rebuilds(order_pairs(pairs)) == min(rebuilds(other) for other in permutations(pairs))


def test_full_grid_changes_one_thing_at_a_time():
    pairs = [(s, u) for s in "abcd" for u in "uvwxyz"]
    assert rebuilds(order_pairs(pairs)) == len(pairs) - 1


def test_instrument_that_cannot_decide_is_said_so_beforehand():
    """25 dB leaves 2u = 0.08 around zero reflection; 1.15 is 0.07: not even a perfect match would pass."""
    poor = replace(ANALYZER, figures=Residuals(25.0))
    case = replace(CASE, claims=(Claim("1", Quantity.SWR, (TWENTY,), 1.15),), instruments=(poor,))
    plan = make_plan(case)
    assert "cannot decide 1.15" in plan.uncovered[0].reason
    better = make_plan(replace(case, instruments=(poor, replace(ANALYZER, id="j", name="better"))))
    run = first(better)
    assert run.choice.instrument.name == "better"
    assert run.choice.decides.passes_swr < 1.15
    assert any("cannot decide" in reason for _, reason in run.choice.why_not)


def test_tight_limit_that_none_decides_is_told_apart_from_a_loose_one_on_the_same_band():
    poor = replace(ANALYZER, figures=Residuals(25.0))
    claims = (Claim("1", Quantity.SWR, (TWENTY,), 1.15), Claim("2", Quantity.SWR, (TWENTY,), 3.0))
    plan = make_plan(
        replace(CASE, claims=claims, samples=CASE.samples[:1], setups=CASE.setups[:1], instruments=(poor,))
    )
    assert [c.claim_id for c in plan.covers] == ["2"]
    assert [(u.claim_id, "cannot decide 1.15" in u.reason) for u in plan.uncovered] == [("1", True)]


@pytest.mark.parametrize(
    ("instrument", "words"),
    [
        (replace(ANALYZER, high_hz=30e6), "does not contain the window"),
        (replace(ANALYZER, instrument_class=InstrumentClass.METER), "only where its owner may transmit"),
        (replace(ANALYZER, instrument_class=InstrumentClass.SPECTRUM), "not reflection"),
        (replace(ANALYZER, connector=parse_connector("N female")), "an adapter from BNC male to N male is missing"),
    ],
)
def test_why_an_instrument_does_not_do(instrument, words):
    samples = (replace(CASE.samples[0], connector=parse_connector("BNC female")),)
    plan = make_plan(replace(CASE, samples=samples, instruments=(instrument,)))
    assert any(words in u.reason for u in plan.uncovered), plan.uncovered


def test_chain_is_the_shortest_that_stands_the_band():
    owned = (
        Adapter("1", "good", parse_connector("BNC male"), parse_connector("N male"), high_hz=1e9),
        Adapter("2", "low only", parse_connector("BNC male"), parse_connector("N male"), high_hz=30e6, loss_db=0),
    )
    samples = (replace(CASE.samples[0], connector=parse_connector("BNC female")),)
    case = replace(
        CASE, samples=samples, setups=CASE.setups[:1], equipment=Equipment(adapters=owned),
        instruments=(replace(ANALYZER, connector=parse_connector("N female")),),
    )  # fmt: skip
    chains = {r.windows[0].name: r.choice.chain.words for r in make_plan(case).runs if r.kind is RunKind.WINDOW}
    assert chains["2m"] == "good"


def test_tuner_and_named_setup_are_conditions():
    claims = (
        Claim("1", Quantity.SWR, (TWENTY,), 2.0, tuner=Tuner.WITH),
        Claim("2", Quantity.SWR, (TWO,), 2.0, setup_id="v"),
    )
    plan = make_plan(replace(CASE, claims=claims, samples=CASE.samples[:1]))
    assert [(u.claim_id, "no setup in the plan can show it" in u.reason) for u in plan.uncovered] == [("1", True)]
    assert {r.setup_id for r in plan.runs} == {"v"}


def test_shack_end_of_an_unchecked_line_shows_no_claim():
    plan = make_plan(replace(CASE, setups=(Setup("u", "shack", plane=Plane.SHACK, line_id="x"),)))
    assert "unchecked line" in plan.uncovered[0].reason


@pytest.mark.parametrize(("top", "covered"), [(200e6, ["20m", "2m"]), (100e6, [])])
def test_shack_end_of_a_checked_line_shows_what_the_line_was_swept_for(top, covered):
    """A claim over 20 m and 2 m needs a line that was swept to 2 m, since the judge moves no sweep beyond that."""
    cable = BenchCheck("w", CheckKind.CABLE, "2026-05-31", "i", item_id="f", sweep=line_swept(20.0, top=top))
    setup = Setup("u", "shack", plane=Plane.SHACK, line_id="f")
    owned = Equipment(lines=(FeedLine("f", "line", "RG-213", 20.0),))
    plan = make_plan(replace(CASE, setups=(setup,), samples=CASE.samples[:1], checks=(cable,), equipment=owned))
    assert [c.window.name for c in plan.covers] == covered


def test_what_is_shown_already_takes_no_time():
    sweep = Evidence("e", "mine", "a", "u", "i", Calibration.AT_PLANE, rlc_sweep(13.9e6, 14.5e6, 401, q=5))
    case = replace(CASE, samples=CASE.samples[:1], setups=CASE.setups[:1], sweeps=(sweep,))
    done = {r.windows[0].name: r.done_by for r in make_plan(case).runs if r.kind is RunKind.WINDOW}
    assert done == {"20m": "mine", "2m": ""}


# -- By hand, and what changed ---------------------------------------------------------------------------------------


def test_run_taken_out_leaves_its_claim_without_evidence_at_once():
    plan = make_plan(CASE)
    keys = tuple(r.key for r in plan.runs if r.windows == (TWO,))
    after = make_plan(replace(CASE, wishes=PlanWishes(dropped=keys)))
    assert {(u.window.name, u.reason) for u in after.uncovered} == {("2m", "its run was removed from the plan")}
    said = changes(snapshot(plan, CASE), snapshot(after, CASE))
    assert any(s.startswith("Removed: 2m (Unit A, mast)") for s in said)
    assert "Now without evidence: SWR at most 2:1 on 20m, 2m" in said
    assert any(s.startswith("Time: ") for s in said)
    assert changes(snapshot(plan, CASE), snapshot(plan, CASE)) == []


def test_own_run_and_own_order():
    wishes = PlanWishes(own=(OwnRun("a", "u", 136e6, 140e6),))
    plan = make_plan(replace(CASE, wishes=wishes))
    own = first(plan, RunKind.OWN)
    assert own.low_hz <= 136e6
    assert own.high_hz >= 140e6
    turned = make_plan(replace(CASE, wishes=replace(wishes, order=(own.key,))))
    assert turned.runs[0].key == own.key


def test_every_claim_of_every_band_is_planned_without_a_word_on_instruments():
    """A new team: nothing is written down of its analyzer, and still every band of the region is covered."""
    bands = tuple(b.window for b in band_plan(1).bands)
    case = replace(CASE, claims=(Claim("1", Quantity.SWR, bands, 2.0),), instruments=(Instrument("i", "analyzer"),))
    plan = make_plan(case)
    assert not plan.uncovered
    assert any("connector" in note for note in plan.notes)


# -- Emissions -------------------------------------------------------------------------------------------------------

SPECTRUM = Instrument(
    "s", "spectrum", instrument_class=InstrumentClass.SPECTRUM, low_hz=1e5, high_hz=1e9, max_input_dbm=20.0, noise_dbm=-105.0,
    noise_rbw_hz=10e3, connector=parse_connector("N female"),
)  # fmt: skip
EMISSION = Claim("e", Quantity.EMISSIONS, (TWO,), 60.0, power_w=5.0)


def emission_of(pads, claim=EMISSION, instrument=SPECTRUM):
    case = replace(
        CASE, claims=(claim,), samples=CASE.samples[:1], instruments=(instrument,), equipment=Equipment(pads=pads)
    )  # fmt: skip
    return first(make_plan(case), RunKind.EMISSION)


def test_emission_run_has_pad_harmonics_and_cautions():
    run = emission_of((Pad("p", "forty", 40, 25),))
    assert run.problem == ""
    assert [p.name for p in run.emission.pad.pads] == ["forty"]
    assert run.emission.harmonics_hz == (290e6, 435e6, 580e6, 725e6)
    assert any("Insert the pad" in w for w in run.watch)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"claim": replace(EMISSION, power_w=None)}, "no carrier power"),
        ({"claim": replace(EMISSION, windows=())}, "no band"),
        ({"instrument": replace(SPECTRUM, high_hz=500e6)}, "below the fifth harmonic"),
        ({"instrument": replace(SPECTRUM, max_input_dbm=None)}, "no maximum safe input"),
        ({"instrument": ANALYZER}, "owns no spectrum analyzer"),
        ({"pads": ()}, "get one of at least 27 dB"),
    ],
)
def test_emission_that_cannot_be_measured_says_which_figure_to_change(change, words):
    run = emission_of(**{"pads": (Pad("p", "forty", 40, 25),), **change})
    assert words in run.problem
