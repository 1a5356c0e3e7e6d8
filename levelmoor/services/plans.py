"""Plans kept in memory: planning is pure, so a case in which nothing has changed is planned once."""

from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.judged_content import judged_content
from levelmoor.core.plan.plan import make_plan
from levelmoor.core.plan.plan_model import Plan
from levelmoor.records.kept import Kept
from levelmoor.services.findings import long_work

_kept: Kept[Plan] = Kept(128)


def plan_of(evaluation: Evaluation) -> Plan:
    """The plan of an evaluation, made anew only where something it rests on is new."""
    key = judged_content(evaluation), evaluation.wishes, evaluation.product, evaluation.samples
    return _kept.get(key, lambda: long_work(evaluation, "plan", make_plan, evaluation))
