"""What a comparison consists of: its sides, what each shows in each window, and how they differ."""

from dataclasses import dataclass
from enum import StrEnum

from levelmoor.core.metrology.agreement import Agreement
from levelmoor.core.metrology.decision import VERDICT_WORDS, Verdict
from levelmoor.core.metrology.significance import Difference, Estimate
from levelmoor.core.metrology.spread import Spread
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.metrology.unit_share import UnitShare
from levelmoor.core.model.evaluation import Evidence, Plane
from levelmoor.core.rf.sweep_analysis import SweepAnalysis
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.window_verdict import WindowFinding


class Question(StrEnum):
    SETUPS = "setups"
    UNITS = "units"
    INSTRUMENTS = "instruments"
    TIMES = "times"
    CLAIM = "claim"


QUESTION_WORDS = {
    Question.SETUPS: "Setups",
    Question.UNITS: "Units",
    Question.INSTRUMENTS: "Instruments",
    Question.TIMES: "Before and after",
    Question.CLAIM: "Claims",
}


class Base(StrEnum):
    """What each side is held against."""

    FIRST = "first"
    PREVIOUS = "previous"
    EACH = "each"


BASE_WORDS = {Base.FIRST: "the first", Base.PREVIOUS: "the one before", Base.EACH: "each other"}


class PlaneView(StrEnum):
    """At which plane the sides are seen: that of the verdict, the shack end of the line, or both over one another."""

    JUDGED = "judged"
    SHACK = "shack"
    BOTH = "both"


@dataclass(frozen=True, eq=False)
class SideCurve:
    """One drawn curve of a side at a plane; the mean where there are repeats, with their spread in `figures`."""

    analysis: SweepAnalysis
    figures: Residuals
    plane: Plane
    computed: bool
    """Whether it was moved there through a line."""


@dataclass(frozen=True, eq=False)
class Side:
    """One of the things compared: all sweeps of one state with one instrument, over whatever bands. `letter` marks it
    in figure, table and sentence; `spread` is that of the sweeps that were repeated most."""

    letter: str
    name: str
    evidence: tuple[Evidence, ...]
    curves: tuple[SideCurve, ...]
    spread: Spread
    note: str = ""

    @property
    def latest(self) -> Evidence:
        return self.evidence[-1]


@dataclass(frozen=True)
class SideWindow:
    """What one side shows in a window: its figures, the impedance at its best, and the finding on the limit."""

    figures: dict[str, Estimate]
    open_: frozenset[str]
    evidence: tuple[Evidence, ...]
    """The repeats that speak of the window."""
    impedance_ohm: complex | None
    finding: WindowFinding
    decides: bool = True
    """Whether its setup is one that the claim allows; else the verdict is what it shows by itself."""
    dip_hz: float | None = None
    """Where the window's own dip stands, inside it or not."""
    at_wanted: tuple[float, float] | None = None
    """The wanted frequency in Hz and the SWR there."""

    @property
    def words(self) -> str:
        return VERDICT_WORDS[self.verdict] + ("" if self.decides else " by itself")

    @property
    def verdict(self) -> Verdict:
        return self.finding.verdict


@dataclass(frozen=True)
class Ledger:
    """What the findings say of a window: the sweep that decides, the verdict in words, and its reason."""

    sweep_id: str | None
    verdict: str
    reason: str


@dataclass(frozen=True)
class WindowComparison:
    """A window with every side, the differences of pairs of sides, and what they say in sentences. `pairs` are the
    sides by their place, the second of each held against the first."""

    window: Window
    sides: tuple[SideWindow, ...]
    pairs: tuple[tuple[int, int], ...]
    differences: tuple[dict[str, Difference], ...]
    agreements: tuple[Agreement | str | None, ...] = ()
    sentences: tuple[str, ...] = ()
    ledger: Ledger | None = None


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
