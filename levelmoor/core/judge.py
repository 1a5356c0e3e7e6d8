"""The heart: an evaluation in, its findings out. The same evidence always gives the same findings."""

from collections import Counter
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from levelmoor.core.at_plane import AtPlane, at_plane
from levelmoor.core.bandplan import Band, band_plan
from levelmoor.core.claims import CAPTURED, NOT_YET, REFLECTION, SWEPT, Claim, Quantity, Tuner
from levelmoor.core.connectors import parse_connector
from levelmoor.core.decision import VERDICT_WORDS, Rule, Verdict, worst_verdict
from levelmoor.core.emission_findings import (
    EmissionsFinding,
    emissions_of,
    groups_of,
    judge_powered,
    plain_sentence,
)
from levelmoor.core.emission_path import pieces_of
from levelmoor.core.evaluation import Evaluation, Evidence, Plane, Sample, Setup
from levelmoor.core.gates import BenchBook, Gate, GateState, gates_of, obstacle
from levelmoor.core.read_off_verdict import judge_bandwidth, judge_resonance
from levelmoor.core.reading_usability import ReadingUsability, usability_at_readings
from levelmoor.core.reflection import gamma_from_swr
from levelmoor.core.sentence import sentence
from levelmoor.core.sweep_reading import SweepReading, read_sweep
from levelmoor.core.uncertainty import standard_uncertainty
from levelmoor.core.usability import Usability, usability
from levelmoor.core.window_verdict import WindowFinding, judge_window
from levelmoor.core.windows import Window

LATEST_SINCE = PLANNED_SINCE = READINGS_SINCE = 3
"""The edition of the rules since which of equally accurate sweeps the latest decides, setups in the plan come before
others, and readings show usability."""
CAPTURES_SINCE = 4
"""The edition of the rules since which captures answer claims."""
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
    gates: tuple[str, ...] = ()
    """The gates of the bench that the sweep passed."""


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
    emissions: tuple[EmissionsFinding, ...] = ()

    @property
    def summary(self) -> dict[Verdict, int]:
        """How many claim verdicts there are of each kind, in the order of the verdicts."""
        counts = Counter(f.verdict for f in self.claims)
        return {v: counts[v] for v in Verdict if counts[v]}


def judge(evaluation: Evaluation) -> Findings:
    """Every claim on every sample, every covered band's usability, and warnings."""
    bench = Bench(evaluation)
    claims = tuple(
        _judge_claim(evaluation, bench, claim, sample) for claim in evaluation.claims for sample in evaluation.samples
    )
    use = tuple(
        finding
        for sample in evaluation.samples
        for band in band_plan(evaluation.region).bands
        if (finding := _judge_band(evaluation, bench, sample, band))
    )
    emissions = emissions_of(evaluation, bench.carriers)
    said = (*_warnings(evaluation, bench), *plain_sentence(emissions, {s.id: s.label for s in evaluation.samples}))
    return Findings(claims, use, said, emissions)


