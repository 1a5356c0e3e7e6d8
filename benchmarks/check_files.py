"""`check` of a file against scikit-rf's bare read of the same file, in one run: python -m benchmarks.check_files."""

import json
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
import skrf

from levelmoor.core.metrology.decision import DecisionRule
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.rf.bandplan import bands_covered
from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.sweep_analysis import analyse_sweep, forget_analyses
from levelmoor.core.verdict.window_verdict import judge_window
from levelmoor.formats.check import check_report
from levelmoor.formats.sweepfile import read_sweep_file

SIZES = (1001, 20_001, 100_001)


def write(path: Path, points: int) -> None:
    f = np.linspace(1e6, 60e6, points)
    gamma = gamma_from_impedance(60 * (1 + 12j * (f / 14.2e6 - 14.2e6 / f)), 50)
    gamma = gamma + 1e-4 * np.random.default_rng(1).standard_normal(points)
    rows = (f"{x:.0f} {g.real:.7f} {g.imag:.7f}" for x, g in zip(f, gamma, strict=True))
    path.write_text("# Hz S RI R 50\n" + "\n".join(rows) + "\n")


def check(path: Path) -> str:
    """Everything `levelmoor check FILE --max-swr 2 --json` does after its start."""
    forget_analyses()
    file = read_sweep_file(path.name, path.read_bytes())
    analysis = analyse_sweep(file.sweep, 50)
    bands = bands_covered(analysis.sweep, 1)
    findings = [judge_window(analysis, b.window, 2, Residuals(), DecisionRule.GUARDED) for b in bands]
    return json.dumps(check_report(path.name, file, analysis, 50, findings))


def quickest(one: Callable[[], object], other: Callable[[], object], rounds: int = 9) -> tuple[float, float]:
    """Shortest time of each in s, taken turn about so that both meet the same machine."""
    times: tuple[list[float], list[float]] = ([], [])
    for _ in range(rounds):
        for call, kept in zip((one, other), times, strict=True):
            start = time.perf_counter()
            call()
            kept.append(time.perf_counter() - start)
    return min(times[0]), min(times[1])


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        for points in SIZES:
            path = Path(folder) / f"{points}.s1p"
            write(path, points)
            bare, whole = quickest(lambda p=path: skrf.Network(str(p)), lambda p=path: check(p))  # type: ignore[misc]
            times = f"bare read {bare * 1e3:7.1f} ms, check {whole * 1e3:7.1f} ms"
            print(f"{points:>7} points: {times}, ratio {whole / bare:.2f}")


if __name__ == "__main__":
    main()
