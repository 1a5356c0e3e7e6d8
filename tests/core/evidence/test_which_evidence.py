"""Which of several sweeps decides: setup and role, setting, round, what is heard, and what contradicts."""

from dataclasses import replace

import numpy as np
import pytest

from levelmoor.core.evidence.findings import Part
from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.claims import Claim, Tuner
from levelmoor.core.model.equipment import Equipment, FeedLine
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Instrument, Plane, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.state import Role, Setting, proposed_role, setting_named
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from tests.codes import codes
from tests.sweeps import flat, rlc_sweep

TWENTY, FORTY = Window(14e6, 14.35e6, "20m"), Window(7e6, 7.2e6, "40m")
CLAIM = Claim("c", Quantity.SWR, (TWENTY,), 2.0)
PLAIN = Setup("plain", "Plain")


def at(swr, ident="e", **more):
    """A sweep of 20 m that reads one SWR throughout."""
    given = {"setup_id": "plain", "instrument_id": "i", "sha256": ident, **more}
    return Evidence(
        ident, ident, "s", calibration=Calibration.AT_PLANE, sweep=flat(float(gamma_from_swr(swr))), **given
    )


def case(*sweeps, setups=(PLAIN,), claims=(CLAIM,), **more):
    return Evaluation(
        "case", Product("antenna"), samples=(Sample("s", "Unit"),), claims=claims, setups=setups,
        instruments=(Instrument("i", "Analyzer"), Instrument("j", "Second analyzer")), sweeps=sweeps, **more,
    )  # fmt: skip


def only(evaluation):
    (found,) = judge(evaluation).claims
    return found


# -- Setup and role --------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("role", [Role.OPTION, Role.ADDED, Role.COMPARISON])
def test_only_what_is_as_supplied_decides_and_the_rest_stands_beside(role):
    found = only(case(at(3.0), at(1.2, "hat", setup_id="hat"), setups=(PLAIN, Setup("hat", "With the hat", role=role))))
    assert found.verdict is Verdict.FAIL
    assert found.windows[0].sweep_id == "e"
    (beside,) = found.windows[0].beside
    assert beside.startswith("With the hat (") and "1.20 at worst on 20m, pass by itself" in beside


def test_a_comparison_place_does_not_lift_a_verdict_that_is_too_close():
    found = only(
        case(at(1.98), at(1.14, "garage", setup_id="g"), setups=(PLAIN, Setup("g", "Garage", role=Role.COMPARISON)))
    )
    assert found.verdict is Verdict.TOO_CLOSE


def test_with_nothing_as_supplied_nothing_is_shown_and_it_is_said_why():
    found = only(case(at(1.2, setup_id="hat"), setups=(PLAIN, Setup("hat", "With the hat", role=Role.ADDED))))
    assert found.verdict is Verdict.NOT_SHOWN
    assert "With the hat is an addition" in found.reason


def test_a_claim_that_names_an_option_is_decided_there():
    claim = replace(CLAIM, setup_id="hat")
    setups = (PLAIN, Setup("hat", "With the hat", role=Role.OPTION))
    assert only(case(at(3.0), at(1.2, "hat", setup_id="hat"), setups=setups, claims=(claim,))).verdict is Verdict.PASS


def test_a_claim_tied_to_a_setup_that_was_swept_too_coarsely_says_so():
    coarse = replace(at(1.2, "hat", setup_id="hat"), sweep=flat(0.1, points=11))
    claim = replace(CLAIM, setup_id="hat")
    found = only(case(at(1.2), coarse, setups=(PLAIN, Setup("hat", "Hat")), claims=(claim,)))
    assert (found.verdict, "coarse.again" in codes(found.reason)) == (Verdict.NOT_SHOWN, True)


@pytest.mark.parametrize("order", [1, -1])
def test_of_several_setups_as_supplied_the_worst_stands_and_the_other_is_named(order):
    setups = (PLAIN, Setup("r", "On the roof"))[::order]
    found = only(case(at(1.2), at(3.0, "roof", setup_id="r"), setups=setups))
    assert (found.verdict, found.windows[0].setup_id) == (Verdict.FAIL, "r")
    assert "setups.other" in codes(found.reason)