class Bench:
    """Look-ups by id, the bench behind each sweep, and every sweep read once per impedance."""

    def __init__(self, evaluation: Evaluation) -> None:
        self.setups: Mapping[str, Setup] = {s.id: s for s in evaluation.setups}
        self.sweeps = evaluation.sweeps
        self.book = BenchBook(evaluation)
        self._placed: dict[str, AtPlane] = {}
        self._readings: dict[tuple[str, float], SweepReading] = {}
        self._gates: dict[tuple[str, Window], tuple[Gate, ...]] = {}
        self.edition = evaluation.edition
        self.carriers = groups_of(evaluation, self.book)
        self.paths = [(c, pieces_of(self.book, c)) for c in evaluation.captures]

    def of_sample(self, sample_id: str) -> list[Evidence]:
        return [s for s in self.sweeps if s.sample_id == sample_id]

    def setup(self, evidence: Evidence) -> Setup:
        return self.setups[evidence.setup_id]

    def placed(self, evidence: Evidence) -> AtPlane:
        """The sweep with its figures, at the plane it is judged at."""
        if evidence.id not in self._placed:
            self._placed[evidence.id] = at_plane(self.book, evidence, self.setup(evidence))
        return self._placed[evidence.id]

    def reading(self, evidence: Evidence, z0_ohm: float) -> SweepReading:
        key = (evidence.id, z0_ohm)
        if key not in self._readings:
            self._readings[key] = read_sweep(self.placed(evidence).sweep, z0_ohm)
        return self._readings[key]

    def gates(self, evidence: Evidence, window: Window) -> tuple[Gate, ...]:
        key = (evidence.id, window)
        if key not in self._gates:
            self._gates[key] = gates_of(self.book, evidence, self.setup(evidence), window)
        return self._gates[key]

    def disqualified(self, evidence: Evidence, window: Window, claim: Claim | None = None) -> str:
        """Why the sweep cannot count for a window, and for a claim; nothing where it can."""
        of_bench = obstacle(self.gates(evidence, window))
        return of_bench or (condition_not_met(claim, self.setup(evidence)) if claim else "")

    def judged(
        self, evidence: Evidence, window: Window, limit: float, z0_ohm: float, rule: Rule, disqualified: str
    ) -> WindowFinding:
        """One sweep against a limit in one window."""
        placed = self.placed(evidence)
        found = judge_window(self.reading(evidence, z0_ohm), window, limit, placed.figures, rule, disqualified)
        return _at_the_shack(found) if placed.plane is Plane.SHACK else found

    def accuracy(self, evidence: Evidence, window: Window, limit: float, found: WindowFinding) -> float:
        """What ranks sweeps by accuracy: u at the limit in the window's middle, so that a better result is no reason to
        be preferred. Before edition 3 it was u at the worst point.
        """
        if self.edition < LATEST_SINCE:
            return found.u_gamma or 0.0
        placed, middle = self.placed(evidence), (window.low_hz + window.high_hz) / 2
        level = float(gamma_from_swr(limit))
        u = standard_uncertainty(level, placed.figures, placed.sweep.half_step_at(middle), middle)
        return round(float(u), 9)

    def passed(self, evidence: Evidence, window: Window) -> tuple[str, ...]:
        """The gates that the sweep passed, in words."""
        return tuple(g.words for g in self.gates(evidence, window) if g.state is GateState.PASSED)


def _at_the_shack(found: WindowFinding) -> WindowFinding:
    """Loss in the line lowers the SWR at its shack end: a Fail there holds at the antenna, a Pass does not."""
    if found.verdict not in (Verdict.PASS, Verdict.TOO_CLOSE):
        return found
    reason = (
        "Loss in the feed line lowers the SWR at its shack end, so staying within the limit there does not show it "
        "at the sample's connector; sweep with the reference plane at the connector."
    )
    return replace(found, verdict=Verdict.NOT_SHOWN, probability=None, reason=reason)


def condition_not_met(claim: Claim, setup: Setup) -> str:
    """Why a sweep in this setup does not answer the claim, or nothing."""
    if claim.tuner is Tuner.WITHOUT and setup.tuner_in_line:
        return "the claim is without a tuner, and this sweep was taken with one in line; sweep without it"
    if claim.tuner is Tuner.WITH and not setup.tuner_in_line:
        return "the claim is with a tuner, and this sweep was taken without one; sweep with it in line"
    if claim.setup_id and claim.setup_id != setup.id:
        return "the claim speaks of another setup; sweep the sample in that one"
    return ""


def _best_evidence(
    bench: Bench,
    candidates: list[Evidence],
    window: Window,
    limit: float,
    judged: Callable[[Evidence], WindowFinding],
) -> tuple[Evidence, WindowFinding] | None:
    """The sweep a verdict rests on: one that qualifies, then one of a setup in the plan, since others are swept for
    comparison, then the most accurate, then the latest.

    Only sweeps that cover the window can qualify; where none does, the one that covers most of it says what is missing.
    """
    covering = [e for e in candidates if e.sweep.covers(window.low_hz, window.high_hz)]
    if not covering:
        nearest = max(reversed(candidates), key=lambda e: _overlap(e, window), default=None)
        return (nearest, judged(nearest)) if nearest else None
    found = [(evidence, judged(evidence)) for evidence in reversed(covering)]

    def rank(item: tuple[Evidence, WindowFinding]) -> tuple[bool, bool, float]:
        aside = bench.edition >= PLANNED_SINCE and not bench.setup(item[0]).planned
        return item[1].verdict is Verdict.NOT_SHOWN, aside, bench.accuracy(item[0], window, limit, item[1])

    return min(found, key=rank)


