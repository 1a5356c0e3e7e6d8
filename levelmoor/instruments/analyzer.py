"""Sweeping with an instrument: span and points set and read back, one sweep with its progress, the data."""

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from levelmoor.core.rf.reflection import ComplexArray, FloatArray
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.trace import Trace
from levelmoor.instruments.connection import Connection
from levelmoor.instruments.driver import Driver
from levelmoor.instruments.problem import InstrumentProblem, Trouble

LONGEST_SWEEP_S = 120.0
POLL_S = 0.05
LARGEST_GAMMA = 3.0
"""No calibrated reflection is near that: such figures are garbage."""
Progress = Callable[[float], None]


@dataclass(frozen=True)
class Span:
    """What is to be swept; power in dBm of the source, bandwidth and reference level of a spectrum analyzer."""

    low_hz: float
    high_hz: float
    points: int = 201
    power_dbm: float = -10.0
    rbw_hz: float = 10e3
    reference_dbm: float = 0.0

    def __post_init__(self) -> None:
        if not 0 < self.low_hz < self.high_hz:
            raise ValueError("a span must run from a lower to a higher frequency")
        if not 2 <= self.points <= 100_001:
            raise ValueError("a sweep must have 2 to 100001 points")


class Analyzer:
    """An instrument behind a connection, spoken to in its driver's words."""

    def __init__(self, driver: Driver, connection: Connection) -> None:
        self.driver, self.connection = driver, connection
        self.span: Span | None = None

    def identify(self) -> str:
        return self.connection.ask(self.driver.identify)

    def configure(self, span: Span) -> None:
        """Set the span, then ask what was taken.

        Raises
        ------
        InstrumentProblem
            With WRONG_SPAN where the instrument took another one.
        """
        values = vars(span)
        for command in self.driver.set:
            self.connection.tell(command.format(**values))
        taken, wanted = self._read_back(), (span.low_hz, span.high_hz, float(span.points))
        if not _same(taken, wanted):
            words = (
                f"{wanted[0] / 1e6:g} to {wanted[1] / 1e6:g} MHz with {span.points} points was requested, but the "
                f"instrument set {taken[0] / 1e6:g} to {taken[1] / 1e6:g} MHz with {taken[2]:g}; is that beyond "
                f"its range?"
            )
            raise InstrumentProblem(Trouble.WRONG_SPAN, words)
        self.span = span

    def still_set(self) -> None:
        """Look whether the span that was set still stands; somebody may have been at the instrument since.

        Raises
        ------
        InstrumentProblem
            With WRONG_SPAN where it is another one: what was just swept is not what it is taken for.
        """
        assert self.span is not None
        if not _same(self._read_back(), (self.span.low_hz, self.span.high_hz, float(self.span.points))):
            words = "somebody changed the span at the instrument during the sweep, so the sweep is left out"
            raise InstrumentProblem(Trouble.WRONG_SPAN, words)

    def _read_back(self) -> tuple[float, ...]:
        back = self.driver.read_back
        return tuple(self.connection.number(c) for c in (back.low, back.high, back.points))

    def correct(self, on: bool) -> None:
        """Switch the instrument's own correction; off gives raw data."""
        if self.driver.correction is None:
            raise InstrumentProblem(Trouble.DRIVER, f"{self.driver.name} has no command for its correction")
        self.connection.tell(self.driver.correction.on if on else self.driver.correction.off)

    def corrects(self) -> bool | None:
        """Whether the instrument corrects now, as it says itself; None where its driver cannot ask."""
        table = self.driver.correction
        if table is None or table.ask is None:
            return None
        return self.connection.ask(table.ask).strip().upper() in ("1", "ON", "+1")

    def calibrate(self, standard: str) -> None:
        """Have a standard measured (`open`, `short`, `load`), or `save` to compute and use the correction."""
        table = self.driver.calibrate
        if table is None:
            raise InstrumentProblem(Trouble.DRIVER, f"{self.driver.name} has no commands to calibrate")
        self._to_the_end(getattr(table, standard) + ";*OPC", lambda _share: None)

    def sweep(self, progress: Progress = lambda _share: None) -> Sweep:
        """One sweep of reflection over the span that was set, with its progress from 0 to 1 as it goes."""
        span, gamma = self._pairs(progress)
        return Sweep(np.linspace(span.low_hz, span.high_hz, span.points), gamma, 50.0)

    def through(
        self, names: Sequence[str] = ("s11", "s21", "s12", "s22"), progress: Progress = lambda _share: None
    ) -> dict[str, ComplexArray]:
        """One sweep each of these parameters, as far as the driver selects them; then the reflection again."""
        table = self.driver.through
        if table is None:
            raise InstrumentProblem(Trouble.DRIVER, f"{self.driver.name} has no commands to sweep from port to port")
        found: dict[str, ComplexArray] = {}
        try:
            for name in names:
                if command := getattr(table, name):
                    self.connection.tell(command)
                    found[name] = self._pairs(progress)[1]
        finally:
            self.connection.tell(table.back)
        self.still_set()
        return found

    def _pairs(self, progress: Progress) -> tuple[Span, ComplexArray]:
        """One sweep of what is selected, over the span that was set."""
        span, values = self._run("pairs", progress)
        if values.size != 2 * span.points:
            raise self._wrong_count(values.size / 2, span.points)
        s = values[0::2] + 1j * values[1::2]
        if not np.all(np.isfinite(s)) or float(np.max(np.abs(s))) > LARGEST_GAMMA:
            raise InstrumentProblem(
                Trouble.GARBAGE, "the sweep contains figures that no passive part can have; sweep again"
            )
        return span, s

    def trace(self, progress: Progress = lambda _share: None) -> Trace:
        """One trace of a spectrum analyzer over the span that was set, in dBm."""
        span, levels = self._run("levels", progress)
        if levels.size != span.points:
            raise self._wrong_count(levels.size, span.points)
        return Trace(np.linspace(span.low_hz, span.high_hz, span.points), levels)

    def peak(self) -> tuple[float, float]:
        """Frequency in Hz and level in dBm of the instrument's own marker at the peak."""
        marker = self.driver.marker
        if marker is None:
            raise InstrumentProblem(Trouble.DRIVER, f"{self.driver.name} has no marker")
        self.connection.tell(marker.peak)
        return self.connection.number(marker.frequency), self.connection.number(marker.level)

    def _run(self, form: str, progress: Progress) -> tuple[Span, FloatArray]:
        if self.span is None:
            raise InstrumentProblem(Trouble.DRIVER, "set a span before sweeping")
        if self.driver.fetch.form != form:
            raise InstrumentProblem(Trouble.DRIVER, f"{self.driver.name} gives no {form}")
        self._to_the_end(self.driver.sweep, progress)
        return self.span, np.array(self.connection.numbers(self.driver.fetch.ask))

    def _to_the_end(self, command: str, progress: Progress) -> None:
        """Start what takes its time, and ask until its status tells the end."""
        expected = self.connection.number(self.driver.duration) if self.driver.duration else 1.0
        self.connection.tell(self.driver.clear)
        self.connection.tell(command)
        start = time.monotonic()
        progress(0.0)
        while not int(self.connection.number(self.driver.done.ask)) >> self.driver.done.bit & 1:
            spent = time.monotonic() - start
            if spent > max(LONGEST_SWEEP_S, 3 * expected):
                raise InstrumentProblem(Trouble.TIMEOUT, f"the sweep did not finish within {spent:.0f} s")
            progress(min(spent / max(expected, 0.05), 0.99))
            time.sleep(POLL_S)
        progress(1.0)

    @staticmethod
    def _wrong_count(count: float, wanted: int) -> InstrumentProblem:
        return InstrumentProblem(Trouble.GARBAGE, f"{wanted} points were swept, but {count:g} arrived; sweep again")


def _same(taken: tuple[float, ...], wanted: tuple[float, ...]) -> bool:
    return all(abs(t - w) <= 1e-6 * w for t, w in zip(taken, wanted, strict=True))
