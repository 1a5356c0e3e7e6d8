"""Radios on one carrier stand together by what the carrier is said to be, each unit once, wherever it is drawn."""

from dataclasses import replace

import pytest

from levelmoor.core.judge import judge
from levelmoor.core.model.evaluation import Sample
from levelmoor.core.model.rule_sets import shipped_rule_sets
from levelmoor.formats.findings_document import findings_document, findings_from
from levelmoor.web.emissions.view import carriers
from tests.core.evidence.cases import captured, peaks, radio

UNITS = tuple(Sample(n, f"Unit {n}") for n in "abc")


@pytest.mark.parametrize("order", [1, -1])
def test_units_whose_readings_stand_beside_the_stated_carrier_are_one_group(order):
    of_trace = captured("ka", trace=peaks(145.9, pad=40.0), sample_id="a")
    listed = [captured(f"k{n}", sample_id=n) for n in "bc"]
    rules = next(iter(shipped_rule_sets().values()))
    case = radio(of_trace, *listed[::order], claims=(), samples=UNITS, rule_sets=(rules,))
    found = judge(case)
    (view,) = carriers(case, found)
    assert sorted(r.name for r in view.rows) == ["Unit a", "Unit b", "Unit c"]
    assert view.share is not None and view.share.of == 3
    (published,) = carriers(case, findings_from(findings_document(found), case))
    assert [(r.letter, r.name) for r in published.rows] == [(r.letter, r.name) for r in view.rows]


def test_a_unit_that_was_captured_twice_is_one_unit():
    rules = next(iter(shipped_rule_sets().values()))
    setups = radio(claims=()).setups
    other = replace(setups[0], id="bench", name="On the bench")
    case = radio(
        captured("k1", sample_id="a"), captured("k2", sample_id="a", setup_id="bench"), captured("k3", sample_id="b"),
        claims=(), samples=UNITS[:2], rule_sets=(rules,), setups=(*setups, other),
    )  # fmt: skip
    (view,) = carriers(case, judge(case))
    assert view.share is not None and view.share.of == 2
