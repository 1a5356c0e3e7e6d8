"""What was worked out and is kept in memory, by everything that it rests on."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, TypeVar

V = TypeVar("V")


class Kept(Generic[V]):
    """So many results; the one that was not asked for longest goes first."""

    def __init__(self, most: int) -> None:
        self._most, self._held, self._lock = most, OrderedDict[Hashable, V](), Lock()

    def __contains__(self, key: Hashable) -> bool:
        return key in self._held

    def get(self, key: Hashable, make: Callable[[], V]) -> V:
        """What is kept under a key, else what is made now. Two who ask at once may both make it."""
        with self._lock:
            if key in self._held:
                self._held.move_to_end(key)
                return self._held[key]
        made = make()
        self.put(key, made)
        return made

    def put(self, key: Hashable, made: V) -> None:
        with self._lock:
            self._held[key] = made
            while len(self._held) > self._most:
                self._held.popitem(last=False)
