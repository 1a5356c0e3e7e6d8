"""The figure of what goes through: a scale that holds whatever is between the ports."""

import re

import numpy as np
import pytest

from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.core.through.choking import choking, s21_of
from levelmoor.core.through.through_verdict import ThroughCurve, choking_curve
from levelmoor.figures.through import through_figure

F = np.linspace(1e6, 30e6, 101)


@pytest.mark.parametrize("ohm", [0.01, 3.0, 50.0, 4700.0, 2e6])
def test_any_impedance_has_a_place_on_the_scale(ohm):
    figure = through_figure(choking_curve(choking(TwoPort(F, s21_of(np.full(F.size, ohm + 0j))), Residuals())))
    low, high = map(float, re.search(r'data-scale="(\S+?)-(\S+) Ω"', figure).groups())
    assert high >= 10 * low
    assert "nan" not in figure


def test_the_scale_stays_while_live_sweeps_differ_a_little():
    noise = np.random.default_rng(3).normal(0, 0.004, (20, F.size))
    scales = {
        re.search(r'data-scale="(.*?)"', through_figure(ThroughCurve(F, 0.4 + 0.5 * F / F[-1] + n, F * 0, "dB")))[1]
        for n in noise
    }
    assert len(scales) == 1
