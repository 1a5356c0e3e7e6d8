"""What stands beside the verdicts: warnings on the evidence, and what a reader must not take it for."""

from collections.abc import Iterable, Iterator

from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.pieces import AdjustedQuestion
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.rf.bandplan import moved_bands
from levelmoor.core.words.said import said

ACTIVE = 1.02
"""A sweep that reflects more than this is not of a passive article."""


def notes_of(evaluation: Evaluation, dossier: Dossier, questions: Iterable[AdjustedQuestion]) -> Iterator[str]:
    """The warnings, in the order of what they are about; `questions` are what has to be asked of the sweeps."""
    for evidence in evaluation.sweeps:
        if evidence.sweep.scalar:
            yield said("note.scalar", name=evidence.name)
        if float(evidence.sweep.magnitude.max()) > ACTIVE:
            yield said("note.active", name=evidence.name)
    for piece in dossier.pieces:
        if len(piece.members) == 2:
            one, other = piece.members
            yield said("note.two_repeats", one=one.name, other=other.name)
    yield from (q.sentence for q in questions)
    if any(s.tuner_in_line for s in evaluation.setups):
        yield said("note.not_radiation")
    yield from (said("note.counterfeit", label=s.label, why=s.suspicion) for s in evaluation.samples if s.suspicion)
    yield from (said("note.control", label=s.label) for s in evaluation.samples if s.control)
    if sum(s.counted for s in evaluation.samples) == 1:
        yield said("note.one_sample")
    for claim in evaluation.claims:
        for moved in moved_bands(claim.windows, evaluation.region, evaluation.own_bands):
            yield said(
                "note.band_moved",
                name=moved.new.name,
                claim=claim.wording,
                then=moved.region,
                now=evaluation.region,
                old=moved.old.ends,
                new=moved.new.ends,
            )
