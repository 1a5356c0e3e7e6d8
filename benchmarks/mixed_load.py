"""An hour of people at work, hostile files and kills: python -m benchmarks.mixed_load [MINUTES, 60].

People look at pages, write claims, keep strips and sweeps, and have back what was changed, as in `benchmarks.faults`;
strangers to good sense send spoiled, huge and stalling files meanwhile, and the server is killed every two minutes.
Told are how long pages took where the server was there, what was lost, and the most memory that server, workers and
database held together; the exit code is 1 where a page took over 3 s, anything was lost, or it was over 1 GB. Where
the machine lends its processors to others meanwhile, how much is told, and for each slow page.
"""

import random
import signal
import statistics
import sys
import threading
import time
from collections import Counter
from pathlib import Path
from typing import NamedTuple
from urllib.error import HTTPError

from benchmarks.faults import KINDS, NOT_THERE_S, Worker
from benchmarks.installation import AWAY, Installation, installation, memory
from benchmarks.spoiled import FORMS, RUN, sound, spoil

LONGEST_S, MEMORY_BYTES = 3.0, 1e9
BETWEEN_KILLS_S = 120.0
LOOKERS, PACE_S = 6, 3.0
"""People who look, and the seconds between two acts of one who works."""
PAGES = ("", "/bench", "/plan", "/emissions", "/through", "/tuner", "/adjust", "/compare", "/history", "/report")
STOLEN = 0.1
"""Share of the processors' time that others had, from which a slow page says more of the machine than the program."""
AFTER_START_S = 5.0
"""A request that began while the server was away, or so short after it came back, is not a page that waits."""


def hostile(chance: random.Random) -> tuple[str, bytes]:
    """A file that means no good."""
    kind = chance.randrange(8)
    if kind == 0:
        return "nines.csv", b"MHz,SWR\n" + b"9" * chance.choice((8_000, 200_000)) + b",1\n"
    if kind == 1:
        rows = "".join(f"{14 + i / 1e6:.6f},{1 + i % 7}\n" for i in range(chance.choice((20_000, 200_000))))
        return "long.csv", f"MHz,SWR\n{rows}".encode()
    if kind == 2:
        return "quotes.csv", b'MHz,SWR\n"' + b'14,1\n"' * 50_000
    if kind == 3:
        return "deep.json", b"[" * 100_000
    if kind == 4:
        return "wide.csv", b",".join(b"%d" % i for i in range(60_000)) + b"\n"
    if kind == 5:
        return "brackets.s1p", b"# MHz S RI R 50\n[" + b"[Version] " * 20_000
    name, data, _ = chance.choice(SOUND)
    return name, spoil(data, chance)


SOUND = sound()


class Sender(threading.Thread):
    """Sends one hostile file after another."""

    def __init__(self, here: Installation, case: int, seed: int, ended: threading.Event) -> None:
        super().__init__()
        self.person, self.home, self.ended = here.person(), f"/e/{case}", ended
        self.chance, self.sent, self.broken = random.Random(seed), 0, 0  # noqa: S311  the same each run

    def run(self) -> None:
        while not self.ended.is_set():
            name, data = hostile(self.chance)
            path, field = self.chance.choice(FORMS)
            try:
                status, said = self.person.post(self.home + path, RUN, [(field, name, data)])
                self.sent += 1
                if status >= 500 and status != 503:
                    self.broken += 1
                    print(f"{path} {name}: {status} {said[:200]}", flush=True)
            except AWAY:
                time.sleep(NOT_THERE_S)
            self.ended.wait(0.5)


class Page(NamedTuple):
    seconds: float
    path: str
    stolen: float


class Processors(NamedTuple):
    ticks: int
    stolen: int


def processors() -> Processors:
    """Ticks of all processors so far, and those of them that others of the machine had."""
    ticks = [int(n) for n in Path("/proc/stat").read_text().splitlines()[0].split()[1:9]]
    return Processors(sum(ticks), ticks[7])


def stolen(since: Processors) -> float:
    """Share that others had since."""
    now = processors()
    return (now.stolen - since.stolen) / max(now.ticks - since.ticks, 1)


