"""Kills the server 50 times while people work, and counts what was lost: python -m benchmarks.faults [KILLS].

Its own database in a folder that goes away with it. Some write claims and publish, some keep time strips, some keep
sweeps of a simulated instrument from the live view, some change a limit and have it back from the history; the server
is killed with SIGKILL at odd moments and started again. Afterwards everything that was acknowledged must be there,
nothing may be there twice or half, and every report must have the revisions that were acknowledged.
"""

import json
import random
import re
import signal
import sys
import threading
import time
from collections import Counter

from sqlalchemy import select

from benchmarks.installation import AWAY, Installation, installation
from levelmoor.formats.bundle import verify_bundle
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.mapping import evaluation_of

KILLS = 50
NOT_THERE_S = 0.3
MOST_KEPT = 20


class Worker(threading.Thread):
    """One person at one evaluation, who goes on until the end whatever happens to the server."""

    def __init__(self, here: Installation, evaluation: int, ended: threading.Event, pace_s: float = 0.0) -> None:
        super().__init__()
        self.pace_s = pace_s
        self.here, self.person, self.evaluation, self.ended = here, here.person(), evaluation, ended
        self.home = f"/e/{evaluation}"
        self.number = self.failed = 0
        self.acknowledged: list[str] = []

    def run(self) -> None:
        while not self.ended.is_set():
            try:
                self.act()
            except AWAY:
                self.failed += 1
                time.sleep(NOT_THERE_S)
            self.number += 1
            self.ended.wait(self.pace_s)

    def act(self) -> None:
        raise NotImplementedError

    def looked_after(self) -> int:
        """How much of what was acknowledged is wrong now."""
        with self.here.maker() as session:
            row = store.evaluation(session, self.here.team_id, self.evaluation)
            assert row is not None
            return self.wrong(row)

    def wrong(self, row: t.Evaluation) -> int:
        """How much of what was acknowledged is not there, or is there twice or half."""
        raise NotImplementedError

    def sent(self, path: str, fields: dict[str, str]) -> str:
        """The answer to a form; one that says that something went wrong is raised as OSError."""
        status, text = self.person.post(f"{self.home}{path}", fields)
        if status >= 400:
            raise OSError(f"{path}: {status}")
        return text


class Keeper(Worker):
    """Somebody who keeps one thing after another, each by a name, and removes the oldest where there are many."""

    kind = ""

    def __init__(self, here: Installation, evaluation: int, ended: threading.Event, pace_s: float = 0.0) -> None:
        super().__init__(here, evaluation, ended, pace_s)
        self.kept: list[tuple[str, int]] = []
        self.removed: set[str] = set()
        self.unsure: set[str] = set()

    def keep(self, name: str, row_id: int) -> None:
        self.acknowledged.append(name)
        self.kept.append((name, row_id))
        if len(self.kept) <= MOST_KEPT:
            return
        oldest, its_id = self.kept.pop(0)
        self.unsure.add(oldest)  # until it is acknowledged
        self.sent(f"/remove/{self.kind}/{its_id}", {})
        self.unsure.remove(oldest)
        self.removed.add(oldest)

    def astray(self, there: Counter[str]) -> int:
        """What was acknowledged and is not there, was removed and is, or is there twice."""
        lost = sum(n not in there for n in self.acknowledged if n not in self.removed | self.unsure)
        return lost + sum(n in there for n in self.removed) + sum(n - 1 for n in there.values())


class Writer(Keeper):
    """Claims, each with a number of its own, and a revision now and then."""

    kind, revisions = "claim", 0

    def act(self) -> None:
        if self.number % 25 == 24:
            self.sent("/report", {"listed": "yes", "reason": f"revision at {self.number}"})
            self.revisions += 1
            return
        text = self.sent("/claims", {"text": "SWR < 2 20m", "source": f"n{self.number}"})
        self.keep(f"n{self.number}", max(map(int, re.findall(r'id="claim-(\d+)"', text))))

    def wrong(self, row: t.Evaluation) -> int:
        with self.here.maker() as session:
            report = store.report_of(session, row.id)
            bundles = (
                session.scalars(select(t.ReportRevision.bundle).where(t.ReportRevision.report_id == report.id)).all()
                if report
                else []
            )
        astray = self.astray(Counter(c.source for c in row.claims if c.source.startswith("n")))
        return astray + max(self.revisions - len(bundles), 0) + sum(not verify_bundle(b).same for b in bundles)


