"""The walk through a choke or a pad: what is asked for, in order."""

from dataclasses import replace

import numpy as np
import pytest

from levelmoor.core.model.claims import Claim
from levelmoor.core.model.conditions import Conditions
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.through import Fixture, HeatRun, Through
from levelmoor.core.plan.accessory_walk import PLACES, accessory_walk
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.core.rf.windows import Window
from tests.sweeps import flat

F = np.linspace(1e6, 30e6, 101)
WINDOW = (Window(3.5e6, 30e6),)
SETUPS = (Setup("fixture", "in the fixture"), *(
    Setup(f"u{n}", place or "none", conditions=Conditions(accessory="ring" if place else "", accessory_at=place))
    for n, place in enumerate(PLACES)
))  # fmt: skip


def case(quantity=Quantity.CHOKING, **more):
    return Evaluation(
        "Ring", Product("Ring"), samples=(Sample("s1", "Unit 1"),), setups=SETUPS, instruments=(Instrument("i1", "two ports"),),
        claims=(Claim("c1", quantity, WINDOW, 1000.0),), **more,
    )  # fmt: skip


def through(fixture, **ports):
    return Through("x", "x", "s1", "fixture", "i1", TwoPort(F, np.full(F.size, 0.5 + 0j), **ports), fixture)


def swept(setup, count):
    return [
        Evidence(f"{setup}{n}", "e", "s1", setup, "i1", Calibration.AT_PLANE, flat(0.2), mounting=n + 1)
        for n in range(count)
    ]


HEAT = HeatRun("h", "s1", "u0", 100.0, ((0.0, 20.0), (60.0, 25.0)), 1.0)
EMPTY, IN_IT = through(Fixture.OPEN), through(Fixture.SERIES)
ALL = tuple(e for s in SETUPS[1:] for e in swept(s.id, 3))


@pytest.mark.parametrize(
    ("more", "next_at"),
    [
        ({}, 0),
        ({"throughs": (EMPTY,)}, 1),
        ({"throughs": (EMPTY, IN_IT)}, 2),
        ({"throughs": (EMPTY, IN_IT), "sweeps": tuple(swept("u0", 2))}, 2),
        ({"throughs": (EMPTY, IN_IT), "sweeps": tuple(swept("u0", 3))}, 3),
        ({"throughs": (EMPTY, IN_IT), "sweeps": ALL}, 6),
        ({"throughs": (EMPTY, IN_IT), "sweeps": ALL, "heats": (HEAT,)}, None),
    ],
)
def test_a_choke_is_led_through_in_order(more, next_at):
    walk = accessory_walk(case(**more), "s1")
    assert [s.place for s in walk.steps if s.place is not None] == list(PLACES)
    assert walk.next_step is (None if next_at is None else walk.steps[next_at])
    assert [s.fixture for s in walk.steps[:3]] == [Fixture.OPEN, Fixture.SERIES, None]


def test_what_comes_first_may_be_done_last():
    walk = accessory_walk(case(throughs=(IN_IT,)), "s1")
    assert [s.done for s in walk.steps[:3]] == [False, True, False]
    assert walk.next_step is walk.steps[0]


def test_a_pad_is_swept_through_and_at_its_ports_and_loaded():
    one = through(Fixture.THROUGH)
    both = through(Fixture.THROUGH, s11=np.zeros(F.size, complex), s22=np.zeros(F.size, complex))
    of = case(Quantity.ATTENUATION)
    walks = [
        accessory_walk(replace(of, **more), "s1")
        for more in ({}, {"throughs": (one,)}, {"throughs": (both,)}, {"throughs": (both,), "heats": (HEAT,)})
    ]
    assert [sum(s.done for s in walk.steps) for walk in walks] == [0, 1, 2, 3]
    assert [s.place for s in walks[0].steps] == [None] * 3


def test_an_antenna_has_no_walk():
    assert accessory_walk(case(Quantity.SWR), "s1") is None
