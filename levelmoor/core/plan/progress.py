"""The order of work: each step of an evaluation with what is missing."""

from dataclasses import dataclass, replace

from levelmoor.core.bench.book import BenchBook
from levelmoor.core.bench.gates import gates_of, obstacle
from levelmoor.core.comparison.comparison import sides_of
from levelmoor.core.evidence.findings import Findings, headline
from levelmoor.core.metrology.decision import VERDICT_WORDS, Verdict, worst_verdict
from levelmoor.core.model.bench_records import BenchRule
from levelmoor.core.model.evaluation import Calibration, Evaluation, Obtained
from levelmoor.core.model.product_kinds import ProductKind
from levelmoor.core.model.quantities import REFLECTION, ShownBy
from levelmoor.core.plan.plan_accessories import plan_accessories
from levelmoor.core.plan.plan_model import Plan
from levelmoor.core.trials.trial_plan import trials_to_make, tuner_claims
from levelmoor.core.words.counting import counted, duration

TRIAL, THROUGH = ShownBy.TRIAL, ShownBy.THROUGH


@dataclass(frozen=True)
class Step:
    """A step with its state in words; `done` where nothing is missing, `needed` where this product has use for it."""

    id: str
    name: str
    state: str
    done: bool
    needed: bool = True


def steps(
    evaluation: Evaluation, findings: Findings, plan: Plan, published: int, book: BenchBook | None = None
) -> list[Step]:
    """Case, claims, plan, bench, sweeps, comparison, adjusting, verdicts, report, in the order people go through them.

    `book` is the evaluation's own where it was opened already, so that its checks are not computed again.
    """
    return [
        _case(evaluation),
        _claims(evaluation),
        replace(_plan(plan, evaluation, findings), needed=bool(evaluation.claims)),
        replace(_bench(evaluation, book or BenchBook(evaluation)), needed=_rests_on_bench(evaluation)),
        replace(_sweeps(evaluation), needed=bool(evaluation.sweeps) or is_swept(evaluation)),
        _compare(evaluation),
        *_adjust(evaluation),
        *_tuner(evaluation),
        *_through(evaluation, findings),
        *_emissions(evaluation, findings),
        _verdicts(evaluation, findings),
        Step(
            "report",
            "Report",
            f"Revision {published} is published" if published else "Not published yet",
            published > 0,
        ),
    ]


def is_swept(evaluation: Evaluation) -> bool:
    """Whether what decides about the product is the sweep of a reflection, as far as is known."""
    if evaluation.product.kind is not ProductKind.UNSTATED:
        return evaluation.product.kind is ProductKind.ANTENNA
    shown_by = {c.quantity.spec.shown_by for c in evaluation.claims if c.checkable}
    if shown_by & {TRIAL, THROUGH, ShownBy.CAPTURE, *REFLECTION}:
        return bool(shown_by & REFLECTION)
    return not (evaluation.captures or evaluation.trials or evaluation.throughs)


def _rests_on_bench(evaluation: Evaluation) -> bool:
    """Whether sweeps rest on a calibration, or will have to."""
    proven = evaluation.bench_rule is BenchRule.PROVEN
    return bool(evaluation.sweeps) or (proven and bool(evaluation.claims) and is_swept(evaluation))


def _case(evaluation: Evaluation) -> Step:
    unstated = [s.label for s in evaluation.samples if s.obtained is Obtained.UNSTATED]
    if unstated:
        return Step("case", "Product", f"Say how {unstated[0]} was obtained", False)
    return Step("case", "Product", counted(len(evaluation.samples), "sample"), True)


def _claims(evaluation: Evaluation) -> Step:
    if not evaluation.claims:
        by_rules = bool(evaluation.captures and evaluation.rule_sets)
        return Step("claims", "Claims", "None: rule sets judge" if by_rules else "Add the first claim", by_rules)
    open_ended = sum(1 for c in evaluation.claims if c.missing)
    if open_ended:
        return Step("claims", "Claims", f"{open_ended} without window or limit", False)
    sourceless = sum(1 for c in evaluation.claims if not c.source)
    if sourceless:
        return Step("claims", "Claims", f"{sourceless} without a source", False)
    return Step("claims", "Claims", counted(len(evaluation.claims), "claim"), True)


def _plan(plan: Plan, evaluation: Evaluation, findings: Findings) -> Step:
    beside = _beside_sweeps(evaluation, findings)
    if not plan.runs and not plan.dropped:
        beyond = [c for c in evaluation.claims if c.quantity.spec.shown_by in (TRIAL, THROUGH)]
        words = beside or ("Nothing left to do" if beyond else "Nothing to plan yet")
        return Step("plan", "Plan", words, bool(beyond or beside))
    lost = len({(u.claim_id, u.sample_id) for u in plan.uncovered})
    if lost:
        return Step("plan", "Plan", f"{lost} without evidence", False)
    left = len(plan.todo)
    words = f"{counted(left, 'run')}, {duration(plan.minutes)}" if left else "" if beside else "All runs made"
    return Step("plan", "Plan", "; ".join(filter(None, (words, beside))), True)


def _beside_sweeps(evaluation: Evaluation, findings: Findings) -> str:
    """What is left of trials, sweeps through and runs under power."""
    tries = [trials for _, trials in trials_to_make(evaluation)]
    left, minutes = sum(len(t.trials) for t in tries), sum(t.minutes for t in tries)
    accessories = plan_accessories(evaluation, findings)
    words = [counted(left, "trial")] if left else []
    words += [accessories.words] if accessories else []
    return ", ".join([*words, duration(minutes + accessories.minutes)]) if words else ""


