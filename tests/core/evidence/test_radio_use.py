"""What a radio makes of a band, and every profile side by side."""

from dataclasses import replace

import numpy as np
import pytest

from levelmoor.core.evidence.radio_use import Use, fold_back, use_on
from levelmoor.core.judge import judge
from levelmoor.core.model.equipment import Equipment, Radio
from levelmoor.core.model.usability import PROFILES
from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.feedline import LineFigures
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.window_text import parse_windows
from levelmoor.core.rf.windows import Window
from tests.core.adjusting.test_round_log import case, swept

BAND = Window(14.0e6, 14.35e6, "20m")
HUNDRED = Curve((1e6,), (100.0,))
RADIO = Radio(
    "r", "Set", HUNDRED, ranges=(Window(1.8e6, 30e6),), fold_back=((1.5, 1.0), (2.0, 0.8), (3.0, 0.4), (5.0, 0.1))
)


THREE = ((2.0, 1.0), (2.5, 0.7), (3.0, 0.5))


def at_swr(swr):
    f = np.linspace(13.9e6, 14.45e6, 111)
    return Sweep(f, np.broadcast_to(gamma_from_swr(np.asarray(swr, float)), f.shape).astype(complex), 50.0)


@pytest.mark.parametrize(
    ("radio", "swr", "use", "watts"),
    [
        (RADIO, 1.2, Use.FULL, 100), (RADIO, 2.0, Use.REDUCED, 80), (RADIO, 4.0, Use.REDUCED, 25), (RADIO, 8.0, Use.NOT_USABLE, 0),
        (replace(RADIO, fold_back=THREE), 20.0, Use.NOT_USABLE, 0), (replace(RADIO, fold_back=THREE, tuner_swr=25.0), 20.0, Use.TUNER, 0),
        (replace(RADIO, tuner_swr=6.0), 2.0, Use.TUNER, 80), (replace(RADIO, tuner_swr=6.0), 1.2, Use.FULL, 100),
        (replace(RADIO, tuner_swr=6.0), 4.9, Use.TUNER, 12), (replace(RADIO, tuner_swr=4.0), 4.9, Use.NOT_USABLE, 12),
    ],
)  # fmt: skip
def test_the_use_by_its_fold_back_and_its_tuner(radio, swr, use, watts):
    found = use_on(radio, "s", BAND, at_swr(swr), None, None)
    assert (found.use, round(found.watts)) == (use, pytest.approx(watts, abs=1))


def test_a_small_radio_is_told_in_tenths_of_a_watt():
    small = replace(RADIO, power_w=Curve((1e6,), (4.5,)), fold_back=())
    assert "4.5 W" in use_on(small, "s", BAND, at_swr(1.2), None, None).words


def test_what_arrives_is_what_is_given_less_reflection():
    """SWR 3 reflects a quarter (the table of any handbook): 40 W given, 30 W go in."""
    found = use_on(RADIO, "s", BAND, at_swr(3.0), None, None)
    assert (found.reflected, found.mismatch_db) == (pytest.approx(0.25), pytest.approx(1.249, abs=0.001))
    assert found.arrives_w == pytest.approx(30.0)


def test_through_a_line_its_whole_loss_counts():
    """1 dB matched, SWR 3 at the antenna: 1.504 dB in all (amateur handbooks (memory)); the shack end reads 2.318."""
    line = LineFigures(Curve((1e6,), (1.0,)), 1e-7, 0.0)
    near = replace(at_swr(1.0), gamma=np.full(111, 0.5 * 10 ** (-1 / 10) + 0j))
    found = use_on(replace(RADIO, fold_back=((1.0, 1.0), (9.0, 1.0))), "s", BAND, near, at_swr(3.0), line)
    assert found.line_db == pytest.approx(1.504, abs=0.001)
    assert found.arrives_w == pytest.approx(100 * (1 - 0.5**2 * 10**-0.2) * 10**-0.1504, rel=1e-3)


@pytest.mark.parametrize(
    ("tolerates", "swr", "share"),
    [(2.0, 2.0, 1.0), (2.0, 3.0, 0.5), (3.0, 3.0, 1.0), (3.0, 5.0, 0.5), (2.0, np.inf, 0.1)],
)
def test_without_a_table_the_typical_one_in_proportion_to_what_it_tolerates(tolerates, swr, share):
    assert float(fold_back(Radio("r", "Set", tolerates_swr=tolerates), np.array(swr))) == pytest.approx(share)


@pytest.mark.parametrize(
    ("ranges", "shown"), [((Window(7e6, 7.2e6),), False), ((Window(14e6, 14.1e6),), True), ((Window(1e6, 30e6),), True)]
)
def test_only_where_it_transmits(ranges, shown):
    found = use_on(replace(RADIO, ranges=ranges), "s", BAND, at_swr(1.2), None, None)
    assert (found is not None) is shown
    if shown and ranges[0].high_hz == 14.1e6:
        assert "It transmits on" in found.words


def test_judging_shows_every_profile_and_every_radio_of_a_band():
    of = case(swept("one", 145e6, 1))
    of = replace(of, equipment=Equipment(radios=(replace(RADIO, ranges=(Window(144e6, 148e6),)),)))
    found = judge(of)
    (use,) = [u for u in found.usability if u.band == "2m"]
    mine = [p for p in found.profiles if p.band == "2m"]
    assert {p.profile for p in mine} >= {p.name for p in PROFILES.values()}
    assert next(p.share for p in mine if p.limit_swr == of.profile.limit_swr) == use.share
    assert [p.share for p in sorted(mine, key=lambda p: p.limit_swr)] == sorted(p.share for p in mine)
    assert [r.band for r in found.radios] == ["2m"]


def test_an_own_band_has_its_usability():
    of = replace(case(swept("one", 145e6, 1)), own_bands=(Window(144.5e6, 145.5e6, "Marshals"),))
    assert "Marshals" in [u.band for u in judge(of).usability]


@pytest.mark.parametrize(("claimed", "shown"), [("CB", True), ("2m", False)])
def test_the_citizens_band_has_its_usability_where_a_claim_names_it(claimed, shown):
    f = np.linspace(26e6, 28.5e6, 251)
    sweep = Sweep(f, np.full(f.size, 0.1 + 0j), 50.0)
    of = case(replace(swept("one", 145e6, 1), sweep=sweep))
    of = replace(of, claims=(replace(of.claims[0], windows=parse_windows(claimed, 1)),))
    assert ("CB" in [u.band for u in judge(of).usability]) is shown
