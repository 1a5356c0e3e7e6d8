"""Every command as a whole process on a small file, beside a process that only imports numpy: shortest of five."""

import json
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from levelmoor.demo import load

FILES = Path(load.__file__).with_name("files")
ROUNDS = 5
CASE = {
    "title": "Whip",
    "product": {"name": "Whip"},
    "samples": [{"id": "s", "label": "Sample 1"}],
    "setups": [{"id": "u", "name": "On its own"}],
    "instruments": [{"id": "i", "name": "Analyzer", "instrument_class": "analyzer", "points": 101}],
    "claims": [
        {"id": "c", "quantity": "swr", "limit": 2, "windows": [{"low_hz": 7e6, "high_hz": 7.2e6, "name": "40m"}]}
    ],
}


def commands(folder: Path) -> dict[str, list[str]]:
    """What is timed, by its name. The files are the demo's."""
    whip, other = (str(FILES / n) for n in ("slidewhip-mark-6.s1p", "slidewhip-mark-8.s1p"))
    capture = str(FILES / "carrick-near.csv")
    case = folder / "case.json"
    case.write_text(json.dumps(CASE))
    readings = folder / "readings.csv"
    readings.write_text("MHz,SWR\n" + "".join(f"{7 + i / 20:.2f},1.{i}\n" for i in range(5)))
    return {
        "check": ["check", whip, "--max-swr", "2"],
        "claim": ["claim", "SWR < 1.5 2m 70cm"],
        "compare": ["compare", whip, other, "--question", "setups"],
        "readings": ["readings", str(readings), "--max-swr", "2"],
        "harmonics": ["harmonics", capture, "--carrier", "146MHz", "--offset", "40", "--rules", "us-97.307"],
        "pad": ["pad", "--s21", str(FILES / "low-pass-2m.s2p"), "--at", "146MHz"],
        "cable": ["cable", str(FILES / "yard-line-open.s1p"), "--type", "RG-8X", "--length", "24m"],
        "judge": ["judge", str(case)],
        "plan": ["plan", str(case)],
    }


def shortest(arguments: list[str]) -> float:
    times = []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        done = subprocess.run([sys.executable, *arguments], capture_output=True, text=True, check=False)
        times.append(time.perf_counter() - start)
        if done.returncode == 2:
            sys.exit(done.stderr)
    return min(times)


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        bare = shortest(["-c", "import numpy"])
        print(f"import numpy: {bare:.2f} s")
        for name, arguments in commands(Path(folder)).items():
            took = shortest(["-m", "levelmoor.cli", *arguments])
            print(f"{name:<10} {took:.2f} s  {took / bare:.1f} times")


if __name__ == "__main__":
    main()
