from dataclasses import replace

import pytest

from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import DecisionRule
from levelmoor.core.model.evaluation import Calibration
from levelmoor.core.model.usability import own_profile
from levelmoor.services.findings import findings_of
from tests.core.test_judge import CASE, CLAIM, GOOD


def test_same_case_is_judged_once():
    assert findings_of(CASE) is findings_of(replace(CASE))


@pytest.mark.parametrize(
    "change",
    [
        {"claims": (replace(CLAIM, limit=1.1),)},
        {"rule": DecisionRule.SIMPLE},
        {"profile": own_profile(1.1)},
        {"sweeps": (replace(GOOD, calibration=Calibration.NONE),)},
        {"sweeps": (replace(GOOD, sha256="other"),)},
        {"setups": (replace(CASE.setups[0], tuner_in_line=True),)},
    ],
    ids=range(6),
)
def test_any_change_is_judged_anew(change):
    findings_of(CASE)
    changed = replace(CASE, **change)
    assert findings_of(changed) is not findings_of(CASE)
    assert findings_of(changed).claims == judge(changed).claims
