"""What was recorded of the bench: calibrations and checks, with the raw files behind them."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum

from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.trace import Trace
from levelmoor.core.rf.windows import reaches
from levelmoor.core.words.said import said


class BenchRule(StrEnum):
    """What the bench must have shown before a sweep counts."""

    PROVEN = "proven"
    STATED = "stated"


BENCH_RULE_WORDS = {
    BenchRule.PROVEN: "Proven: a calibration on record, and a known load that matched 50 Ω with it",
    BenchRule.STATED: "Stated: your word that it was calibrated at the plane",
}

BENCH_RULE_READ = {
    BenchRule.PROVEN: "A sweep counts only with a calibration on record and a known load that matched 50 Ω with it.",
    BenchRule.STATED: "The team's word was enough that the analyzer was calibrated at the plane.",
}
"""The same as readers of a report are told."""


class CheckKind(StrEnum):
    LOAD = "load"
    OPEN_OR_SHORT = "full"
    CABLE = "cable"
    PAD = "pad"
    METER = "meter"
    NOISE = "noise"


class Reads(StrEnum):
    """What a check is read from."""

    SWEEP = "sweep"
    TRACES = "traces"
    PAIRS = "pairs"


@dataclass(frozen=True)
class CheckSpec:
    """What a kind of check is: in words, what it is read from, which piece it is of, and what it belongs to.

    One of a `calibration` holds as long as that, and names the instrument with it; one with a `needs_instrument` names
    its own. `figure` is a number typed beside it, by the name it is kept under.
    """

    words: str
    reads: Reads = Reads.SWEEP
    piece: str = ""
    needs_piece: bool = True
    calibration: bool = False
    needs_instrument: bool = False
    figure: str = ""


CHECKS: Mapping[CheckKind, CheckSpec] = {
    CheckKind.LOAD: CheckSpec("Known load at the plane", piece="load", needs_piece=False, calibration=True),
    CheckKind.OPEN_OR_SHORT: CheckSpec("Open or short at the plane", calibration=True),
    CheckKind.CABLE: CheckSpec("Feed line", piece="line"),
    CheckKind.PAD: CheckSpec("Pad", Reads.TRACES, piece="pad", figure="fundamental_hz"),
    CheckKind.METER: CheckSpec("Meter against the analyzer", Reads.PAIRS, needs_instrument=True, figure="frequency_hz"),
    CheckKind.NOISE: CheckSpec("Noise floor", Reads.TRACES, needs_instrument=True, figure="rbw_hz"),
}
CHECK_WORDS = {kind: spec.words for kind, spec in CHECKS.items()}


@dataclass(frozen=True)
class RawPart:
    """A raw file and how it was read where the file leaves a choice. `role` says what it is of, such as `open`."""

    file_name: str
    sha256: str
    port: int = 1
    unit: str = ""
    kind: str = ""
    role: str = ""
    columns: str = ""


@dataclass(frozen=True)
class CalibrationRecord:
    """A calibration: what was used, over which span in Hz, with which instrument, where and when.

    `plane` is the core's name of the plane, `at` says where in words; `done_at` is an ISO date and time. `parts` are
    raw sweeps of the standards, roles open, short and load, where they were brought in; `kit_id` their kit, and
    `load_id` the load that was used where it is not the kit's.
    """

    id: str
    instrument_id: str
    low_hz: float
    high_hz: float
    done_at: str
    points: int = 0
    standards: str = "open, short, load"
    plane: str = "connector"
    at: str = ""
    kit_id: str = ""
    parts: tuple[RawPart, ...] = ()
    load_id: str = ""

    def independent_of(self, load_id: str) -> bool:
        """Whether it is known that another load than this one calibrated."""
        return bool(load_id) and (bool(self.load_id) or bool(self.kit_id)) and load_id != self.load_id

    def covers(self, low_hz: float, high_hz: float) -> bool:
        return reaches(self.low_hz, self.high_hz, low_hz, high_hz)


@dataclass(frozen=True, eq=False)
class BenchCheck:
    """A check as it was taken. `item_id` is the load, line, pad or radio it is of; `figures` are named numbers.

    Sweeps and traces are read from `parts`, in their order; a two-port file gives a trace of 20 log10|S21| with the
    role `s21`. `pairs` are SWRs of the analyzer and of the meter. `done_at` is an ISO date and time.
    """

    id: str
    kind: CheckKind
    done_at: str
    instrument_id: str = ""
    calibration_id: str = ""
    item_id: str = ""
    parts: tuple[RawPart, ...] = ()
    figures: tuple[tuple[str, float], ...] = ()
    pairs: tuple[tuple[float, float], ...] = ()
    note: str = ""
    sweep: Sweep | None = None
    traces: tuple[Trace, ...] = ()

    @property
    def spec(self) -> CheckSpec:
        return CHECKS[self.kind]

    def figure(self, name: str) -> float | None:
        return dict(self.figures).get(name)


def moment(text: str) -> tuple[datetime, bool] | None:
    """An ISO date or date and time, and whether the time is known; None for anything else."""
    try:
        return datetime.fromisoformat(text.strip()).replace(tzinfo=None), len(text.strip()) > 10
    except ValueError:
        return None


Moment = tuple[datetime, bool]
"""A day or a time, and whether the time is known."""


def earlier(one: Moment, other: Moment) -> bool:
    """Whether one lies before the other, by their days where the time of one of them is not known."""
    return one[0] < other[0] if one[1] and other[1] else _day(one[0]) < _day(other[0])


def hours_apart(one: Moment, other: Moment) -> float:
    """How far they lie apart in hours, by their days where the time of one of them is not known."""
    first, second = (one[0], other[0]) if one[1] and other[1] else (_day(one[0]), _day(other[0]))
    return abs((second - first).total_seconds()) / 3600


def days_apart(one: Moment, other: Moment) -> int:
    """How many days lie between the day of one and that of the other."""
    return abs((_day(one[0]) - _day(other[0])).days)


def age_obstacle(done_at: str, taken_at: str, limit_h: float, what: str, renew: str = "") -> str:
    """Why something done at one time does not hold for something taken at another, or nothing; `renew` is what to do
    where it is too old.

    Where one of them is known by its day alone, days are compared.
    """
    done, taken = moment(done_at), moment(taken_at)
    if done is None:
        return said("age.undated", what=what)
    if taken is None:
        return said("age.sweep_undated")
    timed = done[1] and taken[1]
    first, second = (done[0], taken[0]) if timed else (_day(done[0]), _day(taken[0]))
    age = second - first
    if age < timedelta(0):
        return said("age.before", what=what)
    if age > timedelta(hours=limit_h if timed else max(limit_h, 0)):
        hours = age.total_seconds() / 3600
        return said("age.old", what=what, old=_span(hours), holds=_span(limit_h), renew=renew)
    return ""


def holds_until(done_at: str, limit_h: float) -> str:
    """Until when something done at a time holds, as ISO date and time; empty where the time is not known."""
    done = moment(done_at)
    if done is None:
        return ""
    end = done[0] + timedelta(hours=limit_h)
    return end.isoformat(timespec="minutes") if done[1] else end.date().isoformat()


def _day(at: datetime) -> datetime:
    return at.replace(hour=0, minute=0, second=0, microsecond=0)


def _span(hours: float) -> str:
    if hours < 48:
        return f"{hours:.0f} h"
    return f"{hours / 24:.0f} days"
