"""What of an article can be moved, and what was moved in which round."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum


class ElementKind(StrEnum):
    """What a part is that is moved to tune the article."""

    WHIP = "whip"
    COIL_WHIP = "coil_whip"
    SLIDING_COIL = "sliding_coil"
    HAT = "hat"
    PARALLEL = "parallel"
    TRAPPED = "trapped"
    DIPOLE_ENDS = "dipole_ends"
    LINK = "link"
    STUB = "stub"
    GAMMA = "gamma"
    TAP = "tap"
    CAPACITOR = "capacitor"
    OTHER = "other"


@dataclass(frozen=True)
class Template:
    """What is usual of a kind. `whole`: the position is a length or a number of turns that acts as a whole, so that a
    share of it moves the dip by a share; else it is a scale with marks of its own. `cut`: what is taken off does not
    come back."""

    words: str
    unit: str
    whole: bool
    cut: bool = False
    lengthens: bool = True


TEMPLATES: Mapping[ElementKind, Template] = {
    ElementKind.WHIP: Template("telescopic whip", "cm", True),
    ElementKind.COIL_WHIP: Template("whip above a coil", "cm", True),
    ElementKind.SLIDING_COIL: Template("sliding coil", "mark", False),
    ElementKind.HAT: Template("capacity hat, spokes", "cm", True),
    ElementKind.PARALLEL: Template("parallel element", "cm", True),
    ElementKind.TRAPPED: Template("section outside a trap", "cm", True),
    ElementKind.DIPOLE_ENDS: Template("dipole end, each side", "cm", True, cut=True),
    ElementKind.LINK: Template("link between sections", "cm", True),
    ElementKind.STUB: Template("matching stub", "cm", False),
    ElementKind.GAMMA: Template("gamma rod or its capacitor", "mm", False),
    ElementKind.TAP: Template("tap of a coil", "turns", True),
    ElementKind.CAPACITOR: Template("capacitor", "clicks", False),
    ElementKind.OTHER: Template("another part", "steps", False),
}
UNITS = ("cm", "mm", "turns", "clicks", "mark", "tap", "pF", "steps", "degrees")
SMALLEST_STEP: Mapping[str, float] = {"cm": 0.2, "mm": 1.0, "turns": 0.25, "mark": 0.1, "pF": 1.0}
"""What a hand sets, by unit; of others one."""
HAND_MISSES: Mapping[str, float] = {"cm": 0.1, "mm": 1.0, "turns": 0.05, "mark": 0.05, "degrees": 1.0}
"""Standard deviation of where a hand sets it, by unit; clicks, taps and steps are what they are (common practice, no
source)."""


@dataclass(frozen=True)
class Element:
    """A part that is moved. `at` is where it stood before the first round, in its unit; `lengthens` whether more of it
    makes the article electrically longer; `low` and `high` where it can be put; `bands` the windows it is thought to
    act on by name, none for all; `cut` whether what is taken off does not come back.
    """

    id: str
    name: str
    kind: ElementKind = ElementKind.OTHER
    unit: str = "cm"
    at: float = 0.0
    lengthens: bool = True
    low: float | None = None
    high: float | None = None
    bands: tuple[str, ...] = ()
    cut: bool = False

    @property
    def whole(self) -> bool:
        """Whether a share of its position moves the dip by a share."""
        return TEMPLATES[self.kind].whole and self.at > 0

    @property
    def step(self) -> float:
        return SMALLEST_STEP.get(self.unit, 1.0)

    @property
    def hand(self) -> float:
        """By how much a hand misses where it was told to set it, in its unit."""
        return HAND_MISSES.get(self.unit, 0.0)

    def acts_on(self, window: str) -> bool:
        """Whether it is thought to act on a window."""
        return not self.bands or window in self.bands

    def why_not(self, at: float, by: float) -> str:
        """Why it cannot be moved by so much from where it stands; nothing where it can."""
        to = at + by
        passed = [end for end, over in ((self.low, -1), (self.high, 1)) if end is not None and (to - end) * over > 1e-9]
        return f"{self.name} is at {at:g} {self.unit} and cannot go beyond {passed[0]:g}." if passed else ""

    def say(self, by: float) -> str:
        """A move in words, as the hand makes it."""
        amount = f"{abs(by):g} {self.unit}"
        if self.unit in ("mark", "tap", "clicks", "steps", "degrees", "pF", "turns"):
            return f"{self.name}: {amount} {'more' if by > 0 else 'less'}"
        if self.cut and by < 0:
            return f"{self.name}: take {amount} off"
        return f"{self.name}: {amount} {'longer' if by > 0 else 'shorter'}"


@dataclass(frozen=True)
class Move:
    """By how much an element was moved, in its unit; more of it is positive."""

    element_id: str
    by: float


@dataclass(frozen=True)
class Adjustment:
    """One trip to the article: the moves that were made before the sweeps of a round. `down_min` is how long the mast
    was down."""

    id: str
    sample_id: str
    setup_id: str
    setting_id: str = ""
    round: int = 2
    moves: tuple[Move, ...] = ()
    who: str = ""
    made_at: str = ""
    down_min: float | None = None
    note: str = ""


def positions(elements: Iterable[Element], adjustments: Iterable[Adjustment], upto: int) -> dict[str, float]:
    """Where each element stands in a round, by its id: where it began and all moves up to then."""
    found = {e.id: e.at for e in elements}
    for one in adjustments:
        for move in one.moves if one.round <= upto else ():
            if move.element_id in found:
                found[move.element_id] += move.by
    return {key: round(value, 6) for key, value in found.items()}
