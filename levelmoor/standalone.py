"""Levelmoor on one machine: its private database, the demo, and the server, until Ctrl-C."""

import argparse
import os
import shutil
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from contextlib import ExitStack
from pathlib import Path

from sqlalchemy import create_engine, text

from levelmoor.demo.load import sign_in
from levelmoor.instruments.stand_ins.instruments import stand_ins
from levelmoor.instruments.stand_ins.server import FIRST_PORT, HOST
from levelmoor.instruments.stand_ins.server import serve as serve_stand_ins
from levelmoor.records.database import VARIABLE, migrate
from levelmoor.records.private_server import free_port, private_server

INSTRUMENTS = "LEVELMOOR_INSTRUMENTS"
"""The setting of what may be reached; the web's own name for it is in `levelmoor.web.live.runs`."""


def say(words: str) -> None:
    print(f"levelmoor: {words}", flush=True)


def main() -> int:
    parser = argparse.ArgumentParser(prog="./start", description="Start Levelmoor with its own database.")
    parser.add_argument("--port", type=int, default=8080)
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--fresh", action="store_true", help="throw the private database away and load the demo anew")
    parser.add_argument("--demo", action="store_true", help=f"load the demo also into the database of {VARIABLE}")
    parser.add_argument("--folder", type=Path, default=Path("var/database"), help="where the private database lies")
    options = parser.parse_args()
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    try:
        return _run(options)
    except KeyboardInterrupt:
        return 0
    except RuntimeError as problem:
        say(str(problem))
        return 1
    finally:
        say("stopped")


def _run(options: argparse.Namespace) -> int:
    with ExitStack() as stack:
        own = not os.environ.get(VARIABLE)
        if own:
            folder = options.folder.resolve()
            if options.fresh and folder.exists():
                say("throwing the old database away")
                shutil.rmtree(folder)
            say(f"starting the private database in {options.folder}")
            os.environ[VARIABLE] = stack.enter_context(private_server(folder))
        elif options.fresh:
            raise RuntimeError(f"--fresh is for the private database only; {VARIABLE} is set")
        url = os.environ[VARIABLE]
        say("bringing the schema up to date")
        migrate(url)
        demo = options.demo or (own and _is_empty(url))
        if demo:
            say("loading the demo")
            if subprocess.run([sys.executable, "-m", "levelmoor.cli", "demo"], check=False).returncode:
                raise RuntimeError("the demo could not be loaded; the reason stands above")
        if own:
            _stand_ins(stack)
        port = free_port(options.port)
        if port != options.port:
            say(f"port {options.port} is taken")
        # A session of its own, so that Ctrl-C reaches this process, which stops the server before the database.
        server = subprocess.Popen(
            [sys.executable, "-m", "levelmoor.cli", "serve", "--host", options.host, "--port", str(port)],
            start_new_session=True,
        )
        stack.callback(_stop, server)
        address = f"http://{options.host}:{port}/"
        _wait(server, address)
        say(f"ready at {address}")
        if own:
            say(sign_in())
        say("Ctrl-C stops it")
        return server.wait()


def _stand_ins(stack: ExitStack) -> None:
    """The simulated instruments that the demo's live view sweeps, and leave to reach them."""
    last = FIRST_PORT + len(stand_ins()) - 1
    os.environ.setdefault(INSTRUMENTS, f"{HOST}:{FIRST_PORT}-{last}")
    try:
        for server in serve_stand_ins(FIRST_PORT):
            stack.callback(server.server_close)
            stack.callback(server.shutdown)
        say(f"simulated instruments answer at {HOST}:{FIRST_PORT} to {last}")
    except OSError:
        say(f"port {FIRST_PORT} is taken, so no simulated instruments were started")


def _is_empty(url: str) -> bool:
    engine = create_engine(url)
    with engine.connect() as connection:
        count = connection.execute(text("SELECT COUNT(*) FROM team")).scalar_one()
    engine.dispose()
    return int(count) == 0


def _stop(server: "subprocess.Popen[bytes]") -> None:
    server.terminate()
    try:
        server.wait(10)
    except subprocess.TimeoutExpired:
        server.kill()
        server.wait()


def _wait(server: "subprocess.Popen[bytes]", address: str, seconds: float = 60) -> None:
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        if server.poll() is not None:
            raise RuntimeError("the server did not come up; what it says stands above")
        try:
            urllib.request.urlopen(f"{address}help", timeout=5).close()  # noqa: S310  our own address
            return
        except (urllib.error.URLError, ConnectionError):
            time.sleep(0.1)
    raise RuntimeError("the server does not answer")


if __name__ == "__main__":
    sys.exit(main())
