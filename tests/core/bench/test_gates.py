"""The gates of the bench: the same sweep counts or does not, as the bench stands behind it."""

from dataclasses import replace

import numpy as np
import pytest

from levelmoor.core.bench.book import BenchBook
from levelmoor.core.bench.gates import calibrations_that_hold
from levelmoor.core.bench.how_proven import less_than_proven
from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.bench_records import (
    BenchCheck,
    BenchRule,
    CalibrationRecord,
    CheckKind,
    age_obstacle,
    holds_until,
)
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Equipment, FeedLine, Instrument, InstrumentClass, Load
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Obtained, Plane, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.relied_on import only_relied_on
from levelmoor.core.rf.feedline import move_plane
from levelmoor.core.rf.line_types import find_line_type
from levelmoor.core.rf.reflection import LIGHT_M_PER_S
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from tests.codes import codes
from tests.sweeps import flat

TWENTY = Window(14e6, 14.35e6, "20m")
RECORD = CalibrationRecord("c", "i", 13e6, 15e6, "2026-05-31T10:00", load_id="k")
LOAD = BenchCheck("l", CheckKind.LOAD, "2026-05-31T10:05", "i", "c", "x", sweep=flat(0.001, 13e6, 15e6))
OWNED = Equipment(loads=(Load("x", "load", return_loss_db=46.0), Load("k", "calibrating load", return_loss_db=40.0)))
CASE = Evaluation(
    "case",
    Product("antenna"),
    samples=(Sample("s", "Unit 1", obtained=Obtained.BOUGHT),),
    claims=(Claim("k", Quantity.SWR, (TWENTY,), 2.0),),
    setups=(Setup("u", "as it stands"),),
    instruments=(Instrument("i", "analyzer"), Instrument("j", "other")),
    sweeps=(
        Evidence(
            "e",
            "sweep",
            "s",
            "u",
            "i",
            Calibration.AT_PLANE,
            flat(0.1),
            taken_on="2026-05-31T11:00",
            calibration_id="c",
        ),
    ),
    bench_rule=BenchRule.PROVEN,
    calibrations=(RECORD,),
    checks=(LOAD,),
    equipment=OWNED,
)


def only(case):
    (finding,) = judge(case).claims
    return finding


def with_record(**values):
    return replace(CASE, calibrations=(replace(RECORD, **values),))


def with_evidence(**values):
    return replace(CASE, sweeps=(replace(CASE.sweeps[0], **values),))


def test_proven_bench_lets_the_verdict_stand_and_names_its_gates():
    finding = only(CASE)
    assert finding.verdict is Verdict.PASS
    gates = finding.windows[0].gates
    assert any("calibration on record" in g for g in gates)
    assert any("load matches 50 Ω" in g for g in gates)


@pytest.mark.parametrize(
    ("case", "code"),
    [
        (with_record(low_hz=14.1e6), "gate.cal_span"),
        (with_record(high_hz=14.4e6), "gate.cal_span"),
        (with_record(instrument_id="j"), "gate.cal_other_instrument"),
        (with_record(plane="shack"), "gate.cal_plane"),
        (with_record(done_at="2026-05-29T10:00"), "age.old"),
        (with_record(done_at="2026-05-31T12:00"), "age.before"),
        (with_record(done_at=""), "age.undated"),
        (with_evidence(taken_on=""), "age.sweep_undated"),
        (with_evidence(calibration_id="gone"), "gate.cal_gone"),
        (with_evidence(calibration_id=""), "gate.cal_not_recorded"),
        (replace(CASE, checks=()), "gate.load_missing"),
        (replace(CASE, checks=(replace(LOAD, calibration_id="other"),)), "gate.load_missing"),
        (replace(CASE, checks=(replace(LOAD, sweep=flat(0.2, 13e6, 15e6)),)), "load.bad"),
        (replace(CASE, checks=(replace(LOAD, sweep=flat(0.004, 13e6, 14.2e6)),)), "gate.load_span"),
        (
            replace(CASE, checks=(LOAD, BenchCheck("o", CheckKind.OPEN_OR_SHORT, "", "i", "c", sweep=flat(0.7)))),
            "full.bad",
        ),
    ],
)
def test_failed_or_missing_gate_shows_nothing_and_says_what_to_do(case, code):
    finding = only(case)
    assert finding.verdict is Verdict.NOT_SHOWN
    assert code in codes(finding.reason), finding.reason


