"""Plans kept in memory: planning is pure, so a case in which nothing has changed is planned once."""

from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.judged_content import judged_content
from levelmoor.core.plan.plan_model import Plan
from levelmoor.records.apart import is_long
from levelmoor.records.judging import plan_next
from levelmoor.records.kept import Kept
from levelmoor.services.findings import lasting, long_work

_kept: Kept[Plan] = Kept(128)


def plan_of(evaluation: Evaluation) -> Plan:
    """The plan of an evaluation, made anew only where something it rests on is new."""
    key = judged_content(evaluation), evaluation.wishes

    def made() -> Plan:
        if not is_long(evaluation):
            return plan_next(evaluation)
        return lasting("plan", evaluation, key, lambda: long_work(evaluation, "plan", plan_next, evaluation))

    return _kept.get(key, made)
