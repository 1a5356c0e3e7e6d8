"""What the shelf knows of a published report: enough to find it, to count it and to set it beside others."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from levelmoor.core.evidence.findings import ClaimFinding, Findings, WindowEvidence
from levelmoor.core.evidence.in_short import in_short
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation, Sample
from levelmoor.core.model.product_kinds import ProductKind
from levelmoor.core.model.quantities import ShownBy
from levelmoor.core.rf.bandplan import band_at, other_services
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.windows import Window


@dataclass(frozen=True)
class ShelfLine:
    """One verdict: a claim, in one window, of one unit. `question` is the claim as though it named that window alone:
    the same question of another report reads the same.

    `gamma` and `u_gamma` are the largest |gamma| in the window and its standard uncertainty, None where no level of SWR
    decides; `at_hz` is where it lies. `figure` is what decides where it is none of SWR.
    """

    claim: str
    question: str
    quantity: str
    limit: float | None
    band: str
    window: str
    unit: str
    serial: str
    counted: bool
    verdict: Verdict
    figure: str = ""
    swr: float | None = None
    at_hz: float | None = None
    gamma: float | None = None
    u_gamma: float | None = None


@dataclass(frozen=True)
class ShelfEntry:
    """A report on the shelf. `verdicts` are those that count, `found` says what was found in a sentence or two."""

    title: str
    product: str
    maker: str
    kind: ProductKind
    connectors: tuple[str, ...]
    bands: tuple[str, ...]
    verdicts: tuple[tuple[Verdict, int], ...]
    units: int
    found: str
    lines: tuple[ShelfLine, ...]


def shelf_entry(evaluation: Evaluation, findings: Findings) -> ShelfEntry:
    """The report on an evaluation as the shelf has it; nothing is judged again."""
    lines = tuple(_lines(evaluation, findings))
    emissions = [e.report.verdict for e in findings.emissions]
    summary = findings.summary or {v: emissions.count(v) for v in Verdict if v in emissions}
    shown = [u.band for u in findings.usability]
    bands = dict.fromkeys(b for b in (*(line.band for line in lines), *shown) if b)
    return ShelfEntry(
        evaluation.title,
        evaluation.product.name,
        evaluation.product.maker,
        evaluation.product.kind,
        tuple(dict.fromkeys(s.connector.family for s in evaluation.samples if s.connector)),
        tuple(bands),
        tuple(summary.items()),
        len([s for s in evaluation.samples if s.counted]),
        in_short(evaluation, findings).found,
        lines,
    )


def _lines(evaluation: Evaluation, findings: Findings) -> Iterator[ShelfLine]:
    claims = {c.id: c for c in evaluation.claims}
    samples = {s.id: s for s in evaluation.samples}
    for finding in findings.claims:
        claim, sample = claims[finding.claim_id], samples[finding.sample_id]
        for part in finding.windows or (None,):
            yield _line(evaluation, claim, sample, finding, part)


def _line(
    evaluation: Evaluation, claim: Claim, sample: Sample, finding: ClaimFinding, part: WindowEvidence | None
) -> ShelfLine:
    window = part.window if part else next(iter(claim.windows), None)
    found = part.finding if part and claim.quantity.spec.shown_by is ShownBy.LEVEL else None
    worst = found.worst if found else None
    return ShelfLine(
        claim.wording,
        replace(claim, windows=(window,) if window else ()).wording,
        claim.quantity.value,
        claim.limit,
        band_of(window, evaluation.region) if window else "",
        window.name if window else "",
        sample.label,
        sample.serial,
        finding.counted,
        part.verdict if part else finding.verdict,
        part.figure if part else "",
        worst.swr if worst else None,
        worst.frequency_hz if worst else None,
        float(gamma_from_swr(worst.swr)) if worst else None,
        found.u_gamma if found and worst else None,
    )


def band_of(window: Window, region: int) -> str:
    """The band that a window lies in, by its middle; nothing where it lies in none."""
    band = band_at(window.middle_hz, region)
    others = other_services().bands
    return band or next((b.name for b in others if b.low_hz <= window.middle_hz <= b.high_hz), "")
