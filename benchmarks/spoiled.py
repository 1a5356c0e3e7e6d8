"""Spoils files of every kind that comes in and has each read, and half as many that are sound but trap a reader:
python -m benchmarks.spoiled [COUNT, 10000] [process] [commands] [web] [misread], all four where none is named.

In process, by the command line, and by the forms of a server, each must end in a result or in a refusal that says what
is wrong, and none of the sound ones may be read wrong without a word; anything else is printed, and the exit code is 1.
"""

import io
import json
import random
import sys
import tempfile
import time
import zipfile
from collections import Counter
from collections.abc import Callable
from contextlib import redirect_stderr, redirect_stdout
from dataclasses import asdict
from pathlib import Path

from PIL import Image

from benchmarks.installation import installation
from benchmarks.misread import main as misread
from levelmoor.cli.command_line import main as main_command
from levelmoor.cli.exits import BAD_INPUT
from levelmoor.core.model.rule_sets import rule_set_from, shipped_rule_sets
from levelmoor.demo.load import sweeps
from levelmoor.formats.capture_file import read_capture_file
from levelmoor.formats.equipment_csv import read_equipment, write_equipment
from levelmoor.formats.equipment_starter import STARTER
from levelmoor.formats.exchange_file import read_exchange
from levelmoor.formats.json_in import read_json
from levelmoor.formats.picture import read_photograph
from levelmoor.formats.readings_file import read_readings
from levelmoor.formats.sweepfile import read_sweep_file
from levelmoor.formats.trace_file import read_trace_file
from levelmoor.instruments.driver import driver_text, read_driver, shipped_drivers

SEED = 20
PIECES = [
    b"nan", b"\n", b"\r", b"1e400", b"-", b";", b",", b"\t", b"#", b"!", b"[", b"{", b"}", b"]", b'"', b"1e308 ",
    b"\xff", b"\x00", b"inf", b"1_0", b"null", b"true", b"-1",
    b"0", b"999999999999", b"\xed\xa0\x80", b"[" * 60, b"MHz",
]  # fmt: skip
Reader = Callable[[str, bytes], object]


def sound() -> list[tuple[str, bytes, list[Reader]]]:
    """Sound files by name, with what reads them."""
    found: list[tuple[str, bytes, list[Reader]]] = []
    for name, whole in sweeps().items():
        data = whole[:6000].rpartition(b"\n")[0] + b"\n"
        found.append((name, data, [read_sweep_file, read_trace_file, read_capture_file, read_readings]))
    picture = io.BytesIO()
    Image.linear_gradient("L").convert("RGB").save(picture, "JPEG")
    found.append(("moor.jpg", picture.getvalue(), [read_photograph]))
    pieces = write_equipment("instrument", [(s.name, s.values) for s in STARTER]).encode()
    found.append(("instruments.csv", pieces, [lambda n, d: read_equipment("instrument", n, d)]))
    rules = json.dumps(asdict(next(iter(shipped_rule_sets().values())))).encode()
    found.append(("rules.json", rules, [lambda _n, d: rule_set_from(read_json(d))]))
    driver = driver_text(next(iter(shipped_drivers().values()))).encode()
    found.append(("driver.json", driver, [lambda _n, d: read_driver(d)]))
    document = {
        "title": "x", "product": {"name": "x"}, "samples": [{"id": "a", "label": "a"}],
        "setups": [{"id": "s", "name": "s"}],
        "claims": [{"id": "c", "quantity": "swr", "limit": 2, "windows": [{"low_hz": 1e6, "high_hz": 2e6}]}],
        "instruments": [{"id": "i", "name": "i"}],
    }  # fmt: skip
    text = json.dumps(document).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("evaluation.json", text)
        archive.writestr("files/a", b"14 1.2\n" * 50)
    exchange: list[Reader] = [lambda _n, d: read_exchange(d)]
    found += [("evaluation.json", text, exchange), ("case.zip", out.getvalue(), exchange)]
    kept = [(name, data, [r for r in readers if _reads(r, name, data)]) for name, data, readers in found]
    return [(name, data, readers) for name, data, readers in kept if readers]


def _reads(reader: Reader, name: str, data: bytes) -> bool:
    try:
        reader(name, data)
    except ValueError:
        return False
    return True


def spoil(data: bytes, chance: random.Random) -> bytes:
    new = bytearray(data)
    for _ in range(chance.randint(1, 3)):
        at, how = chance.randint(0, len(new)), chance.choice(("put", "cut", "flip", "end", "twice"))
        if how == "put":
            new[at:at] = chance.choice(PIECES)
        elif how == "cut":
            del new[at : at + chance.randint(1, 40)]
        elif how == "flip" and at < len(new):
            new[at] ^= chance.randint(1, 255)
        elif how == "end" and chance.random() < 0.2:
            del new[at:]
        elif how == "twice":
            new[at:at] = new[at : at + chance.randint(1, 200)]
    return bytes(new)


