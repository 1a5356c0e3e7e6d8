"""The heart: an evaluation in, its findings out. The same evidence always gives the same findings."""

from collections import Counter
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from levelmoor.core.bandplan import Band, band_plan
from levelmoor.core.claims import SWEPT, Claim, Tuner
from levelmoor.core.decision import VERDICT_WORDS, Rule, Verdict, worst_verdict
from levelmoor.core.evaluation import Calibration, Evaluation, Evidence, Instrument, Plane, Sample, Setup
from levelmoor.core.sweep_reading import SweepReading, read_sweep
from levelmoor.core.usability import Usability, usability
from levelmoor.core.window_verdict import WindowFinding, judge_window
from levelmoor.core.windows import Window

USABILITY_RULE = Rule.SIMPLE
"""Usability says what share of a band lies within the profile; it needs no guard band."""


@dataclass(frozen=True)
class WindowEvidence:
    """The verdict on one window of a claim and the sweep it rests on, None where there is no sweep."""

    finding: WindowFinding | None
    window: Window
    sweep_id: str | None
    verdict: Verdict
    reason: str


@dataclass(frozen=True)
class ClaimFinding:
    claim_id: str
    sample_id: str
    verdict: Verdict
    reason: str
    windows: tuple[WindowEvidence, ...] = ()


@dataclass(frozen=True)
class UsabilityFinding:
    sample_id: str
    band: str
    low_hz: float
    high_hz: float
    state: Usability
    share: float | None
    worst_swr: float | None
    sweep_id: str
    sentence: str


@dataclass(frozen=True)
class Findings:
    claims: tuple[ClaimFinding, ...]
    usability: tuple[UsabilityFinding, ...]
    warnings: tuple[str, ...]

    @property
    def summary(self) -> dict[Verdict, int]:
        """How many claim verdicts there are of each kind, in the order of the verdicts."""
        counts = Counter(f.verdict for f in self.claims)
        return {v: counts[v] for v in Verdict if counts[v]}


def judge(evaluation: Evaluation) -> Findings:
    """Every claim on every sample, every covered band's usability, and warnings."""
    bench = _Bench(evaluation)
    claims = tuple(
        _judge_claim(evaluation, bench, claim, sample) for claim in evaluation.claims for sample in evaluation.samples
    )
    use = tuple(
        finding
        for sample in evaluation.samples
        for band in band_plan(evaluation.region).bands
        if (finding := _judge_band(evaluation, bench, sample, band))
    )
    return Findings(claims, use, tuple(_warnings(evaluation, bench)))


class _Bench:
    """Look-ups by id, and every sweep read once per impedance."""

    def __init__(self, evaluation: Evaluation) -> None:
        self.setups: Mapping[str, Setup] = {s.id: s for s in evaluation.setups}
        self.instruments: Mapping[str, Instrument] = {i.id: i for i in evaluation.instruments}
        self.sweeps = evaluation.sweeps
        self._readings: dict[tuple[str, float], SweepReading] = {}

    def of_sample(self, sample_id: str) -> list[Evidence]:
        return [s for s in self.sweeps if s.sample_id == sample_id]

    def reading(self, evidence: Evidence, z0_ohm: float) -> SweepReading:
        key = (evidence.id, z0_ohm)
        if key not in self._readings:
            self._readings[key] = read_sweep(evidence.sweep, z0_ohm)
        return self._readings[key]

    def judged(
        self, evidence: Evidence, window: Window, limit: float, z0_ohm: float, rule: Rule, disqualified: str
    ) -> WindowFinding:
        instrument, setup = self.instruments[evidence.instrument_id], self.setups[evidence.setup_id]
        return judge_evidence(self.reading(evidence, z0_ohm), instrument, setup, window, limit, rule, disqualified)


def judge_evidence(
    reading: SweepReading,
    instrument: Instrument,
    setup: Setup,
    window: Window,
    limit: float,
    rule: Rule,
    disqualified: str,
) -> WindowFinding:
    """One sweep with its instrument and setup against a limit in one window."""
    found = judge_window(reading, window, limit, instrument.figures, rule, disqualified)
    return _at_the_shack(found) if setup.plane is Plane.SHACK else found


def _at_the_shack(found: WindowFinding) -> WindowFinding:
    """Loss in the line lowers the SWR at its shack end: a Fail there holds at the antenna, a Pass does not."""
    if found.verdict not in (Verdict.PASS, Verdict.TOO_CLOSE):
        return found
    reason = (
        "Loss in the feed line lowers the SWR at its shack end, so staying within the limit there does not show it "
        "at the sample's connector; sweep with the reference plane at the connector."
    )
    return replace(found, verdict=Verdict.NOT_SHOWN, probability=None, reason=reason)


def uncalibrated(evidence: Evidence) -> str:
    """Why the sweep's calibration keeps it from counting, or nothing."""
    if evidence.calibration is Calibration.AT_PLANE:
        return ""
    if evidence.calibration is Calibration.NONE:
        return (
            "the sweep has no calibration of its own span and plane; calibrate at the reference plane and sweep again"
        )
    return "it is not stated whether the analyzer was calibrated at the reference plane; state it with the sweep"


def condition_not_met(claim: Claim, setup: Setup) -> str:
    """Why a sweep in this setup does not answer the claim, or nothing."""
    if claim.tuner is Tuner.WITHOUT and setup.tuner_in_line:
        return "the claim is without a tuner, and this sweep was taken with one in line; sweep without it"
    if claim.tuner is Tuner.WITH and not setup.tuner_in_line:
        return "the claim is with a tuner, and this sweep was taken without one; sweep with it in line"
    return ""


