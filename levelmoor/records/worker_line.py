"""The way to workers that wait at a socket (`levelmoor.records.workers`)."""

import socket
import time
from collections.abc import Callable
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, TypeVar

from levelmoor.records.logs import request_id

T = TypeVar("T")
WAIT_S = 30.0
"""That work may wait until a worker is free."""
LATE_S = 10.0
"""By how much a worker may be late to end itself."""


class TooMuch(Exception):
    """What was too much of a piece of work: `time` or `memory`; `work` where no worker is free for it."""


class Line:
    """The way to the workers that wait at a socket; each piece of work may take so many seconds."""

    def __init__(self, path: Path, seconds: float) -> None:
        self._path, self._seconds = path, seconds

    def do(self, work: Callable[..., T], *args: Any, **kwargs: Any) -> T:
        """What a function answers, or the error it raises.

        Raises
        ------
        TooMuch
            Where it takes too much time or memory, or no worker is free for long.
        """
        with self._reached() as line:
            begun = time.monotonic()
            try:
                line.send((request_id.get(), work, args, kwargs))
                if not line.poll(self._seconds + LATE_S):
                    raise TooMuch("time")
                said, answer = line.recv()
            except (EOFError, OSError):
                raise TooMuch("time" if time.monotonic() - begun > self._seconds else "memory") from None
        if said == "raised":
            raise answer
        return answer  # type: ignore[no-any-return]

    def _reached(self) -> Connection:
        """A worker that has taken this up."""
        end = socket.socket(socket.AF_UNIX)
        try:
            end.setblocking(False)
            end.connect(str(self._path))
            end.setblocking(True)
        except OSError:  # the line is full, or there is none any more
            end.close()
            raise TooMuch("work") from None
        line = Connection(end.detach())
        try:
            if line.poll(WAIT_S):
                line.recv()
                return line
        except (EOFError, OSError):  # it ended just then
            pass
        line.close()
        raise TooMuch("work")