class Tally:
    """How files ended, and which took longest."""

    def __init__(self, way: str) -> None:
        self.way, self.ends, self.slowest = way, Counter[str](), (0.0, "")

    def add(self, name: str, end: str, seconds: float, said: str = "") -> None:
        self.ends[end] += 1
        self.slowest = max(self.slowest, (seconds, name))
        if end not in ("read", "refused"):
            print(f"{self.way}: {name}: {end}: {said[:300]}")

    @property
    def wrong(self) -> int:
        return sum(n for end, n in self.ends.items() if end not in ("read", "refused"))

    def __str__(self) -> str:
        count, (seconds, name) = sum(self.ends.values()), self.slowest
        return f"{self.way}: {count} spoiled files: {dict(self.ends)}; slowest {seconds:.2f} s ({name})"


def in_process(count: int, chance: random.Random) -> Tally:
    files, tally = sound(), Tally("in process")
    for _ in range(count):
        name, data, readers = chance.choice(files)
        bad, reader = spoil(data, chance), chance.choice(readers)
        start, said = time.perf_counter(), ""
        try:
            reader(name, bad)
            end = "read"
        except ValueError as problem:
            said = str(problem)
            end = "refused" if said else "refused without a word"
        except Exception as problem:
            end, said = "error", f"{type(problem).__name__}: {problem}"
        tally.add(name, end, time.perf_counter() - start, said)
    return tally


COMMANDS = {
    "sweep": (
        ["check", "--max-swr", "2"], ["cable", "--type", "RG-213", "--length", "20"], ["readings", "--max-swr", "2"],
        ["harmonics", "--carrier", "146", "--offset", "40"], ["choke"], ["trials"], ["compare", "--band", "2m"],
    ),
    "case": (["judge"], ["plan"], ["adjust"], ["card"], ["verify"]),
}  # fmt: skip


def by_commands(count: int, chance: random.Random) -> Tally:
    """By the command line's own entry, its exit code and what it says on standard error."""
    files, tally = [(n, d) for n, d, _ in sound() if not n.endswith(".jpg")], Tally("command line")
    with tempfile.TemporaryDirectory() as folder:
        for _ in range(count):
            name, data = chance.choice(files)
            command = chance.choice(COMMANDS["case" if name.endswith(("json", "zip")) else "sweep"])
            (Path(folder) / name).write_bytes(spoil(data, chance))
            start, out, wrong = time.perf_counter(), io.StringIO(), io.StringIO()
            with redirect_stdout(out), redirect_stderr(wrong):
                code = main_command([*command, str(Path(folder) / name)])
            said = wrong.getvalue()
            if "something went wrong" in said or (code == BAD_INPUT and not said.strip()):
                end = "error"
            else:
                end = "refused" if code == BAD_INPUT else "read"
            tally.add(f"{command[0]} {name}", end, time.perf_counter() - start, said)
    return tally


RUN = {"power": "50", "duty": "50", "fixture": "series", "carrier": "146", "mode": "FM", "offset": "40"}
FORMS = (
    ("/sweeps", "files"), ("/through/sweeps", "file"), ("/through/heat", "file"), ("/emissions/captures", "files"),
    ("/tuner/trials", "file"), ("/air/files", "file"), ("/emissions/filters", "file"),
)  # fmt: skip


def by_forms(count: int, chance: random.Random) -> Tally:
    """By the forms of a running server; a new evaluation after every hundred files, since some are kept."""
    files, tally, each = sound(), Tally("web"), 100
    with installation(-(-count // each)) as here:
        person = here.person()
        for n in range(count):
            name, data, _ = chance.choice(files)
            home, (path, field) = f"/e/{here.cases[n // each]}", chance.choice(FORMS)
            if name.endswith(".jpg"):
                path, field = "/pictures", "pictures"
            elif name == "instruments.csv":
                home, path, field = "/equipment", "/instrument/import", "file"
            elif name.endswith(("json", "zip")):
                home, path, field = "", chance.choice(("/team/rules/file", "/evaluations/import")), "file"
            start = time.perf_counter()
            status, said = person.post(home + path, RUN, [(field, name, spoil(data, chance))])
            end = "error" if status >= 500 or status == 404 else "refused" if status >= 400 else "read"
            tally.add(f"{path} {name}", end, time.perf_counter() - start, f"{status} {said}")
    return tally


WAYS = {"process": in_process, "commands": by_commands, "web": by_forms}


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 10_000
    asked = sys.argv[2:] or [*WAYS, "misread"]
    wrong = 0
    for way in asked:
        if way == "misread":
            wrong += misread([str(count // 2)])
            continue
        tally = WAYS[way](count, random.Random(SEED))  # noqa: S311  the same each run
        wrong += tally.wrong
        print(tally, flush=True)
    sys.exit(1 if wrong else 0)


if __name__ == "__main__":
    main()
