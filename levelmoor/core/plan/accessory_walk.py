"""The walk through an accessory: what is asked for in order, what is done, and what comes next."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from levelmoor.core.evidence.swept_through import empty_of
from levelmoor.core.metrology.repeats import FEWEST
from levelmoor.core.model.conditions import Conditions
from levelmoor.core.model.evaluation import Evaluation, Setup
from levelmoor.core.model.quantities import Quantity, ShownBy
from levelmoor.core.model.through import Fixture
from levelmoor.core.words.counting import counted

PLACES = ("", "at the antenna", "in the middle of the line", "at the radio")
"""Where a choke is put in turn; first it is left out."""


class Step(StrEnum):
    """How a step stands."""

    DONE = "done"
    NEXT = "next"
    LATER = "later"


@dataclass(frozen=True)
class WalkStep:
    """One thing to do: its title, how it stands, what is asked, and the part of the page or the place that it is done
    in. `place` is one of `PLACES` where a setup is to be put up."""

    title: str
    state: Step
    words: str
    at: str = ""
    place: str | None = None


@dataclass(frozen=True)
class Walk:
    """All steps of one sample; `choke` whether it is a choke and not a pad, a filter or an adapter."""

    choke: bool
    steps: tuple[WalkStep, ...]

    @property
    def next_step(self) -> WalkStep | None:
        return next((s for s in self.steps if s.state is Step.NEXT), None)


def accessory_walk(evaluation: Evaluation, sample_id: str) -> Walk | None:
    """The walk of a sample; None where neither a claim nor a sweep says that it is put between ports."""
    mine = [x for x in evaluation.throughs if x.sample_id == sample_id and not x.set_aside]
    claims = [c for c in evaluation.claims if c.quantity.spec.shown_by is ShownBy.THROUGH]
    if not claims and not mine:
        return None
    choke = any(c.quantity is Quantity.CHOKING for c in claims) or any(x.fixture is Fixture.SERIES for x in mine)
    heats = [h for h in evaluation.heats if h.sample_id == sample_id and not h.set_aside]
    heated = ("A warm run", bool(heats), "Temperature against time at the claimed power.", "#fold-heat", None)
    if choke:
        empty = any(empty_of(evaluation, i.id) is not None for i in evaluation.instruments)
        asked: list[tuple[str, bool, str, str, str | None]] = [
            ("The empty fixture", empty, "Sweep from port to port with nothing in the fixture.", "#add-through", None),
            (
                "The choke in it",
                any(x.fixture is Fixture.SERIES for x in mine),
                "Sweep again with the choke in the fixture; nothing else changes.",
                "#add-through",
                None,
            ),
            *(_place(evaluation, sample_id, place) for place in PLACES),
            heated,
        ]
    else:
        through = [x for x in mine if x.fixture is Fixture.THROUGH]
        ports = any(x.two_port.s11 is not None and x.two_port.s22 is not None for x in through)
        asked = [
            ("Through it", bool(through), "Sweep from port to port through it.", "#add-through", None),
            (
                "Return loss of its ports",
                ports,
                "A two-port file with S11 and S22; without them its loss is not shown.",
                "#add-through",
                None,
            ),
            heated,
        ]
    return Walk(choke, _in_order(asked))


def _place(evaluation: Evaluation, sample_id: str, place: str) -> tuple[str, bool, str, str, str | None]:
    setup = setup_at(evaluation, place)
    swept = [e for e in evaluation.sweeps if setup and e.setup_id == setup.id and e.sample_id == sample_id]
    count = sum(1 for e in swept if not e.set_aside)
    title = f"An antenna with the choke {place}" if place else "An antenna without it"
    left = f"{counted(FEWEST, 'sweep')} of the antenna's reflection, put up again each time"
    words = f"{left}; {counted(count, 'is', 'are')} there." if count else f"{left}."
    return title, count >= FEWEST, words, "", place


def setup_at(evaluation: Evaluation, place: str) -> Setup | None:
    """The setup of the antenna with the choke at a place, or without one; None where there is none yet. What was swept
    from port to port stands in the fixture and at no antenna."""
    fixtures = {x.setup_id for x in evaluation.throughs if x.fixture is not Fixture.THROUGH}
    setups = [s for s in evaluation.setups if s.id not in fixtures]
    if not place:
        return next((s for s in setups if not s.conditions.accessory), None)
    return next((s for s in setups if s.conditions.accessory and s.conditions.accessory_at == place), None)


def conditions_at(before: Conditions, accessory: str, place: str) -> dict[str, str]:
    """The facts of a setup with the accessory put at a place."""
    return {**vars(before), "accessory": accessory if place else "", "accessory_at": place}


def _in_order(asked: Sequence[tuple[str, bool, str, str, str | None]]) -> tuple[WalkStep, ...]:
    """The first that is not done comes next."""
    steps, open_ = [], False
    for title, done, words, at, place in asked:
        state = Step.DONE if done else Step.LATER if open_ else Step.NEXT
        open_ |= not done
        steps.append(WalkStep(title, state, words, at, place))
    return tuple(steps)