def test_usability_is_of_the_article_as_supplied():
    evaluation = case(at(3.0), at(1.2, "hat", setup_id="hat"), setups=(PLAIN, Setup("hat", "Hat", role=Role.ADDED)))
    (band,) = judge(evaluation).usability
    assert (band.sweep_id, band.state) == ("e", "none")


@pytest.mark.parametrize(
    ("facts", "role"),
    [(("surroundings",), "comparison"), (("height", "near"), "comparison"), (("accessory",), "added"), ((), "added")],
)
def test_the_role_of_a_copy_follows_from_what_changed(facts, role):
    assert proposed_role(facts) == role


# -- Setting ---------------------------------------------------------------------------------------------------------

MARKS = (Setting("m2", "mark 2", (FORTY,)), Setting("m5", "mark 5", (TWENTY,)))


def coil(f0, setting, ident):
    """A whip with its coil at a mark, swept from 3 to 16 MHz."""
    swept = rlc_sweep(3e6, 16e6, 5201, f0=f0, q=8)
    return replace(at(1.2, ident), sweep=swept, setting_id=setting)


def test_each_band_is_decided_by_its_own_setting_and_one_without_is_not_shown():
    thirty = Window(10.1e6, 10.15e6, "30m")
    claim = replace(CLAIM, windows=(TWENTY, FORTY, thirty))
    found = only(case(coil(14.17e6, "m5", "a"), coil(7.1e6, "m2", "b"), claims=(claim,), settings=MARKS))
    assert [(w.verdict, w.sweep_id) for w in found.windows[:2]] == [(Verdict.PASS, "a"), (Verdict.PASS, "b")]
    assert found.windows[2].reason == "No setting for 30m has been swept."


def test_one_setting_for_all_is_decided_by_that_one_alone():
    claim = replace(CLAIM, windows=(TWENTY, FORTY), one_setting=True)
    sweeps = coil(14.17e6, "m5", "a"), coil(7.1e6, "m2", "b")
    assert "setting.no_one" in codes(only(case(*sweeps, claims=(claim,), settings=MARKS)).reason)
    both = (*MARKS, Setting("x", "everywhere", (TWENTY, FORTY)))
    found = only(case(*sweeps, coil(14.17e6, "x", "c"), claims=(claim,), settings=both))
    assert (found.verdict, {w.sweep_id for w in found.windows}) == (Verdict.FAIL, {"c"})


TOO_CLOSE, GAPPED = 1.97, (14.1e6, 14.2e6)
"""At 2:1 with the usual figures; and a sweep of a part of the band, which shows nothing."""


@pytest.mark.parametrize("order", [1, -1])
@pytest.mark.parametrize(
    ("one", "other", "kindest"),
    [
        (1.2, TOO_CLOSE, Verdict.PASS),
        (1.2, 3.0, Verdict.PASS),
        (1.2, None, Verdict.PASS),
        (TOO_CLOSE, None, Verdict.TOO_CLOSE),
        (TOO_CLOSE, 3.0, Verdict.TOO_CLOSE),
        (None, 3.0, Verdict.NOT_SHOWN),
        (3.0, 3.5, Verdict.FAIL),
    ],
)
def test_of_several_settings_for_a_band_the_kindest_keeps_the_claim(one, other, kindest, order):
    def swept(swr, setting):
        sweep = at(swr or 1.2, setting, setting_id=setting)
        return sweep if swr else replace(sweep, sweep=sweep.sweep.cut(*GAPPED))

    settings = (Setting("m5", "mark 5", (TWENTY,)), Setting("m6", "mark 6", (TWENTY,)))
    found = only(case(*(swept(one, "m5"), swept(other, "m6"))[::order], settings=settings[::order]))
    assert found.verdict is kindest


def test_a_sweep_that_says_no_setting_is_asked_for_it():
    found = only(case(at(1.2), settings=MARKS[:1]))
    assert "setting.unsaid_by" in codes(found.reason)


