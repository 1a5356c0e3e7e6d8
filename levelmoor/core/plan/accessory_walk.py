"""The walk through an accessory: what is asked for in order, what is done, and what comes next."""

from dataclasses import dataclass

from levelmoor.core.evidence.swept_through import empty_of
from levelmoor.core.metrology.repeats import FEWEST
from levelmoor.core.model.evaluation import Evaluation, Setup
from levelmoor.core.model.quantities import Quantity, ShownBy
from levelmoor.core.model.through import Fixture
from levelmoor.core.words.counting import counted

PLACES = ("", "at the antenna", "in the middle of the line", "at the radio")
"""Where a choke is put in turn; first it is left out."""


@dataclass(frozen=True)
class WalkStep:
    """One thing to do: its title, whether it is done, what is asked, and the part of the page that it is done in; of a
    setup to be put up `place` is one of `PLACES`, of a sweep `fixture` how the sample stands."""

    title: str
    done: bool
    words: str
    at: str = ""
    place: str | None = None
    fixture: Fixture | None = None


@dataclass(frozen=True)
class Walk:
    """All steps of one sample in their order."""

    steps: tuple[WalkStep, ...]

    @property
    def next_step(self) -> WalkStep | None:
        return next((s for s in self.steps if not s.done), None)


def accessory_walk(evaluation: Evaluation, sample_id: str) -> Walk | None:
    """The walk of a choke, or of a pad, a filter or an adapter; None where neither a claim nor a sweep says that the
    sample is put between ports."""
    mine = [x for x in evaluation.throughs if x.sample_id == sample_id and not x.set_aside]
    claims = [c for c in evaluation.claims if c.quantity.spec.shown_by is ShownBy.THROUGH]
    if not claims and not mine:
        return None
    series, through = ([x for x in mine if x.fixture is f] for f in (Fixture.SERIES, Fixture.THROUGH))
    if series or any(c.quantity is Quantity.CHOKING for c in claims):
        empty = any(empty_of(evaluation, i.id) is not None for i in evaluation.instruments)
        with_nothing = "Sweep from port to port with nothing in the fixture."
        with_choke = "Sweep again with the choke in the fixture; nothing else changes."
        steps = [
            WalkStep("The empty fixture", empty, with_nothing, "#add-through", fixture=Fixture.OPEN),
            WalkStep("The choke in it", bool(series), with_choke, "#add-through", fixture=Fixture.SERIES),
            *(_at_place(evaluation, sample_id, place) for place in PLACES),
        ]
    else:
        ports = any(x.two_port.s11 is not None and x.two_port.s22 is not None for x in through)
        both = "A two-port file with S11 and S22; without them its loss is not shown."
        steps = [
            WalkStep("Through it", bool(through), "Sweep from port to port through it.", "#add-through"),
            WalkStep("Return loss of its ports", ports, both, "#add-through"),
        ]
    heated = any(h.sample_id == sample_id and not h.set_aside for h in evaluation.heats)
    warm = WalkStep("A warm run", heated, "Temperature against time at the claimed power.", "#fold-heat")
    return Walk((*steps, warm))


def _at_place(evaluation: Evaluation, sample_id: str, place: str) -> WalkStep:
    setup = setup_at(evaluation, place)
    swept = [e for e in evaluation.sweeps if setup and e.setup_id == setup.id and e.sample_id == sample_id]
    count = sum(1 for e in swept if not e.set_aside)
    left = f"{counted(FEWEST, 'sweep')} of the antenna's reflection, put up again each time"
    words = f"{left}; {counted(count, 'is', 'are')} there." if count else f"{left}."
    title = f"The antenna with the choke {place}" if place else "The antenna without it"
    return WalkStep(title, count >= FEWEST, words, place=place)


def setup_at(evaluation: Evaluation, place: str) -> Setup | None:
    """The setup of the antenna with the choke at a place, or without one; None where there is none yet. What was swept
    from port to port stands in the fixture and at no antenna."""
    fixtures = {x.setup_id for x in evaluation.throughs if x.fixture is not Fixture.THROUGH}
    setups = [s for s in evaluation.setups if s.id not in fixtures]
    if not place:
        return next((s for s in setups if not s.conditions.accessory), None)
    return next((s for s in setups if s.conditions.accessory and s.conditions.accessory_at == place), None)


def facts_at(accessory: str, place: str) -> dict[str, str]:
    """The facts of a setup with the accessory put at a place, or left out."""
    return {"accessory": accessory if place else "", "accessory_at": place}