def test_only_calibrations_that_hold_are_offered_the_latest_first():
    later = replace(RECORD, id="later", done_at="2026-05-31T10:30")
    wrong = [
        replace(RECORD, id=str(n), **values)
        for n, values in enumerate(({"low_hz": 14.1e6}, {"instrument_id": "j"}, {"done_at": "2026-05-31T12:00"}))
    ]
    case = replace(CASE, calibrations=(RECORD, later, *wrong))
    offered = calibrations_that_hold(BenchBook(case), case.sweeps[0], case.setups[0])
    assert [c.id for c in offered] == ["later", "c"]


def test_stated_bench_is_enough_where_it_is_asked_for():
    case = replace(with_evidence(calibration_id=""), bench_rule=BenchRule.STATED, calibrations=(), checks=())
    assert only(case).verdict is Verdict.PASS
    assert "gate.cal_stated" in codes(only(case).windows[0].gates[0])


def test_failed_check_counts_even_where_a_stated_bench_is_enough():
    case = replace(CASE, bench_rule=BenchRule.STATED, checks=(replace(LOAD, sweep=flat(0.2, 13e6, 15e6)),))
    assert only(case).verdict is Verdict.NOT_SHOWN


def test_bad_directivity_measured_at_the_plane_widens_the_doubt():
    """0.28 against 1/3: with 40 dB a Pass; 0.045 measured, which is flat enough, leaves it open."""
    case = with_evidence(sweep=flat(0.28))
    assert only(case).verdict is Verdict.PASS
    poor = replace(case, checks=(replace(LOAD, sweep=flat(0.045, 13e6, 15e6)),))
    assert only(poor).verdict is Verdict.TOO_CLOSE


def test_loads_stated_reflection_is_carried_into_the_verdict():
    case = with_evidence(sweep=flat(0.28))
    assert only(case).verdict is Verdict.PASS
    poor = Equipment(loads=(Load("x", "load", return_loss_db=27.0),))
    assert only(replace(case, equipment=poor)).verdict is Verdict.TOO_CLOSE


@pytest.mark.parametrize(
    ("change", "code"),
    [
        ({"equipment": Equipment(loads=(Load("x", "load"),))}, "load.unstated"),
        ({"calibrations": (replace(RECORD, load_id="x"),)}, "load.own"),
        ({"calibrations": (replace(RECORD, load_id=""),)}, "load.own"),
    ],
)
def test_a_load_proves_nothing_of_itself_or_of_what_it_calibrated(change, code):
    """Whatever such a load reads, it gives no figure: a proven bench asks for another, a stated one keeps the typical
    figures."""
    finding = only(replace(CASE, **change))
    assert finding.verdict is Verdict.NOT_SHOWN
    assert code in codes(finding.reason)
    stated = only(replace(with_evidence(sweep=flat(0.2)), bench_rule=BenchRule.STATED, **change))
    typical = replace(CASE, bench_rule=BenchRule.STATED, checks=(), sweeps=(replace(CASE.sweeps[0], sweep=flat(0.2)),))
    assert stated.windows[0].finding.u_gamma == only(typical).windows[0].finding.u_gamma


@pytest.mark.parametrize(
    ("done", "taken", "hours", "words"),
    [
        ("2026-05-31T10:00", "2026-06-01T10:00", 24, ""),
        ("2026-05-31T10:00", "2026-06-01T10:01", 24, "old when the sweep was made"),
        ("2026-05-31", "2026-05-31", 1, ""),
        ("2026-05-31T23:00", "2026-06-01", 24, ""),
        ("2026-05-31", "2026-06-02", 24, "48 h old|2 days old"),
        ("2026-06-01", "2026-05-31T10:00", 24, "before"),
    ],
)
def test_age_by_hours_or_where_only_days_are_known_by_days(done, taken, hours, words):
    said = age_obstacle(done, taken, hours, "it")
    assert any(w in said for w in words.split("|")) if words else said == ""


def test_until_when_it_holds():
    assert holds_until("2026-05-31T10:00", 24) == "2026-06-01T10:00"
    assert holds_until("yesterday", 24) == ""


# -- The feed line ---------------------------------------------------------------------------------------------------

LINE = FeedLine("f", "the yard line", "RG-213", 20.0)


def line_sweep(length=20.0, gamma=None, f=None):
    f = np.linspace(1e6, 100e6, 401) if f is None else f
    kind = find_line_type("RG-213")
    far = np.ones(f.size, dtype=complex) if gamma is None else gamma
    return Sweep(f, move_plane(far, f, -kind.loss_db(f, length), -length / (LIGHT_M_PER_S * kind.velocity)))


