"""Every kind of evidence stands before the same court: ordinary evaluations that must come out right."""

import json
from dataclasses import replace

import numpy as np
import pytest

from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.adjusting import Adjustment
from levelmoor.core.model.bench_records import BenchCheck, BenchRule, CalibrationRecord, CheckKind
from levelmoor.core.model.claims import Claim, Tuner
from levelmoor.core.model.equipment import Equipment, FeedLine, Instrument, Load
from levelmoor.core.model.evaluation import Plane, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.reading_sheets import ReadingSheet, TypedReading
from levelmoor.core.model.state import Role, Setting
from levelmoor.core.model.through import Fixture
from levelmoor.core.model.widths import WidthReading
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.trace import Trace
from levelmoor.core.rf.windows import Window
from levelmoor.core.through.choking import s21_of
from levelmoor.formats.exchange import from_document, to_document
from tests.codes import codes
from tests.core.evidence.cases import (
    DAY,
    EIGHTY,
    FORTY,
    METER,
    PLAIN,
    SEVENTY,
    SPECTRUM,
    SWR,
    TEN,
    TWENTY,
    TWO,
    at,
    captured,
    case,
    evidence,
    heat,
    level,
    only,
    peaks,
    radio,
    read,
    through,
    trial,
)
from tests.sweeps import rlc_sweep, with_noise

PASS, FAIL, CLOSE, NOT_SHOWN = Verdict.PASS, Verdict.FAIL, Verdict.TOO_CLOSE, Verdict.NOT_SHOWN
WITH_METER = (Instrument("i", "Analyzer"), METER)
CONTRADICT = "The figures contradict each other"


# -- Repeats ---------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("swr", "turn"), [(2.5, 120), (3.1, 40), (2.6, 180)])
def test_repeats_at_two_planes_are_judged_by_their_size_and_asked_about(swr, turn):
    evaluation = case(at(swr, "a"), at(swr, "b", turn))
    found = only(evaluation)
    assert found.verdict is FAIL
    assert found.windows[0].finding.worst.swr == pytest.approx(swr)
    assert "plane moved" in judge(evaluation).questions[0].sentence


@pytest.mark.parametrize(("clean", "burst"), [(1.2, 4.0), (1.5, 3.5)])
@pytest.mark.parametrize("members", [2, 3])
def test_a_burst_in_one_of_several_repeats_neither_passes_nor_fails(clean, burst, members):
    hit = level(clean)
    gamma = hit.gamma.copy()
    gamma[150:152] = gamma_from_swr(burst)
    rest = [at(clean, f"r{n}") for n in range(members - 1)]
    found = only(case(*rest, evidence("hit", Sweep(hit.frequency_hz, gamma))))
    assert found.verdict is NOT_SHOWN
    assert "hit" in found.reason and "2 points" in found.reason


def test_repeats_that_agree_are_no_weaker_than_one():
    one, three = case(at(1.8, "a")), case(*(at(1.8 + 0.002 * n, f"r{n}") for n in range(3)))
    assert only(one).verdict is only(three).verdict is PASS


def test_repeats_that_hold_one_and_the_same_sweep_are_judged_as_it_is():
    same = level(1.8)
    assert only(case(*(evidence(f"r{n}", same) for n in range(3)))).verdict is PASS


# -- A part of the window, single readings ---------------------------------------------------------------------------


def test_a_second_sweep_of_a_part_of_the_window_contradicts():
    found = only(case(at(1.2, "whole"), at(3.0, "part", span=(14.1e6, 14.3e6), instrument_id="j")))
    assert (found.verdict, found.reason.startswith(CONTRADICT)) == (NOT_SHOWN, True)


def test_a_part_of_the_window_that_fails_fails_it():
    assert only(case(at(4.8, span=(13.9e6, 14.2e6)), claims=(replace(SWR, limit=1.5),))).verdict is FAIL
    assert only(case(at(1.1, span=(13.9e6, 14.2e6)), claims=(replace(SWR, limit=1.5),))).verdict is NOT_SHOWN


