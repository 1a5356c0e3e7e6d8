"""A plan as plain JSON data, and as lines of text: what the command line prints and scripts rely on."""

from typing import Any

from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.plan.plan_model import Plan, Run, StageKind
from levelmoor.core.words.counting import counted, duration
from levelmoor.core.words.figures import format_mhz, format_range, format_step, format_swr


def plan_document(plan: Plan) -> dict[str, Any]:
    """The plan; frequencies in Hz, times in minutes, a run without an instrument says its problem."""
    return {
        "format": "levelmoor plan",
        "version": 1,
        "minutes": plan.minutes,
        "rebuilds": plan.count(StageKind.REBUILD),
        "calibrations": plan.count(StageKind.CALIBRATION),
        "repeats": plan.repeats,
        "runs": [_run(r) for r in plan.runs],
        "dropped": [r.key for r in plan.dropped],
        "covers": [
            {"claim_id": c.claim_id, "sample_id": c.sample_id, "window": _window(c.window), "run": c.run_key}
            for c in plan.covers
        ],
        "uncovered": [
            {
                "claim_id": u.claim_id,
                "sample_id": u.sample_id,
                "window": _window(u.window) if u.window else None,
                "reason": u.reason,
            }
            for u in plan.uncovered
        ],
        "stages": [
            {"kind": s.kind.value, "start_min": s.start_min, "minutes": s.minutes, "words": s.words, "run": s.run_key}
            for s in plan.stages
        ],
        "notes": list(plan.notes),
    }


def _window(window: Any) -> dict[str, Any]:
    return {"low_hz": window.low_hz, "high_hz": window.high_hz, "name": window.name}


def _run(run: Run) -> dict[str, Any]:
    decides = run.choice.decides
    emission = run.emission
    return {
        "key": run.key,
        "kind": run.kind.value,
        "name": run.name,
        "sample_id": run.sample_id,
        "setup_id": run.setup_id,
        "windows": [_window(w) for w in run.windows],
        "claim_ids": list(run.claim_ids),
        "segments": [{"low_hz": s.low_hz, "high_hz": s.high_hz, "points": s.points} for s in run.segments],
        "step_needed_hz": run.step_needed_hz,
        "repeats": run.repeats,
        "instrument": run.choice.instrument.name if run.choice.instrument else None,
        "chain": [link.adapter.name for link in run.choice.chain.links],
        "chain_loss_db": run.choice.chain.loss_db,
        "chain_missing": run.choice.chain.missing,
        "why_not": [{"instrument": name, "reason": reason} for name, reason in run.choice.why_not],
        "decides": decides
        and {"limit_swr": decides.limit_swr, "passes_swr": decides.passes_swr, "fails_swr": decides.fails_swr},
        "emission": emission
        and {
            "fundamental_hz": emission.question.fundamental_hz,
            "harmonics_hz": list(emission.harmonics_hz),
            "pads": [p.name for p in emission.pad.pads],
            "least_db": emission.pad.least_db,
            "most_db": emission.pad.most_db if emission.pad.most_db < float("inf") else None,
            "watts": emission.pad.watts,
        },
        "watch": list(run.watch),
        "problem": run.problem,
        "done_by": run.done_by,
    }


def plan_text(plan: Plan, evaluation: Evaluation) -> list[str]:
    """The plan as lines for a terminal."""
    samples = {s.id: s.label for s in evaluation.samples}
    setups = {s.id: s.name for s in evaluation.setups}
    claims = {c.id: c.wording for c in evaluation.claims}
    counts = ", ".join(counted(plan.count(k), k.value) for k in (StageKind.REBUILD, StageKind.CALIBRATION))
    lines = [f"{evaluation.title}: {counted(len(plan.runs), 'run')}, {counts}, {duration(plan.minutes)}"]
    pair = ("", "")
    for number, run in enumerate(plan.runs, 1):
        if (run.sample_id, run.setup_id) != pair:
            pair = (run.sample_id, run.setup_id)
            lines.append(f"{samples[pair[0]]}, {setups[pair[1]]}")
        lines += [f"  {line}" for line in _run_text(number, run)]
    lines += [f"left out by you: {r.name} ({samples[r.sample_id]}, {setups[r.setup_id]})" for r in plan.dropped]
    for lost in plan.uncovered:
        window = f" on {lost.window.name}" if lost.window and lost.window.name not in claims[lost.claim_id] else ""
        who = f", {samples[lost.sample_id]}" if lost.sample_id else ""
        lines.append(f"without evidence: {claims[lost.claim_id]}{window}{who}: {lost.reason}")
    return [*lines, *plan.notes]


def _run_text(number: int, run: Run) -> list[str]:
    if run.problem:
        return [f"{number}. {run.name}: {run.problem}"]
    instrument = run.choice.instrument.name if run.choice.instrument else ""
    times = f", {run.repeats} times" if run.repeats > 1 else ""
    lines = [f"{number}. {run.name}: {instrument}, {run.choice.chain.words}{times}"]
    for s in run.segments:
        points = counted(s.points, "point")
        lines.append(f"   {format_range(s.low_hz, s.high_hz)}, {points}, step {format_step(s.step_hz)}")
    decides = run.choice.decides
    if decides and decides.passes_swr:
        lines.append(
            f"   against {decides.limit_swr:g}: up to {format_swr(decides.passes_swr)} passes, "
            f"above {format_swr(decides.fails_swr)} fails"
        )
    if run.emission:
        pads = ", then ".join(p.name for p in run.emission.pad.pads) or "none needed"
        harmonics = ", ".join(format_mhz(h) for h in run.emission.harmonics_hz)
        lines.append(f"   pad: {pads}; harmonics at {harmonics} MHz")
    if run.done_by:
        lines.append(f"   shown by {run.done_by} already")
    return lines
