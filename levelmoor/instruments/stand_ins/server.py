"""Stand-ins over TCP on loopback: one line in, one line out."""

import socket
import socketserver
import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress

from levelmoor.instruments.stand_ins.instruments import Fault, StandIn, stand_ins

HOST = "127.0.0.1"
FIRST_PORT = 50250


class _Handler(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        with suppress(ConnectionError):  # whoever asked is gone
            self._answer()

    def _answer(self) -> None:
        server = self.server
        assert isinstance(server, StandInServer)
        for line in self.rfile:
            text = line.decode("ascii", "replace").strip()
            if not text:
                continue
            if "?" in text and not text.upper().startswith("SIM"):
                if server.stand_in.due(Fault.DISCONNECT):
                    self.connection.shutdown(socket.SHUT_RDWR)
                    return
                if server.stand_in.due(Fault.GARBAGE):
                    self.wfile.write(b"\x00#?~ 1.0e,,--\n")
                    continue
                if server.stand_in.due(Fault.TIMEOUT):
                    continue
            with server.lock:
                answer = server.stand_in.scpi.answer(text)
            if answer is not None:
                self.wfile.write(answer.encode("ascii") + b"\n")


class StandInServer(socketserver.ThreadingTCPServer):
    """One stand-in on one port; several clients share it, as they would an instrument."""

    daemon_threads = True
    allow_reuse_address = True

    def __init__(self, stand_in: StandIn, port: int = 0) -> None:
        super().__init__((HOST, port), _Handler)
        self.stand_in, self.lock = stand_in, threading.Lock()

    @property
    def address(self) -> str:
        return f"{HOST}:{self.server_address[1]}"


@contextmanager
def running(stand_in: StandIn, port: int = 0) -> Iterator[StandInServer]:
    """A stand-in that answers while the block runs."""
    with StandInServer(stand_in, port) as server:
        thread = threading.Thread(target=server.serve_forever, daemon=True)
        thread.start()
        try:
            yield server
        finally:
            server.shutdown()
            thread.join()


def serve(first_port: int = FIRST_PORT) -> list[StandInServer]:
    """All stand-ins on ports from the first on, each answering in a thread of its own.

    Raises
    ------
    OSError
        Where a port is taken.
    """
    servers: list[StandInServer] = []
    try:
        for i, one in enumerate(stand_ins()):
            servers.append(StandInServer(one, first_port + i if first_port else 0))
    except OSError:
        for server in servers:
            server.server_close()
        raise
    for server in servers:
        threading.Thread(target=server.serve_forever, daemon=True).start()
    return servers