@pytest.mark.parametrize("mhz", [[14.05, 14.12, 14.2, 14.3], [14.175], [14.0, 14.35]])
def test_a_meter_read_at_some_frequencies_contradicts_a_sweep_that_passes(mhz):
    found = judge(case(at(1.5), read(mhz, 3.0), instruments=WITH_METER))
    assert (found.claims[0].verdict, CONTRADICT in found.claims[0].reason) == (NOT_SHOWN, True)
    assert not any(u.state == "all" for u in found.usability)


def typed_in(swr, joined=""):
    """Four readings of the meter, as they were typed."""
    lines = (TypedReading(str(n), (("frequency", f"{mhz}"), ("swr", f"{swr}"))) for n, mhz in enumerate(FOUR))
    return ReadingSheet("1", "s", "plain", "m", "swr", joined, readings=tuple(lines))


FOUR = (14.05, 14.12, 14.2, 14.3)


def test_readings_that_were_typed_and_not_joined_are_heard_also_after_export():
    heard = case(at(1.5), instruments=WITH_METER, readings=(typed_in(3.0),))
    # A document names sweeps by their raw files; here there is the sheet alone.
    alone = from_document(json.dumps(to_document(replace(heard, sweeps=()))), {})
    assert (only(heard).verdict, CONTRADICT in only(heard).reason) == (NOT_SHOWN, True)
    assert only(alone).verdict is FAIL
    assert only(replace(heard, readings=(typed_in(3.0, joined="e"),))).verdict is PASS


def test_a_single_reading_of_a_person_is_one_fact():
    assert only(case(read([14.175], 4.0), instruments=WITH_METER)).verdict is FAIL


# -- One reading of the same points ----------------------------------------------------------------------------------

WIDE = Window(4e6, 52e6, "4 to 52 MHz")


def test_a_wide_sweep_says_the_same_of_the_bands_and_spots_in_it():
    spot = Window(14.2345e6, 14.2345e6)
    sweep = at(1.3, span=(3.9e6, 52.5e6), points=2401)
    claims = (replace(SWR, windows=(WIDE,)), replace(SWR, id="d", windows=(spot,)))
    found = judge(case(sweep, claims=claims))
    assert [f.verdict for f in found.claims] == [PASS, PASS]
    assert {u.band: u.state for u in found.usability}["30m"] == "all"


def test_a_smooth_curve_needs_fewer_points():
    seventeen = Window(18.068e6, 18.168e6, "17m")
    f = np.linspace(18.05e6, 18.19e6, 17)
    gamma = gamma_from_swr(1.02 + 0.03 * (f - f[0]) / (f[-1] - f[0])).astype(complex)
    assert only(case(evidence("e", Sweep(f, gamma)), claims=(replace(SWR, windows=(seventeen,)),))).verdict is PASS


def test_a_survey_says_about_what_it_reads():
    found = only(case(at(1.15, span=(1e6, 100e6), points=101)))
    assert (found.verdict, "reads about 1.15" in found.reason) == (NOT_SHOWN, True)


# -- Captures --------------------------------------------------------------------------------------------------------

DOWN = Claim("c", Quantity.EMISSIONS, (), 60.0)
FILTERED = Setup("f", "With a low-pass filter", role=Role.ADDED)


@pytest.mark.parametrize("more_pad", [20.0, 0.0])
@pytest.mark.parametrize("order", [1, -1])
def test_an_added_filter_stands_beside_whatever_the_pad(more_pad, order):
    supplied = captured("k", trace=peaks(second_dbm=-20.0))
    pad = 40.0 + more_pad
    filtered = captured("f", trace=peaks(second_dbm=-40.0, pad=pad), pad=pad, setup_id="f")
    found = only(radio(*(supplied, filtered)[::order], claims=(DOWN,), setups=(PLAIN, FILTERED)))
    assert found.verdict is FAIL
    assert found.windows[0].beside[0].startswith("With a low-pass filter (added): ")


