"""A short form of `python -m benchmarks.honesty`: with the truth at the limit hardly any verdict is Pass or Fail.

Twice the promise of 2.3 % and a little is allowed for so few trials; the seeds are fixed. The long form's figures are in
docs/method.md.
"""

import pytest

from benchmarks import honesty_kinds
from benchmarks.honesty import ROWS, shares
from benchmarks.whole_evaluations import whole_evaluations
from levelmoor.core.metrology.decision import Verdict

TRIALS = 12


@pytest.mark.parametrize("name", ROWS)
def test_truth_at_the_limit_is_seldom_called_pass_or_fail(name):
    passed, failed = shares(ROWS[name], TRIALS, seed=1)
    assert max(passed, failed) <= 2 / TRIALS


@pytest.mark.parametrize("name", honesty_kinds.ROWS)
def test_evidence_of_every_kind_at_its_limit_is_seldom_called_pass_or_fail_and_two_guard_bands_away_it_is(name):
    row = honesty_kinds.ROWS[name]
    at = honesty_kinds.shares(row, TRIALS, 1)
    assert max(at[Verdict.PASS], at[Verdict.FAIL]) <= 3 / TRIALS
    if row.decides:
        assert honesty_kinds.shares(row, 6, 2, -2.0)[Verdict.PASS] > 0.6
        assert honesty_kinds.shares(row, 6, 3, 2.0)[Verdict.FAIL] > 0.6


def test_whole_evaluations_are_judged_as_their_truth_is():
    found = whole_evaluations(6)
    assert not found.wrong and found.foreign == 0, found.words
    assert min(found.verdicts[Verdict.PASS], found.verdicts[Verdict.FAIL]) >= 1, found.words
