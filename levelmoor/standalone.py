"""Levelmoor on one machine: its private database, the demo, and the server, until Ctrl-C."""

import argparse
import os
import signal
import subprocess
import sys
import time
import urllib.request
from contextlib import ExitStack, suppress
from pathlib import Path

from sqlalchemy import create_engine, text
from sqlalchemy.exc import SQLAlchemyError

from levelmoor.demo.scenario import PEOPLE, SIGN_IN
from levelmoor.instruments.stand_ins.server import FIRST_PORT
from levelmoor.instruments.stand_ins.server import serve as serve_stand_ins
from levelmoor.records.backup import BackupProblem
from levelmoor.records.backup_folder import add_backup, is_due, passphrase_of_installation
from levelmoor.records.database import OWNER_VARIABLE, VARIABLE, connect, migrate, owner_url
from levelmoor.records.kept_running import end_when_told
from levelmoor.records.logs import VARIABLE as LOG
from levelmoor.records.private_server import (
    FOLDER,
    PrivateServer,
    end_recorded,
    end_with_parent,
    free_port,
    is_ours,
    private_server,
    throw_away,
)

INSTRUMENTS = "LEVELMOOR_INSTRUMENTS"
"""The setting of what may be reached; the web's own name for it is in `levelmoor.web.live.runs`."""
OPERATORS = "LEVELMOOR_OPERATORS"
"""Who sees the operator's page; the web's own name for it is in `levelmoor.web.operator.routes`."""
DATA_FOLDER = "LEVELMOOR_DATA_FOLDER"
"""Where free space is looked for; the web's own name for it is in `levelmoor.web.free_space`."""
RESTART_EVERY_S = 60.0
FIRST_BACKUP_S = 600.0
"""After the start, and between two looks at whether the next backup is due."""
KEPT = 7
"""Backups beside the private database."""
LOOK_EVERY_S = 0.5


def say(words: str) -> None:
    with suppress(OSError):  # a terminal that was closed
        print(f"levelmoor: {words}", flush=True)


def main() -> int:
    parser = argparse.ArgumentParser(prog="./start", description="Start Levelmoor with its own database.")
    parser.add_argument("--port", type=int, default=8080)
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--fresh", action="store_true", help="delete the private database and load the demo again")
    parser.add_argument("--demo", action="store_true", help=f"load the demo, also into the database of {VARIABLE}")
    parser.add_argument("--folder", type=Path, default=FOLDER, help="folder of the private database")
    options = parser.parse_args()
    # Ctrl-C's too: a shell that starts it in the background has it ignored.
    end_when_told(signal.SIGINT, signal.SIGTERM, signal.SIGHUP)
    try:
        return _run(options)
    except RuntimeError as problem:
        say(str(problem))
        return 1
    finally:
        say("stopped")


def _run(options: argparse.Namespace) -> int:
    with ExitStack() as stack:
        own = None if os.environ.get(VARIABLE) else _own_database(options, stack)
        if own is None and options.fresh:
            raise RuntimeError(f"--fresh is for the private database only; {VARIABLE} is set")
        url = os.environ[VARIABLE]
        say("updating the schema")
        migrate(owner_url(), serving_url=url)
        _catch_up(url)
        demo = options.demo or (own is not None and _is_empty(url))
        if demo:
            say("loading the demo")
            if subprocess.run([sys.executable, "-m", "levelmoor.cli", "demo"], check=False).returncode:
                raise RuntimeError("the demo could not be loaded; the reason is above")
        os.environ.setdefault(LOG, "warning")
        if own is not None:
            _stand_ins(stack)
            os.environ.setdefault(OPERATORS, PEOPLE[0][0])
            os.environ[DATA_FOLDER] = str(options.folder)
        port = free_port(options.port)
        if port != options.port:
            say(f"port {options.port} is in use")
        folder = options.folder if own is not None else None
        server = _Server(options.host, port, folder)
        stack.callback(server.stop)
        server.start()
        say(f"ready at {server.address}")
        if own is not None:
            _tell_where(options.folder, server.address)
            say(SIGN_IN)
        say("Ctrl-C stops it")
        return _watch(server, own, options.folder.with_name(f"{options.folder.name}-backups") if own else None)


def _catch_up(url: str) -> None:
    """What was published before there was a shelf is put on it."""
    from levelmoor.services.shelving import catch_up

    maker = connect(url)
    catch_up(maker)
    maker.kw["bind"].dispose()


