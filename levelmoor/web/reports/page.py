"""The report page, drawn from a bundle alone, so that a published one never changes."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from levelmoor.core.bandplan import band_plan
from levelmoor.core.bench_records import CHECK_WORDS
from levelmoor.core.captures import Capture
from levelmoor.core.claims import Claim
from levelmoor.core.decision import Verdict
from levelmoor.core.emission_findings import same_carrier
from levelmoor.core.emissions import USUAL_HARMONICS
from levelmoor.core.equipment import Instrument
from levelmoor.core.evaluation import Evaluation, Evidence, Sample, Setup
from levelmoor.core.gates import REPEATS_SINCE
from levelmoor.core.judge import Bench, ClaimFinding, Findings, UsabilityFinding, WindowEvidence
from levelmoor.core.spread import repeat_groups
from levelmoor.core.usability import Usability
from levelmoor.figures.landscape import landscape, level_of, view_around
from levelmoor.figures.strip import band_strip
from levelmoor.formats.bundle import read_bundle
from levelmoor.web.emissions.view import CarrierView, carriers, pieces_words


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
    manifest: Mapping[str, Any]
    evaluation: Evaluation
    findings: Findings
    claims: tuple[ClaimPart, ...]
    usability: tuple[tuple[UsabilityFinding, Sample, str], ...]
    emissions: tuple[tuple[CarrierView, tuple[tuple[str, str], ...]], ...] = ()
    """Every carrier by every rule set, and for each its captures with their paths in words."""
    checks: tuple[tuple[str, str], ...] = ()
    """The checks of the bench that the evidence rests on: what was checked, and what it showed."""

    @property
    def counts(self) -> dict[Verdict, int]:
        return self.findings.summary

    @property
    def untested(self) -> list[ClaimPart]:
        """What was not tested: claims outside this bench, and those the evidence does not show."""
        return [c for c in self.claims if c.finding.verdict in (Verdict.OUTSIDE, Verdict.NOT_SHOWN)]

    def repeats(self, evidence: Evidence) -> int:
        """How many repeats the sweep is one of, itself counted, by the rules that the report was judged by."""
        if self.evaluation.edition < REPEATS_SINCE:
            return 1
        groups = repeat_groups(self.evaluation.sweeps)
        return next(len(g) for g in groups if any(e.id == evidence.id for e in g))

    def setup(self, evidence: Evidence) -> Setup:
        return next(s for s in self.evaluation.setups if s.id == evidence.setup_id)

    def instrument(self, evidence: Evidence) -> Instrument:
        return next(i for i in self.evaluation.instruments if i.id == evidence.instrument_id)


_MOST_KEPT = 64
_kept: dict[str, ReportPage] = {}


def published_page(bundle_sha256: str, load: Callable[[], bytes]) -> ReportPage:
    """The page of a frozen bundle; the same digest is the same bundle, so it is loaded and drawn once."""
    page = _kept.get(bundle_sha256)
    if page is None:
        bundle = read_bundle(load())
        page = draw(bundle.manifest, bundle.evaluation, bundle.findings)
        while len(_kept) >= _MOST_KEPT:
            _kept.pop(next(iter(_kept)), None)
        _kept[bundle_sha256] = page
    return page


def draw(manifest: Mapping[str, Any], evaluation: Evaluation, findings: Findings) -> ReportPage:
    """The page of an evaluation with its findings; the manifest says what the report says of itself."""
    samples = {s.id: s for s in evaluation.samples}
    claims = {c.id: c for c in evaluation.claims}
    sweeps = {e.id: e for e in evaluation.sweeps}
    bench = Bench(evaluation)
    parts = []
    for number, finding in enumerate(findings.claims):
        claim = claims[finding.claim_id]
        figures = tuple(
            Figure(
                w,
                _figure(evaluation, bench, claim, w, sweeps.get(w.sweep_id or ""), f"claim-{number}-{i}"),
                sweeps.get(w.sweep_id or ""),
            )
            for i, w in enumerate(finding.windows)
        )
        parts.append(ClaimPart(claim, samples[finding.sample_id], finding, figures))
    use = tuple(
        (u, samples[u.sample_id], band_strip(evaluation, u))
        for u in findings.usability
        if u.state is not Usability.NOT_SHOWN
    )
    told = {c.id: pieces_words(p, c.carrier_hz, USUAL_HARMONICS) for c, p in bench.paths}
    captured = tuple(
        (view, tuple((c.name, told[c.id]) for c in evaluation.captures if _of(view, c)))
        for view in carriers(evaluation, bench)
    )
    checks = tuple(_checks(bench, evaluation))
    return ReportPage(manifest, evaluation, findings, tuple(parts), use, captured, checks)


def _of(view: CarrierView, capture: Capture) -> bool:
    return same_carrier(view.carrier_hz, capture.carrier_hz)


def _checks(bench: Bench, evaluation: Evaluation) -> Iterator[tuple[str, str]]:
    owned = evaluation.equipment
    names = {x.id: x.name for x in owned.lines} | {x.id: x.name for x in owned.loads}
    for check in evaluation.checks:
        try:
            words = bench.book.result(check).words
        except ValueError as problem:
            words = f"not complete: {problem}"
        name = f"{CHECK_WORDS[check.kind]} {names.get(check.item_id, '')}".strip()
        yield f"{name}, {check.done_at.replace('T', ' ')}", words


def _figure(
    evaluation: Evaluation, bench: Bench, claim: Claim, window: WindowEvidence, evidence: Evidence | None, ident: str
) -> str:
    finding = window.finding
    if evidence is None or finding is None or finding.best is None:
        return ""
    figures = bench.placed(evidence).figures
    reading = bench.reading(evidence, claim.z0_ohm)
    level = level_of(finding, evaluation.rule)
    low, high = view_around(reading.sweep, [finding.window])
    segments = [
        s for b in band_plan(evaluation.region).bands for s in b.segments if s.low_hz < high and s.high_hz > low
    ]
    label = f"{claim.wording}: {finding.reason}"
    return landscape(reading, [level], figures, (low, high), segments, label=label, width=760, height=320, ident=ident)
