"""The heart: an evaluation in, its findings out. The same evidence always gives the same findings."""

from collections.abc import Callable, Mapping
from dataclasses import replace
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


def judge(evaluation: Evaluation) -> Findings:
    """Every claim on every sample, every covered band's usability, and warnings."""
    as_written = without_what_is_aside(evaluation)
    evaluation = _with_bands_by_name(as_written)
    dossier = Dossier(evaluation)
    claims = tuple(_claim(evaluation, dossier, c, s) for c in evaluation.claims for s in evaluation.samples)
    uses = [BandUse(evaluation, dossier, s) for s in evaluation.samples]
    found = [(of, u) for of in uses for u in of.findings()]
    shown = [(of, u) for of, u in found if u.state is not Usability.NOT_SHOWN]
    emissions = emissions_of(evaluation, dossier.carriers)
    return Findings(
        claims,
        tuple(u for _, u in found),
        (*notes_of(as_written, dossier), *plain_sentence(evaluation, emissions)),
        emissions,
        adjusted_questions(evaluation.sweeps),
        tuple((g.carrier_hz, p) for g in dossier.carriers for p in g.problems),
        tuple(checks_in_words(dossier.book, evaluation)),
        tuple((c.id, path_in_words(p, c)) for c, p in dossier.paths),
        tuple(p for of, u in shown for p in of.by_profiles(u)),
        tuple(r for of, u in shown for r in of.by_radios(u)),
    )


def _with_bands_by_name(evaluation: Evaluation) -> Evaluation:
    """Claims on a band by its name mean the band of the evaluation's region, whatever region they were written in."""
    of = evaluation
    claims = tuple(replace(c, windows=in_region(c.windows, of.region, of.own_bands)) for c in of.claims)
    return evaluation if claims == of.claims else replace(evaluation, claims=claims)


def _claim(evaluation: Evaluation, dossier: Dossier, claim: Claim, sample: Sample) -> ClaimFinding:
    without = unmeasured(evaluation, claim, sample)
    if without is not None:
        return ClaimFinding(claim.id, sample.id, *without, (), sample.counted)
    question = Question.of(evaluation, claim, sample.id)
    asked = (KINDS[claim.quantity.spec.shown_by], BESIDES.get(claim.quantity))
    kinds = tuple(kind(question, dossier) for kind in asked if kind is not None)
    windows = Court(question, kinds, dossier.rounds).windows()
    verdict, reason = over_windows(windows)
    return ClaimFinding(claim.id, sample.id, verdict, kinds[0].said(reason), windows, sample.counted)
