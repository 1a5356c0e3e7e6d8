"""Spoils files of every kind that comes in and has each read: python -m benchmarks.spoiled [COUNT, 10000].

Each must end in a result or in a refusal that says what is wrong; anything else is printed, and the exit code is 1.
"""

import io
import json
import random
import sys
import time
import zipfile
from collections import Counter
from collections.abc import Callable
from dataclasses import asdict

from PIL import Image

from levelmoor.core.model.rule_sets import rule_set_from, shipped_rule_sets
from levelmoor.demo.make import FILES
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
    for name, make in FILES.items():
        data = make()[:6000].rpartition(b"\n")[0] + b"\n"
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


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 10_000
    chance, files, ends, slowest = random.Random(SEED), sound(), Counter[str](), (0.0, "")  # noqa: S311  the same each run
    for _ in range(count):
        name, data, readers = chance.choice(files)
        bad, reader = spoil(data, chance), chance.choice(readers)
        start = time.perf_counter()
        try:
            reader(name, bad)
            ends["read"] += 1
        except ValueError as problem:
            ends["refused" if str(problem) else "refused without a word"] += 1
        except Exception as problem:
            ends["error"] += 1
            print(f"{name}: {type(problem).__name__}: {str(problem)[:200]}")
        slowest = max(slowest, (time.perf_counter() - start, name))
    print(f"{count} spoiled files: {dict(ends)}; slowest {slowest[0]:.2f} s ({slowest[1]})")
    sys.exit(1 if ends["error"] or ends["refused without a word"] else 0)


if __name__ == "__main__":
    main()
