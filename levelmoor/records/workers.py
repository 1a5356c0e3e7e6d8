"""Processes that do one kind of work for all servers of a machine, with limits of time and memory.

They wait at one socket, and whoever is free takes the next piece of work; the line before it has an end.
"""

import os
import resource
import signal
import socket
import time
from collections.abc import Callable
from contextlib import suppress
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, TypeVar

from levelmoor.records.kept_running import KeptRunning
from levelmoor.records.logs import configure, log, request_id

T = TypeVar("T")
WAIT_S = 30.0
"""That work may wait until a worker is free."""
MOST_WAITING = 4
"""For each worker, with what it works on; who comes then is sent away at once, so that work that takes long never takes
all the threads."""
LATE_S = 10.0
"""By how much a worker may be late to end itself."""
MEMORY_BYTES = 2_000_000_000
"""Of addresses, as the system counts them; what is used is far less."""
LARGE_BYTES = 120_000_000
"""Resident, over what it began with; a worker that has come to hold so much is replaced by a new one, since memory
seldom goes back."""
LOADED = ("levelmoor.formats.capture_file", "levelmoor.formats.exchange_file", "levelmoor.formats.sweepfile")
"""What nearly every file asks for."""


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


class Workers(Line):
    """So many processes, each kept from work to work; one that fails is replaced. `behind` is how far they stand behind
    others where both want the processor, `waiting` how much work each may have before it."""

    def __init__(self, path: Path, count: int, seconds: float, behind: int = 0, waiting: int = MOST_WAITING) -> None:
        super().__init__(path, seconds)
        self._line = socket.socket(socket.AF_UNIX)
        self._line.bind(str(path))
        self._line.listen(count * (waiting - 1) - 1)  # the system lets one more wait than it is told
        self._kept = KeptRunning(f"lm-{path.name}", count, _serve, self._line, seconds, behind)

    def end(self) -> None:
        self._kept.end()
        self._line.close()
        self._path.unlink(missing_ok=True)


def _serve(line: socket.socket, seconds: float, behind: int) -> None:
    """Do one piece of work after another."""
    os.nice(behind)
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    configure()
    done, begun_with = log("levelmoor.worker"), _resident_bytes()
    while _resident_bytes() < begun_with + LARGE_BYTES:
        end, _ = line.accept()
        with suppress(EOFError, OSError), Connection(end.detach()) as asker:  # who asked may be gone
            asker.send(True)
            request, work, args, kwargs = asker.recv()
            request_id.set(request)
            begun = time.monotonic()
            signal.setitimer(signal.ITIMER_REAL, seconds)  # ends this process, whatever it is at
            try:
                answer = ("done", work(*args, **kwargs))
            except MemoryError:
                raise SystemExit(1) from None
            except Exception as problem:
                answer = ("raised", problem)
            signal.setitimer(signal.ITIMER_REAL, 0)
            done.info("work", what=work.__name__, answer=answer[0], ms=round(1000 * (time.monotonic() - begun), 1))
            asker.send(answer)


def _resident_bytes() -> int:
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * resource.getpagesize()
