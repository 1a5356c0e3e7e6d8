"""A sheet of readings: which of them count, what is asked about the others, and where to read next."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from levelmoor.core.readings.readings import FieldProblem, Reading, ReadingKind, reading_of
from levelmoor.core.readings.slips import Expected, Slip, SlipKind, slips
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.coarseness import LEAST_POINTS
from levelmoor.core.words.counting import counted
from levelmoor.core.words.figures import brief_mhz

PLACES = 11
"""Readings proposed for a window at first, from edge to edge: enough to see its shape by hand."""
FINE_HZ = 5e3
"""Places closer than this are not rounded to kHz."""
MISPLACED = (SlipKind.PLACE, SlipKind.INSTRUMENT)
FIRST = "first"
"""Where an entry keeps what was typed first, once it was changed."""


@dataclass(frozen=True)
class Entry:
    """A reading as typed, and what was answered to each question about it, by the kind of slip."""

    id: str
    typed: Mapping[str, str]
    answers: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class SheetLine:
    """An entry with its reading, or with what keeps it from being one; `asked` are the questions not yet answered."""

    entry: Entry
    reading: Reading | None
    problem: FieldProblem | None
    asked: tuple[Slip, ...]

    @property
    def counts(self) -> bool:
        """Whether it goes into the sweep: understood, and nothing asked about it is open."""
        return self.reading is not None and not self.asked

    @property
    def note(self) -> str:
        """What was asked and answered, for the record."""
        told = [f"{kind}: {answer}" for kind, answer in self.entry.answers.items()]
        return "; ".join(told)


def sheet_lines(entries: Sequence[Entry], kind: ReadingKind, expected: Expected) -> tuple[SheetLine, ...]:
    """Every entry looked at among the others; one that stands in a doubtful place is no measure for its neighbours."""
    found: list[tuple[Entry, Reading | None, FieldProblem | None]] = []
    for i, entry in enumerate(entries):
        try:
            found.append((entry, reading_of(f"{i:06d}", kind, entry.typed), None))
        except FieldProblem as wrong:
            found.append((entry, None, wrong))
    every = [r for _, r, _ in found if r is not None]
    misplaced = {r.id for r in every if any(s.kind in MISPLACED for s in slips(r, expected))}
    lines = []
    for entry, reading, problem in found:
        asked: tuple[Slip, ...] = ()
        if reading is not None:
            others = tuple(o for o in every if o.id != reading.id and o.id not in misplaced)
            asked = tuple(s for s in slips(reading, expected, others) if s.kind.value not in entry.answers)
        lines.append(SheetLine(entry, reading, problem, asked))
    return tuple(lines)


def next_frequency(windows: Sequence[Window], taken_hz: Sequence[float]) -> float | None:
    """The next place to read at: spots first, then eleven places from edge to edge of each window, rising, and then
    those between, until a window has the points that a claim on it asks for. The window read last comes first.

    Rounded to kHz inside the window, more finely where the places lie closer; None where all of them have been read.
    """
    spots = sorted(w.low_hz for w in windows if w.spot)
    for at in spots:
        if not any(abs(at - t) <= 1.0 for t in taken_hz):
            return at
    last = taken_hz[-1] if taken_hz else 0.0
    ranges = sorted((w for w in windows if not w.spot), key=lambda w: (not w.low_hz <= last <= w.high_hz, w.low_hz))
    for places in (PLACES, LEAST_POINTS):
        for window in ranges:
            step = (window.high_hz - window.low_hz) / (places - 1)
            for k in range(places):
                at = round(window.low_hz + k * step, -3 if step >= FINE_HZ else -1)
                at = min(max(at, window.low_hz), window.high_hz)
                if not any(abs(at - t) <= step / 4 for t in taken_hz):
                    return at
    return None


def next_frequencies(windows: Sequence[Window], taken_hz: Sequence[float], most: int) -> list[float]:
    """The next places one after the other, each as though those before it had been read: for a sheet without a
    signal."""
    found, taken = list[float](), list(taken_hz)
    while len(found) < most and (at := next_frequency(windows, taken)) is not None:
        found.append(at)
        taken.append(at)
    return found


def support(lines: Sequence[SheetLine], windows: Sequence[Window]) -> str:
    """What the readings that count can support, and what they cannot."""
    read = [line.reading.frequency_hz for line in lines if line.reading and line.counts]
    if not read:
        return "No reading counts yet."
    spots = [w for w in windows if w.spot]
    told = counted(len(read), "reading counts", "readings count")
    open_ = sum(1 for line in lines if not line.counts)
    if open_:
        told += f", {counted(open_, 'waits', 'wait')} for an answer"
    reach = f"{brief_mhz(min(read))} to {brief_mhz(max(read))} MHz"
    end = (
        "they show claims at the frequencies read, and how usable a band is there; a claim on a whole window "
        f"needs {LEAST_POINTS} readings in it"
    )
    at_spots = sum(1 for w in spots if any(abs(f - w.low_hz) <= 1e-4 * w.low_hz for f in read))
    spot_words = f" {at_spots} of {len(spots)} claimed frequencies have a reading." if spots else ""
    return f"{told}, from {reach}: {end}.{spot_words}"
