"""What was set aside as a whole: a sample, or a setup with all that was swept in it."""

from dataclasses import replace

from levelmoor.core.model.evaluation import Evaluation


def without_what_is_aside(evaluation: Evaluation) -> Evaluation:
    """The evaluation as it is judged and planned: nothing of a sample that was set aside, and what was swept in a setup
    that was set aside with that setup's reason, as though each sweep had been."""
    gone = {s.id for s in evaluation.samples if s.set_aside}
    reasons = {s.id: f"{s.name}: {s.set_aside}" for s in evaluation.setups if s.set_aside}
    if not gone and not reasons:
        return evaluation
    return replace(
        evaluation,
        samples=tuple(s for s in evaluation.samples if s.id not in gone),
        setups=tuple(replace(s, planned=s.planned and s.id not in reasons) for s in evaluation.setups),
        sweeps=tuple(
            replace(e, set_aside=e.set_aside or reasons.get(e.setup_id, ""))
            for e in evaluation.sweeps
            if e.sample_id not in gone
        ),
        captures=tuple(c for c in evaluation.captures if c.sample_id not in gone and c.setup_id not in reasons),
    )
