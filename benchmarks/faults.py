"""Kills the server 20 times while people write to it, and counts what was lost: python -m benchmarks.faults [KILLS].

Its own database in a folder that goes away with it. Writers write claims and publish; the server process is killed
with SIGKILL at odd moments and started again. Afterwards every write that was acknowledged must be there, nothing may
be there twice or half, and every report must have the revisions that were acknowledged.
"""

import http.client
import http.cookiejar
import os
import random
import re
import signal
import subprocess
import sys
import tempfile
import threading
import time
import urllib.parse
import urllib.request
from collections import Counter
from pathlib import Path

from sqlalchemy import select

from levelmoor.formats.bundle import verify_bundle
from levelmoor.records import store, sweeps
from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member, find_team
from levelmoor.records.database import connect, migrate
from levelmoor.records.private_server import free_port, private_server
from levelmoor.records.roles import MemberRole

KILLS = 20
WRITERS = 4
EMAIL, PASSWORD = "faults@bench.example", "a password for faults alone"
RAW = "# MHz S RI R 50\n" + "".join(f"{13.9 + i / 400:.4f} 0.05 0\n" for i in range(221))


class Writer:
    """A person who writes claims one after the other, each with a number of its own, and publishes now and then."""

    def __init__(self, base: str, evaluation: int, first: int) -> None:
        jar = http.cookiejar.CookieJar()
        self.browser = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
        self.base, self.evaluation, self.number = base, evaluation, first
        self.acknowledged: list[int] = []
        self.revisions, self.token, self.failed = 0, "", 0

    def sign_in(self) -> None:
        page = self._get("/sign-in")
        self.token = re.findall(r'csrf_token" value="([^"]+)', page)[0]
        self._post("/sign-in", {"email": EMAIL, "password": PASSWORD})
        self.token = re.findall(r'csrf_token" value="([^"]+)', self._get("/team"))[0]

    def write(self) -> None:
        """One claim, or a revision; acknowledged only where the whole answer came."""
        try:
            if self.number % 7 == 0:
                self._post(f"/e/{self.evaluation}/report", {"listed": "yes", "reason": f"revision at {self.number}"})
                self.revisions += 1
            else:
                self._post(f"/e/{self.evaluation}/claims", {"text": "SWR < 2 20m", "source": f"n{self.number}"})
                self.acknowledged.append(self.number)
        except (OSError, http.client.HTTPException):
            self.failed += 1
            time.sleep(0.3)
        self.number += 1

    def _get(self, path: str) -> str:
        with self.browser.open(self.base + path, timeout=60) as answer:
            return str(answer.read().decode())

    def _post(self, path: str, fields: dict[str, str]) -> None:
        data = urllib.parse.urlencode({**fields, "csrf_token": self.token}).encode()
        with self.browser.open(self.base + path, data, timeout=60) as answer:
            answer.read()


def serve(url: str, port: int) -> "subprocess.Popen[bytes]":
    environment = {**os.environ, "LEVELMOOR_DATABASE_URL": url}
    command = [sys.executable, "-m", "levelmoor.cli", "serve", "--port", str(port), "--threads", "16"]
    server = subprocess.Popen(command, env=environment, stderr=subprocess.DEVNULL)
    while True:
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{port}/help", timeout=5).close()
            return server
        except OSError:
            time.sleep(0.1)


def main() -> None:
    kills = int(sys.argv[1]) if len(sys.argv) > 1 else KILLS
    with tempfile.TemporaryDirectory() as folder, private_server(Path(folder) / "db") as database:
        migrate(database.addresses.owner, serving_url=database.addresses.serving)
        maker = connect(database.addresses.serving)
        with maker.begin() as session:
            team = find_team(session, "Faults")
            team.bench_rule = "stated"
            add_member(session, team.name, EMAIL, "Faults", PASSWORD, role=MemberRole.EDITOR)
            rows = [store.open_evaluation(session, team, f"Case {n}") for n in range(WRITERS)]
            for row in rows:
                row.bench_calibration = "at_plane"
                sweeps.add_sweep(session, row, "a.s1p", RAW.encode())
            cases, team_id = [r.id for r in rows], team.id
        port = free_port()
        server = serve(database.addresses.serving, port)
        writers = [Writer(f"http://127.0.0.1:{port}", case, 1 + 100_000 * n) for n, case in enumerate(cases)]
        for writer in writers:
            writer.sign_in()
        ended = threading.Event()

        def write_on(writer: Writer) -> None:
            while not ended.is_set():
                writer.write()

        threads = [threading.Thread(target=write_on, args=(w,)) for w in writers]
        for thread in threads:
            thread.start()
        for _ in range(kills):
            time.sleep(random.uniform(2.0, 5.0))  # noqa: S311  an odd moment, not a secret
            server.send_signal(signal.SIGKILL)
            server.wait()
            server = serve(database.addresses.serving, port)
        ended.set()
        for thread in threads:
            thread.join()
        server.terminate()
        server.wait()
        wrong = 0
        for writer in writers:
            wrong += _look(maker, team_id, writer)
        total = sum(len(w.acknowledged) for w in writers), sum(w.revisions for w in writers)
        print(
            f"{kills} kills; acknowledged {total[0]} claims and {total[1]} revisions, "
            f"{sum(w.failed for w in writers)} requests failed; lost, doubled or half written: {wrong}"
        )
        maker.kw["bind"].dispose()
    sys.exit(1 if wrong else 0)


def _look(maker, team_id: int, writer: Writer) -> int:  # type: ignore[no-untyped-def]
    """How much of what a writer did is not as it should be."""
    with maker() as session:
        row = store.evaluation(session, team_id, writer.evaluation)
        assert row is not None
        kept = Counter(int(c.source[1:]) for c in row.claims if c.source.startswith("n"))
        report = store.report_of(session, writer.evaluation)
        bundles = (
            session.scalars(select(t.ReportRevision.bundle).where(t.ReportRevision.report_id == report.id)).all()
            if report
            else []
        )
        wrong = sum(1 for n in writer.acknowledged if n not in kept)
        wrong += sum(count - 1 for count in kept.values())
        wrong += max(writer.revisions - len(bundles), 0)
        wrong += sum(not verify_bundle(b).same for b in bundles)
        wrong += int(report is not None and not bundles)
        return wrong


if __name__ == "__main__":
    main()
