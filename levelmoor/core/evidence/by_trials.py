"""Trials as evidence: which of them a claim on a tuner may rest on, and what they come to."""

from collections.abc import Mapping

from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.findings import WindowEvidence
from levelmoor.core.metrology.decision import Verdict, worst_verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.state import Role
from levelmoor.core.model.trials import Trial
from levelmoor.core.rf.windows import Window
from levelmoor.core.trials.load_text import parse_load_range
from levelmoor.core.trials.trial_grid import cells_of
from levelmoor.core.trials.trial_verdict import TrialsFinding, judge_range, judge_time

NOT_RADIATION = "A match is not radiation."


def by_trials(
    evaluation: Evaluation, bench: Dossier, claim: Claim, sample_id: str
) -> tuple[Verdict, str, tuple[WindowEvidence, ...]]:
    """The verdict on a claim that trials show, each window by itself."""
    if claim.missing:
        return Verdict.NOT_SHOWN, f"The claim has no {claim.missing} yet; write it down.", ()
    heard = [t for t in evaluation.trials if t.sample_id == sample_id and allowed(claim, bench.setups, t)]
    if claim.quantity is Quantity.TUNER_RANGE and parse_load_range(claim.stated) is None:
        reason = (
            "Which loads are meant is not written so that it can be judged; write 10 to 1000 Ω, up to 3:1, or any load."
        )
        return Verdict.NOT_SHOWN, reason, ()
    if not any(t.tried for t in heard):
        return Verdict.NOT_SHOWN, "There is no trial of this sample yet that the claim may rest on.", ()
    if not claim.windows:
        found = _judged(evaluation, claim, heard, None)
        return found.verdict, _said(claim, found.reason), ()
    windows = tuple(_window(evaluation, claim, heard, w) for w in claim.windows)
    verdict = worst_verdict(w.verdict for w in windows)
    deciding = [w for w in windows if w.verdict is verdict]
    if verdict is Verdict.PASS and len(deciding) > 1:
        names = ", ".join(w.window.name for w in deciding)
        return verdict, _said(claim, f"On each of {names}; the first: {deciding[0].reason}"), windows
    shown = deciding if verdict is Verdict.FAIL else deciding[:3]
    said = " ".join(f"{w.window.name}: {w.reason}" if len(windows) > 1 else w.reason for w in shown)
    if len(deciding) > len(shown):
        said += f" The same of {len(deciding) - len(shown)} more bands."
    return verdict, _said(claim, said), windows


def _said(claim: Claim, reason: str) -> str:
    return f"{reason} {NOT_RADIATION}" if claim.quantity is Quantity.TUNER_RANGE else reason


def allowed(claim: Claim, setups: Mapping[str, Setup], trial: Trial) -> bool:
    """Whether a claim may rest on a trial: its setup is the one the claim names, or the article as supplied."""
    return not trial.set_aside and named_setup(claim, setups.get(trial.setup_id))


def named_setup(claim: Claim, setup: Setup | None) -> bool:
    """Whether a setup is the one that a claim names, or the article as supplied where it names none."""
    if setup is None or setup.set_aside:
        return False
    return setup.id == claim.setup_id if claim.setup_id else setup.role is Role.AS_SUPPLIED


def _window(evaluation: Evaluation, claim: Claim, heard: list[Trial], window: Window) -> WindowEvidence:
    inside = [t for t in heard if window.low_hz <= t.frequency_hz <= window.high_hz]
    found = _judged(evaluation, claim, inside, window)
    latest = max(inside, key=lambda t: t.taken_on, default=None)
    return WindowEvidence(
        None,
        window,
        None,
        found.verdict,
        found.reason,
        setup_id=latest.setup_id if latest else "",
        instrument_id=latest.instrument_id if latest else "",
    )


def _judged(evaluation: Evaluation, claim: Claim, trials: list[Trial], window: Window | None) -> TrialsFinding:
    if claim.quantity is not Quantity.TUNER_RANGE:
        return judge_time(trials, claim.limit or 0.0, evaluation.rule, claim.quantity is Quantity.RECALL)
    of = parse_load_range(claim.stated)
    assert of is not None and window is not None
    limit = claim.limit if claim.limit is not None else evaluation.profile.limit_swr
    figures = {i.id: i.figures for i in evaluation.instruments}
    sweeps = {e.id: e.sweep for e in evaluation.sweeps}
    return judge_range(cells_of(trials, sweeps), window, of, limit, figures, evaluation.rule)
