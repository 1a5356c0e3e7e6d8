"""Serving by several processes at one socket, as many as the machine has cores, and workers that they share.

This process only keeps them, and loads nothing of what they need.
"""

import errno
import os
import signal
import socket
import tempfile
import time
from pathlib import Path

from levelmoor.records import workers, workforce
from levelmoor.records.kept_running import KeptRunning, done_once, end_when_told, load_before

SHARED = "PROMETHEUS_MULTIPROC_DIR"
"""Where the processes of one server put their figures, so that any of them tells those of all."""
WORKERS = {"READERS": 2, "JUDGES": 3}
"""Processes that read files and that judge evaluations, for all servers together, where LEVELMOOR_READERS and
LEVELMOOR_JUDGES say nothing else; 0 has each server do it itself."""
FREE_S = 5.0
"""How long a socket that a server has just left is waited for."""
WAITING = 1024
"""Connections that may wait until a server takes them."""


def serve(host: str, port: int, threads: int, processes: int = 0) -> None:
    """Serve by so many processes, as many as the machine has cores where 0 is said, until told to end."""
    processes = processes or len(os.sched_getaffinity(0))
    end_when_told(signal.SIGTERM)
    with tempfile.TemporaryDirectory(prefix="levelmoor-") as figures:
        os.environ[SHARED] = figures
        _serve(host, port, threads, processes)


def _serve(host: str, port: int, threads: int, processes: int) -> None:
    readers, judges = (int(os.environ.get(f"LEVELMOOR_{name}", most)) for name, most in WORKERS.items())
    load_before(workers.LOADED if processes == 1 else (*workers.LOADED, "levelmoor.web.serve"))
    folder = workforce.begin(readers, judges)
    try:
        if processes == 1:
            _serve_too(folder, host, port, threads)
            return
        done_once(_check)
        with _listening(host, port) as listening:
            kept = KeptRunning("lm-server", processes, _serve_too, folder, host, port, threads, listening)
            try:
                while True:
                    signal.pause()
            finally:
                kept.end()
    finally:
        workforce.end()


def _serve_too(folder: Path, host: str, port: int, threads: int, listening: socket.socket | None = None) -> None:
    from levelmoor.records import apart
    from levelmoor.web.serve import begin

    apart.join(folder)
    begin(host, port, threads, listening)


def _check() -> None:
    """Fail once where the database or a setting is not right: each server would fail, and be started again for ever."""
    from levelmoor.web.app import create_app

    create_app()


def _listening(host: str, port: int) -> socket.socket:
    """A socket that is ours alone."""
    family, kind, _, _, address = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM, flags=socket.AI_PASSIVE)[0]
    until = time.monotonic() + FREE_S
    while True:
        found = socket.socket(family, kind)
        try:
            found.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            found.bind(address)
            found.listen(WAITING)
            return found
        except OSError as problem:
            found.close()
            if problem.errno != errno.EADDRINUSE or time.monotonic() > until:
                raise
            time.sleep(0.1)
