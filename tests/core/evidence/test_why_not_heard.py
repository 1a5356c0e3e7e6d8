"""Why a sweep has no part in a verdict, by the state it is of; and what stands beside."""

from dataclasses import replace

import pytest

from levelmoor.core.evidence.admission import why_not_heard
from levelmoor.core.metrology.decision import conformity_probability
from levelmoor.core.model.claims import Tuner
from levelmoor.core.model.evaluation import Setup
from levelmoor.core.model.state import OpenedRound, Role, Setting
from levelmoor.core.model.through import Fixture
from tests.core.evidence.cases import (
    EIGHTY,
    FORTY,
    PLAIN,
    SWR,
    TWENTY,
    at,
    captured,
    case,
    only,
    peaks,
    radio,
    through,
    trial,
)
from tests.core.evidence.test_one_court import Claim, Quantity

HAT = Setup("hat", "With the hat", role=Role.ADDED)
MARKS = (Setting("m2", "mark 2", (EIGHTY,)), Setting("m5", "mark 5", (TWENTY,)))
OPENED = (OpenedRound("s", "plain", "", 2),)
WITH_TUNER = replace(SWR, tuner=Tuner.WITH)


@pytest.mark.parametrize(
    ("more", "sweep", "words"),
    [
        ({}, {}, ""),
        ({"setups": (PLAIN, HAT)}, {"setup_id": "hat"}, "With the hat"),
        ({}, {"set_aside": "the plug was loose"}, "the plug was loose"),
        ({"settings": MARKS}, {}, "setting"),
        ({"settings": MARKS}, {"setting_id": "m2"}, "mark 2"),
        ({"settings": MARKS}, {"setting_id": "m5"}, ""),
        ({"opened": OPENED}, {}, "2"),
        ({"trials": (trial("t", load_sweep_id="e"),)}, {}, ""),
    ],
)
def test_a_sweep_that_is_not_heard_says_why(more, sweep, words):
    one = at(1.2, **sweep)
    said = why_not_heard(case(one, **more), SWR, one)
    assert words in said and bool(said) is bool(words)


def test_the_load_of_a_trial_is_no_sweep_of_the_tuner():
    load, other = at(4.0), at(1.2, "f")
    tuner = Setup("t", "Tuner", tuner_in_line=True)
    evaluation = case(load, other, claims=(WITH_TUNER,), setups=(PLAIN, tuner), trials=(trial("t", load_sweep_id="e"),))
    claim = replace(WITH_TUNER, setup_id="plain")
    assert "load" in why_not_heard(evaluation, claim, load)
    assert "load" not in why_not_heard(evaluation, claim, other)


def test_a_capture_that_stands_beside_is_told_with_its_figure_and_band():
    claim = Claim("c", Quantity.OUTPUT_POWER, (), 4.0)
    found = only(radio(captured(trace=peaks(watts_dbm=37.0), setup_id="hat"), claims=(claim,), setups=(PLAIN, HAT)))
    (said,) = found.windows[0].beside
    assert said.startswith("With the hat") and "5 W" in said and " on " not in said


@pytest.mark.parametrize(("value", "probability"), [(1.9, 1.0), (2.0, 1.0), (2.1, 0.0)])
def test_a_value_without_uncertainty_is_within_its_limit_or_not(value, probability):
    assert conformity_probability(2.0, value, 0.0) == probability


@pytest.mark.parametrize("role", [Role.AS_SUPPLIED, Role.OPTION])
def test_a_tuner_that_the_box_holds_is_the_one_that_is_claimed(role):
    setup = Setup("t", "Its own tuner", role=role, tuner_in_line=True)
    assert why_not_heard(case(at(1.2), setups=(replace(setup, id="plain"),)), WITH_TUNER, at(1.2)) == ""


def test_an_addition_is_told_as_one_and_not_as_a_tuner():
    one = at(1.2, setup_id="hat")
    assert "tuner" not in why_not_heard(case(one, setups=(PLAIN, HAT)), SWR, one)


def test_a_contradiction_tells_the_uncertainty_where_there_is_a_curve():
    of_curves = only(case(at(2.35), at(1.31, "f", instrument_id="j"))).reason
    of_figures = only(case(at(1.2), at(3.0, "p", span=(14.1e6, 14.3e6), instrument_id="j"))).reason
    assert "with a combined uncertainty of" in of_curves and "with a combined uncertainty of" in of_figures
    low, high = (through(n, 10 ** (-db / 20), fixture=Fixture.THROUGH) for n, db in (("t", 45), ("u", 35)))
    attenuation = Claim("c", Quantity.ATTENUATION, (FORTY,), 40.0)
    reason = only(case(claims=(attenuation,), throughs=(low, high))).reason
    assert "combined uncertainty" not in reason and "35.00 dB" in reason and "45.00 dB" in reason