class Looker(threading.Thread):
    """Opens one page after another, and notes how long each took."""

    def __init__(self, here: Installation, cases: list[int], seed: int, ended: threading.Event) -> None:
        super().__init__()
        self.here, self.person, self.cases, self.ended = here, here.person(), cases, ended
        self.chance, self.took = random.Random(seed), list[Page]()  # noqa: S311
        self.others = Counter[int]()
        """Answers that are no page, by status: 503 says that an evaluation is being judged, or is too much."""

    def run(self) -> None:
        while not self.ended.is_set():
            path = f"/e/{self.chance.choice(self.cases)}{self.chance.choice(PAGES)}"
            begun, before = time.monotonic(), processors()
            try:
                self.person.get(path)
            except HTTPError as problem:
                self.others[problem.code] += 1
            except AWAY:
                time.sleep(NOT_THERE_S)
                continue
            if begun > self.here.started_at + AFTER_START_S:
                self.took.append(Page(time.monotonic() - begun, path, stolen(before)))
            self.ended.wait(self.chance.uniform(1.0, 4.0))


def main() -> None:
    minutes = float(sys.argv[1]) if len(sys.argv) > 1 else 60.0
    with installation(len(KINDS) + 2) as here:
        ended = threading.Event()
        working, aimed_at = here.cases[: len(KINDS)], here.cases[len(KINDS) :]
        workers: list[Worker] = [kind(here, case, ended, PACE_S) for kind, case in zip(KINDS, working, strict=True)]
        senders = [Sender(here, case, n, ended) for n, case in enumerate(aimed_at)]
        lookers = [Looker(here, here.cases, n, ended) for n in range(LOOKERS)]
        threads: list[threading.Thread] = [*workers, *senders, *lookers]
        for thread in threads:
            thread.start()
        until, most, kills, before = time.monotonic() + 60 * minutes, Counter[str](), 0, processors()
        kill_at = time.monotonic() + BETWEEN_KILLS_S
        while time.monotonic() < until:
            time.sleep(1)
            if (now := memory()).total() > most.total():
                most = now
            if time.monotonic() > kill_at:
                here.end(signal.SIGKILL)
                here.start()
                kills, kill_at = kills + 1, time.monotonic() + BETWEEN_KILLS_S
        ended.set()
        for thread in threads:
            thread.join()
        lost = sum(worker.looked_after() for worker in workers)
        took = sorted(t for looker in lookers for t in looker.took)
        homes = tuple(f"/e/{case}" for case in aimed_at)
        aimed = [one for one in took if one.path.startswith(homes)]
        others = [one for one in took if not one.path.startswith(homes)]
        print(
            f"{minutes:g} minutes, {kills} kills, {sum(s.sent for s in senders)} hostile files "
            f"({sum(s.broken for s in senders)} answered as broken), {sum(len(w.acknowledged) for w in workers)} acts "
            f"acknowledged, {lost} lost; most memory "
            f"{most.total() / 1e6:.0f} MB: {', '.join(f'{k} {v / 1e6:.0f}' for k, v in most.items())}; "
            f"{stolen(before):.0%} of the processors was others'"
        )
        print(f"answers that are no page: {dict(sum((looker.others for looker in lookers), Counter()))}")
        print(_told("evaluations at work", others), _told("evaluations the hostile files went into", aimed), sep="\n")
    broken = sum(s.broken for s in senders)
    sys.exit(1 if lost or broken or took[-1].seconds > LONGEST_S or most.total() > MEMORY_BYTES else 0)


def _told(whose: str, took: list[Page]) -> str:
    seconds = [one.seconds for one in took]
    slow = [one for one in took if one.seconds > LONGEST_S]
    slowest = (f"{one.seconds:.2f} s {one.path} ({one.stolen:.0%} others')" for one in took[-5:])
    return (
        f"{whose}: {len(took)} pages, median {statistics.median(seconds):.2f} s, 95 % "
        f"{seconds[int(0.95 * len(seconds))]:.2f} s, slowest {', '.join(slowest)}; {len(slow)} over {LONGEST_S:g} s, "
        f"{sum(one.stolen < STOLEN for one in slow)} of them with under {STOLEN:.0%} of the processors others'"
    )


if __name__ == "__main__":
    main()
