"""The quick entry line: understood as meant, asked where it could mean two things, refused where it says nothing."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.claims.claim_conflicts import conflicts
from levelmoor.core.claims.claim_text import understand
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.rf.windows import Window


@pytest.mark.parametrize(
    ("text", "wording"),
    [
        ("SWR < 1.5 2m 70cm", "SWR at most 1.5:1 on 2m, 70cm"),
        ("<1.5 144-146", "SWR at most 1.5:1 on 144.000–146.000 MHz"),
        ("under 2:1 from 3.5 to 55 MHz without a tuner", "SWR at most 2:1 on 3.500–55.000 MHz"),
        ("VSWR <= 1,5 : 1 on 20 m and 15 m", "SWR at most 1.5:1 on 20m, 15m"),
        ("swr max 1.35 144.8 to 145.8; 433-435", "SWR at most 1.35:1 on 144.800–145.800 MHz, 433.000–435.000 MHz"),
        ("SWR 1.5 3,5-3,8 MHz", "SWR at most 1.5:1 on 3.500–3.800 MHz"),
        ("SWR < 2 40-20m", "SWR at most 2:1 on 40m, 30m, 20m"),
        ("SWR < 1.5 145.5 MHz ± 0.5 MHz", "SWR at most 1.5:1 on 145.000–146.000 MHz"),
        ("SWR < 1.5 within 200 kHz of 14.2 MHz", "SWR at most 1.5:1 on 14.000–14.400 MHz"),
        ("SWR < 1.5 at 100 W on 40m", "SWR at most 1.5:1 on 40m"),
        ("RL 14 dB 50.2 to 50.4", "Return loss at least 14 dB on 50.200–50.400 MHz"),
        ("bandwidth 200 kHz at 2:1 on 40m", "Bandwidth at least 200 kHz at 2:1 on 40m"),
        ("1.5 MHz wide 6m", "Bandwidth at least 1500 kHz at 2:1 on 6m"),
        ("resonant on 20m", "Resonant on 20m"),
        ("50 ohm", "Nominal impedance 50 Ω"),
        ("connector: SO-239", "Connector UHF female"),
        ("output 5 W 2m", "Output power 5 W on 2m"),
        ("harmonics -60 dBc 2m 5 W", "Harmonics down by 60 dB at 5 W on 2m"),
        ("choking impedance 5 kohm 1.8 - 30 MHz", "Choking impedance at least 5000 Ω on 1.800–30.000 MHz"),
        ("attenuation 40 dB at 146 MHz", "Attenuation at least 40 dB at 146 MHz"),
        ("tunes 16-150 ohm 40m", "Matches 16 to 150 Ω on 40m"),
        ("matches in 5 s", "Matching time at most 5 s"),
        ("tuning time 2 to 15 s", "Matching time at most 15 s"),
        ("matches 16-150 ohm within 1.5:1 40m", "Matches 16 to 150 Ω to 1.5:1 on 40m"),
        ("tunes loads up to 3:1 to 1.5:1 40m", "Matches up to 3:1 to 1.5:1 on 40m"),
        ("tunes any wire 40m", "Matches any load on 40m"),
        ("matches 10 to 1 kohm 40m", "Matches 10 to 1000 Ω on 40m"),
        ("recalls from memory in 200 ms", "Recall time at most 0.2 s"),
        ("insertion loss < 0.3 dB 2m", "Insertion loss at most 0.3 dB on 2m"),
        ("pad 30 dB ± 0.2 dB 2m", "Attenuation 30 dB ± 0.2 dB on 2m"),
        ("pad 29.5 dB 2m", "Attenuation 29.5 dB ± 0.05 dB on 2m"),
        ("100 W continuous", "Power handling 100 W continuous"),
        ("gain 2.1 dBi", "Gain 2.1 dBi"),
        ("100 W SSB", "Power handling 100 W SSB"),
        ("front to back better than 18 dB", "Pattern front to back better than 18 dB"),
        ("waterproof IP67", "Weather sealing waterproof IP67"),
    ],
)
def test_understood_as_meant(text, wording):
    found = understand(text, 1)
    assert found.claim is not None, found
    assert (found.claim.wording, found.leftover) == (wording, "")


@pytest.mark.parametrize(
    ("text", "tuner"), [("2:1 160m with a tuner", "with"), ("2:1 20m no tuner", "without"), ("2:1 20m", "without")]
)
def test_tuner_is_part_of_the_claim(text, tuner):
    assert understand(text, 1).claim.tuner.value == tuner


def test_duty_mode_and_setup():
    claim = understand("harmonics 40 dB 2m 5 W FM 25% duty On the rucksack", 1, (Setup("7", "On the rucksack"),)).claim
    assert (claim.mode, claim.duty, claim.power_w, claim.setup_id) == ("FM", 0.25, 5.0, "7")


@pytest.mark.parametrize(
    "text",
    [
        "Power handling 500 W CW at 50 % duty",
        "Choking impedance at least 3000 Ω on 40m",
        "Attenuation at least 30 dB on 2m",
    ],
)
def test_what_is_claimed_of_an_accessory_says_all_of_it(text):
    found = understand(text, 1)
    assert (found.claim.wording, found.leftover) == (text, "")


def test_bare_number_is_asked_about_with_both_meanings():
    (question,) = understand("SWR < 1.5 2", 1).questions
    assert question.words == 'Does "2" mean the 2 m band or 2 MHz?'
    answer = understand(question.answers[0][1], 1)
    assert answer.claim.windows[0].name == "2m"


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("lovely antenna", "is not a clear claim"),
        ("SWR on 2m", "has no figure"),
        ("SWR < 0.9 2m", "above 1"),
        ("SWR<2 7.129,5 to 7.2", "is unclear"),
        ("SWR < 2 99m", 'no band "99m"'),
        ("Attenuation 30 dB DC to 3 GHz", '"DC to 3 GHz" has no lower end'),
        ("SWR < 1.2 dc-1000 MHz", "write both ends"),
        ("return loss 30 dB up to 1 GHz", '"up to 1 GHz" has no lower end'),
    ],
)
def test_what_says_nothing_is_refused_with_what_would(text, words):
    found = understand(text, 1)
    assert found.claim is None
    assert words in found.problem


def test_words_that_are_not_understood_are_named():
    assert understand("SWR < 1.5 2m guaranteed by Ted", 1).leftover == "by Ted"


@given(st.text(max_size=40))
def test_no_line_is_too_odd(text):
    found = understand(text, 2)
    assert found.claim or found.problem or found.questions or not text.strip()


@given(st.floats(1.01, 20).map(lambda x: round(x, 2)), st.sampled_from(["2m", "20m", "70cm", "6m", "160m"]))
def test_what_a_claim_says_is_understood_as_that_claim(limit, band):
    claim = understand(f"SWR < {limit} {band}", 1).claim
    assert (claim.limit, claim.windows[0].name) == (limit, band)
    assert understand(claim.wording.replace(" on ", " "), 1).claim == claim


# -- Duplicates and contradictions -----------------------------------------------------------------------------------

TWO, PART = Window(144e6, 146e6, "2m"), Window(144.8e6, 145.8e6)


def swr(ident, limit, window=TWO, source="box", **more):
    return Claim(ident, Quantity.SWR, (window,), limit, source=source, **more)


def test_leaflet_against_box_is_pointed_out():
    (found,) = conflicts((swr("1", 1.5), swr("2", 2.0, source="leaflet")))
    assert not found.duplicate
    assert "box says 1.5:1, leaflet says 2:1 on 2m" in found.words


def test_same_twice_is_a_duplicate():
    (found,) = conflicts((swr("1", 1.5), swr("2", 1.5)))
    assert found.duplicate


@pytest.mark.parametrize(
    "other",
    [
        swr("2", 2.0, Window(430e6, 440e6)),
        swr("2", 2.0, setup_id="u"),
        Claim("2", Quantity.GAIN, (), 3.0),
        swr("2", 1.5, PART),
    ],
)
def test_claims_of_other_things_do_not_meet(other):
    assert conflicts((swr("1", 1.5), other)) == ()


@pytest.mark.parametrize("text", ["SWR < 2 at 7.1 MHz", "SWR < 2 7100 kHz", "SWR < 2 at 7.1"])
def test_a_single_frequency_is_a_spot(text):
    found = understand(text, 1)
    assert [(w.low_hz, w.spot) for w in found.claim.windows] == [(7.1e6, True)]
