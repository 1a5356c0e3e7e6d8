"""A live instrument as the screens of this server see it, whichever server sweeps it.

The first that looks has the instrument swept; where the server that did so has fallen silent, another takes it over.
"""

import secrets
import threading
import time
from collections import OrderedDict
from dataclasses import asdict
from hashlib import sha256
from typing import Any

from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.core.model.instrument_address import Address
from levelmoor.instruments.analyzer import Span
from levelmoor.instruments.driver import Driver
from levelmoor.instruments.live import LiveRun, Taken
from levelmoor.instruments.problem import InstrumentProblem, Trouble
from levelmoor.instruments.screens import Event, Screen, Screens
from levelmoor.records.live_board import LiveBoard, Stands
from levelmoor.records.packed_objects import read_back
from levelmoor.services.live_commands import FROM_INSTRUMENTS, LONGEST_S
from levelmoor.services.live_holding import LOOK_EVERY_S, hold

SERVER = secrets.token_hex(8)
"""This server among all that share the database."""
SAY_EVERY_S = 2.0
REPLACED = {"state": "refused", "words": "Its settings have changed, or another team uses it. Open this page again."}
HERE = 4
"""Sweeps that are held in memory for the screens of this server."""


class SharedRun:
    """One instrument of a team, with one driver."""

    def __init__(
        self, maker: sessionmaker[Session], driver: Driver, address: Address, team_id: int, server: str = SERVER
    ) -> None:
        self.driver, self.address, self._server = driver, address, server
        key = sha256(f"{driver.name} {driver.model_dump_json()}".encode()).hexdigest()
        self._board = LiveBoard(maker, str(address), team_id, key)
        self._screens = Screens()
        self._taken: OrderedDict[int, Taken] = OrderedDict()
        self._lock = threading.Lock()
        self._thread: threading.Thread | None = None
        self._holding: threading.Thread | None = None
        self._last: Stands | None = None

    def stands(self) -> Stands | None:
        """How it stands just now, None where nobody has looked yet."""
        return self._board.stands()

    @property
    def span(self) -> Span:
        """What is swept. Raises LookupError where nobody has looked yet."""
        stands = self.stands()
        if stands is None:
            raise LookupError(str(self.address))
        return Span(**stands.span)

    def follow(self, start: Span) -> Screen:
        """A screen's own queue of events, starting with how things stand; the first of all has `start` swept."""
        self._board.open(asdict(start))
        self._board.look(self._server)
        with self._lock:
            begins = self._thread is None or not self._thread.is_alive()
            if begins:
                self._last = None
            screen = self._screens.enter(_news(None, self._last) if self._last else ())
            if begins:
                self._thread = threading.Thread(target=self._watch, name=f"live {self.address}", daemon=True)
                self._thread.start()
        return screen

    def leave(self, screen: Screen) -> None:
        self._screens.leave(screen)

    def change(self, span: Span) -> None:
        """Sweep another span from the next sweep on."""
        self._board.set(span=asdict(span))

    def change_ports(self, between: bool) -> None:
        """From the next sweep on what goes from port to port, or the reflection again; it too once nobody looks."""
        if between and self.driver.through is None:
            raise ValueError(f"{self.driver.name} has no commands to sweep from port to port")
        self._board.set(between_ports=between)

    def ask(self, what: dict[str, Any], timeout_s: float = LONGEST_S) -> Any:
        """Have something done between two sweeps, see `live_commands`; gives its words, or what came with them.

        Raises
        ------
        InstrumentProblem
            What went wrong with it, or that the instrument was not reached in time.
        """
        wish = self._board.wish(what)
        until = time.monotonic() + timeout_s
        while time.monotonic() < until:
            answer = self._board.answer(wish)
            if answer is not None:
                if answer.trouble:
                    raise InstrumentProblem(Trouble(answer.trouble), answer.words)
                return answer.words if answer.body is None else read_back(answer.body, FROM_INSTRUMENTS)
            time.sleep(LOOK_EVERY_S)
        words = "the instrument did not answer in time; wait until it sweeps again, then repeat the step"
        self._board.grant(wish, words, Trouble.TIMEOUT.value)  # nor is it done later, unasked
        raise InstrumentProblem(Trouble.TIMEOUT, words)

    def taken(self, number: int) -> Taken | None:
        """A sweep that went by; all screens of this server have the same object."""
        with self._lock:
            if number not in self._taken:
                body = self._board.sweep(number)
                if body is None:
                    return None
                self._taken[number] = read_back(body, (Taken, Span))
                while len(self._taken) > HERE:
                    self._taken.popitem(last=False)
            return self._taken[number]

    def _watch(self) -> None:
        """Tell the screens what is new on the board, and see to it that some server sweeps."""
        looked_at = 0.0
        while self._followed():
            try:
                if time.monotonic() - looked_at > SAY_EVERY_S:
                    looked_at = time.monotonic()
                    self._board.look(self._server)
                stands = self._board.stands()
                if stands is None:
                    self._screens.tell(Event("status", REPLACED))
                    self._screens.clear()
                    continue
                self._tell_news(stands)
                if not stands.held and (self._holding is None or not self._holding.is_alive()):
                    self._take_over(stands)
            except SQLAlchemyError:
                time.sleep(SAY_EVERY_S)
            time.sleep(LOOK_EVERY_S)

    def _take_over(self, stands: Stands) -> None:
        if self._board.claim(self._server):
            self._holding = hold(self._board, self._server, self.driver, self._made, stands)

    def _made(self, stands: Stands) -> LiveRun:
        return LiveRun(self.driver, self.address, Span(**stands.span), last_number=stands.number)

    def _followed(self) -> bool:
        """Whether there is a screen. Whoever comes after that was denied finds no thread, and begins one."""
        with self._lock:
            if not self._screens:
                self._thread = None
            return bool(self._screens)

    def _tell_news(self, stands: Stands) -> None:
        before, self._last = self._last, stands
        for event in _news(before, stands):
            self._screens.tell(event)


def _news(before: Stands | None, now: Stands) -> list[Event]:
    """What a screen that knows how it stood is told of how it stands; who knows nothing is not told what was said."""
    events = []
    if before is None or before.status != now.status:
        events.append(Event("status", now.status))
    if before is not None and before.progress != now.progress:
        events.append(Event("progress", {"share": now.progress}))
    if before is not None and before.said != now.said:
        events.append(Event("said", {"words": now.said.get("words", "")}))
    if now.number and (before is None or before.number != now.number):
        events.append(Event("sweep", {"number": now.number}))
    return events
