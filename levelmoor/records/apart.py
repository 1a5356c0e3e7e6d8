"""Files of strangers are read in processes of their own, with limits of time and memory, so that none holds the server.

Where no readers were begun, as on the command line, files are read in the process itself.
"""

import os
import queue
import resource
import socket
import subprocess
import sys
from collections.abc import Callable
from contextlib import suppress
from multiprocessing.connection import Connection
from threading import Lock
from typing import Any, TypeVar

from levelmoor.formats.problem import FileProblem

T = TypeVar("T")
SECONDS = 20.0
"""That a file may take."""
START_S, WAIT_S = 60.0, 30.0
"""That a reader may take until it is there, and a file until a reader is free."""
MEMORY_BYTES = 2_000_000_000
"""Of addresses, as the system counts them; what is used is far less."""


class _Reader:
    """One process, and the line to it."""

    def __init__(self) -> None:
        ours, theirs = socket.socketpair()
        with theirs:
            self.process = subprocess.Popen(
                [sys.executable, "-m", __name__, str(theirs.fileno())],
                pass_fds=(theirs.fileno(),), stdin=subprocess.DEVNULL, env={**os.environ, "OPENBLAS_NUM_THREADS": "1"},
            )  # fmt: skip
        self.line = Connection(ours.detach())
        self.ready = False

    def ask(self, seconds: float, *asked: Any) -> Any:
        """What the reader answers. Raises TimeoutError where it takes too long, EOFError where it has ended."""
        if not self.ready:
            if not self.line.poll(START_S):
                raise TimeoutError
            self.ready = bool(self.line.recv())
        self.line.send(asked)
        if not self.line.poll(seconds):
            raise TimeoutError
        return self.line.recv()

    def end(self) -> None:
        self.line.close()
        self.process.kill()
        self.process.wait()


class Readers:
    """So many processes, each kept from file to file; one that fails is replaced."""

    def __init__(self, count: int, seconds: float = SECONDS) -> None:
        self.seconds = seconds
        self._free: queue.LifoQueue[_Reader] = queue.LifoQueue()
        self._every: list[_Reader] = []
        self._lock = Lock()
        for _ in range(count):
            self._add()

    def _add(self) -> None:
        reader = _Reader()
        with self._lock:
            self._every.append(reader)
        self._free.put(reader)

    def read(self, read: Callable[..., T], *args: Any, **kwargs: Any) -> T:
        """What a function makes of a file, or the error it raises.

        Raises
        ------
        FileProblem
            Where the file takes too much time or memory, or no reader is free for long.
        """
        name = next((a for a in args if isinstance(a, str) and "." in a), "the file")
        try:
            reader = self._free.get(timeout=WAIT_S)
        except queue.Empty:
            raise FileProblem(name, 1, 1, "other files are being read", "send it again in a minute") from None
        try:
            said, answer = reader.ask(self.seconds, read, args, kwargs)
        except (TimeoutError, EOFError, OSError) as problem:
            with self._lock:
                self._every.remove(reader)
            reader.end()
            self._add()
            much = "time" if isinstance(problem, TimeoutError) else "memory"
            raise FileProblem(name, 1, 1, f"reading it takes too much {much}", "fewer points; cut the file") from None
        self._free.put(reader)
        if said == "raised":
            raise answer
        return answer  # type: ignore[no-any-return]

    def end(self) -> None:
        for reader in self._every:
            reader.end()
        self._every.clear()


_readers: Readers | None = None


def begin(count: int) -> None:
    """Have files read by so many processes from now on."""
    global _readers  # noqa: PLW0603  one installation, one set of readers
    end()
    _readers = Readers(count)


def end() -> None:
    """End the readers; files are read in the process itself again."""
    global _readers  # noqa: PLW0603
    if _readers is not None:
        _readers.end()
    _readers = None


def read_apart(read: Callable[..., T], *args: Any, **kwargs: Any) -> T:
    """What a reader of files makes of one, read apart where there are readers."""
    return _readers.read(read, *args, **kwargs) if _readers is not None else read(*args, **kwargs)


def _serve(line: Connection) -> None:
    """Read one file after another until the server is gone."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    import levelmoor.formats.capture_file
    import levelmoor.formats.exchange_file
    import levelmoor.formats.sweepfile  # noqa: F401  what nearly every file asks for

    with suppress(EOFError, OSError, KeyboardInterrupt):  # the server is gone
        line.send(True)
        while True:
            read, args, kwargs = line.recv()
            try:
                answer = ("read", read(*args, **kwargs))
            except MemoryError:
                raise SystemExit(1) from None
            except Exception as problem:
                answer = ("raised", problem)
            line.send(answer)


if __name__ == "__main__":
    _serve(Connection(int(sys.argv[1])))
