"""A large evaluation through the pages: python -m benchmarks.large [SWEEPS, 300] [CLAIMS, 60].

Four samples in three setups, swept over five bands with 2,001 points each, and claims on each band. Told is what each
act takes by HTTP until its answer is there, with the aim; and what the same files take scikit-rf to read, since the
machine varies. An evaluation that is still being judged is asked for again until it is shown.
"""

import statistics
import subprocess
import sys
import tempfile
import time
import urllib.error
from collections.abc import Callable
from pathlib import Path

import numpy as np
import skrf

from benchmarks.installation import Installation, Person, installation
from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.sweep import Sweep
from levelmoor.formats.touchstone_out import write_s1p
from levelmoor.records import sweeps
from levelmoor.records import tables as t
from levelmoor.records.place import Place

BANDS = {"40m": (7.0e6, 7.2e6), "20m": (14e6, 14.35e6), "15m": (21e6, 21.45e6), "10m": (28e6, 29.7e6),
         "6m": (50e6, 52e6)}  # fmt: skip
POINTS = 2_001
AGAIN_S, LONGEST_S = 0.05, 120.0


def swept(number: int, points: int = POINTS) -> bytes:
    """A file of one band, a little different from each other."""
    low, high = list(BANDS.values())[number % len(BANDS)]
    middle, width = (low + high) / 2 * (1 + 1e-4 * (number % 17)), high - low
    f = np.linspace(low - width / 2, high + width / 2, points)
    z = 50.0 * (1.05 + 0.002 * (number % 11)) * (1 + 6j * (f / middle - middle / f))
    return write_s1p(Sweep(f, gamma_from_impedance(z, 50.0))).encode()


def fill(here: Installation, count: int, claims: int) -> int:
    """The rows of the evaluation, by the records themselves."""
    with here.maker.begin() as session:
        row = session.get_one(t.Evaluation, here.cases[0])
        row.samples.extend(t.Sample(label=f"Unit {n}") for n in (2, 3, 4))
        row.setups.extend((t.Setup(name="With the hat", role="added"), t.Setup(name="On the roof")))
        for n in range(claims):
            name, (low, high) = list(BANDS.items())[n % len(BANDS)]
            window = {"low_hz": low, "high_hz": high, "name": name}
            row.claims.append(t.Claim(quantity="swr", windows=[window], limit=1.5 + 0.05 * (n % 20), source="box"))
        session.flush()
        instrument = row.sweeps[0].instrument_id
        for n in range(count):
            place = Place(row.samples[n % 4].id, row.setups[(n // 4) % 3].id, instrument, "at_plane")
            sweeps.add_sweep(session, row, f"sweep-{n}.s1p", swept(n), place=place)
        return row.id


def until(act: Callable[[], str]) -> float:
    """Seconds until it is answered."""
    begun = time.perf_counter()
    while True:
        try:
            act()
            return time.perf_counter() - begun
        except urllib.error.HTTPError as problem:
            if problem.code not in (202, 503) or time.perf_counter() - begun > LONGEST_S:
                raise
            time.sleep(AGAIN_S)


def changed(person: Person, address: str, value: str) -> str:
    code, said = person.post(address, {"value": value})
    assert code == 200, (address, code, said[:200])
    return said


def main() -> None:
    count, claims = (int(v) for v in (*sys.argv[1:], "300", "60")[:2]) if len(sys.argv) > 2 else (300, 60)
    with tempfile.TemporaryDirectory() as folder, installation(1) as here:
        begun = time.perf_counter()
        case = fill(here, count, claims)
        print(f"{count} sweeps of {POINTS} points, {claims} claims: written in {time.perf_counter() - begun:.1f} s")
        bare = Path(folder) / "one.s1p"
        bare.write_bytes(swept(0))
        begun = time.perf_counter()
        for _ in range(20):
            skrf.Network(str(bare))
        print(f"scikit-rf reads one of them in {(time.perf_counter() - begun) * 50:.1f} ms")
        tell(here, case)


def tell(here: Installation, case: int) -> None:
    person, home = here.person(), f"/e/{case}"
    with here.maker() as session:
        row = session.get_one(t.Evaluation, case)
        sample, claim = row.samples[0].id, row.claims[0].id
    rows: list[tuple[str, float, float]] = []

    def timed(name: str, aim: float, act: Callable[[], str], rounds: int = 1) -> None:
        rows.append((name, statistics.median(until(act) for _ in range(rounds)), aim))
        print(f"{name:40} {rows[-1][1]:8.2f} s   aim {aim:g}", flush=True)

    timed("first page, nothing judged yet", 1.0, lambda: person.get(home))
    timed("the page again", 1.0, lambda: person.get(home), 5)
    here.end()
    here.start()
    timed("the page after a restart", 1.0, lambda: person.get(home))
    words = iter(range(100))
    note, limit = f"{home}/cell/sample/{sample}/note", f"{home}/cell/claim/{claim}/limit"
    timed("a changed note", 0.1, lambda: changed(person, note, f"note {next(words)}"), 5)
    timed("a changed claim", 0.5, lambda: changed(person, limit, f"{1.5 + 0.01 * next(words):.2f}"), 5)
    ten = [("files", f"more-{n}.s1p", swept(n, POINTS - 1)) for n in range(10)]
    timed("ten files dropped", 2.0, lambda: person.post(f"{home}/sweeps", {}, ten)[1])
    timed("the preview of the report", 3.0, lambda: person.get(f"{home}/report"))
    timed("publish", 3.0, lambda: person.post(f"{home}/report", {"listed": "yes"})[1])
    with here.maker() as session:
        report = session.query(t.Report).filter_by(evaluation_id=case).one()
        public, bundle = f"/r/{report.slug}", report.revisions[-1].bundle
    timed("the public page, first time", 0.1, lambda: person.get(public))
    timed("the public page", 0.1, lambda: person.get(public), 5)
    print(f"its page has {len(person.get(public)) / 1e6:.2f} MB, its bundle {len(bundle) / 1e6:.1f} MB")
    exported = person.browser.open(f"{here.base}{home}/export", timeout=LONGEST_S).read()
    timed("import", 15.0, lambda: person.post("/evaluations/import", {}, [("file", "case.zip", exported)])[1])
    with tempfile.NamedTemporaryFile(suffix=".zip") as kept:
        kept.write(bundle)
        kept.flush()
        timed("levelmoor verify", 5.0, lambda: verified(kept.name))


def verified(path: str) -> str:
    return subprocess.run(
        [sys.executable, "-m", "levelmoor.cli", "verify", path], check=True, capture_output=True, text=True
    ).stdout


if __name__ == "__main__":
    main()
