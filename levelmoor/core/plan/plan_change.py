"""What changed between a plan as it was last looked at and the plan as it is now."""

from typing import Any

from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.plan.plan_model import Plan, Run, StageKind
from levelmoor.core.words.counting import counted
from levelmoor.core.words.figures import format_range


def snapshot(plan: Plan, evaluation: Evaluation) -> dict[str, Any]:
    """The plan in plain data, enough to say later what changed."""
    return {
        "runs": {r.key: _summary(r, evaluation) for r in plan.runs},
        "uncovered": sorted({_claim_words(evaluation, u.claim_id) for u in plan.uncovered}),
        "minutes": round(plan.minutes),
        "rebuilds": plan.count(StageKind.REBUILD),
    }


def changes(before: dict[str, Any], now: dict[str, Any]) -> list[str]:
    """Sentences on runs that came, went or changed, on claims that lost or found their evidence, and on the time."""
    old, new = before.get("runs", {}), now["runs"]
    said = [f"Added: {new[k]['words']}, {new[k]['detail']}" for k in new if k not in old]
    said += [f"Removed: {old[k]['words']}" for k in old if k not in new]
    for key in new:
        if key in old and old[key] != new[key]:
            said.append(f"Changed: {new[key]['words']}, now {new[key]['detail']} (was {old[key]['detail']})")
    lost = [c for c in now["uncovered"] if c not in before.get("uncovered", [])]
    found = [c for c in before.get("uncovered", []) if c not in now["uncovered"]]
    said += [f"Now without evidence: {c}" for c in lost] + [f"Has evidence again: {c}" for c in found]
    if before.get("minutes", now["minutes"]) != now["minutes"]:
        said.append(f"Time: {before['minutes']} min before, {now['minutes']} min now")
    return said


def _summary(run: Run, evaluation: Evaluation) -> dict[str, str]:
    sample = next((s.label for s in evaluation.samples if s.id == run.sample_id), "")
    setup = next((s.name for s in evaluation.setups if s.id == run.setup_id), "")
    instrument = run.choice.instrument.name if run.choice.instrument else "no instrument"
    detail = f"{instrument}"
    if run.segments:
        passes = f", {counted(len(run.segments), 'pass', 'passes')}" if len(run.segments) > 1 else ""
        detail = f"{instrument}, {format_range(run.low_hz, run.high_hz)}, {counted(run.points, 'point')}{passes}"
    if run.problem:
        detail = run.problem
    elif run.done_by:
        detail = f"shown by {run.done_by}"
    return {"words": f"{run.name} ({sample}, {setup})", "detail": detail}


def _claim_words(evaluation: Evaluation, claim_id: str) -> str:
    return next((c.wording for c in evaluation.claims if c.id == claim_id), claim_id)
