"""The report page, drawn from a bundle alone, so that a published one never changes."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from levelmoor.core.bandplan import band_plan
from levelmoor.core.claims import Claim
from levelmoor.core.decision import Verdict
from levelmoor.core.evaluation import Evidence, Instrument, Sample, Setup
from levelmoor.core.judge import ClaimFinding, UsabilityFinding, WindowEvidence
from levelmoor.core.window_verdict import read_sweep
from levelmoor.core.windows import Window
from levelmoor.figures.landscape import landscape, level_of, view_around
from levelmoor.figures.strip import tiny_skyline
from levelmoor.formats.bundle import Bundle, read_bundle


@dataclass(frozen=True)
class Figure:
    """One window of a claim as drawn, with its finding and the sweep it rests on."""

    window: WindowEvidence
    svg: str
    evidence: Evidence | None


@dataclass(frozen=True)
class ClaimPart:
    claim: Claim
    sample: Sample
    finding: ClaimFinding
    figures: tuple[Figure, ...]


@dataclass(frozen=True)
class ReportPage:
    manifest: dict[str, Any]
    bundle: Bundle
    claims: tuple[ClaimPart, ...]
    usability: tuple[tuple[UsabilityFinding, Sample, str], ...]

    @property
    def counts(self) -> dict[Verdict, int]:
        return self.bundle.findings.summary

    @property
    def untested(self) -> list[ClaimPart]:
        """What was not tested: claims outside this bench, and those the evidence does not show."""
        return [c for c in self.claims if c.finding.verdict in (Verdict.OUTSIDE, Verdict.NOT_SHOWN)]

    def setup(self, evidence: Evidence) -> Setup:
        return next(s for s in self.bundle.evaluation.setups if s.id == evidence.setup_id)

    def instrument(self, evidence: Evidence) -> Instrument:
        return next(i for i in self.bundle.evaluation.instruments if i.id == evidence.instrument_id)


_MOST_KEPT = 64
_kept: dict[str, ReportPage] = {}


def published_page(bundle_sha256: str, load: Callable[[], bytes]) -> ReportPage:
    """The page of a frozen bundle; the same digest is the same bundle, so it is loaded and drawn once."""
    page = _kept.get(bundle_sha256)
    if page is None:
        page = draw(read_bundle(load()))
        while len(_kept) >= _MOST_KEPT:
            _kept.pop(next(iter(_kept)), None)
        _kept[bundle_sha256] = page
    return page


def draw(bundle: Bundle) -> ReportPage:
    evaluation = bundle.evaluation
    findings = bundle.findings
    samples = {s.id: s for s in evaluation.samples}
    claims = {c.id: c for c in evaluation.claims}
    sweeps = {e.id: e for e in evaluation.sweeps}
    parts = []
    for number, finding in enumerate(findings.claims):
        claim = claims[finding.claim_id]
        figures = tuple(
            Figure(
                w,
                _figure(bundle, claim, w, sweeps.get(w.sweep_id or ""), f"claim-{number}-{i}"),
                sweeps.get(w.sweep_id or ""),
            )
            for i, w in enumerate(finding.windows)
        )
        parts.append(ClaimPart(claim, samples[finding.sample_id], finding, figures))
    limit = evaluation.profile.limit_swr
    use = tuple(
        (
            u,
            samples[u.sample_id],
            tiny_skyline(sweeps[u.sweep_id].sweep, Window(u.low_hz, u.high_hz, u.band), limit, 104, 44),
        )
        for u in findings.usability
    )
    return ReportPage(bundle.manifest, bundle, tuple(parts), use)


def _figure(bundle: Bundle, claim: Claim, window: WindowEvidence, evidence: Evidence | None, ident: str) -> str:
    finding = window.finding
    if evidence is None or finding is None or finding.best is None:
        return ""
    evaluation = bundle.evaluation
    figures = next(i for i in evaluation.instruments if i.id == evidence.instrument_id).figures
    reading = read_sweep(evidence.sweep, claim.z0_ohm)
    level = level_of(finding, evaluation.rule)
    low, high = view_around(reading.sweep, [finding.window])
    segments = [
        s for b in band_plan(evaluation.region).bands for s in b.segments if s.low_hz < high and s.high_hz > low
    ]
    label = f"{claim.wording}: {finding.reason}"
    return landscape(reading, [level], figures, (low, high), segments, label=label, width=900, height=340, ident=ident)
