"""Which steps of the work a product needs, by what it is and by what is there already."""

from dataclasses import replace

import pytest

from levelmoor.core.judge import judge
from levelmoor.core.model.bench_records import BenchRule
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation, Product, Sample, Setup
from levelmoor.core.model.product_kinds import ProductKind
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.plan.plan import make_plan
from levelmoor.core.plan.progress import steps
from levelmoor.core.rf.windows import Window

EMPTY = Evaluation("x", Product("x"), samples=(Sample("1", "Unit 1"),), setups=(Setup("1", "As supplied"),))
SWR = Claim("1", Quantity.SWR, limit=1.5, windows=(Window(144e6, 146e6, "2m"),))
ENDS = ["verdicts", "report"]


def needed(evaluation):
    found = steps(evaluation, judge(evaluation), make_plan(evaluation), 0)
    return [s.id for s in found if s.needed]


@pytest.mark.parametrize(
    ("kind", "of_its_own"),
    [
        (ProductKind.ANTENNA, ["sweep"]),
        (ProductKind.TUNER, ["tuner"]),
        (ProductKind.ACCESSORY, ["through"]),
        (ProductKind.RADIO, ["emissions"]),
        (ProductKind.UNSTATED, ["sweep"]),
    ],
)
def test_an_empty_evaluation_shows_what_its_kind_needs(kind, of_its_own):
    case = replace(EMPTY, product=Product("x", kind=kind))
    assert needed(case) == ["case", "claims", *of_its_own, *ENDS]


@pytest.mark.parametrize(
    ("changes", "more"),
    [
        ({"claims": (SWR,)}, {"plan"}),
        ({"claims": (SWR,), "bench_rule": BenchRule.PROVEN}, {"plan", "bench"}),
        ({"bench_rule": BenchRule.PROVEN}, set()),
    ],
)
def test_a_step_appears_once_it_is_used(changes, more):
    assert set(needed(replace(EMPTY, **changes))) - set(needed(EMPTY)) == more
