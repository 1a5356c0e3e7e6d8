"""Loads and ranges of loads as they are written."""

from itertools import pairwise

import numpy as np
import pytest

from levelmoor.core.model.trials import Outcome, Trial
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.trials.load_text import load_of, parse_load, parse_load_range
from levelmoor.core.trials.trial_grid import frequencies_wanted, wanted_in


@pytest.mark.parametrize(
    ("text", "ohm"),
    [
        ("50", 50), ("16.7 ohm", 16.7), ("1k", 1000), ("10 + j20", 10 + 20j), ("25-j100", 25 - 100j), ("25 − j100 Ω", 25 - 100j),
        ("10+20j", 10 + 20j), ("200 - 100j ohm", 200 - 100j), ("12,5 + j 3", 12.5 + 3j), ("10 j-20", 10 - 20j), ("short", 0),
        ("25 - 100i", 25 - 100j), ("j50", 50j), ("-j 50 ohm", -50j), ("50j", 50j), ("50 ohm resistor", 50),
        ("50 Ω dummy load", 50), ("200 load box", 200),
    ],
)  # fmt: skip
def test_a_load_with_figures_is_its_impedance(text, ohm):
    assert parse_load(text).impedance_ohm == pytest.approx(ohm)


@pytest.mark.parametrize(("text", "gamma"), [("open", 1), ("Open circuit", 1), ("∞", 1), ("short", -1), ("S/C", -1)])
def test_an_end_without_a_load_reflects_everything(text, gamma):
    assert parse_load(text).gamma == gamma


@pytest.mark.parametrize(("text", "size"), [("3:1", 0.5), ("SWR 3", 0.5), ("SWR of 2:1", 1 / 3)])
def test_of_an_swr_alone_the_angle_is_not_known(text, size):
    load = parse_load(text)
    assert load.gamma is None
    assert load.magnitude == pytest.approx(size)


@pytest.mark.parametrize(
    "text", ["wire of 20 m", "Inverted L", "50 turns", "20-40 m jumper wire", "20-40 in of wire", "450 ohm fed doublet"]
)
def test_words_are_kept_as_they_are(text):
    assert parse_load(text).words == text
    assert parse_load(text).magnitude is None


@pytest.mark.parametrize(
    ("text", "problem"),
    [
        ("", "enter the load"),
        ("0.5:1", "at least 1"),
        ("99999999", "megohm"),
        ("25 - j10o", "R and X"),
        ("25+10jo", "R and X"),
    ],
)
def test_no_load_is_refused(text, problem):
    with pytest.raises(ValueError, match=problem):
        parse_load(text)


@pytest.mark.parametrize(
    ("text", "holds", "not_"),
    [
        ("10 to 1000 Ω", ("10", "50", "1000", "300 + j10"), ("9", "1100", "50 + j40", "open")),
        ("up to 3:1", ("50", "150", "30 + j40", "3:1"), ("10", "open", "160")),
        ("any load", ("open", "3:1", "wire"), ()),
    ],
)
def test_what_a_range_holds(text, holds, not_):
    of = parse_load_range(text)
    assert all(of.holds(parse_load(x)) for x in holds)
    assert not any(of.holds(parse_load(x)) for x in not_)


def test_a_load_in_words_may_be_in_a_range_or_not():
    assert parse_load_range("10 to 1000 Ω").holds(parse_load("wire")) is None


@pytest.mark.parametrize("text", ["", "most wires", "1000 to 10 Ω"])
def test_what_is_no_range_is_none(text):
    assert parse_load_range(text) is None


def test_an_antenna_is_its_sweep_at_the_frequency():
    sweep = Sweep(np.array([7e6, 7.1e6, 7.2e6]), np.array([0.1, 0.2j, 0.3]), 50.0)
    trial = Trial("1", "", "", 7.1e6, Outcome.MATCHED, load="Wire", load_sweep_id="s")
    assert load_of(trial, {"s": sweep}).gamma == pytest.approx(0.2j)
    beyond = Trial("1", "", "", 8e6, Outcome.MATCHED, load="Wire", load_sweep_id="s")
    assert load_of(beyond, {"s": sweep}).gamma is None


@pytest.mark.parametrize(
    ("low", "high", "count"), [(14.0e6, 14.35e6, 1), (1.81e6, 2.0e6, 2), (3.5e6, 3.8e6, 2), (1.8e6, 30e6, 8)]
)
def test_a_wide_window_is_tried_at_its_edges_and_between(low, high, count):
    at = frequencies_wanted(Window(low, high))
    assert len(at) == count
    if count > 1:
        assert (at[0], at[-1]) == pytest.approx((low, high))
        assert all(b / a <= 1.5 + 1e-9 for a, b in pairwise(at))


@pytest.mark.parametrize(("text", "count"), [("10 to 1000 Ω", 3), ("up to 3:1", 5), ("any load", 0)])
def test_a_range_asks_for_its_edges_and_one_inside(text, count):
    assert len(wanted_in(Window(14.0e6, 14.35e6), parse_load_range(text))) == count
