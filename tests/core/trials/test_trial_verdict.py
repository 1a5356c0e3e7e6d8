"""Which trials decide a claim on a tuner, and what they leave open."""

from dataclasses import replace

import pytest

from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.evaluation import Evaluation, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.state import Role
from levelmoor.core.model.trials import Outcome, Trial
from levelmoor.core.rf.windows import Window
from levelmoor.core.trials.trial_grid import share_words
from levelmoor.core.trials.trial_plan import plan_trials
from levelmoor.core.trials.trial_verdict import trial_verdict
from tests.codes import codes

BAND = Window(14.0e6, 14.35e6, "20m")
RANGE = Claim("c", Quantity.TUNER_RANGE, (BAND,), 1.5, stated="16 to 150 Ω")
TIME = Claim("t", Quantity.TUNER_TIME, (), 5.0)
RECALL = Claim("m", Quantity.RECALL, (), 1.0)


def tried(load, swr=1.2, outcome=Outcome.MATCHED, hz=14.2e6, **more):
    return Trial(f"{load}{hz}", "s", "u", hz, outcome, load=load, swr_after=swr, instrument_id="i", **more)


def case(trials, claims=(RANGE,), **more):
    numbered = tuple(replace(t, id=str(n)) for n, t in enumerate(trials))
    return Evaluation(
        "Tuner", Product("Tuner"), samples=(Sample("s", "one"),), setups=(Setup("u", "as supplied"), Setup("v", "added", role=Role.ADDED)),
        instruments=(Instrument("i", "analyzer"),), claims=claims, trials=numbered, **more,
    )  # fmt: skip


def verdict(*trials, claim=RANGE, **more):
    (found,) = judge(case(trials, (claim,), **more)).claims
    return found.verdict, found.reason


WHOLE = (tried("16"), tried("50"), tried("150"))


@pytest.mark.parametrize(
    ("trials", "expected", "said"),
    [
        (WHOLE, Verdict.PASS, "3 of 3 matched within 1.5:1 (at least 37 %"),
        (WHOLE[:2], Verdict.NOT_SHOWN, "Not shown: 14.174 MHz into 150 Ω"),
        ((), Verdict.NOT_SHOWN, "no trial of this sample yet"),
        ((*WHOLE[:2], tried("150", None, Outcome.REFUSED)), Verdict.NOT_SHOWN, "Try it again"),
        ((*WHOLE[:2], *2 * (tried("150", None, Outcome.REFUSED),)), Verdict.FAIL, "14.2 MHz into 150 Ω (refused, 0 of 2"),
        ((*WHOLE[:2], *2 * (tried("150", 1.9),)), Verdict.FAIL, "1.9:1"),
        ((*WHOLE, tried("150", None, Outcome.GAVE_UP)), Verdict.TOO_CLOSE, "1 of 2 within"),
        ((*WHOLE[:2], tried("150", 1.5)), Verdict.TOO_CLOSE, "Matched at one time and not at another"),
        ((*WHOLE, tried("10", None, Outcome.REFUSED)), Verdict.PASS, "3 of 3"),
        ((*WHOLE[:2], tried("150", None, Outcome.STOPPED)), Verdict.NOT_SHOWN, "into 150 Ω"),
        ((*WHOLE[:2], tried("150", None)), Verdict.NOT_SHOWN, "into 150 Ω"),
        ((*WHOLE[:2], replace(tried("150"), setup_id="v")), Verdict.NOT_SHOWN, "into 150 Ω"),
        ((*WHOLE[:2], replace(tried("150"), set_aside="the box was warm")), Verdict.NOT_SHOWN, "into 150 Ω"),
        ((*WHOLE[:2], replace(tried("150"), instrument_id="")), Verdict.NOT_SHOWN, "into 150 Ω"),
    ],
)  # fmt: skip
def test_a_range_rests_on_its_edges_and_inside(trials, expected, said):
    found, reason = verdict(*trials)
    assert (found, said in reason) == (expected, True), reason
    assert trials == () or "trials.not_radiation" in codes(reason)


