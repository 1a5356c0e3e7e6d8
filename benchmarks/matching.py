"""Settings of each network that match random loads, against searches from random starts: python -m benchmarks.matching
[LOADS, 300]. Told are loads that are missed, the most that a search loses less, and seconds; exit code 1 where one is
missed, or a search loses less by more than 0.01 dB."""

import sys
import time

import numpy as np
from scipy.optimize import least_squares

from levelmoor.core.matching.knobs import foreseen_gamma, values_at
from levelmoor.core.matching.ladder import impedances, stress
from levelmoor.core.matching.solutions import generic_network, solutions
from levelmoor.core.model.networks import Network, NetworkKind

BANDS_HZ = (1.85e6, 3.65e6, 7.1e6, 10.12e6, 14.2e6, 18.1e6, 21.2e6, 28.5e6)
STARTS, MATCHED, NO_WORSE_DB = 12, 1e-3, 0.01


def random_load(chance: np.random.Generator) -> tuple[float, complex]:
    """A frequency in Hz and a load in ohm, from a few ohms to thousands."""
    r, x = 10 ** chance.uniform(0.5, 3.5), chance.choice((-1, 1)) * 10 ** chance.uniform(0, 3)
    return float(chance.choice(BANDS_HZ)), complex(r, x)


def searched(network: Network, hz: float, load: complex, chance: np.random.Generator, starts: int = STARTS) -> float:
    """The least loss in dB that a search from random dials finds where it matches, NaN where it finds none."""
    best = np.nan
    for start in chance.uniform(1, 99, (starts, len(network.parts))):

        def gamma(dials: np.ndarray) -> list[float]:
            g = complex(foreseen_gamma(network, dict(zip(network.parts, dials, strict=True)), hz, load))
            return [g.real, g.imag]

        found = least_squares(gamma, start, bounds=(0, 100), max_nfev=60)
        if 2 * found.cost < MATCHED**2:
            values = values_at(network, dict(zip(network.parts, found.x, strict=True)))
            share = float(stress(network.places, impedances(network, values, hz), load).share)
            best = np.fmin(best, -10 * np.log10(share))
    return float(best)


def main() -> None:
    count, chance = int(sys.argv[1]) if len(sys.argv) > 1 else 300, np.random.default_rng(1)
    bad = False
    for kind in NetworkKind:
        network, missed, worst, took = generic_network(kind), 0, -np.inf, []
        matched = 0
        for _ in range(count):
            hz, load = random_load(chance)
            begun = time.perf_counter()
            ours = solutions(network, hz, load)[0]
            took.append(time.perf_counter() - begun)
            theirs = searched(network, hz, load, chance)
            matched += ours.swr < 1.01
            if np.isfinite(theirs):
                missed += ours.swr > 1.05
                worst = max(worst, ours.loss_db - theirs)
        bad |= missed > 0 or worst > NO_WORSE_DB
        print(
            f"{kind.value}: {matched} of {count} loads matched, {missed} missed that a search matches; at most "
            f"{worst:.4f} dB more than the search; {np.median(took):.3f} s, at most {max(took):.3f} s"
        )
    sys.exit(1 if bad else 0)


if __name__ == "__main__":
    main()