@pytest.mark.parametrize("quantity", [Quantity.EMISSIONS, Quantity.OUTPUT_POWER])
def test_a_capture_for_comparison_alone_shows_nothing(quantity):
    place = Setup("plain", "In the hand", role=Role.COMPARISON)
    limit = 60.0 if quantity is Quantity.EMISSIONS else 4.0
    found = only(radio(captured(), claims=(Claim("c", quantity, (), limit),), setups=(place,)))
    assert (found.verdict, "In the hand is for comparison" in found.reason) == (NOT_SHOWN, True)


@pytest.mark.parametrize(("quantity", "limit"), [(Quantity.EMISSIONS, 60.0), (Quantity.OUTPUT_POWER, 3.0)])
def test_every_band_that_is_named_has_to_be_captured(quantity, limit):
    claim = Claim("c", quantity, (TWO, SEVENTY), limit)
    carrier = {"carrier_mhz": 145.0, "trace": peaks(145.0)}
    found = only(radio(captured(**carrier), claims=(claim,)))
    assert (found.verdict, "70cm" in found.reason) == (NOT_SHOWN, True)
    both = radio(captured(**carrier), captured("u", carrier_mhz=435.0, trace=peaks(435.0)), claims=(claim,))
    assert only(both).verdict is PASS


def test_emissions_are_shown_at_the_claimed_power_or_more():
    claim = replace(DOWN, power_w=5.0)
    assert only(radio(captured(), claims=(claim,))).verdict is PASS
    weak = captured(trace=peaks(watts_dbm=20.0, second_dbm=-50.0))
    found = only(radio(weak, claims=(claim,)))
    assert (found.verdict, "at 5 W" in found.reason) == (NOT_SHOWN, True)
    assert only(radio(captured(trace=peaks(watts_dbm=20.0, second_dbm=-20.0)), claims=(claim,))).verdict is FAIL


def test_a_control_through_the_same_path_bounds_what_the_analyzer_makes():
    unknown = replace(SPECTRUM, second_intercept_dbm=None, third_intercept_dbm=None)
    unit = captured("k", trace=peaks(second_dbm=-10.0))
    control = captured("ctl", trace=peaks(second_dbm=-50.0), sample_id="t")
    samples = (Sample("s", "Unit"), Sample("t", "Control", control=True))
    alone = judge(radio(unit, claims=(DOWN,), instruments=(unknown,))).claims[0]
    beside = judge(radio(unit, control, claims=(DOWN,), instruments=(unknown,), samples=samples)).claims[0]
    assert (alone.verdict, beside.verdict) == (NOT_SHOWN, FAIL)


def test_one_spur_beside_the_carrier_is_told_once():
    f = np.linspace(145e6, 147e6, 4001)
    seen = np.full(f.size, -110.0)
    for hz, dbm in ((146e6, -3.0), (146.3e6, -47.8)):
        seen = np.maximum(seen, dbm - 3 * ((f - hz) / 500.0) ** 2)
    near = captured("near", trace=Trace(f, seen), rbw_hz=1e3)
    evaluation = radio(near, captured(trace=peaks(second_dbm=-50.0), rbw_hz=1e3), claims=())
    from levelmoor.core.model.rule_sets import shipped_rule_sets

    (found,) = judge(replace(evaluation, rule_sets=(shipped_rule_sets()["us-97.307"],))).emissions
    assert [s.verdict for s in found.report.spurious if abs(s.frequency_hz - 146.3e6) < 20e3] == [FAIL]


# -- Runs under power ------------------------------------------------------------------------------------------------

HANDLES = Claim("c", Quantity.POWER, (EIGHTY, TEN), 100.0, mode="continuous")


@pytest.mark.parametrize("order", [1, -1])
def test_of_several_bands_under_power_the_hottest_counts_and_each_is_named(order):
    found = only(case(claims=(HANDLES,), heats=(heat("a", 3.6, 50.0), heat("b", 28.5, 69.5))[::order]))
    assert found.verdict is CLOSE
    assert [(w.name, w.verdict) for w in found.windows] == [("80m", PASS), ("10m", CLOSE)]


