"""A hundred people at once: python -m benchmarks.load [SECONDS, 60] [PEOPLE, 100].

Of a hundred 70 read the demo's evaluations and reports, 20 change limits in evaluations of their own, 5 drop files and
5 follow a simulated instrument and keep its sweeps; each at the pace of a person, with the stream of changes of the
page that is open. The same is done on a server of one process and on one of as many as there are cores, in one run;
told is how long answers took. The exit code is 1 where an answer was an error, or 95 % of those of the latter took over
1 s.
"""

import random
import re
import statistics
import sys
import threading
import time
import urllib.request
from collections import Counter, defaultdict
from collections.abc import Callable

from benchmarks.installation import PASSWORD, RAW, Installation, Person, installation, memory
from levelmoor.demo import scenario
from levelmoor.demo.load import load_demo
from levelmoor.records import store, sweeps
from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member, find_team
from levelmoor.services.list_card import refresh_card
from levelmoor.services.shelving import shelf_figures

LONGEST_S = 1.0
SHARES = {"reads": 0.70, "changes": 0.20, "drops": 0.05, "live": 0.05}
PACES_S = {"reads": 20.0, "changes": 10.0, "drops": 30.0, "live": 10.0}
"""Seconds from one act of a person to the next, half more or less."""
WARM_S = 60.0
"""For which people are at work before it counts: a day's first look at each page is no measure of the day."""
PAGES = ("", "/bench", "/plan", "/compare", "/report", "/history")
INSTRUMENT = "Generic one-port analyzer"


class User(threading.Thread):
    """One person, with the page that is open."""

    def __init__(self, here: Installation, does: str, number: int, case: int, pages: list[str]) -> None:
        super().__init__(daemon=True)
        self.here, self.does, self.case, self.pages = here, does, case, pages
        self.chance, self.number = random.Random(number), 0  # noqa: S311  the same each run
        self.person = Person(here.base)
        self.took: list[float] = []
        self.wrong = Counter[str]()
        self.streams = 0
        self.ended = threading.Event()

    def sign_in(self, email: str) -> None:
        token = re.findall(r'csrf_token" value="([^"]+)', self.person.get("/sign-in"))[0]
        self.person.token = token
        self.person.post("/sign-in", {"email": email, "password": PASSWORD})
        self.person.token = re.findall(r'csrf_token" value="([^"]+)', self.person.get(f"/e/{self.case}"))[0]

    def run(self) -> None:
        threading.Thread(target=self._stream, args=(f"/e/{self.case}/changes",), daemon=True).start()
        if self.does == "live":
            address = f"/e/{self.case}/live/{self.here.instrument_id}/stream?low=140&high=150&points=201"
            threading.Thread(target=self._stream, args=(address,), daemon=True).start()
        pace = PACES_S[self.does]
        self.ended.wait(self.chance.uniform(0, pace))
        while not self.ended.is_set():
            begun = time.monotonic()
            try:
                self._act()
            except OSError as problem:
                self.wrong[str(problem)] += 1
            self.took.append(time.monotonic() - begun)
            self.ended.wait(self.chance.uniform(0.5, 1.5) * pace)

    def _act(self) -> None:
        self.number += 1
        home = f"/e/{self.case}"
        if self.does == "reads":
            self.person.get(self.chance.choice(self.pages))
        elif self.does == "live" and self.latest:
            self._sent(f"{home}/live/{self.here.instrument_id}/keep", {"number": self.latest})
        elif self.does == "drops":
            name = f"{self.number}-{id(self)}.s1p"
            self._sent(f"{home}/sweeps", {}, [("files", name, f"! {name}\n{RAW}".encode())])
        else:
            if not self.claim:  # the page stays open after that
                self._sent(f"{home}/claims", {"text": "SWR < 2 20m", "source": "box"})
                found = re.findall(r'id="claim-(\d+)"', self.person.get(home))
                if not found:
                    return
                self.claim = found[0]
            self._sent(f"{home}/cell/claim/{self.claim}/limit", {"value": f"{self.chance.uniform(1.2, 3):.2f}"})

    claim = latest = ""

    def _sent(self, path: str, fields: dict[str, str], files: list[tuple[str, str, bytes]] | None = None) -> None:
        status, text = self.person.post(path, fields, files or ())
        if status >= 400 and status != 409:  # what somebody else has kept already
            self.wrong[f"{status} {path.rpartition('/')[2]} {text[:60]}"] += 1

    def _stream(self, path: str) -> None:
        """What an open page hears; a server that has no room for one more stream says so, and the page asks."""
        while not self.ended.is_set():
            try:
                with self.person.browser.open(urllib.request.Request(self.here.base + path), timeout=30) as lines:  # noqa: S310
                    self.streams += 1
                    for line in lines:
                        if b'"number"' in line and (found := re.search(rb'"number": ?(\d+)', line)):
                            self.latest = found[1].decode()
                        if self.ended.is_set():
                            return
            except OSError:
                self.ended.wait(20)


