"""A whole installation for a benchmark: database, server process and simulated instruments, and people who use it."""

import http.client
import http.cookiejar
import io
import json
import os
import re
import signal
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.parse
import urllib.request
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from pathlib import Path

from sqlalchemy.orm import Session, sessionmaker
from werkzeug.datastructures import FileStorage, MultiDict
from werkzeug.test import encode_multipart

from levelmoor.instruments.stand_ins.server import serve as serve_stand_ins
from levelmoor.records import store, sweeps
from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member, find_team
from levelmoor.records.database import connect, migrate
from levelmoor.records.private_server import free_port, private_server
from levelmoor.records.roles import MemberRole

EMAIL, PASSWORD = "people@bench.example", "a password for benchmarks alone"
RAW = "# MHz S RI R 50\n" + "".join(f"{13.9 + i / 400:.4f} 0.05 0\n" for i in range(221))
PATIENCE_S = 120.0
AWAY = (OSError, http.client.HTTPException)
"""What a request ends in where the server was killed, or answers that something is wrong."""


class Person:
    """A signed-in browser."""

    def __init__(self, base: str) -> None:
        jar = http.cookiejar.CookieJar()
        self.browser = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
        self.base, self.token = base, ""

    def sign_in(self) -> None:
        self.token = re.findall(r'csrf_token" value="([^"]+)', self.get("/sign-in"))[0]
        self.post("/sign-in", {"email": EMAIL, "password": PASSWORD})
        self.token = re.findall(r'csrf_token" value="([^"]+)', self.get("/team"))[0]

    def get(self, path: str) -> str:
        """A page. Raises OSError where it does not come."""
        with self.browser.open(self.base + path, timeout=PATIENCE_S) as answer:
            return str(answer.read().decode())

    def post(
        self,
        path: str,
        fields: Mapping[str, str],
        files: Sequence[tuple[str, str, bytes]] = (),
        headers: Mapping[str, str] | None = None,
    ) -> tuple[int, str]:
        """Status and text of what a form answers; `files` are field, name and bytes. Raises OSError where none does."""
        typed = MultiDict[str, str | FileStorage]({**fields, "csrf_token": self.token})
        for field, name, data in files:
            typed.add(field, FileStorage(io.BytesIO(data), filename=name))
        boundary, body = encode_multipart(typed)
        return self._send(path, body, f"multipart/form-data; boundary={boundary}", headers)

    def post_json(self, path: str, sent: object) -> tuple[int, str]:
        return self._send(path, json.dumps(sent).encode(), "application/json")

    def _send(self, path: str, body: bytes, kind: str, more: Mapping[str, str] | None = None) -> tuple[int, str]:
        headers = {"Content-Type": kind, "X-CSRFToken": self.token, **(more or {})}
        asked = urllib.request.Request(self.base + path, body, headers)  # noqa: S310  our own server
        try:
            with self.browser.open(asked, timeout=PATIENCE_S) as answer:
                return answer.status, answer.read().decode()
        except urllib.error.HTTPError as problem:
            with problem:
                return problem.code, problem.read().decode(errors="replace")


class Installation:
    """A database, and a server process that can be killed and started again on its port."""

    def __init__(self, serving_url: str, instruments: Sequence[str]) -> None:
        self.port, self.url = free_port(), serving_url
        self.base = f"http://127.0.0.1:{self.port}"
        self.instruments = tuple(instruments)
        self.maker: sessionmaker[Session] = connect(serving_url)
        self.team_id, self.cases, self.instrument_id = 0, list[int](), 0
        self.started_at = 0.0
        self._server: subprocess.Popen[bytes] | None = None

    def start(self, processes: int = 0, threads: int = 16) -> None:
        """By so many processes, as many as there are cores where 0 is said."""
        environment = {
            **os.environ, "LEVELMOOR_DATABASE_URL": self.url, "LEVELMOOR_INSTRUMENTS": ", ".join(self.instruments)
        }  # fmt: skip
        command = [
            sys.executable, "-m", "levelmoor.cli", "serve", "--port", str(self.port),
            "--threads", str(threads), "--processes", str(processes),
        ]  # fmt: skip
        self._server = subprocess.Popen(command, env=environment, stderr=subprocess.DEVNULL)
        while True:
            try:
                urllib.request.urlopen(f"{self.base}/help", timeout=5).close()  # noqa: S310  our own server
                self.started_at = time.monotonic()
                return
            except OSError:
                time.sleep(0.1)

    def end(self, how: signal.Signals = signal.SIGTERM) -> None:
        self.started_at = float("inf")
        if self._server is not None:
            self._server.send_signal(how)
            self._server.wait()

    def person(self) -> Person:
        one = Person(self.base)
        one.sign_in()
        return one


def memory(pid: int | None = None) -> Counter[str]:
    """Bytes that all that this process began hold, by what they are: servers, workers, the database; a page that
    several share counts as one (the system's proportional set size)."""
    of, held = os.getpid() if pid is None else pid, Counter[str]()
    try:
        children = [c for task in Path(f"/proc/{of}/task").iterdir() for c in (task / "children").read_text().split()]
        found = re.search(r"Pss:\s+(\d+)", Path(f"/proc/{of}/smaps_rollup").read_text())
        name = Path(f"/proc/{of}/comm").read_text().strip()
    except OSError:  # it has ended meanwhile
        return held
    if pid is not None and found:
        kinds = dict.fromkeys(("lm-readers", "lm-judges", "lm-long"), "workers") | {"mariadbd": "database"}
        what = kinds.get(name, "servers")
        held[what] += int(found[1]) * 1024
    for child in children:
        held += memory(int(child))
    return held


def team_at_work(session: Session, cases: int) -> tuple[t.Team, list[t.Evaluation]]:
    """A team with an editor, and so many evaluations with a sweep each."""
    team = find_team(session, "Bench")
    team.bench_rule = "stated"
    add_member(session, team.name, EMAIL, "Bench", PASSWORD, role=MemberRole.EDITOR)
    rows = [store.open_evaluation(session, team, f"Case {n}") for n in range(cases)]
    for row in rows:
        row.bench_calibration = "at_plane"
        sweeps.add_sweep(session, row, "a.s1p", RAW.encode())
    session.flush()
    return team, rows


@contextmanager
def installation(cases: int) -> Iterator[Installation]:
    """A running installation with a team, so many evaluations with a sweep each, and an instrument that is live."""
    with tempfile.TemporaryDirectory() as folder, private_server(Path(folder) / "db") as database:
        migrate(database.addresses.owner, serving_url=database.addresses.serving)
        stand_ins = serve_stand_ins(0)
        here = Installation(database.addresses.serving, [s.address for s in stand_ins])
        with here.maker.begin() as session:
            team, rows = team_at_work(session, cases)
            instrument = rows[0].sweeps[0].instrument
            instrument.address, instrument.driver = stand_ins[0].address, "Generic one-port analyzer"
            session.flush()
            here.team_id, here.cases, here.instrument_id = team.id, [r.id for r in rows], instrument.id
        here.start()
        try:
            yield here
        finally:
            here.end()
            here.maker.kw["bind"].dispose()
            for server in stand_ins:
                server.shutdown()
                server.server_close()