def test_a_band_without_a_run_is_not_shown():
    found = only(case(claims=(HANDLES,), heats=(heat("a", 3.6, 50.0),)))
    assert (found.verdict, "10m" in found.reason) == (NOT_SHOWN, True)


# -- Trials ----------------------------------------------------------------------------------------------------------

MATCHES = Claim("c", Quantity.TUNER_RANGE, (FORTY,), 1.5, power_w=100.0, stated="16 to 600 ohm")
LOADS = ("16", "600", "100", "16", "600", "100")


@pytest.mark.parametrize(("power", "verdict"), [(None, NOT_SHOWN), (10.0, NOT_SHOWN), (100.0, PASS), (96.0, PASS)])
def test_a_tuner_is_shown_at_the_power_that_is_claimed(power, verdict):
    tried = tuple(trial(str(n), load=load, power_w=power) for n, load in enumerate(LOADS))
    found = only(case(claims=(MATCHES,), trials=tried))
    assert found.verdict is verdict
    assert verdict is PASS or "at 100 W" in found.reason


@pytest.mark.parametrize("power", [None, 10.0])
def test_a_tuner_that_fails_with_less_power_fails(power):
    tried = tuple(trial(str(n), load=load, swr=3.0, power_w=power) for n, load in enumerate(LOADS))
    assert only(case(claims=(MATCHES,), trials=tried)).verdict is FAIL


def test_what_a_stopwatch_cannot_decide_is_said():
    claim = Claim("c", Quantity.RECALL, (), 0.5)
    found = only(case(claims=(claim,), trials=tuple(trial(str(n), memory=True, seconds=0.4) for n in range(4))))
    assert found.verdict is CLOSE
    assert found.reason.startswith("4 of 4 recalled matches read within 0.5 s") and "by hand" in found.reason


def test_an_antenna_swept_as_a_load_is_no_evidence_of_the_tuner():
    load = at(1.3, "load")
    tried = tuple(replace(trial(str(n), load="", swr=1.2), load_sweep_id="load") for n in range(3))
    found = judge(case(load, claims=(MATCHES,), trials=tried))
    assert found.usability == ()


# -- Rounds ----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "change",
    [
        {"sweeps": (at(1.2), at(1.3, "late", round=2, set_aside="the wind"))},
        {"sweeps": (at(1.2),), "adjustments": (Adjustment("a", "s", "plain", round=2),)},
    ],
    ids=["left out", "noted"],
)
def test_a_round_that_was_opened_stays_open(change):
    found = only(replace(case(at(1.2)), **change))
    assert (found.verdict, "was adjusted" in found.reason) == (NOT_SHOWN, True)


# -- Widths ----------------------------------------------------------------------------------------------------------

WIDTH = Claim("c", Quantity.BANDWIDTH, (TWENTY,), 200.0, swr_at=2.0)
TYPED = WidthReading("w", "s", "plain", "m", "20m", 14.02e6, 14.34e6, taken_on=DAY)


@pytest.mark.parametrize(
    "change",
    [
        {"sweeps": (at(1.2, "a"), at(3.0, "b", instrument_id="i", taken_on="2026-05-30T11:00"))},
        {"adjustments": (Adjustment("a", "s", "plain", round=2),)},
        {"bench_rule": BenchRule.PROVEN},
    ],
    ids=["sweeps contradict", "older round", "unchecked"],
)
def test_edges_from_a_notebook_stand_before_the_same_court(change):
    evaluation = case(claims=(WIDTH,), instruments=WITH_METER, widths=(TYPED,))
    assert only(evaluation).verdict is PASS
    assert only(replace(evaluation, **change)).verdict is NOT_SHOWN


