"""What a live sweep says in words: of long and short only where no tuner stands between."""

from datetime import datetime

import pytest

from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.rf.windows import Window
from levelmoor.instruments.analyzer import Span
from levelmoor.instruments.live import Taken
from levelmoor.web.live.routes import wanted_of
from levelmoor.web.live.view import Asked, drawn
from tests.sweeps import rlc_sweep

WINDOW = Window(14.0e6, 14.35e6, "20m")


def told(wanted, tuner=False):
    sweep = rlc_sweep(13e6, 15.5e6, 401, f0=13.8e6, q=10.0)
    taken = Taken(1, datetime(2026, 10, 3), Span(13e6, 15.5e6, 401), "stand-in", True, sweep=sweep)
    return drawn(taken, Asked(((WINDOW, 2.0),), Residuals(), wanted, tuner))


@pytest.mark.parametrize(("tuner", "word"), [(False, "long"), (True, "")])
def test_with_a_tuner_in_line_nothing_is_said_of_long_and_short(tuner, word):
    said = told((14.175e6,), tuner)
    assert said["way"].endswith(word) and bool(said["way"]) == bool(word)
    assert said["heard"][0]["spoken"].endswith(word) and ("long" in said["heard"][0]["spoken"]) == bool(word)


def test_several_wanted_frequencies_are_told_each_with_its_limit():
    heard = told((14.0e6, 14.35e6, 15.0e6))["heard"]
    assert [h["hz"] for h in heard] == [14.0e6, 14.35e6, 15.0e6]
    assert [h["within"] for h in heard] == [True, False, False]
    assert all(h["spoken"].startswith(mhz) for h, mhz in zip(heard, ("14: ", "14.35: ", "15: "), strict=True))


def test_a_channel_of_the_teams_own_is_wanted_by_its_name():
    own = (Window(35.125e6, 35.125e6, "Channel 3"), Window(35e6, 35.2e6, "Fell relay"))
    assert wanted_of("channel 3, 35.15", own) == (35.125e6, 35.15e6)
    with pytest.raises(ValueError, match="relay"):
        wanted_of("Fell relay", own)


def test_a_wanted_frequency_that_is_not_swept_is_not_told_as_reflected():
    said = told((21.0e6, 14.1e6))
    assert (said["wanted"], said["wanted_at"]) == ("–", "at 21.000 MHz, not swept")
    assert [h["hz"] for h in said["heard"]] == [14.1e6]
