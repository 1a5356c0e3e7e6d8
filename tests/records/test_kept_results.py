"""What took long is kept in the database: found again by what it rests on, bounded, and read back as data alone."""

import os
import pickle
from dataclasses import replace

import numpy as np
import pytest
from sqlalchemy import delete, func, select

from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.judged_content import judged_content
from levelmoor.formats.findings_document import findings_document
from levelmoor.records import kept_results
from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.records.kept_results import content_digest, keep_in, kept_result
from tests.core.evidence.cases import at, case


@pytest.fixture(autouse=True)
def kept(maker):
    keep_in(maker)
    with maker.begin() as session:
        session.execute(delete(t.KeptResult))
    yield
    keep_in(None)


def not_again():
    raise AssertionError("it is worked out again")


def test_findings_are_worked_out_once_for_evaluations_that_are_alike():
    """As two processes have them: equal, and not the same objects."""
    one, other = (case(at(1.2, "a"), at(1.3, "b")) for _ in range(2))
    first = kept_result("findings", judged_content(one), lambda: judge(one))
    second = kept_result("findings", judged_content(other), not_again)
    assert findings_document(second) == findings_document(first)


def test_another_limit_name_or_evidence_is_another_result():
    one = case(at(1.2, "a"))
    kept_result("findings", judged_content(one), lambda: judge(one))
    changed = replace(one, claims=(replace(one.claims[0], limit=1.7),))
    for name, of in (("findings", changed), ("plan", one), ("findings", case(at(1.2, "b")))):
        with pytest.raises(AssertionError, match="again"):
            kept_result(name, judged_content(of), not_again)


def test_the_newest_stay(maker, monkeypatch):
    monkeypatch.setattr(kept_results, "MOST", 3)
    for n in range(6):
        kept_result("n", n, lambda: Verdict.PASS)
    with maker() as session:
        assert session.scalar(select(func.count()).select_from(t.KeptResult)) == 3


@pytest.mark.parametrize("body", [pickle.dumps(os.getcwd), pickle.dumps(Exception("x")), b"nothing", b""])
def test_what_is_no_result_of_ours_is_worked_out_instead(maker, body):
    kept_result("n", 1, lambda: Verdict.PASS)
    with maker.begin() as session:
        key = session.scalar(select(t.KeptResult.key))
        session.execute(delete(t.KeptResult))
        session.add(t.KeptResult(key=key, made_at=now(), body=body))
    assert kept_result("n", 1, lambda: Verdict.FAIL) is Verdict.FAIL


def test_a_database_that_is_away_keeps_nobody_from_working(maker):
    keep_in(maker.__class__(bind=None))
    assert kept_result("n", 2, lambda: Verdict.PASS) is Verdict.PASS


@pytest.mark.parametrize(
    ("one", "other"),
    [
        (("ab", "c"), ("a", "bc")), ((1,), (1.0,)), ((True,), (1,)), (("1",), (1,)), (((),), ()), (None, "None"),
        (np.array([1.0, 2.0]), np.array([1.0, 2.5])), (Verdict.PASS, Verdict.FAIL), (frozenset({"a"}), ("a",)),
        (0.1, 0.1 + 1e-17 * 4),
    ],
)  # fmt: skip
def test_what_differs_has_another_digest(one, other):
    assert content_digest(one) != content_digest(other)


def test_the_order_of_a_set_or_a_mapping_is_none():
    assert content_digest({"a": 1, "b": {2, 3}}) == content_digest({"b": {3, 2}, "a": 1})
