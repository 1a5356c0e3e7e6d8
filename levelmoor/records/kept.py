"""What was worked out and is kept in memory, by everything that it rests on."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from contextlib import suppress
from threading import Event, Lock, Thread
from typing import Generic, TypeVar

V = TypeVar("V")


class Kept(Generic[V]):
    """So many results, or of what is large so many points in all; the one that was not asked for longest goes first."""

    def __init__(self, most: int, points_of: Callable[[V], int] | None = None, most_points: int = 0) -> None:
        self._most, self._points_of, self._most_points = most, points_of, most_points
        self._held, self._points, self._lock = OrderedDict[Hashable, V](), dict[Hashable, int](), Lock()
        self._making: dict[Hashable, Event] = {}

    def __contains__(self, key: Hashable) -> bool:
        return key in self._held

    def soon(self, key: Hashable, make: Callable[[], V], seconds: float) -> V:
        """The same, where it is there within so many seconds; making it goes on beside.

        Raises
        ------
        TimeoutError
            Where it is not.
        """
        with self._lock:
            made = self._making.get(key)
        if key not in self._held:
            if made is None:
                made = Event()
                Thread(target=self._beside, args=(key, make, made), daemon=True).start()
            if not made.wait(seconds):
                raise TimeoutError
        return self.get(key, make)

    def _beside(self, key: Hashable, make: Callable[[], V], made: Event) -> None:
        with suppress(Exception):  # who asks next is told
            self.get(key, make)
        made.set()

    def get(self, key: Hashable, make: Callable[[], V]) -> V:
        """What is kept under a key, else what is made now; who asks meanwhile waits for that."""
        while True:
            with self._lock:
                if key in self._held:
                    self._held.move_to_end(key)
                    return self._held[key]
                others = self._making.get(key)
                if others is None:
                    mine = self._making[key] = Event()
                    break
            others.wait()
        try:
            made = make()
            self.put(key, made)
            return made
        finally:
            with self._lock:
                del self._making[key]
            mine.set()

    def put(self, key: Hashable, made: V) -> None:
        with self._lock:
            self._held[key] = made
            self._points[key] = self._points_of(made) if self._points_of else 0
            while len(self._held) > self._most or (
                len(self._held) > 1 and sum(self._points.values()) > self._most_points
            ):
                gone, _ = self._held.popitem(last=False)
                del self._points[gone]
