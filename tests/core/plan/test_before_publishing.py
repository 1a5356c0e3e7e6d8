"""What a reader would ask, and what an instrument can decide."""

from dataclasses import replace

import numpy as np
import pytest

from levelmoor.core.evidence.aside import without_what_is_aside
from levelmoor.core.judge import judge
from levelmoor.core.metrology.decidable import decidable
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Instrument, InstrumentClass
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Obtained, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.trials import Outcome, Trial
from levelmoor.core.plan.before_publishing import Asked, reader_questions
from levelmoor.core.plan.can_decide import can_decide
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window

WINDOWS = (Window(7e6, 7.2e6, "40m"), Window(14e6, 14.35e6, "20m"))
CLAIM = Claim(id="c", quantity=Quantity.SWR, limit=1.5, windows=WINDOWS, source="box", seen_on="2026-05-01")
SAMPLE = Sample("s", "Unit 1", "7", Obtained.BOUGHT)


def swept(ident, gamma, **said):
    f = np.linspace(6.5e6, 15e6, 851)
    sweep = Sweep(f, np.full(f.size, gamma, complex), 50.0, False)
    base = {"calibration": Calibration.AT_PLANE, "taken_on": "2026-05-02"} | said
    return Evidence(ident, ident, "s", "u", "i", sweep=sweep, **base)


def case(*sweeps, **said):
    given = {"samples": (SAMPLE,), "claims": (CLAIM,), "setups": (Setup("u", "As it came"),)} | said
    return Evaluation("Whip", Product("Whip"), instruments=(Instrument("i", "Analyzer"),), sweeps=sweeps, **given)


def asked(evaluation):
    return [(q.asked, q.words) for q in reader_questions(evaluation, judge(evaluation))]


@pytest.mark.parametrize(
    ("evaluation", "expected"),
    [
        (case(swept("a", 0.05), samples=(replace(SAMPLE, serial=""),)), (Asked.NOT_STATED, "Unit 1: its serial, its connector")),
        (case(swept("a", 0.05), claims=(replace(CLAIM, source=""),)), (Asked.NOT_STATED, "its source")),
        (case(swept("a", 0.05, taken_on="")), (Asked.NOT_STATED, "a: when it was taken")),
        (case(), (Asked.NOT_SHOWN, "Unit 1 has no evidence at all")),
        (case(swept("a", 0.05), swept("b", 0.05, set_aside="Wind.")), (Asked.NOT_HEARD, "b: it was left out of the verdict: Wind.")),
        (case(swept("a", 0.05), setups=(Setup("u", "Mast", set_aside="It swayed."),)), (Asked.NOT_HEARD, "a: left out with Mast: It swayed.")),
        (case(swept("a", 0.05), claims=(CLAIM, replace(CLAIM, id="d", limit=2.0, source="page"))), (Asked.CONTRADICTION, "")),
        (case(swept("a", 0.05)), (Asked.CAUTION, "One sample")),
    ],
)  # fmt: skip
def test_each_kind_of_question_is_asked(evaluation, expected):
    kind, words = expected
    assert any(q[0] is kind and words in q[1] for q in asked(evaluation)), asked(evaluation)


def test_nothing_is_asked_of_what_is_said():
    said = [
        q for q in asked(case(swept("a", 0.05), samples=(replace(SAMPLE, serial="9"),))) if q[0] is Asked.NOT_STATED
    ]
    assert said == [(Asked.NOT_STATED, "Unit 1: its connector")]


def test_every_band_that_fails_is_named_in_the_reason():
    found = judge(case(swept("a", 0.6))).claims[0]
    assert found.verdict is Verdict.FAIL
    assert [name for name in ("40m: SWR", "20m: SWR") if name in found.reason] == [
        "40m: SWR",
        "20m: SWR",
    ]


def test_of_a_sample_that_is_set_aside_nothing_is_judged_and_of_a_setup_nothing_is_heard():
    other = replace(SAMPLE, id="t", label="Unit 2", set_aside="Its plug is loose.")
    evaluation = case(swept("a", 0.05), samples=(SAMPLE, other))
    assert {f.sample_id for f in judge(evaluation).claims} == {"s"}
    aside = case(swept("a", 0.05), setups=(Setup("u", "As it came", set_aside="The mast swayed."),))
    assert judge(aside).claims[0].verdict is Verdict.NOT_SHOWN
    assert without_what_is_aside(aside).sweeps[0].set_aside == "As it came: The mast swayed."
    assert [e.set_aside for e in without_what_is_aside(evaluation).sweeps] == [""]


def test_what_an_instrument_can_decide_is_said_with_the_judges_own_guard():
    figures = Residuals(30.0, 0.02, 30.0)
    words = can_decide(Instrument("i", "A", figures=figures, low_hz=1e6, high_hz=30e6), 1)
    assert f"2:1: up to {decidable(2.0, figures).passes_swr:.2f} passes" in words
    assert words.endswith("; 160m to 10m")
    poor = can_decide(Instrument("i", "A", figures=Residuals(12.0, 0.05, 20.0)), 1)
    assert "1.5:1: cannot be decided" in poor
    assert can_decide(Instrument("i", "A", instrument_class=InstrumentClass.SPECTRUM), 1) == ""


def test_a_sample_that_was_tried_has_evidence():
    trial = Trial("t", "s", "u", 7.1e6, Outcome.MATCHED, load="50 Ω", swr_after=1.2, instrument_id="i")
    assert (Asked.NOT_SHOWN, "Unit 1 has no evidence at all") not in asked(case(trials=(trial,)))


def test_sweeps_that_do_not_decide_for_one_reason_are_one_line():
    sweeps = [swept(f"s{n}", 0.1, calibration=Calibration.NONE) for n in range(12)]
    lines = [words for kind, words in asked(case(*sweeps)) if kind is Asked.NOT_HEARD]
    assert len(lines) == 1
    assert lines[0].startswith("12 sweeps (s0, s1, s2 and 9 more): ")
