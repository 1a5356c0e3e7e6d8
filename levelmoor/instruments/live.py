"""A live run: one instrument swept again and again in a thread of its own, followed by whoever wants to know.

What goes wrong is told to all who follow, and tried again after a pause that grows; what was swept stays.
"""

import queue
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import Future
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

import numpy as np

from levelmoor.core.model.instrument_address import Address
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.trace import Trace
from levelmoor.core.rf.two_port import TwoPort
from levelmoor.core.words.sentence import sentence
from levelmoor.instruments.analyzer import Analyzer, Span
from levelmoor.instruments.connection import Connection
from levelmoor.instruments.driver import Driver
from levelmoor.instruments.problem import InstrumentProblem, Trouble
from levelmoor.instruments.screens import Event, Screen, Screens

MOST_KEPT = 60
"""Sweeps that are held after they went by."""
PAUSES_S = (0.5, 1.0, 2.0, 4.0, 8.0, 15.0)
LEAST_CYCLE_S = 0.25
PROGRESS_EVERY_S = 0.1


@dataclass(frozen=True, eq=False)
class Taken:
    """One sweep or trace as it came: its number, when, over which span, and whether the instrument corrected it.

    `corrected` is what the instrument said of itself after the sweep, None where its driver cannot ask. `through` is
    S21 from port to port.
    """

    number: int
    at: datetime
    span: Span
    identity: str
    corrected: bool | None
    sweep: Sweep | None = None
    trace: Trace | None = None
    through: TwoPort | None = None
    peak: tuple[float, float] | None = None


