"""Plans kept in memory: planning is pure, so a case in which nothing has changed is planned once."""

from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.plan.plan import make_plan
from levelmoor.core.plan.plan_model import Plan
from levelmoor.services.findings import key_of

MOST_KEPT = 128
_kept: dict[object, Plan] = {}


def plan_of(evaluation: Evaluation) -> Plan:
    """The plan of an evaluation, made anew only where something it rests on is new."""
    key = (key_of(evaluation), evaluation.wishes)
    found = _kept.pop(key, None) or make_plan(evaluation)
    _kept[key] = found
    while len(_kept) > MOST_KEPT:
        _kept.pop(next(iter(_kept)), None)
    return found
