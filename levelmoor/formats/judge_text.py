"""The findings of an evaluation for a terminal, with the state that each verdict rests on."""

from collections.abc import Iterator

from levelmoor.core.evidence.findings import ClaimFinding, Findings, headline
from levelmoor.core.evidence.rests_on import looked_at, state_words
from levelmoor.core.metrology.decision import VERDICT_WORDS
from levelmoor.core.model.evaluation import Evaluation


def judge_text(evaluation: Evaluation, findings: Findings) -> Iterator[str]:
    """Each claim on each sample: verdict, reason, what decides, and what else was looked at."""
    claims = {c.id: c.wording for c in evaluation.claims}
    samples = {s.id: s.label for s in evaluation.samples}
    for found in findings.claims:
        aside = "" if found.counted else " (not counted)"
        yield f"{VERDICT_WORDS[found.verdict]}: {claims[found.claim_id]}, {samples[found.sample_id]}{aside}"
        yield f"  {found.reason}"
        yield from _rests_on(evaluation, found)
    for one in findings.emissions:
        where = f"{samples[one.sample_id]}, {one.carrier_hz / 1e6:.6g} MHz"
        yield f"{VERDICT_WORDS[one.report.verdict]}: {one.rule_id}, {where}"
    for question in findings.questions:
        yield f"Asked: {question.sentence}"
    for warning in findings.warnings:
        yield f"Note: {warning}"
    yield headline(findings)


def _rests_on(evaluation: Evaluation, found: ClaimFinding) -> Iterator[str]:
    names = {e.id: e.name for e in evaluation.sweeps}
    for window in found.windows:
        name = f"{window.name}: " if len(found.windows) > 1 else ""
        if window.sweep_id is not None:
            yield f"  {name}rests on {names[window.sweep_id]} ({state_words(evaluation, window)})"
        for part, said in looked_at(window):
            yield f"  {name}{part.value}: {said}"