def _bench(evaluation: Evaluation, book: BenchBook) -> Step:
    if not evaluation.sweeps:
        recorded = bool(evaluation.calibrations)
        return Step("bench", "Bench", "On record" if recorded else "Record a calibration", recorded)
    setups = {s.id: s for s in evaluation.setups}
    blocked = sum(1 for e in evaluation.sweeps if obstacle(gates_of(book, e, setups[e.setup_id])))
    if blocked:
        of = counted(len(evaluation.sweeps), "sweep")
        return Step("bench", "Bench", f"{blocked} of {of} cannot rely on it", False)
    proven = evaluation.bench_rule is BenchRule.PROVEN
    return Step("bench", "Bench", "Proven" if proven else "Stated, not proven", True)


def _sweeps(evaluation: Evaluation) -> Step:
    if not evaluation.sweeps:
        return Step("sweep", "Sweep", "None" if evaluation.captures else "Drop a file in", bool(evaluation.captures))
    uncertain = sum(1 for s in evaluation.sweeps if s.calibration is Calibration.UNSTATED)
    if uncertain:
        return Step("sweep", "Sweep", f"{uncertain} with calibration not stated", False)
    return Step("sweep", "Sweep", counted(len(evaluation.sweeps), "sweep"), True)


def _compare(evaluation: Evaluation) -> Step:
    groups = len(sides_of(evaluation, [e.id for e in evaluation.sweeps]))
    if groups < 2:
        return Step("compare", "Compare", "Needs two sweeps", groups > 0 or bool(evaluation.captures), needed=False)
    return Step("compare", "Compare", f"{groups} to choose from", True)


def _adjust(evaluation: Evaluation) -> list[Step]:
    """Not where only a radio's spectra were taken."""
    if evaluation.captures and not evaluation.sweeps:
        return []
    if not evaluation.elements:
        return [Step("adjust", "Adjust", "No moving parts", True, needed=False)]
    if not evaluation.adjustments:
        return [Step("adjust", "Adjust", "Ready for a move", True)]
    last = max(a.round for a in evaluation.adjustments)
    states = {(s.sample_id, s.setup_id, s.setting_id, s.round) for s in evaluation.sweeps}
    newest = evaluation.adjustments[-1]
    swept = (newest.sample_id, newest.setup_id, newest.setting_id, newest.round) in states
    return [Step("adjust", "Adjust", f"Round {last}" if swept else f"Sweep round {newest.round}", swept)]


def _tuner(evaluation: Evaluation) -> list[Step]:
    """Only where a tuner is evaluated: a claim speaks of what it matches, or it was tried."""
    claims = tuner_claims(evaluation)
    if not (claims or evaluation.trials or evaluation.networks or evaluation.product.kind is ProductKind.TUNER):
        return []
    left = sum(len(plan.trials) for _, plan in trials_to_make(evaluation))
    if not (claims or evaluation.trials):
        return [Step("tuner", "Tuner", "Make the first trial", False)]
    made = counted(len(evaluation.trials), "trial")
    return [Step("tuner", "Tuner", f"{made}, {left} to go" if left else made, not left)]


def _through(evaluation: Evaluation, findings: Findings) -> list[Step]:
    """Only where an accessory is evaluated: a claim speaks of what goes through, or it was swept through or heated."""
    claims = {c.id for c in evaluation.claims if c.quantity.spec.shown_by is ShownBy.THROUGH}
    anything = claims or evaluation.throughs or evaluation.levels or evaluation.heats
    if not (anything or evaluation.product.kind is ProductKind.ACCESSORY):
        return []
    open_ = sum(f.claim_id in claims and f.verdict is Verdict.NOT_SHOWN for f in findings.claims)
    made = [counted(len(evaluation.throughs), "sweep")] if evaluation.throughs else []
    made += [counted(len(evaluation.heats), "heat run")] if evaluation.heats else []
    said = ", ".join(made) or "Sweep port to port"
    return [Step("through", "Accessories", f"{said}, {open_} not shown" if open_ else said, not open_)]


def _emissions(evaluation: Evaluation, findings: Findings) -> list[Step]:
    """Only where a radio is evaluated: a claim speaks of its power or harmonics, or it was captured."""
    claims = any(c.quantity.spec.shown_by is ShownBy.CAPTURE for c in evaluation.claims)
    if not (evaluation.captures or claims or evaluation.product.kind is ProductKind.RADIO):
        return []
    if not evaluation.captures:
        return [Step("emissions", "Emissions", "Capture the keyed radio", False)]
    if not evaluation.rule_sets:
        return [Step("emissions", "Emissions", "Choose a rule set", False)]
    worst = worst_verdict(e.report.verdict for e in findings.emissions)
    captures = counted(len(evaluation.captures), "capture")
    return [Step("emissions", "Emissions", f"{captures}, {VERDICT_WORDS[worst]}", worst is not Verdict.NOT_SHOWN)]


def _verdicts(evaluation: Evaluation, findings: Findings) -> Step:
    missing = sum(1 for f in findings.claims if f.verdict is Verdict.NOT_SHOWN)
    if not evaluation.claims and findings.emissions:
        return Step("verdicts", "Verdicts", headline(findings), True)
    if not evaluation.claims:
        return Step("verdicts", "Verdicts", "No claim to judge yet", False)
    return Step("verdicts", "Verdicts", f"{missing} not shown" if missing else headline(findings), not missing)
