"""A few readings by hand tell where the dip is, and how well."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.core.adjusting.coarse_dip import coarse_dip
from levelmoor.core.model.evaluation import Calibration, Evidence
from levelmoor.core.readings.reading_sweep import join_readings
from levelmoor.core.readings.readings import ReadingKind, reading_of
from tests.core.adjusting.test_round_log import case, log_of


def read(mhz, swr):
    typed = zip(mhz, swr, strict=True)
    return join_readings(
        tuple(
            reading_of(str(n), ReadingKind.SWR, {"frequency": f"{f:.4f}", "swr": f"{s:.2g}" if s >= 1 else "1.0"})
            for n, (f, s) in enumerate(typed)
        )
    )


def swr_of(f0, q, r, mhz):
    """A series circuit of resistance r in 50 ohm."""
    z = r * (1 + 1j * q * (mhz / f0 - f0 / mhz))
    g = np.abs((z - 50) / (z + 50))
    return (1 + g) / (1 - g)


@given(
    off=st.floats(-0.4, 0.4), q=st.floats(6, 14), r=st.floats(35, 75), count=st.integers(3, 6), step=st.floats(0.6, 1.2)
)
def test_the_dip_lies_where_it_is_told_to_by_three_standard_uncertainties(off, q, r, count, step):
    width = 7.1 / q / 2
    mhz = 7.1 + width * step * (np.arange(count) - (count - 1) / 2 + off)
    told = coarse_dip(read(mhz, swr_of(7.1, q, r, mhz)))
    if told is not None:
        assert abs(told.hz - 7.1e6) <= 3 * told.u_hz + 0.05 * width * 1e6


def test_coarse_steps_are_a_dip_and_no_noise():
    told = coarse_dip(read([7.0, 7.05, 7.1, 7.15, 7.2], [1.3, 1.2, 1.1, 1.1, 1.2]))
    assert told.hz == pytest.approx(7.12e6, abs=15e3) and not told.beyond


def test_readings_that_are_all_alike_tell_nothing():
    assert coarse_dip(read([7.0, 7.1, 7.2], [1.1, 1.1, 1.1])) is None


@pytest.mark.parametrize(("swr", "longer"), [([1.4, 1.8, 2.5], False), ([2.5, 1.8, 1.4], True)])
def test_three_readings_give_a_round_its_direction(swr, longer):
    """They fall to the end of the band: the dip is beyond it, and the whip too short or too long."""
    sweep = read([144.0, 145.0, 146.0], swr)
    log = log_of(case(Evidence("r", "r", "s1", "u1", "i1", Calibration.NONE, sweep)))
    (move,) = log.advice.moves
    assert (move.by > 0) is longer