def _best_evidence(
    candidates: list[Evidence], window: Window, judged: Callable[[Evidence], WindowFinding]
) -> tuple[Evidence, WindowFinding] | None:
    """The sweep a verdict rests on: one that qualifies, then the most accurate, then the latest.

    Only sweeps that cover the window can qualify; where none does, the one that covers most of it says what is missing.
    """
    covering = [e for e in candidates if e.sweep.covers(window.low_hz, window.high_hz)]
    if not covering:
        nearest = max(reversed(candidates), key=lambda e: _overlap(e, window), default=None)
        return (nearest, judged(nearest)) if nearest else None
    found = [(evidence, judged(evidence)) for evidence in reversed(covering)]
    return min(found, key=lambda item: (item[1].verdict is Verdict.NOT_SHOWN, item[1].u_gamma))


def _overlap(evidence: Evidence, window: Window) -> float:
    """How much of the window the sweep covers, in Hz."""
    return max(min(evidence.sweep.high_hz, window.high_hz) - max(evidence.sweep.low_hz, window.low_hz), 0.0)


def _judge_claim(evaluation: Evaluation, bench: _Bench, claim: Claim, sample: Sample) -> ClaimFinding:
    if claim.quantity not in SWEPT:
        reason = "A sweep of reflection cannot check this; it stays in the list so that it is not taken for tested."
        return ClaimFinding(claim.id, sample.id, Verdict.OUTSIDE, reason)
    limit = claim.limit_swr
    if limit is None or not claim.windows:
        missing = "limit" if limit is None else "window"
        return ClaimFinding(claim.id, sample.id, Verdict.NOT_SHOWN, f"The claim has no {missing} yet; write it down.")
    windows = tuple(_judge_claim_window(evaluation, bench, claim, limit, sample, w) for w in claim.windows)
    verdict = worst_verdict(w.verdict for w in windows)
    deciding = next(w for w in windows if w.verdict is verdict)
    name = f"{deciding.window.name}: " if len(windows) > 1 else ""
    return ClaimFinding(claim.id, sample.id, verdict, name + deciding.reason, windows)


def _judge_claim_window(
    evaluation: Evaluation, bench: _Bench, claim: Claim, limit: float, sample: Sample, window: Window
) -> WindowEvidence:
    def judged(evidence: Evidence) -> WindowFinding:
        disqualified = uncalibrated(evidence) or condition_not_met(claim, bench.setups[evidence.setup_id])
        return bench.judged(evidence, window, limit, claim.z0_ohm, evaluation.rule, disqualified)

    found = _best_evidence(bench.of_sample(sample.id), window, judged)
    if found is None:
        return WindowEvidence(None, window, None, Verdict.NOT_SHOWN, "There is no sweep of this sample yet.")
    evidence, finding = found
    return WindowEvidence(finding, window, evidence.id, finding.verdict, finding.reason)


def _judge_band(evaluation: Evaluation, bench: _Bench, sample: Sample, band: Band) -> UsabilityFinding | None:
    """Usability of one band for one sample, None where no sweep of the sample covers the band."""
    limit = evaluation.profile.limit_swr

    def judged(evidence: Evidence) -> WindowFinding:
        return bench.judged(evidence, band.window, limit, 50.0, USABILITY_RULE, uncalibrated(evidence))

    covering = [e for e in bench.of_sample(sample.id) if e.sweep.covers(band.low_hz, band.high_hz)]
    best = _best_evidence(covering, band.window, judged)
    if best is None:
        return None
    evidence, finding = best
    share, worst, state = finding.share_within_limit, finding.worst, usability_of(finding)
    sentence = {
        Usability.ALL: f"Within {limit:g}:1 across the whole band.",
        Usability.PART: f"Within {limit:g}:1 on {100 * (share or 0):.0f} % of the band.",
        Usability.NONE: f"Above {limit:g}:1 everywhere in the band.",
        Usability.NOT_SHOWN: finding.reason,
    }[state]
    return UsabilityFinding(
        sample.id,
        band.name,
        band.low_hz,
        band.high_hz,
        state,
        share,
        worst.swr if worst else None,
        evidence.id,
        sentence,
    )


def usability_of(finding: WindowFinding) -> Usability:
    """What a finding against a profile's limit says of the band."""
    if finding.verdict is Verdict.NOT_SHOWN or finding.share_within_limit is None:
        return Usability.NOT_SHOWN
    return usability(finding.share_within_limit)


def _warnings(evaluation: Evaluation, bench: _Bench) -> list[str]:
    said = []
    for evidence in evaluation.sweeps:
        if evidence.sweep.scalar:
            said.append(f"{evidence.name} knows only SWR: R, X and resonance cannot be shown from it.")
        if float(evidence.sweep.magnitude.max()) > 1.02:
            said.append(
                f"{evidence.name} reflects more than it is sent; a passive sample cannot, so check the calibration."
            )
    if any(s.tuner_in_line for s in bench.setups.values()):
        said.append(
            "A match is not radiation: a sweep through a tuner shows the tuner's range and loss, not the antenna."
        )
    if len(evaluation.samples) == 1:
        said.append("One sample: the result is about this unit, not about the model.")
    return said


def headline(findings: Findings) -> str:
    """The whole in a few words: `2 Pass, 1 Fail`, or that nothing is judged yet."""
    parts = [f"{count} {VERDICT_WORDS[verdict]}" for verdict, count in findings.summary.items()]
    return ", ".join(parts) or "Nothing judged yet"
