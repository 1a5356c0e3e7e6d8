"""Sweeps through an article, and its runs under power, as evidence: which of them a claim may rest on."""

from collections.abc import Mapping

from levelmoor.core.evidence.by_trials import named_setup
from levelmoor.core.evidence.findings import WindowEvidence
from levelmoor.core.heat.heating import judge_heat
from levelmoor.core.metrology.decision import Verdict, kindness, worst_verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.through import Fixture, Through
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.core.rf.windows import Window
from levelmoor.core.through.through_verdict import curve_for, judge_through


def wanted_fixture(claim: Claim) -> Fixture:
    """How an article stands between the ports for a claim."""
    return Fixture.SERIES if claim.quantity is Quantity.CHOKING else Fixture.THROUGH


def by_through(
    evaluation: Evaluation, setups: Mapping[str, Setup], claim: Claim, sample_id: str
) -> tuple[Verdict, str, tuple[WindowEvidence, ...]]:
    """The verdict on choking impedance, insertion loss or attenuation, each window by the sweep that shows it."""
    if claim.missing:
        return Verdict.NOT_SHOWN, f"The claim has no {claim.missing} yet; write it down.", ()
    heard = [
        x
        for x in evaluation.throughs
        if x.sample_id == sample_id
        and x.fixture is wanted_fixture(claim)
        and not x.set_aside
        and named_setup(claim, setups.get(x.setup_id))
    ]
    if not heard:
        how = "in the series fixture" if claim.quantity is Quantity.CHOKING else "from one port to the other"
        return (
            Verdict.NOT_SHOWN,
            f"There is no sweep through this sample that the claim may rest on; sweep it {how}.",
            (),
        )
    if not claim.windows:
        verdict, reason, _ = _best(evaluation, claim, heard, None)
        return verdict, reason, ()
    windows = []
    for window in claim.windows:
        verdict, reason, rests_on = _best(evaluation, claim, heard, window)
        windows.append(
            WindowEvidence(
                None, window, None, verdict, reason, setup_id=rests_on.setup_id, instrument_id=rests_on.instrument_id
            )
        )
    verdict = worst_verdict(w.verdict for w in windows)
    deciding = [w for w in windows if w.verdict is verdict]
    shown = deciding if verdict is Verdict.FAIL else deciding[:1]
    said = " ".join(f"{w.window.name}: {w.reason}" if len(windows) > 1 else w.reason for w in shown)
    return verdict, said, tuple(windows)


def _best(
    evaluation: Evaluation, claim: Claim, heard: list[Through], window: Window | None
) -> tuple[Verdict, str, Through]:
    """A sweep that fails decides; else the one that shows most. Two that contradict each other show nothing."""
    figures = {i.id: i.figures for i in evaluation.instruments}
    found = []
    for one in heard:
        curve = curve_for(claim, one.two_port, figures[one.instrument_id], empty_of(evaluation, one.instrument_id))
        found.append((*judge_through(claim, curve, window, evaluation.rule), one))
    passed = next((f for f in found if f[0] is Verdict.PASS), None)
    failed = next((f for f in found if f[0] is Verdict.FAIL), None)
    if passed and failed:
        words = f"{passed[2].name} and {failed[2].name} contradict each other: {failed[1]} Sweep it a third time."
        return Verdict.NOT_SHOWN, words, failed[2]
    return failed or min(found, key=lambda f: kindness(f[0]))


def empty_of(evaluation: Evaluation, instrument_id: str) -> TwoPort | None:
    """The empty fixture that was swept with this instrument, the latest."""
    empty = [
        x
        for x in evaluation.throughs
        if x.fixture is Fixture.OPEN and x.instrument_id == instrument_id and not x.set_aside
    ]
    return max(empty, key=lambda x: x.taken_on).two_port if empty else None


def by_heat(evaluation: Evaluation, setups: Mapping[str, Setup], claim: Claim, sample_id: str) -> tuple[Verdict, str]:
    """The verdict on power handling by the runs under power."""
    runs = [r for r in evaluation.heats if r.sample_id == sample_id and named_setup(claim, setups.get(r.setup_id))]
    if claim.limit is None:
        return Verdict.OUTSIDE, "The claim states no power."
    return judge_heat(claim, runs, evaluation.rule)
