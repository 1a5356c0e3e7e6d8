"""A report in three sentences: of what counts, in a reader's terms, with what to do."""

from dataclasses import replace

import numpy as np
import pytest

from levelmoor.core.evidence.in_short import in_short
from levelmoor.core.judge import judge
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window

TWENTY = Window(14e6, 14.35e6, "20m")
F = np.linspace(13.8e6, 14.6e6, 801)


def case(gamma, limit=1.5, **sample):
    claim = Claim("c", Quantity.SWR, limit=limit, windows=(TWENTY,))
    sweep = Sweep(F, np.asarray(gamma, complex) * np.ones(F.size), 50.0)
    return Evaluation(
        "x", Product("x"), samples=(Sample("s", "Unit 1", **sample),), claims=(claim,), setups=(Setup("u", "As it came"),),
        instruments=(Instrument("i", "Analyzer"),),
        sweeps=(Evidence("e", "e", "s", "u", "i", Calibration.AT_PLANE, sweep),),
    )  # fmt: skip


def said(evaluation):
    return in_short(evaluation, judge(evaluation))


# 1.22:1 everywhere; or from the band's middle on rising to 3:1, where |Γ| is 0.5 and a quarter of the power returns.
LOW, HALF = 0.1, np.interp(F, [14.175e6, 14.35e6], [0.1, 0.5])


@pytest.mark.parametrize(
    ("gamma", "limit", "found", "means", "advice"),
    [
        (LOW, 1.5, "It meets this claim with room to spare", "Within 2:1 throughout: 20m", "without a tuner"),
        (HALF, 1.5, "claimed 1.5:1: SWR reaches 3.00 at the upper end", "25 % of the power comes back", "use a tuner"),
        (HALF, 1.5, "across 38 % of the band", "Only in part: 20m (79 % of it)", "stay where SWR is within 2:1"),
        (0.2, 1.5, "Too close to call", "Within 2:1 throughout: 20m", "without a tuner"),
    ],
)
def test_it_says_what_was_found_how_bad_and_what_to_do(gamma, limit, found, means, advice):
    short = said(case(gamma, limit))
    assert found in short.found
    assert means in short.means
    assert advice in short.advice


def test_several_units_are_told_together_by_the_worst():
    one, two = case(HALF, 1.5), case(0.3, 1.5)
    units = replace(
        one,
        samples=(Sample("s", "Unit 1"), Sample("t", "Unit 2"), Sample("v", "Unit 3")),
        sweeps=(one.sweeps[0], replace(two.sweeps[0], id="f", sample_id="t"), replace(case(LOW).sweeps[0], id="g", sample_id="v")),
    )  # fmt: skip
    found = said(units).found
    assert "On 20m 2 of 3 units miss the claimed 1.5:1: SWR reaches 3.00" in found
    assert "with room to spare" not in found


def test_measurements_alone_are_no_claim_that_failed():
    assert "says what was measured" in said(replace(case(LOW), claims=())).found


def test_what_was_not_shown_is_no_bad_mark():
    other = replace(case(LOW), claims=(Claim("c", Quantity.SWR, limit=2, windows=(Window(144e6, 146e6, "2m"),)),))
    short = said(other)
    assert short.not_shown == "Not shown, which says nothing for or against it: SWR at most 2:1 on 2m."
    assert "fail" not in " ".join(short.sentences).lower()


@pytest.mark.parametrize("aside", [{"control": True}, {"suspicion": "the print differs"}])
def test_what_does_not_count_is_not_spoken_of(aside):
    assert said(case(HALF, **aside)).found == "None of the claims could be decided."
