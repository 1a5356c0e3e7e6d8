"""What the list shows of an evaluation, made with every change so that the list itself need not judge."""

from levelmoor.core.evidence.findings import Findings
from levelmoor.core.metrology.decision import worst_verdict
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.product_kinds import ProductKind
from levelmoor.core.plan.progress import steps
from levelmoor.core.words.counting import counted
from levelmoor.core.words.sentence import uncapitalized
from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.records.mapping import evaluation_of
from levelmoor.services.findings import findings_of
from levelmoor.services.plans import plan_of
from levelmoor.services.small_figures import small_figures

MOST_FIGURES = 6


NOTHING_YET = {
    ProductKind.ANTENNA: "No sweep yet",
    ProductKind.TUNER: "No trial yet",
    ProductKind.ACCESSORY: "Not swept port to port yet",
    ProductKind.RADIO: "No spectrum yet",
    ProductKind.UNSTATED: "Nothing measured yet",
}


def refresh_card(
    row: t.Evaluation, published: int = 0, evaluation: Evaluation | None = None, findings: Findings | None = None
) -> None:
    """Put verdict counts, small figures of what was measured and the next step into the row."""
    evaluation = evaluation or evaluation_of(row)
    findings = findings or findings_of(evaluation)
    figures = small_figures(evaluation, findings)
    strip = [{"band": name, "svg": svg} for name, svg in figures[:MOST_FIGURES]]
    work = [s for s in steps(evaluation, findings, plan_of(evaluation), published) if s.needed]
    todo = next((s for s in work if not s.done), None)
    swept = len(evaluation.sweeps)
    row.card = {
        "verdicts": [[verdict.value, count] for verdict, count in findings.summary.items()],
        "strip": strip,
        "more": max(len(figures) - MOST_FIGURES, 0),
        "published": published,
        "profile": evaluation.profile.name if evaluation.sweeps else "",
        "none": f"{counted(swept, 'sweep')}, none counts yet" if swept else NOTHING_YET[evaluation.product.kind],
        "todo": f"{todo.name}: {uncapitalized(todo.state)}" if todo else "",
    }
    row.worst_verdict = worst_verdict(f.verdict for f in findings.claims).value if findings.claims else ""
    row.updated_at = now()
