"""The server that sweeps a live instrument: what comes goes to the board, and what is wished there is done."""

import queue
import threading
import time
from collections.abc import Callable
from typing import Any

from sqlalchemy.exc import SQLAlchemyError

from levelmoor.instruments.analyzer import Span
from levelmoor.instruments.driver import Driver
from levelmoor.instruments.live import LiveRun
from levelmoor.instruments.problem import InstrumentProblem
from levelmoor.instruments.screens import Event, Screen
from levelmoor.records.live_board import HELD_S, LiveBoard, Stands, Wish
from levelmoor.records.packed_objects import packed
from levelmoor.services.live_commands import done

LOOK_EVERY_S = 0.15
BEAT_EVERY_S = 1.0


class Holding:
    """Sweeps an instrument as long as any screen anywhere follows it, and this server holds its run."""

    def __init__(self, board: LiveBoard, server: str, run: LiveRun, stands: Stands) -> None:
        self._board, self._server, self._run = board, server, run
        self._told, self._said = dict[str, Any](), int(stands.said.get("number", 0))
        self._heard_at = self._beat_at = time.monotonic()
        self._begun: set[int] = set()
        self._corrected = stands.corrected
        self._between_ports = False

    def hold(self) -> None:
        """Until nobody looks any more, or another server has it."""
        events = self._run.follow()
        try:
            while self._goes_on(events):
                pass
        finally:
            self._run.leave(events)
            while not self._run.ended(BEAT_EVERY_S):  # a sweep that has begun is not another's yet
                self._try(self._beat)
            self._try(lambda: self._board.release(self._server))

    def _goes_on(self, events: Screen) -> bool:
        until = time.monotonic() + LOOK_EVERY_S
        while (left := until - time.monotonic()) > 0:
            try:
                self._hear(events.get(timeout=left))
            except queue.Empty:
                break
        if self._try(self._beat) is False:
            return False
        stands = self._try(self._board.stands)
        if stands is not None:
            self._heard_at = time.monotonic()
            self._follow_settings(stands)
            if not stands.watched or stands.holder != self._server:
                return False
            for wish in self._try(self._board.wishes) or ():
                if wish.id not in self._begun:
                    self._begun.add(wish.id)
                    threading.Thread(target=self._grant, args=(wish,), daemon=True).start()
        # Without a word from the database another server may have it by now.
        return time.monotonic() - self._heard_at < HELD_S - BEAT_EVERY_S

    def _hear(self, event: Event) -> None:
        if event.kind == "status":
            self._told["status"] = event.data
        elif event.kind == "progress":
            self._told["progress"] = event.data["share"]
        elif event.kind == "said":
            self._said += 1
            self._told["said"] = {"number": self._said, **event.data}
        elif (taken := self._run.taken(event.data["number"])) and self._try(
            lambda: self._board.keep(taken.number, packed(taken))
        ):
            self._told["number"] = taken.number

    def _beat(self) -> bool:
        """Tell what is new, and now and then that one is there; False where the run is another's."""
        told, self._told = self._told, {}
        if self._run.corrected != self._corrected:
            self._corrected = told["corrected"] = self._run.corrected
        if not told and time.monotonic() - self._beat_at < BEAT_EVERY_S:
            return True
        self._beat_at = time.monotonic()
        try:
            return self._board.beat(self._server, **told)
        except SQLAlchemyError:
            self._told = {**told, **self._told}  # told once the database is there again
            raise

    def _follow_settings(self, stands: Stands) -> None:
        if (span := Span(**stands.span)) != self._run.span:
            self._run.change(span)
        if stands.between_ports != self._run.between_ports:
            self._run.change_ports(stands.between_ports)

    def _grant(self, wish: Wish) -> None:
        try:
            words, body = done(self._run, wish.what)
            trouble = ""
        except InstrumentProblem as problem:
            words, body, trouble = str(problem), None, problem.trouble.value
        self._try(lambda: self._board.grant(wish.id, words, trouble, body))

    def _try(self, do: Callable[[], Any]) -> Any:
        """What the database answers, None while it is away."""
        try:
            return do()
        except SQLAlchemyError:
            return None


def hold(
    board: LiveBoard, server: str, driver: Driver, make: Callable[[Stands], LiveRun], stands: Stands
) -> threading.Thread:
    """Begin to sweep, in a thread of its own."""
    holding = Holding(board, server, make(stands), stands)
    thread = threading.Thread(target=holding.hold, name=f"holding {driver.name}", daemon=True)
    thread.start()
    return thread
