"""What a comparison consists of: its sides, what each shows in each window, and how they differ."""

from dataclasses import dataclass
from enum import StrEnum

from levelmoor.core.agreement import Agreement
from levelmoor.core.decision import Verdict
from levelmoor.core.evaluation import Evidence, Plane
from levelmoor.core.significance import Difference, Measured
from levelmoor.core.spread import Spread
from levelmoor.core.sweep_reading import SweepReading
from levelmoor.core.uncertainty import BenchFigures
from levelmoor.core.unit_share import UnitShare
from levelmoor.core.window_verdict import WindowFinding
from levelmoor.core.windows import Window


class Question(StrEnum):
    SETUPS = "setups"
    UNITS = "units"
    INSTRUMENTS = "instruments"
    TIMES = "times"
    CLAIM = "claim"


QUESTION_WORDS = {
    Question.SETUPS: "Setup against setup",
    Question.UNITS: "Unit against unit",
    Question.INSTRUMENTS: "Instrument against instrument",
    Question.TIMES: "Before against after",
    Question.CLAIM: "Claim against sweep",
}


class PlaneView(StrEnum):
    """At which plane the sides are seen: that of the verdict, the shack end of the line, or both over one another."""

    JUDGED = "judged"
    SHACK = "shack"
    BOTH = "both"


@dataclass(frozen=True, eq=False)
class Curve:
    """One drawn curve of a side at a plane; the mean where there are repeats, with their spread in `figures`."""

    reading: SweepReading
    figures: BenchFigures
    plane: Plane
    computed: bool
    """Whether it was moved there through a line."""


@dataclass(frozen=True, eq=False)
class Side:
    """One of the things compared: a sweep, or several repeats. `letter` marks it in figure, table and sentence."""

    letter: str
    name: str
    evidence: tuple[Evidence, ...]
    curves: tuple[Curve, ...]
    spread: Spread
    note: str = ""

    @property
    def latest(self) -> Evidence:
        return self.evidence[-1]


@dataclass(frozen=True)
class SideWindow:
    """What one side shows in a window: its figures, the impedance at its best, and the finding on the limit."""

    figures: dict[str, Measured]
    open_: frozenset[str]
    impedance_ohm: complex | None
    finding: WindowFinding

    @property
    def verdict(self) -> Verdict:
        return self.finding.verdict


@dataclass(frozen=True)
class WindowComparison:
    """A window with every side, the differences of each side from the first, and what they say in sentences."""

    window: Window
    sides: tuple[SideWindow, ...]
    differences: tuple[dict[str, Difference], ...]
    agreements: tuple[Agreement | None, ...] = ()
    sentences: tuple[str, ...] = ()


@dataclass(frozen=True, eq=False)
class Comparison:
    """The answer: sides, windows, and for units the share that fails."""

    question: Question
    sides: tuple[Side, ...]
    windows: tuple[WindowComparison, ...]
    limit_swr: float
    spots_hz: tuple[float, ...]
    units: UnitShare | None = None
    sentences: tuple[str, ...] = ()