def _overlap(evidence: Evidence, window: Window) -> float:
    """How much of the window the sweep covers, in Hz."""
    return max(min(evidence.sweep.high_hz, window.high_hz) - max(evidence.sweep.low_hz, window.low_hz), 0.0)


def _judge_claim(evaluation: Evaluation, bench: Bench, claim: Claim, sample: Sample) -> ClaimFinding:
    if claim.quantity in CAPTURED and evaluation.edition >= CAPTURES_SINCE:
        found = judge_powered(evaluation, bench.carriers, claim, sample.id)
        return ClaimFinding(claim.id, sample.id, found.verdict, found.reason)
    if claim.quantity not in REFLECTION:
        verdict, reason = _without_sweep(claim, sample)
        return ClaimFinding(claim.id, sample.id, verdict, reason)
    if claim.missing:
        reason = f"The claim has no {claim.missing} yet; write it down."
        return ClaimFinding(claim.id, sample.id, Verdict.NOT_SHOWN, reason)
    windows = tuple(_judge_claim_window(evaluation, bench, claim, sample, w) for w in claim.windows)
    verdict = worst_verdict(w.verdict for w in windows)
    deciding = next(w for w in windows if w.verdict is verdict)
    name = f"{deciding.window.name}: " if len(windows) > 1 else ""
    return ClaimFinding(claim.id, sample.id, verdict, name + deciding.reason, windows)


def _without_sweep(claim: Claim, sample: Sample) -> tuple[Verdict, str]:
    """Verdict and reason of a claim that no sweep of reflection checks."""
    if claim.quantity is Quantity.CONNECTOR:
        return _connector(claim, sample)
    if claim.quantity is Quantity.IMPEDANCE:
        reason = "It names what SWR refers to and states no limit of its own; the claims of SWR are judged by it."
        return Verdict.NOT_SHOWN, reason
    if claim.quantity in NOT_YET:
        return Verdict.NOT_SHOWN, "Levelmoor does not take the evidence for this yet; the claim stays in the list."
    reason = "A sweep of reflection cannot check this; it stays in the list so that it is not taken for tested."
    return Verdict.OUTSIDE, reason


def _connector(claim: Claim, sample: Sample) -> tuple[Verdict, str]:
    """A connector is looked at: what is claimed against what the case notes of the sample."""
    if sample.connector is None:
        return (
            Verdict.NOT_SHOWN,
            "The sample's connector is not written down in the case; look at it and write it down.",
        )
    try:
        claimed = parse_connector(claim.stated)
    except ValueError as problem:
        return Verdict.NOT_SHOWN, sentence(problem)
    same = claimed == sample.connector
    return (
        Verdict.PASS if same else Verdict.FAIL
    ), f"The sample has {sample.connector}, seen when the case was opened."


def _judge_claim_window(
    evaluation: Evaluation, bench: Bench, claim: Claim, sample: Sample, window: Window
) -> WindowEvidence:
    limit = claim.limit_swr or evaluation.profile.limit_swr

    def judged(evidence: Evidence) -> WindowFinding:
        disqualified = bench.disqualified(evidence, window, claim)
        return bench.judged(evidence, window, limit, claim.z0_ohm, evaluation.rule, disqualified)

    found = _best_evidence(bench, bench.of_sample(sample.id), window, limit, judged)
    if found is None:
        return WindowEvidence(None, window, None, Verdict.NOT_SHOWN, "There is no sweep of this sample yet.")
    evidence, finding = found
    gates = bench.passed(evidence, window)
    if claim.quantity in SWEPT:
        return WindowEvidence(finding, window, evidence.id, finding.verdict, finding.reason, gates)
    verdict, reason = finding.verdict, finding.reason
    if verdict is not Verdict.NOT_SHOWN:
        verdict, reason = _read_off(evaluation, bench, claim, evidence, window)
    return WindowEvidence(None, window, evidence.id, verdict, reason, gates)


