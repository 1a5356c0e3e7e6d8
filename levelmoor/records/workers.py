"""Processes that do one kind of work for all servers of a machine, with limits of time and memory.

They wait at one socket, and whoever is free takes the next piece of work; the line before it has an end. The process
that begins them loads none of what they need.
"""

import os
import resource
import signal
import socket
import time
from contextlib import suppress
from multiprocessing.connection import Connection
from pathlib import Path

from levelmoor.records.held_memory import give_back, hold_less, resident_bytes
from levelmoor.records.kept_running import KeptRunning

MOST_WAITING = 4
"""For each worker, with what it works on; who comes then is sent away at once, so that work that takes long never takes
all the threads."""
MEMORY_BYTES = 2_000_000_000
"""Of addresses, as the system counts them; what is used is far less."""
LARGE_BYTES = 120_000_000
"""Resident, over what it began with; a worker that holds so much, with what is free given back, is replaced by a new
one."""
LOADED = (
    "levelmoor.formats.capture_file", "levelmoor.formats.exchange_file", "levelmoor.formats.sweepfile",
    "scipy.special", "scipy.optimize", "scipy.ndimage",
)  # fmt: skip
"""What nearly every file asks for, and what every server and judge comes to need and takes much memory."""


class Workers:
    """So many processes, each kept from work to work; one that fails is replaced. `behind` is how far they stand behind
    others where both want the processor, `waiting` how much work each may have before it, `large` how many bytes each
    may come to hold."""

    def __init__(
        self, path: Path, count: int, seconds: float, behind: int = 0, waiting: int = MOST_WAITING,
        large: int = LARGE_BYTES,
    ) -> None:  # fmt: skip
        self._path, self._line = path, socket.socket(socket.AF_UNIX)
        self._line.bind(str(path))
        self._line.listen(count * (waiting - 1) - 1)  # the system lets one more wait than it is told
        self._kept = KeptRunning(f"lm-{path.name}", count, _serve, self._line, seconds, behind, large)

    def end(self) -> None:
        self._kept.end()
        self._line.close()
        self._path.unlink(missing_ok=True)


def _serve(line: socket.socket, seconds: float, behind: int, large: int) -> None:
    """Do one piece of work after another."""
    from levelmoor.records.logs import configure, log, request_id

    os.nice(behind)
    hold_less()
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    configure()
    done, begun_with = log("levelmoor.worker"), resident_bytes()
    while resident_bytes() < begun_with + large:
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
            del request, work, args, kwargs, answer
        if resident_bytes() > begun_with + large // 4:
            give_back()
