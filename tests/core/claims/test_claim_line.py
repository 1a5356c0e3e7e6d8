"""Lines as boxes and leaflets print them: several claims in one, signs, lists, five languages; nothing wrong in silence."""

import json
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from levelmoor.core.claims.claim_line import understand_line
from levelmoor.core.model.claims import Claim, Tuner
from levelmoor.core.model.evaluation import Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.rf.channels import cb_channel_hz, pmr_channel_hz
from levelmoor.core.rf.windows import Window

LEAFLETS = json.loads((Path(__file__).parent / "leaflets.json").read_text("utf-8"))
"""Texts of our own collecting, what each claims, and what of it is asked about; those that claim nothing to be checked, or
could mean two things, have no claim."""


def said(claim):
    """A claim's wording with what it does not tell of itself."""
    more = [f"{claim.z0_ohm:g} Ω"] if claim.z0_ohm != 50 else []
    more += ["with tuner"] if claim.tuner.value == "with" else []
    return ", ".join([claim.wording, *more, *([claim.condition] if claim.condition else [])])


@pytest.mark.parametrize(("text", "claims", "leftover"), LEAFLETS, ids=[t for t, _, _ in LEAFLETS])
def test_leaflet_is_understood_as_it_is_meant(text, claims, leftover):
    found = understand_line(text, 1)
    assert ([said(c) for c in found.claims], found.leftover) == (claims, leftover)


def test_most_leaflets_are_taken_as_they_stand():
    taken = [t for t, claims, leftover in LEAFLETS if claims and not leftover]
    assert len(LEAFLETS) >= 120
    assert len(taken) >= 100


@pytest.mark.parametrize("text", ["other: SWR < 1.5 with a tuner in 2 m, @ 5 W", "Other:  a bag (typ. 43 cm)"])
def test_what_is_kept_verbatim_stays_verbatim(text):
    (claim,) = understand_line(text, 1).claims
    assert claim.stated == " ".join(text.split(":", 1)[1].split())


@pytest.mark.parametrize(
    ("text", "claims"),
    [
        ("SWR min. 1.2 on 2m", ["SWR at most 1.2:1 on 2m", "Other SWR min. 1.2 on 2m"]),
        ("lowest SWR 1.1 on 20m", ["SWR at most 1.1:1 on 20m", "Other lowest SWR 1.1 on 20m"]),
    ],
)  # fmt: skip
def test_a_lowest_swr_is_asked_about(text, claims):
    (question,) = understand_line(text, 1).questions
    assert [said(understand_line(line, 1).claims[0]) for _, line in question.answers] == claims


def test_what_is_no_clear_claim_is_offered_to_be_kept_as_words():
    (question,) = understand_line("useful from 100 kHz to 1.2 GHz", 1).questions
    (claim,) = understand_line(question.answers[0][1], 1).claims
    assert claim.stated == "useful from 100 kHz to 1.2 GHz"


def test_a_doubtful_channel_is_asked_about_in_place():
    (question,) = understand_line("SWR < 1.5 channel 5", 1).questions
    answers = [understand_line(line, 1).claims[0].windows[0].low_hz for _, line in question.answers]
    assert answers == [cb_channel_hz(5), pmr_channel_hz(5)]


def test_an_answer_rewrites_its_clause_in_the_whole_line():
    (question,) = understand_line("gain 3 dBi; SWR < 1.5 2", 1).questions
    found = understand_line(question.answers[0][1], 1)
    assert [c.wording for c in found.claims] == ["Gain 3 dBi", "SWR at most 1.5:1 on 2m"]


def test_a_setup_that_is_named_holds_for_all_claims_of_the_line():
    found = understand_line("SWR < 1.5 2m, 1.8 70cm with the hat", 1, (Setup("7", "with the hat"),))
    assert [(c.limit, c.setup_id) for c in found.claims] == [(1.5, "7"), (1.8, "7")]


