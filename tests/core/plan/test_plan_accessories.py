"""The plan of accessories: what is done as planned decides, and only what is left is asked for."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Instrument, InstrumentClass
from levelmoor.core.model.evaluation import Evaluation, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.through import Fixture, HeatRun, Through
from levelmoor.core.plan import plan_accessories as planning
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.core.rf.windows import Window
from levelmoor.core.through.choking import s21_of

HF, FORTY, TWO = Window(3.5e6, 30e6, "HF"), Window(7e6, 7.2e6, "40m"), Window(144e6, 146e6, "2m")
TWO_PORTS = Instrument(
    "i", "two ports", instrument_class=InstrumentClass.ANALYZER, low_hz=1e5, high_hz=1.5e9, points=1001, ports=2
)
CHOKE = Claim("1", Quantity.CHOKING, (HF,), 3000.0)
CASE = Evaluation(
    "case",
    Product("choke"),
    samples=(Sample("a", "Unit A"),),
    claims=(CHOKE,),
    setups=(Setup("u", "fixture"),),
    instruments=(TWO_PORTS,),
)
OHM = {Fixture.SERIES: 9000.0, Fixture.THROUGH: 0.5, Fixture.OPEN: 1e7}


def plan_accessories(case):
    return planning.plan_accessories(case, judge(case))


def done(case):
    """The case with every planned sweep made as planned."""
    made = []
    for n, one in enumerate(plan_accessories(case).sweeps):
        f = np.linspace(one.low_hz, one.high_hz, one.points)
        swept = TwoPort(f, s21_of(np.full(f.size, OHM[one.fixture], dtype=complex)))
        sample = one.sample.id if one.sample else "a"
        made.append(Through(f"x{n}", f"x{n}", sample, "u", one.instrument.id, swept, one.fixture))
    return replace(case, throughs=case.throughs + tuple(made))


WINDOWS = st.builds(lambda low, width: Window(low, low + width, "w"), st.floats(1e6, 4e8), st.floats(0, 5e7))


@settings(max_examples=60)
@given(
    windows=st.lists(WINDOWS, min_size=1, max_size=4), kind=st.sampled_from((Quantity.CHOKING, Quantity.INSERTION_LOSS))
)
def test_what_is_swept_as_planned_decides(windows, kind):
    claim = Claim("1", kind, tuple(windows), 3000.0 if kind is Quantity.CHOKING else 1.0)
    case = done(replace(CASE, claims=(claim,), instruments=(replace(TWO_PORTS, points=0),)))
    (finding,) = judge(case).claims
    assert finding.verdict in (Verdict.PASS, Verdict.TOO_CLOSE), finding.reason
    assert not plan_accessories(case)


def test_a_fixture_is_swept_empty_once_before_what_is_put_into_it():
    both = replace(CASE, samples=(*CASE.samples, Sample("b", "Unit B")))
    assert [(s.fixture, s.sample and s.sample.id) for s in plan_accessories(both).sweeps] == [
        (Fixture.OPEN, None), (Fixture.SERIES, "a"), (Fixture.SERIES, "b"),
    ]  # fmt: skip
    empty = next(x for x in done(CASE).throughs if x.fixture is Fixture.OPEN)
    assert {s.fixture for s in plan_accessories(replace(both, throughs=(empty,))).sweeps} == {Fixture.SERIES}


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"ports": 1}, "it has one port"),
        ({"high_hz": 20e6}, "it sweeps 0.1–20 MHz"),
        ({"points": 101}, "it sweeps 101 points, and 201 are needed"),
    ],
)
def test_why_an_instrument_is_not_taken_is_said(change, words):
    (sweep,) = plan_accessories(replace(CASE, instruments=(replace(TWO_PORTS, **change),))).sweeps
    assert sweep.instrument is None and sweep.why_not == (("two ports", words),)


def test_bands_for_which_no_instrument_has_the_points_are_swept_one_by_one():
    loss = Claim("1", Quantity.INSERTION_LOSS, (FORTY, TWO), 0.3)
    spans = [
        (s.low_hz < 7e6, s.high_hz > 146e6, s.instrument is not None)
        for s in plan_accessories(replace(CASE, claims=(loss,))).sweeps
    ]
    assert spans == [(True, False, True), (False, True, True)]


def test_a_claim_without_windows_leaves_the_span_to_the_article():
    (sweep,) = plan_accessories(
        replace(CASE, claims=(Claim("1", Quantity.ATTENUATION, (), 30.0, tolerance=0.5),))
    ).sweeps
    assert (sweep.points, sweep.instrument) == (0, None)


@pytest.mark.parametrize(
    "claim",
    [replace(CHOKE, limit=None), Claim("1", Quantity.POWER, (), 100.0), Claim("1", Quantity.SWR, (TWO,), 2.0)],
    ids=["no limit", "no mode", "shown by other evidence"],
)
def test_a_claim_that_no_run_decides_asks_for_none(claim):
    assert not plan_accessories(replace(CASE, claims=(claim,)))


def test_a_run_under_power_is_asked_for_until_one_tells():
    case = replace(CASE, claims=(CHOKE, Claim("2", Quantity.POWER, (), 250.0, mode="voice")))
    (run,) = plan_accessories(case).heats
    assert (run.power_w, run.average_w) == (250.0, 50.0)
    points = tuple((60.0 * n, 20 + 30 * (1 - np.exp(-n / 12))) for n in range(41))
    short = HeatRun("h", "a", "u", 50.0, points[:6], 1.0, "carrier", limit_c=90.0)
    assert plan_accessories(replace(case, heats=(short,))).heats
    assert not plan_accessories(replace(case, heats=(replace(short, points=points),))).heats


def test_the_power_that_an_antennas_leaflet_names_asks_for_no_run():
    antenna = (Claim("1", Quantity.SWR, (TWO,), 2.0), Claim("2", Quantity.POWER, (), 250.0, mode="voice"))
    assert not plan_accessories(replace(CASE, claims=antenna))
