"""What the readings page shows: the sheet of what is on the bench, its questions, and what it supports so far."""

from dataclasses import dataclass

from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.readings.expected import expected_of
from levelmoor.core.readings.reading_sheet import Entry, SheetLine, next_frequencies, sheet_lines, support
from levelmoor.core.readings.reading_sweep import join_readings
from levelmoor.core.readings.readings import NEEDED, Reading, ReadingKind
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.windows import Window
from levelmoor.figures.landscape import Waterline, landscape
from levelmoor.records import tables as t
from levelmoor.records.readings import SheetPlace, entries_of

AHEAD = 40
"""So many places are proposed ahead, for an hour without a signal."""
FIELD_NAMES = {
    "frequency": "MHz",
    "swr": "SWR",
    "r": "R, Ω",
    "x": "X, Ω",
    "forward": "Forward, W",
    "reflected": "Back, W",
}


@dataclass(frozen=True)
class SheetView:
    row: t.ReadingSheet
    kind: ReadingKind
    fields: tuple[str, ...]
    lines: tuple[SheetLine, ...]
    ahead: tuple[str, ...]
    """Where to read next, one after the other; empty where everything has been read."""
    support: str
    figure: str
    transmits: bool
    """Whether the instrument is read only while a transmitter is keyed."""
    newer: int
    """How many readings count that the joined sweep does not have yet; all of them before the first joining."""

    @property
    def next(self) -> str:
        return self.ahead[0] if self.ahead else ""

    @property
    def place(self) -> SheetPlace:
        """How addresses name the sheet."""
        return SheetPlace.of(self.row)


def sheet_view(evaluation: Evaluation, row: t.ReadingSheet, joined_points: int) -> SheetView:
    kind = ReadingKind(row.kind)
    expected = expected_of(evaluation, row.instrument_id)
    lines = sheet_lines(entries_of(row), kind, expected)
    readings = tuple(line.reading for line in lines if line.reading and line.counts)
    claimed = tuple(dict.fromkeys(w for c in evaluation.claims for w in c.windows))
    wanted = tuple(w for w in (_within(c, expected.may_transmit) for c in claimed) if w)
    taken = [line.reading.frequency_hz for line in lines if line.reading]
    ahead = next_frequencies(wanted, taken, AHEAD)
    return SheetView(
        row=row,
        kind=kind,
        fields=("frequency", *NEEDED[kind]),
        lines=lines,
        ahead=tuple(_typed(at) for at in ahead),
        support=support(lines, claimed),
        figure=_figure(evaluation, readings, claimed) if len(readings) > 1 else "",
        transmits=expected.may_transmit is not None,
        newer=len({round(r.frequency_hz) for r in readings}) - joined_points,
    )


def _typed(frequency_hz: float) -> str:
    """MHz as one types them: three decimals, more where they say more."""
    text = f"{frequency_hz / 1e6:.5f}"
    return text.removesuffix("0").removesuffix("0")


def candidate(evaluation: Evaluation, row: t.ReadingSheet, typed: dict[str, str]) -> SheetLine:
    """What is asked about a reading that is being typed, among those that are there."""
    entries = [*entries_of(row), Entry("typed", typed)]
    return sheet_lines(entries, ReadingKind(row.kind), expected_of(evaluation, row.instrument_id))[-1]


def _within(window: Window, allowed: tuple[Window, ...] | None) -> Window | None:
    """The part of a window that lies in what is allowed, all of it where nothing forbids."""
    if allowed is None:
        return window
    for band in allowed:
        low, high = max(window.low_hz, band.low_hz), min(window.high_hz, band.high_hz)
        if low <= high:
            return Window(low, high)
    return None


def _figure(evaluation: Evaluation, readings: tuple[Reading, ...], windows: tuple[Window, ...]) -> str:
    """The readings that count as a landscape; no water, since between them nothing is known."""
    sweep = join_readings(readings)
    if sweep.points < 2:
        return ""
    limit = evaluation.profile.limit_swr
    levels = [Waterline(w, limit, shown=False) for w in windows if not w.spot and sweep.cut(w.low_hz, w.high_hz)]
    return landscape(
        analyse_sweep(sweep, 50.0), levels, Residuals(), label="Readings over frequency", width=380, height=230,
        ident="readings",
    )  # fmt: skip
