"""What was set aside as a whole: a sample, or a setup with all that was swept in it."""

from dataclasses import replace

from levelmoor.core.model.captures import Capture
from levelmoor.core.model.evaluation import Evaluation, Evidence


def why_aside(evaluation: Evaluation, evidence: Evidence | Capture) -> str:
    """Why a sweep or capture is not heard together with what it is of, or nothing."""
    said = [f"{s.label}: {s.set_aside}" for s in evaluation.samples if s.id == evidence.sample_id and s.set_aside]
    said += [f"{s.name}: {s.set_aside}" for s in evaluation.setups if s.id == evidence.setup_id and s.set_aside]
    return "; ".join(said)


def without_what_is_aside(evaluation: Evaluation) -> Evaluation:
    """The evaluation as it is judged and planned: nothing of a sample that was set aside, and what was swept in a setup
    that was set aside with that setup's reason, as though each sweep had been."""
    gone = {s.id for s in evaluation.samples if s.set_aside}
    setups = {s.id for s in evaluation.setups if s.set_aside}
    if not gone and not setups:
        return evaluation
    return replace(
        evaluation,
        samples=tuple(s for s in evaluation.samples if s.id not in gone),
        setups=tuple(replace(s, planned=s.planned and not s.set_aside) for s in evaluation.setups),
        sweeps=tuple(
            replace(e, set_aside=e.set_aside or why_aside(evaluation, e))
            for e in evaluation.sweeps
            if e.sample_id not in gone
        ),
        captures=tuple(c for c in evaluation.captures if not why_aside(evaluation, c)),
    )
