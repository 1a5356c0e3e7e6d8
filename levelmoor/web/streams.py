"""Event streams: how many may be open at once, for one person and in all, so that pages always have threads left."""

import threading
from collections import Counter

MOST_BY_PERSON = 4


class TooManyStreams(ValueError):
    """As many streams are open as there is room for."""


class Streams:
    """The open streams of this server."""

    def __init__(self, most: int) -> None:
        self.most = most
        self._open: Counter[int] = Counter()
        self._lock = threading.Lock()

    def enter(self, user_id: int) -> None:
        """Count one more stream of a person; raises TooManyStreams where there is no room for it."""
        with self._lock:
            if self._open[user_id] >= MOST_BY_PERSON:
                raise TooManyStreams(
                    f"{MOST_BY_PERSON} of your live screens are open already; close one, then open this again"
                )
            if self._open.total() >= self.most:
                raise TooManyStreams(f"{self.most} live screens are open on this server; wait until one is closed")
            self._open[user_id] += 1

    def leave(self, user_id: int) -> None:
        with self._lock:
            self._open[user_id] -= 1
            if self._open[user_id] <= 0:
                del self._open[user_id]
