"""What was worked out and is kept in memory, by everything that it rests on."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Event, Lock
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
