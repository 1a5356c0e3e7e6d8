"""What the list shows of an evaluation, made with every change so that the list itself need not judge."""

from levelmoor.core.evidence.findings import Findings
from levelmoor.core.metrology.decision import worst_verdict
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.plan.progress import steps
from levelmoor.core.words.sentence import uncapitalized
from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.records.mapping import evaluation_of
from levelmoor.services.findings import findings_of
from levelmoor.services.plans import plan_of
from levelmoor.services.strips import strips_of

MOST_SKYLINES = 6


def refresh_card(
    row: t.Evaluation, published: int = 0, evaluation: Evaluation | None = None, findings: Findings | None = None
) -> None:
    """Put verdict counts, one tiny skyline per band and the next step into the row."""
    evaluation = evaluation or evaluation_of(row)
    findings = findings or findings_of(evaluation)
    strips = strips_of(evaluation, findings, 76, 34)
    strip = [{"band": use.band, "svg": svg} for use, svg in strips[:MOST_SKYLINES]]
    todo = next((s for s in steps(evaluation, findings, plan_of(evaluation), published) if not s.done), None)
    row.card = {
        "verdicts": [[verdict.value, count] for verdict, count in findings.summary.items()],
        "strip": strip,
        "more": max(len(strips) - MOST_SKYLINES, 0),
        "published": published,
        "profile": evaluation.profile.name,
        "todo": f"{todo.name}: {uncapitalized(todo.state)}" if todo else "",
    }
    row.worst_verdict = worst_verdict(f.verdict for f in findings.claims).value if findings.claims else ""
    row.updated_at = now()