def test_any_load_is_never_shown_but_can_fail():
    claim = replace(RANGE, stated="any load")
    assert verdict(*WHOLE, claim=claim)[0] is Verdict.NOT_SHOWN
    refused = tried("wire of 40 m", None, Outcome.REFUSED)
    assert verdict(*WHOLE, refused, refused, claim=claim)[0] is Verdict.FAIL


def test_what_range_is_meant_is_asked_where_it_is_not_written():
    found, reason = verdict(*WHOLE, claim=replace(RANGE, stated="most antennas"))
    assert found is Verdict.NOT_SHOWN
    assert "write 10 to 1000 Ω" in reason


def test_every_window_has_its_own_verdict():
    claim = replace(RANGE, windows=(BAND, Window(21e6, 21.45e6, "15m")))
    (found,) = judge(case(WHOLE, (claim,))).claims
    assert [w.verdict for w in found.windows] == [Verdict.PASS, Verdict.NOT_SHOWN]


@pytest.mark.parametrize(
    ("swr", "step", "expected"),
    [
        (1.2, 0.01, Verdict.PASS),
        (1.45, 0.01, Verdict.PASS),
        (1.5, 0.01, Verdict.TOO_CLOSE),
        (1.4, 1.0, Verdict.TOO_CLOSE),
    ],
)
def test_a_coarse_digit_leaves_the_residual_open(swr, step, expected):
    figures = Instrument("i", "").figures
    assert trial_verdict(tried("50", swr, swr_step=step), 1.5, figures, DecisionRule.GUARDED)[0] is expected


@pytest.mark.parametrize(
    ("claim", "seconds", "memory", "expected"),
    [
        (TIME, (3, 4, 2), False, Verdict.PASS),
        (TIME, (3, 4), False, Verdict.NOT_SHOWN),
        (TIME, (3, 7, 8), False, Verdict.FAIL),
        (TIME, (3, 4, 7), False, Verdict.TOO_CLOSE),
        (TIME, (3, 4, 4.9), False, Verdict.TOO_CLOSE),
        (TIME, (3, 4, 2), True, Verdict.NOT_SHOWN),
        (RECALL, (0.4, 0.3, 0.5), True, Verdict.PASS),
        (RECALL, (0.4, 5, 6), True, Verdict.FAIL),
    ],
)
def test_times_by_the_longest_of_at_least_three(claim, seconds, memory, expected):
    trials = [tried("50", seconds=s, memory=memory, hz=14.1e6 + n * 1e5) for n, s in enumerate(seconds)]
    assert verdict(*trials, claim=claim)[0] is expected


def test_exact_limits_of_a_share():
    """3 of 3: at least 36.8 % (Clopper and Pearson, one-sided 95 % (memory))."""
    assert share_words(3, 3).startswith("at least 37 %")


# -- The plan ----------------------------------------------------------------------------------------------------------


def test_the_plan_asks_for_what_is_open_alone_and_shares_places_of_two_claims():
    second = replace(RANGE, id="d", limit=2.0)
    whole = plan_trials(case((), (RANGE, second)), "s", {})
    assert [(p.load, p.claim_ids) for p in whole.trials] == [
        ("16 Ω", ("c", "d")),
        ("49 Ω", ("c", "d")),
        ("150 Ω", ("c", "d")),
    ]
    assert [p.load for p in plan_trials(case(WHOLE[:2]), "s", {}).trials] == ["150 Ω"]
    assert plan_trials(case(WHOLE), "s", {}).trials == ()


def test_claims_of_time_add_trials_from_memory():
    planned = plan_trials(case(WHOLE, (RANGE, RECALL)), "s", {}).trials
    assert [p.memory for p in planned] == [True, True, True]


def test_the_time_of_a_tuner_that_gave_up_is_no_time_of_a_match():
    given_up = tuple(replace(t, outcome=Outcome.GAVE_UP, memory=True, seconds=2.0) for t in WHOLE)
    assert len(plan_trials(case((*WHOLE, *given_up), (RANGE, RECALL)), "s", {}).trials) == 3
    matched = tuple(replace(t, memory=True, seconds=2.0) for t in WHOLE)
    assert plan_trials(case((*WHOLE, *matched), (RANGE, RECALL)), "s", {}).trials == ()