def test_of_a_width_what_lies_inside_the_band_counts_and_both_are_said():
    claim = replace(WIDTH, limit=300.0)
    sweep = rlc_sweep(13.2e6, 14.8e6, 3201, f0=13.95e6, q=20)
    found = only(case(evidence("e", sweep), claims=(claim,)))
    assert found.verdict is FAIL
    assert "493.2 kHz wide" in found.reason and "inside 20m" in found.reason
    typed = replace(TYPED, low_hz=13.7e6, high_hz=14.1e6)
    assert only(case(claims=(claim,), instruments=WITH_METER, widths=(typed,))).verdict is FAIL


# -- Sweeps through --------------------------------------------------------------------------------------------------

CHOKE = Claim("c", Quantity.CHOKING, (FORTY,), 1000.0)
EMPTY = through("empty", s21_of(np.full(201, 1e7 + 0j)), fixture=Fixture.OPEN)
RECORD = CalibrationRecord("k", "i", 1e6, 60e6, "2026-05-31T09:00", load_id="own")


def choke(ohm, ident="ch", **more):
    return through(ident, s21_of(np.full(201, ohm + 0j)), **more)


def test_a_sweep_through_stands_before_a_proven_bench():
    evaluation = case(claims=(CHOKE,), throughs=(choke(3000.0),), bench_rule=BenchRule.PROVEN)
    found = only(evaluation)
    assert (found.verdict, "calibrat" in found.reason) == (NOT_SHOWN, True)
    found = only(replace(evaluation, calibrations=(RECORD,)))
    assert (found.verdict, "empty fixture" in found.reason) == (NOT_SHOWN, True)
    proven = replace(evaluation, calibrations=(RECORD,), throughs=(*evaluation.throughs, EMPTY))
    assert only(proven).verdict is PASS


@pytest.mark.parametrize("order", [1, -1])
@pytest.mark.parametrize("low", [1010.0, 1200.0])
def test_two_sweeps_through_one_state_that_differ_contradict(low, order):
    swept = (choke(3000.0, "a"), choke(low, "b"))[::order]
    found = only(case(claims=(CHOKE,), throughs=(*swept, EMPTY)))
    assert (found.verdict, "3 kΩ" in found.reason) == (NOT_SHOWN, True)


def test_the_empty_fixture_is_taken_off_only_where_it_was_swept():
    stray = 1j * 2 * np.pi * np.linspace(5e6, 9e6, 201) * 2e-12
    elsewhere = through("empty", s21_of(1 / stray), low=20e6, high=30e6, fixture=Fixture.OPEN)
    claim = replace(CHOKE, limit=30000.0)
    found = only(case(claims=(claim,), throughs=(choke(31000.0), elsewhere)))
    assert "20–30 MHz, not here" in found.reason


def test_an_accessorys_own_setups_are_as_supplied():
    fixture = Setup("fx", "In the fixture", role=Role.ADDED)
    handles = Claim("h", Quantity.POWER, (), 100.0, mode="continuous")
    setups = (PLAIN, fixture)
    evaluation = case(claims=(CHOKE, handles), setups=setups, throughs=(choke(3000.0, setup_id="fx"), EMPTY),
                      heats=(heat("r", 7.1, 50.0, setup_id="fx"),))  # fmt: skip
    assert [f.verdict for f in judge(evaluation).claims] == [PASS, PASS]
    worse = replace(evaluation, throughs=(*evaluation.throughs, choke(400.0, "b")))
    assert judge(worse).claims[0].verdict is FAIL


# -- Several instruments, another impedance, the bench ---------------------------------------------------------------


def test_instruments_that_differ_by_what_could_turn_the_verdict_show_nothing():
    """The best-stated fails it by a hair, the other reads it lower: nobody knows which of them is right."""
    rough = Instrument("j", "Second", figures=Residuals(28.0, 0.02, 28.0))
    evaluation = case(at(2.15, "a"), at(1.95, "b", instrument_id="j"), instruments=(Instrument("i", "First"), rough))
    found = only(evaluation)
    assert (found.verdict, "instruments differ" in found.reason) == (NOT_SHOWN, True)
    assert only(replace(evaluation, sweeps=(at(3.0, "a"), at(2.9, "b", instrument_id="j")))).verdict is FAIL