def test_one_sweep_through_a_tuner_past_the_limit_does_not_fail_a_band():
    through = Setup("t", "Through the tuner", tuner_in_line=True, role=Role.OPTION)
    claim = replace(CLAIM, tuner=Tuner.WITH)
    found = only(case(at(3.0, setup_id="t"), setups=(through,), claims=(claim,)))
    assert (found.verdict, "tuner.one_setting" in codes(found.reason)) == (Verdict.NOT_SHOWN, True)


@pytest.mark.parametrize(("swr", "verdict"), [(1.2, Verdict.NOT_SHOWN), (3.0, Verdict.FAIL)])
def test_trials_of_a_tuner_decide_at_their_own_frequencies(swr, verdict):
    through = Setup("t", "Through the tuner", tuner_in_line=True, role=Role.OPTION)
    trial = Setting("k", "14.2 MHz", (Window(14.2e6, 14.2e6),))
    claim = replace(CLAIM, tuner=Tuner.WITH)
    found = only(case(at(swr, setup_id="t", setting_id="k"), setups=(through,), claims=(claim,), settings=(trial,)))
    assert (found.verdict, "14.200 MHz" in found.reason) == (verdict, True)


@pytest.mark.parametrize(
    ("name", "found"),
    [("whip_mark-2.s1p", "m2"), ("mark 5 again.csv", "m5"), ("mark.s1p", ""), ("mark 2 and mark 5.csv", "")],
)
def test_a_file_that_is_named_after_a_setting_is_taken_in_it(name, found):
    said = setting_named(name, MARKS)
    assert (said.id if said else "") == found


# -- Round -----------------------------------------------------------------------------------------------------------


def test_the_latest_round_decides_and_its_repeats_are_one():
    repeats = [at(1.3 + 0.01 * n, f"r{n}", round=2) for n in range(3)]
    found = only(case(at(3.0), *repeats))
    assert found.verdict is Verdict.PASS
    (piece,) = found.windows[0].pieces
    assert (piece.sweep_ids, piece.round, piece.part) == (("r0", "r1", "r2"), 2, Part.DECIDES)


def test_rounds_of_readings_worst_first_are_decided_by_the_last():
    f = np.linspace(13.95e6, 14.4e6, 31)

    def sheet(swr, n):
        g = np.full(31, gamma_from_swr(swr), dtype=complex)
        half = np.full(31, float(gamma_from_swr(swr + 0.05) - gamma_from_swr(swr)))
        return replace(at(swr, f"n{n}", round=n), sweep=Sweep(f, g, scalar=True, half_step_gamma=half))

    assert only(case(sheet(2.6, 1), sheet(2.2, 2), sheet(1.6, 3))).windows[0].sweep_id == "n3"


def test_what_was_not_swept_since_the_adjustment_is_not_shown():
    late = replace(at(1.2, "late", round=2), sweep=flat(0.1, 7e6, 7.3e6))
    found = only(case(at(1.2), late))
    assert (found.verdict, "round.not_swept" in codes(found.reason)) == (Verdict.NOT_SHOWN, True)


def test_three_rounds_without_a_word_are_asked_about_and_not_pooled():
    evaluation = case(at(1.9, "a"), at(1.6, "b"), at(1.2, "c"))
    findings = judge(evaluation)
    assert [(q.first_id, q.second_id) for q in findings.questions] == [("a", "b"), ("b", "c")]
    assert all(len(p.sweep_ids) == 1 for p in findings.claims[0].windows[0].pieces)
    same = replace(evaluation, sweeps=tuple(replace(e, not_adjusted=True) for e in evaluation.sweeps))
    assert judge(same).questions == ()
    assert judge(same).claims[0].windows[0].pieces[0].sweep_ids == ("a", "b", "c")


# -- Heard, contradicting, set aside ---------------------------------------------------------------------------------


def test_two_analyzers_that_contradict_each_other_show_nothing_and_both_are_named():
    found = only(case(at(2.35), at(1.31, "f", instrument_id="j")))
    assert found.verdict is Verdict.NOT_SHOWN
    assert found.reason.startswith("The figures contradict each other: ")
    for words in ("Analyzer (e) reads 2.35", "Second analyzer (f) reads 1.31", "sweep the same known load with both"):
        assert words in found.reason
    assert {p.part for p in found.windows[0].pieces} == {Part.CONTRADICTS}


