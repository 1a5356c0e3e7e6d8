"""Judging begins with what is known: after whatever change of claims the findings are those of judging everything."""

from dataclasses import fields, replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.judge import judge, judge_again
from levelmoor.core.model.claims import Claim, Tuner
from levelmoor.core.model.evaluation import Sample, Setup
from levelmoor.core.model.judged_content import SHOWN_BESIDE, TOLD, judged_content
from levelmoor.core.model.quantities import Quantity
from levelmoor.formats.findings_document import findings_document
from tests.core.evidence import cases
from tests.core.evidence.cases import FORTY, PLAIN, TWENTY, at, case, read

WINDOWS = ((TWENTY,), (FORTY,), (TWENTY, FORTY))
SWEEPS = (at(1.4, "a"), at(1.45, "b"), at(1.9, "c", span=(6.9e6, 7.3e6)), read((14.0, 14.2), 1.6, instrument_id="m"))


@st.composite
def claim(draw, ident):
    quantity = draw(st.sampled_from((Quantity.SWR, Quantity.RESONANCE, Quantity.BANDWIDTH)))
    limit, tuner = draw(st.sampled_from((1.3, 1.5, 2.0))), draw(st.sampled_from(Tuner))
    return Claim(ident, quantity, draw(st.sampled_from(WINDOWS)), limit, tuner=tuner)


CLAIMS = st.integers(0, 3).flatmap(lambda n: st.tuples(*(claim(f"c{i}") for i in range(n))))


@given(st.lists(CLAIMS, min_size=2, max_size=4), st.booleans())
def test_after_each_change_of_claims_all_is_as_though_judged_afresh(changes, second_unit):
    samples = (Sample("s", "Unit"), *((Sample("t", "Other"),) if second_unit else ()))
    owned = (cases.Instrument("i", "Analyzer"), cases.METER)
    known = None
    for claims in changes:
        evaluation = case(*SWEEPS, claims=claims, samples=samples, instruments=owned, setups=(PLAIN, Setup("x", "X")))
        known = judge_again(evaluation, known)
        assert findings_document(known.findings) == findings_document(judge(evaluation))


def test_another_sweep_of_the_same_claims_is_judged():
    one, two = case(at(1.2, "a")), case(at(2.6, "b"))
    assert judge_again(two, judge_again(one, None)).findings.claims == judge(two).claims != judge(one).claims


@pytest.mark.parametrize("name", [*TOLD, *SHOWN_BESIDE])
def test_what_is_told_or_shown_beside_is_no_part_of_what_is_judged(name):
    evaluation = case(at(1.2, "a"))
    kept = {f.name: f for f in fields(evaluation)}
    assert name in kept
    other = {"title": "other", "notes": "other", "product": replace(evaluation.product, name="other", description="x")}
    changed = replace(evaluation, **{name: other.get(name, ("anything",))})
    assert judged_content(changed) == judged_content(evaluation)


@pytest.mark.parametrize("name", [f.name for f in fields(Sample)])
def test_a_field_of_a_sample_is_judged_or_changes_no_finding(name):
    plain = case(at(1.2, "a"))
    value = {"control": True, "obtained": plain.samples[0].obtained, "connector": None}.get(name, "other")
    changed = replace(plain, samples=(replace(plain.samples[0], **{name: value}),))
    if judged_content(changed) == judged_content(plain):
        assert findings_document(judge(changed)) == findings_document(judge(plain))
    else:
        assert name in ("id", "label", "suspicion", "control", "set_aside")