class StripKeeper(Worker):
    """Time strips, each told by its wanted frequency."""

    def act(self) -> None:
        points = [{"at_s": s / 2, "swr": [1.5 + s / 100]} for s in range(20)]
        strip = {
            "kind": "wind", "setting_id": "", "instrument_id": str(self.here.instrument_id),
            "wanted_hz": [14e6 + self.number], "points": points, "begun_at": "2026-10-03T10:00",
        }  # fmt: skip
        self.ended.wait(NOT_THERE_S)
        status, text = self.person.post(f"{self.home}/adjust/strips", {"strip": json.dumps(strip)})
        if status == 422 and "at most" in text:
            self.ended.wait(1)
        elif status >= 400:
            raise OSError(text)
        else:
            self.acknowledged.append(str(self.number))

    def wrong(self, row: t.Evaluation) -> int:
        kept = Counter(str(round(s.wanted_hz[0] - 14e6)) for s in row.strips)
        half = sum(len(s.points) != 20 for s in row.strips)
        return sum(n not in kept for n in self.acknowledged) + sum(n - 1 for n in kept.values()) + half


class LiveKeeper(Keeper):
    """Sweeps of an instrument, kept as they go by."""

    kind = "sweep"

    def act(self) -> None:
        address = f"{self.here.base}{self.home}/live/{self.here.instrument_id}"
        with self.person.browser.open(f"{address}/stream?low=14&high=14.5&points=51", timeout=20) as stream:
            for line in stream:
                found = re.search(rb'"number": (\d+)', line)
                if self.ended.is_set():
                    return
                if found is None:
                    continue
                fields = {"number": found[1].decode()}
                status, text = self.person.post(f"{self.home}/live/{self.here.instrument_id}/keep", fields)
                if status == 200 and "Saved as" in text:
                    row_id = int(json.loads(text)["sweep"])
                    self.keep(str(row_id), row_id)
                return
        raise OSError("no sweep came")

    def wrong(self, row: t.Evaluation) -> int:
        twice = sum(n - 1 for n in Counter(s.file_name for s in row.sweeps).values())
        half = sum(e.sweep.points < 2 for e in evaluation_of(row).sweeps)
        return self.astray(Counter(str(s.id) for s in row.sweeps)) + twice + half


class Restorer(Worker):
    """Notes that are changed, and had back from the history as they were."""

    def act(self) -> None:
        if self.number % 2 == 0:
            name = f"name {self.number}"
            self.sent(f"/cell/evaluation/{self.evaluation}/notes", {"value": name})
            self.acknowledged.append(name)
            return
        past = self.person.get(f"{self.home}/history")
        entries = re.findall(rf'hx-post="({self.home}/history/\d+/restore)"', past)
        if entries:
            self.sent(entries[0].removeprefix(self.home), {})
            self.acknowledged.append("")

    def wrong(self, row: t.Evaluation) -> int:
        """Each change is told in the history as often as it was made, and once."""
        with self.here.maker() as session:
            entries = session.scalars(
                select(t.AuditEntry).where(t.AuditEntry.evaluation_id == row.id, t.AuditEntry.field == "notes")
            ).all()
        told = Counter(str(e.new_value) for e in entries)
        return sum(name not in told for name in self.acknowledged if name)


KINDS: tuple[type[Worker], ...] = (Writer, Writer, StripKeeper, LiveKeeper, Restorer)


def main() -> None:
    kills = int(sys.argv[1]) if len(sys.argv) > 1 else KILLS
    with installation(len(KINDS)) as here:
        ended = threading.Event()
        workers = [kind(here, case, ended) for kind, case in zip(KINDS, here.cases, strict=True)]
        for worker in workers:
            worker.start()
        for _ in range(kills):
            time.sleep(random.uniform(4.0, 9.0))  # noqa: S311  an odd moment, not a secret
            here.end(signal.SIGKILL)
            here.start()
        ended.set()
        for worker in workers:
            worker.join()
        lost = 0
        for worker in workers:
            wrong = worker.looked_after()
            lost += wrong
            print(
                f"{type(worker).__name__}: {len(worker.acknowledged)} acknowledged, {worker.failed} requests failed, "
                f"{wrong} lost, doubled or half written"
            )
        print(f"{kills} kills; {lost} lost, doubled or half written")
    sys.exit(1 if lost else 0)


if __name__ == "__main__":
    main()
