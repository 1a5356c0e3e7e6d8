"""All settings of a T network that match a load, at 200 x 200 x 30 positions of its dials, against trying them one by
one: python -m benchmarks.matching. Ratios within one run; seconds beside them."""

import sys
import time

import numpy as np

from levelmoor.core.matching.solutions import match_at, solutions
from levelmoor.core.model.networks import Knob, Network, NetworkKind, Part

COIL = Knob(Part.COIL, "coil", 0, 29, tuple(range(30)), tuple(0.3 + 0.9 * n for n in range(30)), steps=True)
NETWORK = Network(
    "t",
    "T",
    NetworkKind.T,
    (
        Knob(Part.C_IN, "a", 0, 100, (0, 100), (10, 500)),
        COIL,
        Knob(Part.C_OUT, "b", 0, 100, (0, 100), (10, 500)),
    ),
)
LOADS = ((10 + 0j, 3.6e6), (200 - 100j, 7.1e6), (20 - 800j, 3.6e6), (50 + 0j, 14.2e6), (1000 + 300j, 28.5e6))
ONE_BY_ONE = 2000


def main() -> None:
    """The time of each load, and how many times as long 200 x 200 x 30 single positions would take."""
    random = np.random.default_rng(1)
    begun = time.perf_counter()
    for _ in range(ONE_BY_ONE):
        dials = {Part.C_IN: random.uniform(0, 100), Part.COIL: float(random.integers(30)), Part.C_OUT: 50.0}
        match_at(NETWORK, dials, 7.1e6, 200 - 100j)
    each = (time.perf_counter() - begun) / ONE_BY_ONE
    for load, hz in LOADS:
        begun = time.perf_counter()
        found = solutions(NETWORK, hz, load)
        took = time.perf_counter() - begun
        ratio = each * 200 * 200 * 30 / took
        sys.stdout.write(
            f"{load} at {hz / 1e6:g} MHz: {len(found)} settings in {took:.3f} s, {ratio:.0f} times faster\n"
        )


if __name__ == "__main__":
    main()
