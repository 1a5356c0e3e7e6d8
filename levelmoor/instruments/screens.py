"""Screens that follow an instrument: each with a queue of its own of what it is told."""

import queue
import threading
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

MOST_SCREENS = 16
MOST_WAITING = 200
"""Events for one screen."""


@dataclass(frozen=True)
class Event:
    """What a screen is told: `status`, `progress`, `sweep`, `said`."""

    kind: str
    data: dict[str, Any]


Screen = queue.Queue[Event]


class TooManyScreens(RuntimeError):
    """More screens follow one instrument than are served."""


class Screens:
    """Those that follow one instrument."""

    def __init__(self) -> None:
        self._every: list[Screen] = []
        self._lock = threading.Lock()

    def __bool__(self) -> bool:
        return bool(self._every)

    def enter(self, stands: Sequence[Event]) -> Screen:
        """One more, which is told first how it stands.

        Raises
        ------
        TooManyScreens
            If as many follow as may.
        """
        screen: Screen = queue.Queue(maxsize=MOST_WAITING)
        for event in stands:
            screen.put(event)
        with self._lock:
            if len(self._every) >= MOST_SCREENS:
                raise TooManyScreens(f"{MOST_SCREENS} screens already follow this instrument; close one of them")
            self._every.append(screen)
        return screen

    def leave(self, screen: Screen) -> None:
        with self._lock:
            if screen in self._every:
                self._every.remove(screen)

    def clear(self) -> None:
        with self._lock:
            self._every.clear()

    def tell(self, event: Event) -> None:
        """To every screen; one that does not keep up misses progress, and then the oldest event."""
        with self._lock:
            screens = list(self._every)
        for screen in screens:
            if screen.full():
                if event.kind == "progress":
                    continue
                screen.get()
            screen.put(event)