def _prepared(here: Installation, people: int) -> Callable[[], list[User]]:
    """Makes the people, with the evaluations that they work on."""
    load_demo(here.maker, refresh_card, shelf_figures)
    does = [what for what, share in SHARES.items() for _ in range(round(share * people))]
    with here.maker.begin() as session:
        team = find_team(session, scenario.TEAM)
        demo = [row.id for row in store.evaluations(session, team.id).rows]
        pages = [f"/e/{case}{page}" for case in demo for page in PAGES] + ["/", "/reports", "/equipment"]
        for n in range(len(does)):
            add_member(session, team.name, f"{n}@bench.example", f"Person {n}", PASSWORD)
        own = [
            store.open_evaluation(session, team, f"Case {n}") if what != "reads" else None
            for n, what in enumerate(does)
        ]
        for row in filter(None, own):
            row.bench_calibration = "at_plane"
            sweeps.add_sweep(session, row, "a.s1p", RAW.encode())
        instrument = next(i for i in session.query(t.Instrument).filter_by(team_id=team.id) if i.driver == INSTRUMENT)
        instrument.address = here.instruments[0]
        session.flush()
        here.instrument_id = instrument.id
        cases = [row.id if row else demo[n % len(demo)] for n, row in enumerate(own)]

    def make() -> list[User]:
        users = [User(here, what, n, cases[n], pages) for n, what in enumerate(does)]
        for n, user in enumerate(users):
            user.sign_in(f"{n}@bench.example")
        return users

    return make


def _measured(here: Installation, make: Callable[[], list[User]], processes: int, seconds: float) -> tuple[float, int]:
    """The time that 95 % of answers take, and how many are errors."""
    here.end()
    here.start(processes, threads=40)
    users = make()
    for user in users:
        user.start()
    time.sleep(WARM_S)
    for user in users:
        user.took = []
    time.sleep(seconds)
    most = memory()
    for user in users:
        user.ended.set()
    for user in users:
        user.join()
    took = defaultdict[str, list[float]](list)
    wrong = Counter[str]()
    for user in users:
        took[user.does] += user.took
        wrong += user.wrong
    every = sorted(s for some in took.values() for s in some)
    last = every[int(0.95 * len(every))]
    of = "one process" if processes == 1 else "a process for each core"
    print(f"{of}, {len(users)} people, {seconds:g} s: {len(every)} answers, "
          f"median {statistics.median(every):.2f} s, 95 % {last:.2f} s, slowest {every[-1]:.2f} s; "
          f"{wrong.total()} errors; {sum(bool(u.streams) for u in users)} have a stream; "
          f"{most.total() / 1e6:.0f} MB: {', '.join(f'{k} {v / 1e6:.0f}' for k, v in most.items())}")  # fmt: skip
    for does, some in took.items():
        some.sort()
        print(
            f"  {does}: {len(some)}, median {statistics.median(some):.2f} s, 95 % {some[int(0.95 * len(some))]:.2f} s"
        )
    for what, count in wrong.most_common(5):
        print(f"  {count} x {what}")
    return last, wrong.total()


def main() -> None:
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 60.0
    people = int(sys.argv[2]) if len(sys.argv) > 2 else 100
    with installation(1) as here:
        make = _prepared(here, people)
        _measured(here, make, 1, seconds)
        last, wrong = _measured(here, make, 0, seconds)
    sys.exit(1 if wrong or last > LONGEST_S else 0)


if __name__ == "__main__":
    main()