def through_the_line(magnitude):
    """A case at the shack end of a line that was checked, the antenna reflecting `magnitude`."""
    f = np.linspace(13.9e6, 14.5e6, 301)
    return replace(
        CASE,
        setups=(Setup("u", "mast", plane=Plane.SHACK, line_id="f"),),
        calibrations=(replace(RECORD, plane="shack"),),
        checks=(LOAD, BenchCheck("w", CheckKind.CABLE, "2026-05-30T10:00", "i", item_id="f", sweep=line_sweep())),
        equipment=replace(OWNED, lines=(LINE,)),
        sweeps=(replace(CASE.sweeps[0], sweep=line_sweep(gamma=np.full(f.size, magnitude + 0j), f=f)),),
    )


def test_checked_line_takes_the_plane_to_the_connector():
    """At the shack 0.33 at the antenna reads 0.30 through 0.5 dB, a Pass there; at the connector it is too close."""
    case = through_the_line(0.33)
    assert float(case.sweeps[0].sweep.magnitude.max()) < 0.305
    finding = only(case)
    assert finding.verdict is Verdict.TOO_CLOSE
    assert finding.windows[0].finding.worst.swr == pytest.approx(1.985, abs=0.02)
    assert any("the yard line: no fault found" in g for g in finding.windows[0].gates)
    assert only(through_the_line(0.1)).verdict is Verdict.PASS


def test_line_that_was_not_checked_shows_nothing():
    case = through_the_line(0.1)
    assert "The yard line was not checked" in only(replace(case, checks=(LOAD,))).reason


def test_bad_line_shows_nothing_whatever_the_reading():
    case = through_the_line(0.1)
    bad = replace(case.checks[1], sweep=line_sweep(length=12.0))
    finding = only(replace(case, checks=(LOAD, bad)))
    assert finding.verdict is Verdict.NOT_SHOWN
    assert "The yard line is bad: it ends after 12.0 m of 20 m" in finding.reason


def test_moving_the_plane_carries_the_uncertainty():
    """The same |gamma| at the connector, read there and read through the line: the second is less sure."""
    direct = replace(CASE, sweeps=(replace(CASE.sweeps[0], sweep=flat(0.2)),))
    through = only(through_the_line(0.2)).windows[0].finding
    assert through.u_gamma > only(direct).windows[0].finding.u_gamma


def test_what_is_published_is_what_the_evidence_rests_on():
    case = replace(through_the_line(0.2), instruments=(*CASE.instruments, Instrument("z", "not used")))
    slim = only_relied_on(case)
    assert judge(slim) == judge(case)
    assert [i.id for i in slim.instruments] == ["i"]
    assert [x.id for x in slim.equipment.lines] == ["f"]


METER = Instrument("m", "Radio's meter", instrument_class=InstrumentClass.METER)
CHECKED = BenchCheck("mc", CheckKind.METER, "2026-05-30T10:00", "m", pairs=((1.0, 1.1), (1.5, 1.4), (2.0, 1.9)))


@pytest.mark.parametrize(
    ("rule", "checks", "verdict"),
    [
        (BenchRule.STATED, (), Verdict.PASS),
        (BenchRule.PROVEN, (), Verdict.NOT_SHOWN),
        (BenchRule.PROVEN, (CHECKED,), Verdict.PASS),
    ],
)
def test_a_meter_is_asked_for_its_check_and_not_for_a_calibration(rule, checks, verdict):
    read = replace(CASE.sweeps[0], instrument_id="m", calibration=Calibration.UNSTATED, calibration_id="")
    case = replace(CASE, instruments=(METER,), sweeps=(read,), bench_rule=rule, checks=checks)
    assert only(case).verdict is verdict


def test_one_sweep_is_accepted_without_a_record_where_the_others_need_one():
    case = replace(with_evidence(calibration_id="", calibration=Calibration.ACCEPTED), calibrations=(), checks=())
    assert case.bench_rule is BenchRule.PROVEN
    assert only(case).verdict is Verdict.PASS
    assert "gate.cal_accepted" in codes(only(case).windows[0].gates[0])


@pytest.mark.parametrize(
    ("rule", "calibration", "record", "words"),
    [
        (BenchRule.PROVEN, Calibration.AT_PLANE, "c", ""),
        (BenchRule.STATED, Calibration.AT_PLANE, "c", ""),
        (BenchRule.STATED, Calibration.AT_PLANE, "", "The sweep rests on the team's word"),
        (BenchRule.PROVEN, Calibration.ACCEPTED, "", "The sweep rests on the team's word"),
        (BenchRule.PROVEN, Calibration.AT_PLANE, "", ""),
    ],
)
def test_the_head_of_a_report_says_which_sweeps_count_on_a_word(rule, calibration, record, words):
    case = replace(with_evidence(calibration_id=record, calibration=calibration), bench_rule=rule)
    assert less_than_proven(case).startswith(words)
    assert bool(less_than_proven(case)) is bool(words)
