"""What a plan consists of: runs with their segments, instruments and chains, and the stages of time they take."""

from dataclasses import dataclass, field
from enum import StrEnum

from levelmoor.core.bench.chains import Chain
from levelmoor.core.bench.pads import PadPlan, PadTask
from levelmoor.core.metrology.decidable import Decidable
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.rf.windows import Window


class RunKind(StrEnum):
    SURVEY = "survey"
    WINDOW = "window"
    EMISSION = "emission"
    OWN = "own"


RUN_WORDS = {
    RunKind.SURVEY: "Survey",
    RunKind.WINDOW: "Window",
    RunKind.EMISSION: "Emission",
    RunKind.OWN: "Own run",
}


@dataclass(frozen=True)
class Segment:
    """One pass of the instrument: a span in Hz and its number of points."""

    low_hz: float
    high_hz: float
    points: int

    @property
    def step_hz(self) -> float:
        return (self.high_hz - self.low_hz) / (self.points - 1)


@dataclass(frozen=True)
class Choice:
    """The instrument for a run with its chain, and why the others do not do. `problem` says why none does."""

    instrument: Instrument | None
    chain: Chain
    decides: Decidable | None = None
    why_not: tuple[tuple[str, str], ...] = ()
    problem: str = ""


@dataclass(frozen=True)
class Emission:
    """A carrier to be looked at, its harmonics in Hz, and the pad."""

    question: PadTask
    harmonics_hz: tuple[float, ...]
    pad: PadPlan
    to_pad: Chain
    from_pad: Chain


@dataclass(frozen=True)
class Run:
    """One thing to do with one sample in one setup. `step_needed_hz` is the largest step that lets its verdicts count.

    `done_by` names the sweep that has shown it already; `problem` says why it cannot be done.
    """

    key: str
    kind: RunKind
    sample_id: str
    setup_id: str
    windows: tuple[Window, ...]
    claim_ids: tuple[str, ...]
    segments: tuple[Segment, ...]
    step_needed_hz: float
    choice: Choice
    repeats: int = 1
    watch: tuple[str, ...] = ()
    emission: Emission | None = None
    problem: str = ""
    done_by: str = ""

    @property
    def low_hz(self) -> float:
        return self.segments[0].low_hz if self.segments else 0.0

    @property
    def high_hz(self) -> float:
        return self.segments[-1].high_hz if self.segments else 0.0

    @property
    def points(self) -> int:
        """Points of the whole run, shared ends counted once."""
        return sum(s.points for s in self.segments) - max(len(self.segments) - 1, 0)

    @property
    def name(self) -> str:
        over = ", ".join(w.name for w in self.windows)
        return over if over and self.kind is not RunKind.SURVEY else RUN_WORDS[self.kind]


class StageKind(StrEnum):
    REBUILD = "rebuild"
    CALIBRATION = "calibration"
    SWEEP = "sweep"


@dataclass(frozen=True)
class Stage:
    """A stretch of time, in minutes from the start."""

    kind: StageKind
    start_min: float
    minutes: float
    words: str
    run_key: str = ""


@dataclass(frozen=True)
class Cover:
    """A window of a claim on a sample that a run will show."""

    claim_id: str
    sample_id: str
    window: Window
    run_key: str


@dataclass(frozen=True)
class Uncovered:
    """A window of a claim on a sample that no run of the plan will show, and why. No window: the whole claim."""

    claim_id: str
    sample_id: str
    window: Window | None
    reason: str


@dataclass(frozen=True)
class Plan:
    """The runs in order. `dropped` are those left out by hand; `repeats` is None where no number of them would do."""

    runs: tuple[Run, ...] = ()
    dropped: tuple[Run, ...] = ()
    stages: tuple[Stage, ...] = ()
    covers: tuple[Cover, ...] = ()
    uncovered: tuple[Uncovered, ...] = ()
    repeats: int | None = 1
    notes: tuple[str, ...] = field(default=())

    @property
    def minutes(self) -> float:
        return self.stages[-1].start_min + self.stages[-1].minutes if self.stages else 0.0

    @property
    def todo(self) -> tuple[Run, ...]:
        """The runs that can be made and have not been."""
        return tuple(r for r in self.runs if not r.problem and not r.done_by)

    def count(self, kind: StageKind) -> int:
        return sum(1 for s in self.stages if s.kind is kind)
