"""What a judge does, who judges one evaluation after another: the last judgements are kept, and the next of the same
evidence begins with them."""

from collections import OrderedDict
from collections.abc import Hashable

from levelmoor.core.evidence.findings import Findings
from levelmoor.core.judge import Judgement, judge_again
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.judged_content import asked_of_bench, bench_content
from levelmoor.core.plan.plan import make_plan
from levelmoor.core.plan.plan_model import Plan

MOST, MOST_POINTS = 8, 650_000
"""Of the judgements that are kept, and of their sweeps; the last one is kept, however many it has."""
_last: OrderedDict[Hashable, Judgement] = OrderedDict()


def _key(evaluation: Evaluation) -> Hashable:
    return bench_content(evaluation), asked_of_bench(evaluation.claims)


def plan_next(evaluation: Evaluation) -> Plan:
    """The plan of an evaluation, which was most likely judged just before."""
    return make_plan(evaluation, _last.get(_key(evaluation)))


def judge_next(evaluation: Evaluation) -> Findings:
    """The findings of an evaluation."""
    key = _key(evaluation)
    made = _last[key] = judge_again(evaluation, _last.get(key))
    _last.move_to_end(key)
    while len(_last) > MOST or (len(_last) > 1 and sum(j.dossier.points for j in _last.values()) > MOST_POINTS):
        _last.popitem(last=False)
    return made.findings