def _own_database(options: argparse.Namespace, stack: ExitStack) -> PrivateServer:
    folder = options.folder = options.folder.resolve()
    if options.fresh and folder.exists() and any(folder.iterdir()):
        if is_ours(folder) and sys.stdin.isatty() and not _sure(folder):
            raise RuntimeError("nothing was deleted")
        say("deleting the old database")
        throw_away(folder)
    say(f"starting the private database in {folder}")
    server = stack.enter_context(private_server(folder))
    # One that outlived its ./start would go on with a database that is another's now.
    if end_recorded(folder / "server.pid", "levelmoor.cli serve"):
        say("stopped a server left over from an earlier start")
    os.environ[VARIABLE], os.environ[OWNER_VARIABLE] = server.addresses
    return server


def _sure(folder: Path) -> bool:
    """Asked only where a person is there to answer."""
    try:
        return input(f"levelmoor: delete everything in {folder}? Type yes: ").strip().lower() == "yes"
    except EOFError:
        return False


def _tell_where(folder: Path, address: str) -> None:
    """In the lock, for whoever starts a second time."""
    with (folder / "lock").open("a") as lock:
        lock.write(f" serves {address}\n")


class _Server:
    """The web server, which may be started anew in its place."""

    def __init__(self, host: str, port: int, folder: Path | None) -> None:
        self.address = f"http://{host}:{port}/"
        self._command = [sys.executable, "-m", "levelmoor.cli", "serve", "--host", host, "--port", str(port)]
        self._pid_file = folder / "server.pid" if folder else None
        self._process: subprocess.Popen[bytes] | None = None

    @property
    def code(self) -> int | None:
        """With what it ended, None while it runs."""
        return self._process.poll() if self._process else 0

    def start(self) -> None:
        # A session of its own, so that Ctrl-C reaches this process, which stops the server before the database.
        self._process = subprocess.Popen(self._command, start_new_session=True, preexec_fn=end_with_parent)  # noqa: PLW1509
        if self._pid_file:
            self._pid_file.write_text(f"{self._process.pid}\n")
        _wait(self, self.address)

    def stop(self) -> None:
        if self._process is not None:
            self._process.terminate()
            try:
                self._process.wait(10)
            except subprocess.TimeoutExpired:
                self._process.kill()
                self._process.wait()
        if self._pid_file:
            self._pid_file.unlink(missing_ok=True)


def _watch(server: _Server, database: PrivateServer | None, backups: Path | None) -> int:
    """Until told to end: what dies is started again, at most once a minute, and it is said; and once a day everything
    is backed up."""
    next_backup = time.monotonic() + FIRST_BACKUP_S
    last = {"the database": -RESTART_EVERY_S, "the server": -RESTART_EVERY_S}
    while True:
        time.sleep(LOOK_EVERY_S)
        if backups is not None and time.monotonic() > next_backup:
            next_backup = time.monotonic() + FIRST_BACKUP_S
            if is_due(backups):
                _back_up(backups)
        dead = []
        if database is not None and not database.running:
            dead.append(("the database", database.start))
        if server.code is not None:
            dead.append(("the server", server.start))
        for name, start in dead:
            if time.monotonic() - last[name] < RESTART_EVERY_S:
                continue
            last[name] = time.monotonic()
            say(f"{name} stopped unexpectedly; starting it again")
            try:
                start()
                say(f"{name} is running again")
            except RuntimeError as problem:
                say(f"{name} does not start, trying again in a minute: {problem}")


def _back_up(folder: Path) -> None:
    try:
        add_backup(owner_url(), folder, KEPT, passphrase_of_installation())
    except (BackupProblem, SQLAlchemyError, OSError) as problem:
        say(f"no backup was made, trying again in {FIRST_BACKUP_S / 60:.0f} minutes: {problem}")


def _stand_ins(stack: ExitStack) -> None:
    """The simulated instruments that the demo's live view sweeps, and leave to reach them."""
    try:
        servers, elsewhere = serve_stand_ins(), ""
    except OSError:
        servers = serve_stand_ins(0)
        elsewhere = f"; port {FIRST_PORT} is in use, so write these addresses under Live instruments"
    for server in servers:
        stack.callback(server.server_close)
        stack.callback(server.shutdown)
    addresses = ", ".join(server.address for server in servers)
    os.environ.setdefault(INSTRUMENTS, addresses)
    say(f"simulated instruments answer at {addresses}{elsewhere}")


def _is_empty(url: str) -> bool:
    engine = create_engine(url)
    with engine.connect() as connection:
        count = connection.execute(text("SELECT COUNT(*) FROM team")).scalar_one()
    engine.dispose()
    return int(count) == 0


def _wait(server: _Server, address: str, seconds: float = 300) -> None:
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        if server.code is not None:
            raise RuntimeError("the server did not start; see its message above")
        try:
            urllib.request.urlopen(f"{address}help", timeout=5).close()  # noqa: S310  our own address
            return
        except OSError:
            time.sleep(0.1)
    raise RuntimeError("the server does not answer")


if __name__ == "__main__":
    sys.exit(main())
