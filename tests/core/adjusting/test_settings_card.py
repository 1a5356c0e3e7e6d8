"""The settings card: what a setting gives, how a return repeats, marks between, bands that none reaches, slips."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.adjusting.settings_card import card_of, carried, mark_for, slips
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.model.adjusting import Adjustment, Move
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.state import Setting
from levelmoor.core.rf.window_text import parse_windows
from tests.core.adjusting.test_round_log import case, swept

TWO = parse_windows("2m", 1)
RETURN = Adjustment("r", "s1", "u1", "m1")


MARK = Setting("m1", "mark 1", TWO, 1.0)


def card(*sweeps, settings=(MARK,), adjustments=(), claims=()):
    evaluation = case(*sweeps, settings=settings, adjustments=adjustments)
    evaluation = replace(evaluation, claims=(*evaluation.claims, *claims))
    return card_of(evaluation, Dossier(evaluation), "s1", ["u1"])


def at_mark(f0, round_=1, setting="m1"):
    return swept(f"{setting}-{round_}", f0, round_, setting_id=setting)


def test_a_setting_has_its_dip_and_the_edges_within_its_limit():
    ((band,),) = (line.bands for line in card(at_mark(145e6)).lines)
    assert band.shown.dip_hz == pytest.approx(145e6, rel=1e-3)
    assert band.shown.low_hz < 144e6 and band.shown.high_hz > 146e6


def test_three_returns_tell_how_well_the_mark_repeats():
    dips = (145.0e6, 145.3e6, 144.8e6)
    sweeps = [at_mark(f, n) for n, f in enumerate(dips, 1)]
    trips = tuple(replace(RETURN, id=str(n), round=n) for n in (2, 3))
    (line,) = card(*sweeps, adjustments=trips).lines
    assert line.bands[0].returns.count == 3
    assert line.bands[0].returns.dip_sd_hz == pytest.approx(252e3, rel=0.05)  # of 145.0, 145.3, 144.8 MHz


def test_two_returns_tell_nothing_yet():
    (line,) = card(at_mark(145e6), at_mark(145.2e6, 2), adjustments=(replace(RETURN, round=2),)).lines
    assert line.bands[0].returns.words == "repeatability unknown: set this mark once more"


def test_a_move_between_ends_the_returns():
    moved = replace(RETURN, id="m", round=2, moves=(Move("w", 1.0),))
    sweeps = [at_mark(f, n) for n, f in enumerate((145e6, 144e6, 144.1e6), 1)]
    (line,) = card(*sweeps, adjustments=(moved, replace(RETURN, round=3))).lines
    assert line.bands[0].returns.count == 2


def test_a_dip_of_another_band_is_none_of_the_setting():
    (line,) = card(at_mark(130e6)).lines
    assert line.bands == ()


@given(slope=st.floats(0.05, 0.3), wanted=st.floats(0.05, 0.95))
def test_a_mark_between_is_found_where_the_scale_is_even(slope, wanted):
    points = [(float(m), 7e6 * 2.718281828 ** (slope * m)) for m in range(1, 6)]
    mark = 1 + 4 * wanted
    found = mark_for(points, 7e6 * 2.718281828 ** (slope * mark))
    assert found.mark == pytest.approx(mark, abs=1e-6)
    assert found.u < 1e-6


def test_no_mark_is_foreseen_beyond_the_last():
    assert mark_for([(2.0, 7.1e6), (6.0, 14.1e6)], 21e6) is None


def test_a_bent_scale_has_its_spread():
    points = [(2.0, 7.1e6), (6.0, 14.1e6), (8.0, 21.2e6), (9.0, 28.5e6)]
    found = mark_for(points, 18.1e6)
    truth = 7.3  # by a smooth curve through all four
    assert abs(found.mark - truth) < 3 * found.u + 0.2


def test_bands_without_a_setting_are_named_with_the_mark_between():
    settings = (Setting("m1", "mark 1", TWO, 1.0), Setting("m2", "mark 2", parse_windows("120 to 128", 1), 3.0))
    more = [
        Claim("c2", Quantity.SWR, parse_windows("120 to 128", 1), 1.5),
        Claim("c3", Quantity.SWR, parse_windows("134 to 136", 1), 1.5),
        Claim("c4", Quantity.SWR, parse_windows("4m", 1), 1.5),
    ]
    asked = card(at_mark(145e6), at_mark(124e6, setting="m2"), settings=settings, claims=more).asked
    assert any("134.000–136.000 MHz: no setting for it; mark 1.9" in words for words in asked)
    assert any("4m: no mark reaches it" in words for words in asked)


@pytest.mark.parametrize(("mark", "asked"), [(50.0, "is it 5?"), (5.0, "")])
def test_a_decimal_slip_of_a_mark_is_asked_about(mark, asked):
    points = sorted([(1.0, 5e6), (3.0, 7e6), (mark, 10e6), (7.0, 14e6), (9.0, 20e6)])
    said = " ".join(slips(points))
    assert asked in said and bool(said) == bool(asked)


def test_settings_of_several_assemblies_are_on_one_card_each_with_its_own():
    low, high = (
        replace(at_mark(f, setting=m), id=m, setup_id=u) for f, m, u in ((145e6, "m1", "u1"), (145.2e6, "m2", "u2"))
    )
    settings = (MARK, Setting("m2", "mark 2", TWO, 2.0))
    evaluation = replace(case(low, high, settings=settings), setups=(Setup("u1", "short"), Setup("u2", "long")))
    both = card_of(evaluation, Dossier(evaluation), "s1", carried(evaluation, "s1"))
    assert [[b.setup for b in line.bands] for line in both.lines] == [["short"], ["long"]]
    one = card_of(evaluation, Dossier(evaluation), "s1", ["u1"])
    assert [(len(line.bands), line.elsewhere) for line in one.lines] == [(1, ()), (0, ("long",))]


def test_a_band_that_fails_says_what_is_not_kept():
    ((band,),) = (line.bands for line in card(at_mark(142.6e6)).lines)
    assert band.failing == "does not meet 1.5:1 on 2m"
    ((band,),) = (line.bands for line in card(at_mark(145e6)).lines)
    assert band.failing == ""