@pytest.mark.parametrize(("swr", "verdict"), [(1.4, NOT_SHOWN), (2.1, NOT_SHOWN), (6.0, FAIL)])
def test_an_swr_read_in_another_impedance_is_an_interval(swr, verdict):
    claim = replace(SWR, z0_ohm=75.0, limit=1.5)
    found = only(case(read(np.linspace(13.9, 14.5, 61), swr), claims=(claim,), instruments=WITH_METER))
    assert found.verdict is verdict


@pytest.mark.parametrize("done", ["2026-06-21T10:00", "2025-05-31T10:00"])
def test_a_check_that_failed_closes_the_gate_of_its_calibration(done):
    bad = BenchCheck("bad", CheckKind.LOAD, "2026-05-31T10:00", "i", "k", "x", sweep=level(1.3, 0, 1e6, 60e6))
    good = BenchCheck("good", CheckKind.LOAD, done, "i", "k", "x", sweep=level(1.004, 0, 1e6, 60e6))
    owned = Equipment(loads=(Load("x", "load", return_loss_db=46.0), Load("own", "own", return_loss_db=40.0)))
    proven = case(at(1.2, calibration_id="k"), bench_rule=BenchRule.PROVEN, calibrations=(RECORD,), equipment=owned)
    on_the_day = replace(good, done_at="2026-05-31T10:00")
    assert only(replace(proven, checks=(on_the_day,))).verdict is PASS
    assert only(replace(proven, checks=(bad, good))).verdict is NOT_SHOWN
    assert only(replace(proven, checks=(good,))).verdict is NOT_SHOWN


@pytest.mark.parametrize("limit", [2.3, 3.0])
def test_at_the_shack_end_nothing_is_shown_without_the_line(limit):
    setup = replace(PLAIN, plane=Plane.SHACK)
    found = only(case(at(2.0 * limit), setups=(setup,), claims=(replace(SWR, limit=limit),)))
    assert (found.verdict, "feed line" in found.reason) == (NOT_SHOWN, True)
    lines = Equipment(lines=(FeedLine("w", "line", "RG-58", 10.0),))
    noted = case(at(2.0 * limit), setups=(replace(setup, line_id="w"),), claims=(replace(SWR, limit=limit),),
                 equipment=lines)  # fmt: skip
    assert only(noted).verdict is FAIL


def test_what_was_assumed_of_a_meter_is_said_and_shows_nothing_under_a_proven_bench():
    claim = replace(SWR, limit=1.5)
    evaluation = case(read(np.linspace(13.9, 14.5, 61), 1.3), claims=(claim,), instruments=WITH_METER)
    assert "gate.assumed" in codes(only(evaluation).reason)
    assert only(replace(evaluation, bench_rule=BenchRule.PROVEN)).verdict is NOT_SHOWN
    pairs = ((1.0, 1.05), (1.5, 1.52), (2.0, 1.97))
    check = BenchCheck("c", CheckKind.METER, "2026-05-31T08:00", "m", pairs=pairs)
    proven = replace(evaluation, bench_rule=BenchRule.PROVEN)
    assert only(replace(proven, checks=(check,))).verdict is not NOT_SHOWN
    for other in ({"done_at": "2025-05-31T08:00"}, {"figures": (("frequency_hz", 145e6),)}):
        assert only(replace(proven, checks=(replace(check, **other),))).verdict is NOT_SHOWN


def test_a_claim_with_a_tuner_asks_which():
    added = Setup("t", "Through our tuner", tuner_in_line=True, role=Role.ADDED)
    claim = replace(SWR, tuner=Tuner.WITH)
    found = only(case(at(1.2, setup_id="t"), setups=(PLAIN, added), claims=(claim,)))
    assert (found.verdict, "setup.which_tuner" in codes(found.reason)) == (NOT_SHOWN, True)
    named = replace(claim, setup_id="t", windows=(Window(14.1e6, 14.1e6),))
    assert only(case(at(1.2, setup_id="t"), setups=(PLAIN, added), claims=(named,))).verdict is PASS


