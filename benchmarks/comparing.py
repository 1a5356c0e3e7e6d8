"""Ten sweeps of 10,001 points over one another: python -m benchmarks.comparing."""

import statistics
import time
from collections.abc import Callable

import numpy as np

from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.windows import Window
from levelmoor.figures.curves import Drawn, read_off_all
from levelmoor.figures.overlay import overlay
from levelmoor.figures.resistance import resistance
from levelmoor.figures.smith import smith

FORTY = [Window(7.0e6, 7.2e6, "40m")]


def curves(count: int = 10, points: int = 10_001) -> list[Drawn]:
    """Noisy series circuits whose dips lie side by side."""
    random = np.random.default_rng(1)
    f = np.linspace(6e6, 8e6, points)
    drawn = []
    for i in range(count):
        f0 = 7e6 + 2e4 * i
        gamma = gamma_from_impedance(50 * (1 + 20j * (f / f0 - f0 / f)), 50.0)
        gamma = gamma + 5e-4 * (random.standard_normal(points) + 1j * random.standard_normal(points))
        drawn.append(Drawn("ABCDEFGHIJ"[i], f"Side {i}", i, analyse_sweep(Sweep(f, gamma), 50.0), Residuals()))
    return drawn


def main() -> None:
    ten = curves()
    ways: dict[str, Callable[[], str]] = {
        "SWR, wide": lambda: overlay(ten, FORTY, 2.0),
        "SWR, narrow": lambda: overlay(ten, FORTY, 2.0, width=380, height=360),
        "return loss, wide": lambda: overlay(ten, FORTY, 2.0, return_loss=True),
        "Smith chart": lambda: smith(ten, FORTY),
        "R and X": lambda: resistance(ten),
        "figures for the pointer": lambda: read_off_all(ten, 6e6, 8e6),
    }
    for name, draw in ways.items():
        times, size = [], 0
        for _ in range(9):
            start = time.perf_counter()
            size = len(draw())
            times.append(time.perf_counter() - start)
        print(f"{name}: median {1e3 * statistics.median(times):.0f} ms, {size / 1e3:.0f} kB")


if __name__ == "__main__":
    main()
