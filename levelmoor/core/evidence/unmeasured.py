"""Claims that come to something before any evidence is asked: what is seen in the case, what nothing here measures,
what is not written so that it can be judged."""

from levelmoor.core.evidence.keyed import named_rules
from levelmoor.core.heat.heating import claimed_average
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.connectors import parse_connector
from levelmoor.core.model.evaluation import Evaluation, Sample
from levelmoor.core.model.quantities import Quantity, ShownBy
from levelmoor.core.trials.load_text import parse_load_range
from levelmoor.core.words.said import as_sentence, said

Outcome = tuple[Verdict, str]


def unmeasured(evaluation: Evaluation, claim: Claim, sample: Sample) -> Outcome | None:
    """What such a claim comes to, None where evidence is to be heard."""
    shown_by = claim.quantity.spec.shown_by
    if shown_by is ShownBy.CASE:
        return _connector(claim, sample)
    if shown_by is ShownBy.REFERENCE:
        return Verdict.NOT_SHOWN, said("claim.reference")
    if shown_by is ShownBy.NOTHING:
        return Verdict.OUTSIDE, said("claim.outside")
    if shown_by is ShownBy.HEAT:
        return _heat(evaluation, claim, sample)
    if shown_by is ShownBy.CAPTURE:
        figure = claim.limit is not None or named_rules(evaluation, claim) is not None
        return None if figure else (Verdict.NOT_SHOWN, said("claim.no_figure"))
    if claim.missing:
        return Verdict.NOT_SHOWN, said("claim.missing", what=claim.missing)
    if claim.quantity is Quantity.TUNER_RANGE and parse_load_range(claim.stated) is None:
        return Verdict.NOT_SHOWN, said("trials.loads_unclear")
    return None


def _connector(claim: Claim, sample: Sample) -> Outcome:
    """A connector is looked at: what is claimed against what the case notes of the sample."""
    if sample.connector is None:
        return Verdict.NOT_SHOWN, said("connector.unseen")
    try:
        claimed = parse_connector(claim.stated)
    except ValueError as problem:
        return Verdict.NOT_SHOWN, as_sentence(said("claim.problem", why=str(problem)))
    verdict = Verdict.PASS if claimed == sample.connector else Verdict.FAIL
    return verdict, said("connector.seen", connector=str(sample.connector))


def _heat(evaluation: Evaluation, claim: Claim, sample: Sample) -> Outcome | None:
    """Power handling is outside this bench as long as nothing was run under power."""
    run = any(r.sample_id == sample.id and not r.set_aside for r in evaluation.heats)
    if claim.limit is None:
        return Verdict.OUTSIDE, said("heat.no_power")
    average = claimed_average(claim)
    if average is None:
        return (Verdict.NOT_SHOWN if run else Verdict.OUTSIDE), said("heat.no_duty")
    return None if run else (Verdict.OUTSIDE, said("heat.outside", claimed=average.words))
