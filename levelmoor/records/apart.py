"""Files of strangers are read, and evaluations judged, in processes of their own with limits of time and memory.

So none holds the server.

Where none were begun, as on the command line, both are done in the process itself.
"""

import os
import queue
import resource
import signal
import socket
import subprocess
import sys
from collections.abc import Callable
from contextlib import suppress
from multiprocessing.connection import Connection
from pathlib import Path
from threading import BoundedSemaphore, Lock
from typing import Any, TypeVar

from levelmoor.core.evidence.findings import Findings
from levelmoor.core.judge import judge
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.formats.problem import FileProblem
from levelmoor.records.judging import judge_next

T = TypeVar("T")
READING_S, JUDGING_S = 20.0, 60.0
"""That a file may take, and an evaluation."""
BEHIND = 10
"""How far readers, and who judges what is long, stand behind pages where both want the processor."""
ALONE_S = 90
"""After which a worker ends itself."""
START_S, WAIT_S = 60.0, 30.0
"""That a worker may take until it is there, and work until one is free."""
MOST_WAITING = 4
"""For each worker; who comes then is sent away at once, so that work that takes long never takes all the threads."""
LONG_POINTS = 100_000
"""Evaluations with more points than these are long: one process judges them, behind pages, and the others wait for
none of them."""
MEMORY_BYTES = 2_000_000_000
"""Of addresses, as the system counts them; what is used is far less."""
LARGE_BYTES = 280_000_000
"""Resident; a worker that has come to hold so much is replaced by a new one, since memory seldom goes back."""


class TooMuch(Exception):
    """What was too much of a piece of work: `time` or `memory`; `work` where no worker is free for it."""


class _Worker:
    """One process, and the line to it."""

    def __init__(self, behind: int) -> None:
        ours, theirs = socket.socketpair()
        with theirs:
            self.process = subprocess.Popen(
                [sys.executable, "-m", __name__, str(theirs.fileno()), str(behind)],
                pass_fds=(theirs.fileno(),), stdin=subprocess.DEVNULL, env={**os.environ, "OPENBLAS_NUM_THREADS": "1"},
            )  # fmt: skip
        self.line = Connection(ours.detach())
        self.ready = False

    def ask(self, seconds: float, *asked: Any) -> Any:
        """What the worker answers. Raises TimeoutError where it takes too long, EOFError where it has ended."""
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


class Workers:
    """So many processes, each kept from work to work; one that fails is replaced."""

    def __init__(self, count: int, seconds: float, behind: int = 0) -> None:
        self.seconds, self.behind = seconds, behind
        self._free: queue.LifoQueue[_Worker] = queue.LifoQueue()
        self._every: list[_Worker] = []
        self._lock, self._line = Lock(), BoundedSemaphore(count * MOST_WAITING)
        for _ in range(count):
            self._add()

    def _add(self) -> None:
        worker = _Worker(self.behind)
        with self._lock:
            self._every.append(worker)
        self._free.put(worker)

    def do(self, work: Callable[..., T], *args: Any, **kwargs: Any) -> T:
        """What a function answers, or the error it raises.

        Raises
        ------
        TooMuch
            Where it takes too much time or memory, or no worker is free for long.
        """
        if not self._line.acquire(blocking=False):
            raise TooMuch("work")
        try:
            return self._do(work, args, kwargs)
        finally:
            self._line.release()

    def _do(self, work: Callable[..., T], args: Any, kwargs: Any) -> T:
        try:
            worker = self._free.get(timeout=WAIT_S)
        except queue.Empty:
            raise TooMuch("work") from None
        try:
            said, answer, large = worker.ask(self.seconds, work, args, kwargs)
        except (TimeoutError, EOFError, OSError) as problem:
            self._replace(worker)
            raise TooMuch("time" if isinstance(problem, TimeoutError) else "memory") from None
        if large:
            self._replace(worker)
        else:
            self._free.put(worker)
        if said == "raised":
            raise answer
        return answer  # type: ignore[no-any-return]

    def _replace(self, worker: _Worker) -> None:
        with self._lock:
            self._every.remove(worker)
        worker.end()
        self._add()

    def end(self) -> None:
        for worker in self._every:
            worker.end()
        self._every.clear()


