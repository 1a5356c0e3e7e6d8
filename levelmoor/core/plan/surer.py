"""What would make a first verdict sure, for somebody who has one sweep and nothing on record."""

from levelmoor.core.evidence.findings import Findings
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.evaluation import Calibration, Evaluation


def what_would_make_it_sure(evaluation: Evaluation, findings: Findings) -> tuple[str, ...]:
    """Short sentences, the most important first; what a verdict's own reason already asks for is not repeated."""
    said = []
    if any(f.verdict is Verdict.TOO_CLOSE for f in findings.claims):
        said.append(
            "A better-known instrument: the result is nearer to the limit than this one's uncertainty. "
            "Enter its own figures instead of those typical of its class."
        )
    if any(e.calibration is Calibration.AT_PLANE for e in evaluation.sweeps):
        said.append(
            "A calibration on record, and a known load swept with it: so far there is only your word that the "
            "analyzer was calibrated at the connector."
        )
    said.append("Three sweeps or more, mounted again for each one: their spread then counts in the verdict.")
    if len(evaluation.samples) == 1:
        said.append("A second unit: one sample tells about itself, not about the model.")
    if any(not c.source for c in evaluation.claims):
        said.append("Where the claim is printed, and when you saw it: makers change their pages.")
    return tuple(said)