@pytest.mark.parametrize(("swr", "apart"), [(2.06, False), (2.25, True)])
def test_figures_contradict_beyond_twice_their_combined_uncertainty(swr, apart):
    """The one that would fail surely, the other too close; some three and some one and a half of u apart."""
    close = at(1.99, "f", instrument_id="j")
    found = only(case(at(swr), close))
    assert ("contradict each other" in found.reason or "instruments differ" in found.reason) is apart, found.reason


def test_a_disagreement_that_both_verdicts_survive_is_said_beside_it():
    found = only(case(at(1.5), at(1.2, "f", instrument_id="j")))
    assert found.verdict is Verdict.PASS
    assert "differ.beside" in codes(found.reason)


def test_one_set_aside_is_not_heard_and_its_reason_is_kept():
    aside = at(1.31, "f", instrument_id="j", set_aside="its open was loose")
    found = only(case(at(2.35), aside))
    assert found.verdict is Verdict.FAIL
    assert [p.words for p in found.windows[0].pieces if p.part is Part.SET_ASIDE] == [
        "f was left out of the verdict: its open was loose"
    ]


def test_who_leads_depends_on_the_instrument_and_not_on_what_it_read():
    rough = Instrument("j", "Meter", figures=Residuals(directivity_db=30))
    for good, other in ((1.2, 1.3), (1.3, 1.2)):
        evaluation = replace(case(at(good), at(other, "f", instrument_id="j")))
        evaluation = replace(evaluation, instruments=(evaluation.instruments[0], rough))
        assert only(evaluation).windows[0].sweep_id == "e"


def test_having_repeated_does_not_give_the_lead_to_the_other_instrument():
    repeats = [at(1.3 + 0.02 * n, f"r{n}") for n in range(3)]
    rough = Instrument("j", "Meter", figures=Residuals(directivity_db=30))
    evaluation = case(*repeats, at(1.3, "m", instrument_id="j"))
    evaluation = replace(evaluation, instruments=(evaluation.instruments[0], rough))
    assert only(evaluation).windows[0].instrument_id == "i"


@pytest.mark.parametrize("sample", [Sample("s", "Unit", control=True), Sample("s", "Unit", suspicion="no serial")])
def test_a_control_and_a_suspected_counterfeit_are_shown_and_not_counted(sample):
    findings = judge(replace(case(at(3.0)), samples=(sample,)))
    assert findings.claims[0].verdict is Verdict.FAIL
    assert (findings.claims[0].counted, findings.summary) == (False, {})


def test_a_shack_fail_names_the_impedance_it_holds_for():
    line = Equipment(lines=(FeedLine("w", "line", "RG-58", 10.0),))
    found = only(case(at(3.0), setups=(replace(PLAIN, plane=Plane.SHACK, line_id="w"),), equipment=line))
    assert "plane.holds" in codes(found.reason)


@pytest.mark.parametrize("pair", [(2.35, 1.31), (3.0, 1.2), (1.3, 2.4)])
def test_two_that_clearly_differ_and_were_said_to_repeat_are_no_surer_than_they_agree(pair):
    found = only(case(at(pair[0], "a"), at(pair[1], "b", not_adjusted=True)))
    assert found.windows[0].pieces[0].sweep_ids == ("a", "b")
    assert found.verdict is Verdict.TOO_CLOSE


def test_usability_carries_the_curve_that_it_speaks_of():
    """Two repeats of 1.2 and 1.4: what is drawn is their mean, which the share was taken of, and not the last file."""
    found = judge(case(at(1.2, "a"), at(1.4, "b", not_adjusted=True)))
    (use,) = (u for u in found.usability if u.band == "20m")
    mean = (gamma_from_swr(1.2) + gamma_from_swr(1.4)) / 2
    assert np.allclose(use.curve.magnitude, mean)
    assert (use.curve.low_hz, use.curve.high_hz) == (14e6, 14.35e6)
    assert judge(case(at(1.2))).usability[0].curve is None
