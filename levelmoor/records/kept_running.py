"""Processes that are kept running: one that ends is started again, and all end with the process that keeps them.

They are forked from one process that has loaded what they need and does nothing else: so each begins in a moment, and
what it does not change it shares with the others.
"""

import ctypes
import gc
import multiprocessing
import os
import signal
import sys
import threading
import time
from collections.abc import Callable, Sequence
from contextlib import suppress
from multiprocessing.process import BaseProcess
from typing import Any

PAUSE_S = 1.0
"""Between two beginnings of one that ends at once."""
PATIENCE_S = 5.0
_SET_DEATH_SIGNAL, _SET_NAME = 1, 15
"""Of prctl(2)."""

_forked = multiprocessing.get_context("forkserver")


def load_before(modules: Sequence[str]) -> None:
    """Have these loaded once, for all processes that will be kept running. Told before the first one begins."""
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # its threads would not be there after a fork
    _forked.set_forkserver_preload(list(modules))


def done_once(work: Callable[[], None]) -> None:
    """Have a work done by one process, to its end.

    Raises
    ------
    SystemExit
        Where it fails; what it failed of is told by that process.
    """
    process = _forked.Process(target=work)
    process.start()
    process.join()
    if process.exitcode:
        raise SystemExit(process.exitcode)


def end_when_told(*by: signal.Signals) -> None:
    """Have this process end in order at the first of these signals. Those that come while it ends would break that off,
    and are ignored: of a parent with several threads that is killed the system sends more than one."""

    def end(*_: object) -> None:
        for one in by:
            signal.signal(one, signal.SIG_IGN)
        sys.exit(0)

    for one in by:
        signal.signal(one, end)


class KeptRunning:
    """So many processes that do one work, under a name of up to 15 letters that `ps` shows."""

    def __init__(self, name: str, count: int, work: Callable[..., None], *args: Any) -> None:
        self._name, self._work, self._args = name, work, args
        self._running: set[BaseProcess] = set()
        self._lock, self._ended = threading.Lock(), threading.Event()
        self._keepers = [threading.Thread(target=self._keep, daemon=True) for _ in range(count)]
        for keeper in self._keepers:
            keeper.start()

    def _keep(self) -> None:
        while not self._ended.is_set():
            begun = time.monotonic()
            with self._lock:
                if self._ended.is_set():
                    return
                process = _forked.Process(target=_begin, args=(self._name, self._work, *self._args), daemon=True)
                process.start()
                self._running.add(process)
            process.join()
            with self._lock:
                self._running.discard(process)
            if time.monotonic() - begun < PAUSE_S:
                self._ended.wait(PAUSE_S)

    def end(self) -> None:
        """End them all: told to, and after a while made to."""
        self._ended.set()
        with self._lock:
            running = list(self._running)
        for process in running:
            process.terminate()
        for process in running:
            process.join(PATIENCE_S)
            process.kill()
        for keeper in self._keepers:
            keeper.join(PATIENCE_S)


def _begin(name: str, work: Callable[..., None], *args: Any) -> None:
    system = ctypes.CDLL(None)
    system.prctl(_SET_NAME, name.encode())
    system.prctl(_SET_DEATH_SIGNAL, signal.SIGKILL)  # without the one it was forked from nobody would know of it
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # of a terminal: the keeper ends it
    gc.freeze()  # looking through what is shared would write to it
    threading.Thread(target=_end_with_keeper, daemon=True).start()
    work(*args)


def _end_with_keeper() -> None:
    """At once, however the keeper ended."""
    keeper = multiprocessing.parent_process()
    with suppress(OSError):
        if keeper is not None:
            keeper.join()
    os._exit(0)