def test_a_band_by_its_name_is_that_of_the_region():
    sweep = at(1.2, span=(6.9e6, 7.4e6), points=601)
    gamma = np.where(sweep.sweep.frequency_hz > 7.22e6, gamma_from_swr(3.0), gamma_from_swr(1.2)).astype(complex)
    swept = replace(sweep, sweep=Sweep(sweep.sweep.frequency_hz, gamma))
    found = judge(case(swept, claims=(replace(SWR, windows=(FORTY,)),), region=2))
    assert found.claims[0].verdict is FAIL
    assert any("7–7.3 MHz" in w for w in found.warnings)
    typed = replace(SWR, windows=(Window(7e6, 7.2e6),))
    assert judge(case(swept, claims=(typed,), region=2)).claims[0].verdict is PASS


# -- Noise of many ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("noise", "smoothed"), [(0.03, 1), (0.01, 5), (0.01, 9)])
def test_a_noisy_sweep_at_the_limit_does_not_fail(noise, smoothed):
    failed = 0
    for seed in range(30):
        swept = with_noise(level(2.0, points=401), noise * np.sqrt(smoothed), seed)
        kernel = np.ones(smoothed) / smoothed
        gamma = np.convolve(swept.gamma - level(2.0, points=401).gamma, kernel, "same") + level(2.0, points=401).gamma
        failed += only(case(evidence("e", Sweep(swept.frequency_hz, gamma)))).verdict is FAIL
    assert failed <= 2


def test_a_noisy_filter_above_its_claim_does_not_fail():
    claim = Claim("c", Quantity.ATTENUATION, (FORTY,), 40.0)
    for seed in range(10):
        random = np.random.default_rng(seed)
        noise = 1e-3 / np.sqrt(2) * (random.standard_normal(201) + 1j * random.standard_normal(201))
        swept = through("f", 10 ** (-41 / 20) + noise, fixture=Fixture.THROUGH)
        assert only(case(claims=(claim,), throughs=(swept,))).verdict is not FAIL


@pytest.mark.parametrize("count", [10, 40])
def test_the_longest_of_many_times_is_guarded_for_as_many(count):
    claim = Claim("c", Quantity.TUNER_TIME, (), 5.0)
    failed = 0
    for seed in range(60):
        took = 5.0 + 0.2 * np.random.default_rng(seed).standard_normal(count)
        tried = tuple(trial(str(n), seconds=float(s)) for n, s in enumerate(took))
        failed += only(case(claims=(claim,), trials=tried)).verdict is FAIL
    assert failed <= 3


# -- The order of things ---------------------------------------------------------------------------------------------


@pytest.mark.parametrize("seed", range(6))
def test_the_order_of_setups_sweeps_and_instruments_never_changes_an_answer(seed):
    rough = Instrument("j", "Second", figures=Residuals(28.0, 0.02, 28.0))
    setups = (PLAIN, Setup("r", "Roof"), Setup("h", "Hat", role=Role.ADDED))
    sweeps = [at(1.3 + 0.01 * n, f"{s.id}{n}{i}", setup_id=s.id, instrument_id=i, setting_id="m")
              for s in setups for n in range(3) for i in ("i", "j")]  # fmt: skip
    marks = (Setting("m", "mark", (TWENTY,)), Setting("n", "other", (TWENTY,)))
    evaluation = case(*sweeps, setups=setups, instruments=(Instrument("i", "First"), rough), settings=marks)
    random = np.random.default_rng(seed)

    def mixed(rows):
        return tuple(rows[i] for i in random.permutation(len(rows)))

    other = replace(evaluation, sweeps=mixed(evaluation.sweeps), setups=mixed(setups), settings=mixed(marks),
                    instruments=mixed(evaluation.instruments))  # fmt: skip
    one, two = only(evaluation), only(other)
    assert (one.verdict, one.reason, one.windows[0].sweep_id) == (two.verdict, two.reason, two.windows[0].sweep_id)
