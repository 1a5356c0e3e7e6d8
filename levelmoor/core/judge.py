"""The heart: an evaluation in, its findings out. The same evidence always gives the same findings."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from levelmoor.core.bench.gates import checks_in_words
from levelmoor.core.emissions.emission_findings import emissions_of, plain_sentence
from levelmoor.core.emissions.emission_path import path_in_words
from levelmoor.core.evidence.aside import without_what_is_aside
from levelmoor.core.evidence.band_use import BandUse
from levelmoor.core.evidence.court import Court
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.findings import ClaimFinding, Findings
from levelmoor.core.evidence.heated import Heated
from levelmoor.core.evidence.keyed import Keyed
from levelmoor.core.evidence.kinds import EvidenceKind, Question
from levelmoor.core.evidence.matched import Matched
from levelmoor.core.evidence.notes import notes_of
from levelmoor.core.evidence.pieces import adjusted_questions
from levelmoor.core.evidence.reflection import Reflection
from levelmoor.core.evidence.ruling import over_windows
from levelmoor.core.evidence.swept_through import SweptThrough
from levelmoor.core.evidence.typed_widths import TypedWidths
from levelmoor.core.evidence.unmeasured import unmeasured
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation, Sample
from levelmoor.core.model.judged_content import asked_of_bench, bench_content
from levelmoor.core.model.quantities import Quantity, ShownBy
from levelmoor.core.model.usability import Usability
from levelmoor.core.rf.bandplan import in_region

KINDS: Mapping[ShownBy, Callable[[Question, Dossier], EvidenceKind[Any]]] = {
    ShownBy.LEVEL: Reflection,
    ShownBy.READ_OFF: Reflection,
    ShownBy.CAPTURE: Keyed,
    ShownBy.TRIAL: Matched,
    ShownBy.THROUGH: SweptThrough,
    ShownBy.HEAT: Heated,
}
"""Which kind of evidence shows a claim."""
BESIDES: Mapping[Quantity, Callable[[Question, Dossier], EvidenceKind[Any]]] = {Quantity.BANDWIDTH: TypedWidths}
"""Which other kind can show it too; the first leads where both do."""


@dataclass(frozen=True, eq=False)
class Judgement:
    """An evaluation as it was judged, with what was read off its evidence: the next begins with it where no more than
    its claims has changed."""

    evaluation: Evaluation
    dossier: Dossier
    findings: Findings

    def holds_for(self, evaluation: Evaluation) -> bool:
        """Whether the bench and the evidence are the same, and the claims ask no more of them than those before."""
        alike = asked_of_bench(self.evaluation.claims) == asked_of_bench(evaluation.claims)
        return alike and bench_content(self.evaluation) == bench_content(evaluation)


def judge(evaluation: Evaluation) -> Findings:
    """Every claim on every sample, every covered band's usability, and warnings."""
    return judge_again(evaluation, None).findings


def judge_again(evaluation: Evaluation, earlier: Judgement | None) -> Judgement:
    """The same findings; where an earlier judgement holds for the evaluation, only claims that are new are judged."""
    as_written = without_what_is_aside(evaluation)
    of = _with_bands_by_name(as_written)
    if earlier is not None and earlier.holds_for(of):
        return _after(earlier, of, as_written)
    dossier = Dossier(of)
    claims = tuple(judge_claim(of, dossier, c, s) for c in of.claims for s in of.samples)
    uses = [BandUse(of, dossier, s) for s in of.samples]
    found = [(use, u) for use in uses for u in use.findings()]
    shown = [(use, u) for use, u in found if u.state is not Usability.NOT_SHOWN]
    emissions = emissions_of(of, dossier.carriers)
    questions = adjusted_questions(of.sweeps)
    findings = Findings(
        claims,
        tuple(u for _, u in found),
        (*notes_of(as_written, dossier, questions), *plain_sentence(of, emissions)),
        emissions,
        questions,
        tuple((g.carrier_hz, p) for g in dossier.carriers for p in g.problems),
        tuple(checks_in_words(dossier.book, of)),
        tuple((c.id, path_in_words(p, c)) for c, p in dossier.paths),
        tuple(p for use, u in shown for p in use.by_profiles(u)),
        tuple(r for use, u in shown for r in use.by_radios(u)),
    )
    return Judgement(of, dossier, findings)


def _after(earlier: Judgement, of: Evaluation, as_written: Evaluation) -> Judgement:
    before, dossier = earlier.findings, earlier.dossier
    claims = {c.id: c for c in earlier.evaluation.claims}
    known = {(claims[f.claim_id], f.sample_id): f for f in before.claims}
    found = tuple(known.get((c, s.id)) or judge_claim(of, dossier, c, s) for c in of.claims for s in of.samples)
    warnings = (*notes_of(as_written, dossier, before.questions), *plain_sentence(of, before.emissions))
    return Judgement(of, dossier, replace(before, claims=found, warnings=warnings))


def as_judged(evaluation: Evaluation) -> Evaluation:
    """The evaluation as claims are judged in it: without what was set aside, with bands by their names."""
    return _with_bands_by_name(without_what_is_aside(evaluation))


def _with_bands_by_name(evaluation: Evaluation) -> Evaluation:
    """Claims on a band by its name mean the band of the evaluation's region, whatever region they were written in."""
    of = evaluation
    claims = tuple(replace(c, windows=in_region(c.windows, of.region, of.own_bands)) for c in of.claims)
    return evaluation if claims == of.claims else replace(evaluation, claims=claims)


def judge_claim(evaluation: Evaluation, dossier: Dossier, claim: Claim, sample: Sample) -> ClaimFinding:
    """One claim on one sample, by what stands in the dossier."""
    without = unmeasured(evaluation, claim, sample)
    if without is not None:
        return ClaimFinding(claim.id, sample.id, *without, (), sample.counted)
    question = Question.of(evaluation, claim, sample.id)
    asked = (KINDS[claim.quantity.spec.shown_by], BESIDES.get(claim.quantity))
    kinds = tuple(kind(question, dossier) for kind in asked if kind is not None)
    windows = Court(question, kinds, dossier.rounds).windows()
    verdict, reason = over_windows(windows)
    return ClaimFinding(claim.id, sample.id, verdict, kinds[0].said(reason), windows, sample.counted)