# Channel plans of citizens' band and PMR446, as published by CEPT (memory).
@pytest.mark.parametrize(
    ("number", "mhz"), [(1, 26.965), (4, 27.005), (9, 27.065), (19, 27.185), (23, 27.255), (24, 27.235), (26, 27.265), (40, 27.405)]
)  # fmt: skip
def test_channels_of_citizens_band(number, mhz):
    assert cb_channel_hz(number) / 1e6 == pytest.approx(mhz, abs=1e-9)


def test_channels_of_pmr():
    assert (pmr_channel_hz(1), pmr_channel_hz(16)) == (446.00625e6, 446.19375e6)
    for wrong in (0, 17):
        with pytest.raises(ValueError, match="channels 1 to 16"):
            pmr_channel_hz(wrong)


OWN = [
    Claim("", Quantity.SWR, (Window(144e6, 146e6, "2m"),), 1.6),
    Claim("", Quantity.RETURN_LOSS, (Window(144e6, 146e6, "2m"),), 14.0),
    Claim("", Quantity.BANDWIDTH, (Window(7e6, 7.2e6, "40m"),), 150.0, swr_at=2.0),
    Claim("", Quantity.OUTPUT_POWER, (), 5.0, mode="FM"),
    Claim("", Quantity.POWER, (), 15.0),
    Claim("", Quantity.EMISSIONS, (Window(144e6, 146e6, "2m"),), 60.0, power_w=5.0),
    Claim("", Quantity.EMISSIONS, (), -36.0, unit="dBm"),
    Claim("", Quantity.EMISSIONS, (), None, stated="us-97.307"),
    Claim("", Quantity.GAIN, (), 2.5),
    Claim("", Quantity.IMPEDANCE, (), 50.0),
    Claim("", Quantity.CONNECTOR, stated="BNC male"),
    Claim("", Quantity.TUNER_RANGE, stated="16 to 150 Ω"),
    Claim("", Quantity.TUNER_TIME, (), 6.0),
    Claim("", Quantity.CHOKING, (Window(7e6, 7.2e6, "40m"),), 3000.0),
    Claim("", Quantity.ATTENUATION, (), 30.0),
]


@pytest.mark.parametrize("claim", OWN, ids=lambda c: c.wording)
def test_the_programs_own_wordings_are_understood(claim):
    assert understand_line(claim.wording, 1).claims == (claim,)


@settings(max_examples=40)
@given(st.text(max_size=60))
def test_no_line_is_too_odd(text):
    found = understand_line(text, 2)
    assert found.claims or found.questions or found.problem


@pytest.mark.parametrize("text", ["residual VSWR 1.5:1 or less 40m", "SWR after tuning < 1.5 40m", "tuned SWR 1.5 40m"])
def test_the_swr_that_a_tuner_leaves_is_one_with_the_tuner(text):
    (claim,) = understand_line(text, 1).claims
    assert (claim.limit, claim.tuner, claim.windows[0].name) == (1.5, Tuner.WITH, "40m")


def test_up_to_between_two_figures_is_a_range():
    (claim,) = understand_line("SWR < 2 from 144 MHz up to 146 MHz", 1).claims
    assert [(w.low_hz, w.high_hz) for w in claim.windows] == [(144e6, 146e6)]


def test_an_swr_that_a_tuner_reaches_or_matches_is_asked_about():
    (question,) = understand_line("tunes 80-6m to 1.6:1", 1).questions
    answers = [understand_line(line, 1).claims[0] for _, line in question.answers]
    assert [(c.stated, c.limit) for c in answers] == [("", 1.6), ("up to 1.6:1", None)]


@pytest.mark.parametrize("words", ["without readjusting", "without retuning", "no adjustment needed"])
def test_one_setting_is_claimed_in_words(words):
    (claim,) = understand_line(f"SWR < 2 40m 20m {words}", 1).claims
    assert claim.one_setting and len(claim.windows) == 2