def _read_off(
    evaluation: Evaluation, bench: Bench, claim: Claim, evidence: Evidence, window: Window
) -> tuple[Verdict, str]:
    """A resonance or a bandwidth, read off a sweep that qualifies for the window."""
    reading, placed = bench.reading(evidence, claim.z0_ohm), bench.placed(evidence)
    if placed.plane is Plane.SHACK:
        reason = (
            "A feed line turns resonance and width; check the line on the bench, or sweep at the sample's connector."
        )
        return Verdict.NOT_SHOWN, reason
    figures = placed.figures
    if claim.quantity is Quantity.RESONANCE:
        return judge_resonance(reading, window, figures, evaluation.rule)
    return judge_bandwidth(reading, window, claim.swr_at or 2.0, 1e3 * (claim.limit or 0.0), figures, evaluation.rule)


def _judge_band(evaluation: Evaluation, bench: Bench, sample: Sample, band: Band) -> UsabilityFinding | None:
    """Usability of one band for one sample, None where no sweep of the sample covers the band."""
    limit = evaluation.profile.limit_swr

    def judged(evidence: Evidence) -> WindowFinding:
        return bench.judged(
            evidence, band.window, limit, 50.0, USABILITY_RULE, bench.disqualified(evidence, band.window)
        )

    covering = [e for e in bench.of_sample(sample.id) if e.sweep.covers(band.low_hz, band.high_hz)]
    best = _best_evidence(bench, covering, band.window, limit, judged)
    if best is None:
        return None
    evidence, finding = best
    share, worst, state = finding.share_within_limit, finding.worst, usability_of(finding)
    if state is Usability.NOT_SHOWN and bench.edition >= READINGS_SINCE:
        at_points = _at_readings(bench, evidence, band, limit)
        if at_points is not None:
            return UsabilityFinding(
                sample.id, band.name, band.low_hz, band.high_hz, at_points.state, at_points.share,
                worst.swr if worst else None, evidence.id, at_points.sentence,
            )  # fmt: skip
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


def _at_readings(bench: Bench, evidence: Evidence, band: Band, limit: float) -> ReadingUsability | None:
    """What a handful of readings says of a band where the bench is no obstacle."""
    placed = bench.placed(evidence)
    if bench.disqualified(evidence, band.window) or placed.plane is Plane.SHACK:
        return None
    return usability_at_readings(placed.sweep, band.window, limit)


def usability_of(finding: WindowFinding) -> Usability:
    """What a finding against a profile's limit says of the band."""
    if finding.verdict is Verdict.NOT_SHOWN or finding.share_within_limit is None:
        return Usability.NOT_SHOWN
    return usability(finding.share_within_limit)


def _warnings(evaluation: Evaluation, bench: Bench) -> list[str]:
    said = []
    for evidence in evaluation.sweeps:
        if evidence.sweep.scalar:
            said.append(f"{evidence.name} knows only SWR: R, X and resonance cannot be shown from it.")
        if float(evidence.sweep.magnitude.max()) > 1.02:
            said.append(
                f"{evidence.name} reflects more than it is sent; a passive sample cannot, so check the calibration."
            )
    said += _few_repeats(evaluation, bench)
    if any(s.tuner_in_line for s in bench.setups.values()):
        said.append(
            "A match is not radiation: a sweep through a tuner shows the tuner's range and loss, not the antenna."
        )
    said += [f"{s.label} may be a counterfeit: {s.suspicion}" for s in evaluation.samples if s.suspicion]
    if len(evaluation.samples) == 1:
        said.append("One sample: the result is about this unit, not about the model.")
    return said


def _few_repeats(evaluation: Evaluation, bench: Bench) -> list[str]:
    """Two sweeps of one setup show that it was repeated, and not how far it spreads."""
    two = {g[0].id: g for e in evaluation.sweeps if len(g := bench.book.repeats(e)) == 2}
    return [f"{a.name} and {b.name} are repeats; how far they spread is known from three on." for a, b in two.values()]


def headline(findings: Findings) -> str:
    """The whole in a few words: `2 Pass, 1 Fail`, or that nothing is judged yet."""
    parts = [f"{count} {VERDICT_WORDS[verdict]}" for verdict, count in findings.summary.items()]
    return ", ".join(parts) or "Nothing judged yet"