class LiveRun:
    """Sweeps over and over while a screen follows; settings change between two sweeps."""

    def __init__(
        self, driver: Driver, address: Address, span: Span, timeout_s: float = 3.0, last_number: int = 0
    ) -> None:
        self.driver, self.address = driver, address
        self.span, self.corrected = span, True
        self.between_ports = False
        self.status: dict[str, Any] = {"state": "connecting", "words": f"Asking {address}."}
        self._timeout_s = timeout_s
        self._taken: OrderedDict[int, Taken] = OrderedDict()
        self._screens = Screens()
        self._wanted: queue.Queue[tuple[Callable[[Analyzer], str], Future[str]]] = queue.Queue()
        self._lock = threading.Lock()
        self._number, self._generation, self._failures = last_number, 0, 0
        self._thread: threading.Thread | None = None

    # -- what screens do

    def follow(self) -> Screen:
        """A screen's own queue of events, starting with how things stand; the run starts with the first."""
        with self._lock:
            sweeps = [Event("sweep", {"number": next(reversed(self._taken))})] if self._taken else []
            screen = self._screens.enter([Event("status", self.status), *sweeps])
            if self._thread is None or not self._thread.is_alive():
                self._thread = threading.Thread(target=self._run, name=f"live {self.address}", daemon=True)
                self._thread.start()
        return screen

    def leave(self, screen: Screen) -> None:
        self._screens.leave(screen)

    def change(self, span: Span) -> None:
        """Sweep another span from the next sweep on."""
        with self._lock:
            self.span, self._generation = span, self._generation + 1

    def change_ports(self, between: bool) -> None:
        """From the next sweep on what goes from port to port, or the reflection again; it too once nobody looks."""
        if between and self.driver.through is None:
            raise ValueError(f"{self.driver.name} has no commands to sweep from port to port")
        self.between_ports = between

    def ask(self, what: Callable[[Analyzer], str], timeout_s: float = 20.0) -> str:
        """Have something done between two sweeps, such as a step of a calibration; what it says goes to all screens.

        Raises
        ------
        InstrumentProblem
            What went wrong with it, or that the instrument was not reached in time.
        """
        asked: Future[str] = Future()
        self._wanted.put((what, asked))
        try:
            return asked.result(timeout_s)
        except TimeoutError:
            asked.cancel()
            words = "the instrument did not answer in time; wait until it sweeps again, then repeat the step"
            raise InstrumentProblem(Trouble.TIMEOUT, words) from None

    def taken(self, number: int) -> Taken | None:
        with self._lock:
            return self._taken.get(number)

    def ended(self, seconds: float) -> bool:
        """Whether the instrument is left alone by then, once nobody follows."""
        if self._thread is not None:
            self._thread.join(seconds)
        return self._thread is None or not self._thread.is_alive()

    # -- what the thread does

    def _run(self) -> None:
        while not self._deserted():
            try:
                with Connection(self.address, self._timeout_s) as connection:
                    analyzer = Analyzer(self.driver, connection)
                    identity = analyzer.identify()
                    self._tell_status("ready", identity)
                    self._sweep_on(analyzer, identity)
            except (InstrumentProblem, ValueError, OSError) as problem:
                trouble = problem.trouble if isinstance(problem, InstrumentProblem) else Trouble.GARBAGE
                pause = PAUSES_S[min(self._failures, len(PAUSES_S) - 1)]
                self._failures += 1
                words = f"{sentence(problem)} Trying again in {pause:g} s."
                self._tell_status("trouble", words, trouble=trouble.value, tries=self._failures, pause_s=pause)
                self._rest(pause)
        self.between_ports = False

    def _sweep_on(self, analyzer: Analyzer, identity: str) -> None:
        """Sweep until nobody looks; trouble leaves as it comes. After a sweep has come, the pauses start anew."""
        generation = -1
        while not self._deserted():
            started = time.monotonic()
            while not self._wanted.empty():
                self._do(analyzer, *self._wanted.get())
            if generation != self._generation:
                generation = self._generation
                analyzer.configure(self.span)
            self._keep(self._one(analyzer, identity))
            self._rest(LEAST_CYCLE_S - (time.monotonic() - started))

    def _do(self, analyzer: Analyzer, what: Callable[[Analyzer], str], asked: "Future[str]") -> None:
        if not asked.set_running_or_notify_cancel():
            return
        try:
            words = what(analyzer)
        except InstrumentProblem as problem:
            asked.set_exception(problem)
            if problem.trouble is not Trouble.DRIVER:
                raise
            return
        asked.set_result(words)
        self._tell("said", {"words": words})

    def _one(self, analyzer: Analyzer, identity: str) -> Taken:
        assert analyzer.span is not None
        last = 0.0

        def progress(share: float) -> None:
            nonlocal last
            if share in (0.0, 1.0) or time.monotonic() - last > PROGRESS_EVERY_S:
                last = time.monotonic()
                self._tell("progress", {"share": round(share, 3)})

        sweep, trace, peak, through = None, None, None, None
        if self.between_ports:
            span = analyzer.span
            s21 = analyzer.through(("s21",), progress)["s21"]
            through = TwoPort(np.linspace(span.low_hz, span.high_hz, span.points), s21)
        elif self.driver.kind == "reflection":
            sweep = analyzer.sweep(progress)
        else:
            trace = analyzer.trace(progress)
            peak = analyzer.peak() if self.driver.marker else None
        corrected = self._read_back(analyzer)
        return Taken(
            self._number + 1, datetime.now(UTC), analyzer.span, identity, corrected, sweep, trace, through, peak
        )

    def _read_back(self, analyzer: Analyzer) -> bool | None:
        """How the instrument stands after the sweep; told where it is not as it was asked to."""
        analyzer.still_set()
        corrected = analyzer.corrects() if self.driver.kind == "reflection" else True
        if corrected is not None and corrected != self.corrected:
            self.corrected = corrected
            state = "on" if corrected else "off"
            self._tell("said", {"words": f"The correction was switched {state} at the instrument."})
        return corrected

    def _keep(self, taken: Taken) -> None:
        with self._lock:
            self._number, self._failures = taken.number, 0
            self._taken[taken.number] = taken
            while len(self._taken) > MOST_KEPT:
                self._taken.popitem(last=False)
        if self.status["state"] != "sweeping":
            self._tell_status("sweeping", taken.identity)
        self._tell("sweep", {"number": taken.number})

    def _tell_status(self, state: str, words: str, **more: Any) -> None:
        self.status = {"state": state, "words": words, **more}
        self._tell("status", self.status)

    def _tell(self, kind: str, data: dict[str, Any]) -> None:
        self._screens.tell(Event(kind, data))

    def _deserted(self) -> bool:
        return not self._screens

    def _rest(self, seconds: float) -> None:
        """Wait, and go on at once where nobody looks any more or something is asked for."""
        until = time.monotonic() + seconds
        while (left := until - time.monotonic()) > 0 and not self._deserted():
            time.sleep(min(left, 0.1))