_readers: Workers | None = None
_judges: Workers | None = None
_long_judges: Workers | None = None


def begin(readers: int, judges: int) -> None:
    """Have files read by so many processes from now on, and evaluations judged by so many; of two or more one judges
    those that are long."""
    global _readers, _judges, _long_judges  # noqa: PLW0603  one installation, one set of each
    end()
    _readers = Workers(readers, READING_S, BEHIND) if readers else None
    _judges = Workers(max(judges - 1, 1), JUDGING_S) if judges else None
    _long_judges = Workers(1, JUDGING_S, BEHIND) if judges > 1 else _judges


def end() -> None:
    """End the workers; all is done in the process itself again."""
    global _readers, _judges, _long_judges  # noqa: PLW0603
    for workers in (_readers, _judges, _long_judges):
        if workers is not None:
            workers.end()
    _readers = _judges = _long_judges = None


def read_apart(read: Callable[..., T], *args: Any, **kwargs: Any) -> T:
    """What a reader of files makes of one, read apart where there are readers.

    Raises
    ------
    FileProblem
        As the reader raises it, and where the file takes too much time or memory, or no reader is free for long.
    """
    if _readers is None:
        return read(*args, **kwargs)
    try:
        return _readers.do(read, *args, **kwargs)
    except TooMuch as much:
        name = next((a for a in args if isinstance(a, str) and "." in a), "the file")
        if str(much) == "work":
            raise FileProblem(name, 1, 1, "other files are being read", "send it again in a minute") from None
        raise FileProblem(name, 1, 1, f"reading it takes too much {much}", "fewer points; split the file") from None


def judge_apart(evaluation: Evaluation) -> Findings:
    """The findings of an evaluation, judged apart where there are judges.

    Raises
    ------
    TooMuch
        Where it takes too much time or memory, or no judge is free for long.
    """
    return judge(evaluation) if _judges is None else work_apart(evaluation, judge_next, evaluation)


def work_apart(evaluation: Evaluation, work: Callable[..., T], *args: Any) -> T:
    """Work on an evaluation, done by the judges where there are any.

    Raises
    ------
    TooMuch
        Where it takes too much time or memory, or no judge is free for long.
    """
    judges = _long_judges if is_long(evaluation) else _judges
    return judges.do(work, *args) if judges is not None else work(*args)


def judges_work() -> bool:
    """Whether evaluations are judged in processes of their own."""
    return _judges is not None


def is_long(evaluation: Evaluation) -> bool:
    """Whether judging it may take many seconds."""
    return sum(e.sweep.points for e in evaluation.sweeps) > LONG_POINTS


def _serve(line: Connection, behind: int) -> None:
    """Do one piece of work after another until the server is gone."""
    os.nice(behind)
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    import levelmoor.formats.capture_file
    import levelmoor.formats.exchange_file
    import levelmoor.formats.sweepfile  # noqa: F401  what nearly every file asks for

    with suppress(EOFError, OSError, KeyboardInterrupt):  # the server is gone
        line.send(True)
        while True:
            work, args, kwargs = line.recv()
            signal.alarm(ALONE_S)  # should the server be gone meanwhile, nobody else ends this
            try:
                answer = ("done", work(*args, **kwargs))
            except MemoryError:
                raise SystemExit(1) from None
            except Exception as problem:
                answer = ("raised", problem)
            line.send((*answer, _resident_bytes() > LARGE_BYTES))
            signal.alarm(0)


def _resident_bytes() -> int:
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * resource.getpagesize()


if __name__ == "__main__":
    _serve(Connection(int(sys.argv[1])), int(sys.argv[2]))
