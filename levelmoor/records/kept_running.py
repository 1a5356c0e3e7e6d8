"""Processes that are kept running: one that ends is started again, and all end with the process that keeps them."""

import os
import subprocess
import sys
import threading
import time
from collections.abc import Mapping, Sequence

PAUSE_S = 1.0
"""Between two beginnings of one that ends at once."""
PATIENCE_S = 5.0


class KeptRunning:
    """So many processes of one command, which inherit `fds`."""

    def __init__(
        self, command: Sequence[str], count: int, fds: Sequence[int] = (), env: Mapping[str, str] | None = None
    ) -> None:
        self._command, self._fds, self._env = command, fds, {**os.environ, **(env or {})}
        self._running: set[subprocess.Popen[bytes]] = set()
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
                # Its standard input says, by its end, that nobody keeps it any more.
                process = subprocess.Popen(self._command, stdin=subprocess.PIPE, pass_fds=self._fds, env=self._env)
                self._running.add(process)
            process.wait()
            with self._lock:
                self._running.discard(process)
                assert process.stdin is not None
                process.stdin.close()
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
            try:
                process.wait(PATIENCE_S)
            except subprocess.TimeoutExpired:
                process.kill()
        for keeper in self._keepers:
            keeper.join(PATIENCE_S)


def end_with_keeper() -> None:
    """Have this process end at once when the one that keeps it is gone, however that ended."""

    def wait() -> None:
        while os.read(sys.stdin.fileno(), 1):
            pass
        os._exit(0)

    threading.Thread(target=wait, daemon=True).start()
