from dataclasses import replace

import pytest

from levelmoor.core.evidence.findings import headline
from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.claims import Claim, Tuner
from levelmoor.core.model.equipment import Equipment, FeedLine
from levelmoor.core.model.evaluation import (
    Calibration,
    Evaluation,
    Evidence,
    Instrument,
    Obtained,
    Plane,
    Product,
    Sample,
    Setup,
)
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.usability import PROFILES, Usability, own_profile
from levelmoor.core.plan.plan import make_plan
from levelmoor.core.plan.progress import steps
from levelmoor.core.rf.windows import Window
from tests.codes import codes
from tests.sweeps import flat, rlc_sweep

TWENTY = Window(14e6, 14.35e6, "20m")
CLAIM = Claim("c", Quantity.SWR, (TWENTY,), 2.0)
GOOD = Evidence("e", "sweep", "s", "u", "i", Calibration.AT_PLANE, flat(0.1))
CASE = Evaluation(
    "case",
    Product("antenna"),
    samples=(Sample("s", "Unit 1", obtained=Obtained.BOUGHT),),
    claims=(CLAIM,),
    setups=(Setup("u", "as it stands"),),
    instruments=(Instrument("i", "analyzer"),),
    sweeps=(GOOD,),
)


def only(case):
    (finding,) = judge(case).claims
    return finding


def test_good_evidence_passes():
    assert only(CASE).verdict is Verdict.PASS


@pytest.mark.parametrize(
    ("change", "code"),
    [
        ({"sweeps": ()}, "nothing.sweep"),
        ({"sweeps": (replace(GOOD, calibration=Calibration.NONE),)}, "gate.cal_none"),
        ({"sweeps": (replace(GOOD, calibration=Calibration.UNSTATED),)}, "gate.cal_unstated"),
        ({"setups": (Setup("u", "x", tuner_in_line=True),)}, "setup.without_tuner"),
        ({"claims": (replace(CLAIM, tuner=Tuner.WITH),)}, "setup.with_tuner"),
        ({"claims": (replace(CLAIM, limit=None),)}, "claim.missing"),
        ({"claims": (replace(CLAIM, windows=()),)}, "claim.missing"),
        ({"setups": (Setup("u", "x", plane=Plane.SHACK),)}, "plane.loss"),
    ],
)
def test_not_shown_says_what_is_missing(change, code):
    finding = only(replace(CASE, **change))
    assert finding.verdict is Verdict.NOT_SHOWN
    assert code in codes(finding.reason)


def test_fail_at_the_shack_end_holds_at_the_antenna_where_the_line_is_noted():
    case = replace(
        CASE,
        setups=(Setup("u", "x", plane=Plane.SHACK, line_id="w"),),
        sweeps=(replace(GOOD, sweep=flat(0.5)),),
        equipment=Equipment(lines=(FeedLine("w", "line", "RG-58", 10.0),)),
    )
    assert only(case).verdict is Verdict.FAIL
    assert only(replace(case, setups=(Setup("u", "x", plane=Plane.SHACK),))).verdict is Verdict.NOT_SHOWN


@pytest.mark.parametrize(
    "quantity", [Quantity.GAIN, Quantity.PATTERN, Quantity.POWER, Quantity.WEATHER, Quantity.OTHER]
)
def test_what_no_sweep_can_check_is_outside(quantity):
    assert only(replace(CASE, claims=(Claim("c", quantity, limit=3.0),))).verdict is Verdict.OUTSIDE


def test_return_loss_claim_is_judged_as_its_swr():
    case = replace(
        CASE, claims=(Claim("c", Quantity.RETURN_LOSS, (TWENTY,), 9.54),), sweeps=(replace(GOOD, sweep=flat(0.5)),)
    )
    assert only(case).verdict is Verdict.FAIL
    assert only(replace(case, sweeps=(GOOD,))).verdict is Verdict.PASS


def test_worst_window_decides_and_is_named():
    two = replace(CLAIM, windows=(TWENTY, Window(14.6e6, 14.7e6, "beyond")))
    finding = only(replace(CASE, claims=(two,)))
    assert (finding.verdict, finding.reason.split(":")[0]) == (Verdict.NOT_SHOWN, "beyond")


def test_verdict_rests_on_the_more_accurate_of_two_sweeps():
    rough = Instrument("rough", "old meter", figures=Residuals(directivity_db=20))
    other = replace(GOOD, id="other", instrument_id="rough", sweep=flat(0.3))
    finding = only(replace(CASE, instruments=(*CASE.instruments, rough), sweeps=(GOOD, other)))
    assert finding.windows[0].sweep_id == "e"


def test_not_shown_names_the_sweep_that_covers_most():
    short, long = flat(0.1, 14.0e6, 14.1e6, 101), flat(0.1, 14.0e6, 14.3e6, 101)
    case = replace(CASE, sweeps=(replace(GOOD, id="long", sweep=long), replace(GOOD, id="short", sweep=short)))
    assert only(case).windows[0].sweep_id == "long"


def test_every_sample_gets_its_verdict():
    case = replace(CASE, samples=(Sample("s", "A"), Sample("t", "B")))
    assert {f.sample_id: f.verdict for f in judge(case).claims} == {"s": Verdict.PASS, "t": Verdict.NOT_SHOWN}


@pytest.mark.parametrize(
    ("profile", "state"),
    [
        ("exacting", Usability.NONE),
        ("strict", Usability.NONE),
        ("radio-safe", Usability.ALL),
        ("internal-tuner", Usability.ALL),
    ],
)
def test_usability_by_profile(profile, state):
    case = replace(CASE, profile=PROFILES[profile], sweeps=(replace(GOOD, sweep=flat(0.3)),))
    (found,) = judge(case).usability
    assert (found.band, found.state) == ("20m", state)


def test_usability_in_part_gives_the_share():
    case = replace(CASE, profile=own_profile(2), sweeps=(replace(GOOD, sweep=rlc_sweep(13.9e6, 14.5e6, 601)),))
    (found,) = judge(case).usability
    # Common practice, no source, for the idea; the share follows from the RLC's 2:1 edges at 14.0999 and 14.3008 MHz.
    assert (found.state, found.sentence) == (Usability.PART, "Within 2:1 on 57 % of the band.")


def test_warnings_say_what_the_evidence_cannot():
    case = replace(CASE, setups=(Setup("u", "x", tuner_in_line=True),), sweeps=(replace(GOOD, sweep=flat(1.1)),))
    assert {"note.not_radiation", "note.active"} <= codes(judge(case).warnings)


def test_steps_say_what_is_missing():
    bare = Evaluation("x", Product("x"), samples=(Sample("s", "Unit 1"),))
    states = {s.id: s.state for s in steps(bare, judge(bare), make_plan(bare), 0)}
    assert states["case"] == "Say how Unit 1 was obtained"
    assert states["claims"] == "Add the first claim"
    assert states["sweep"] == "Drop a file in"
    assert headline(judge(bare)) == "Nothing judged yet"
    full = replace(CASE, claims=(replace(CLAIM, source="box"),))
    assert all(s.done for s in steps(full, judge(full), make_plan(full), 1))
