"""Trials as a grid: the same frequency and load once, with its repeats, and the places that a claim asks for.

References
----------
.. [1] C. J. Clopper, E. S. Pearson, Biometrika 26, 1934, pp. 404-413, exact limits of a proportion (memory).
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from levelmoor.core.metrology.quantiles import beta
from levelmoor.core.model.trials import Trial
from levelmoor.core.rf.reflection import gamma_from_impedance, gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.trials.load_text import Load, LoadRange, format_load, load_of

NARROW = 1.07
"""A window whose edges differ by no more than this ratio is shown by one frequency inside it."""
FARTHEST = 1.5
"""Between two frequencies of a wider window lies no more than this ratio."""
SAME_LOAD = 0.05
"""So far apart in Γ two loads are one."""
SAME_HZ = 1e-3
EDGE_GAMMA = 0.08
"""So far in Γ a load may be from the place that a claim asks for."""


@dataclass(frozen=True)
class Cell:
    """A frequency and a load, with all trials of it."""

    frequency_hz: float
    load: Load
    trials: tuple[Trial, ...]


def alike(a: Load, b: Load) -> bool:
    """Whether two loads are one and the same."""
    if a.gamma is not None and b.gamma is not None and not (a.named or b.named):
        return abs(a.gamma - b.gamma) < SAME_LOAD
    return a.words.lower() == b.words.lower()


def cells_of(trials: Iterable[Trial], sweeps: dict[str, Sweep]) -> list[Cell]:
    """The grid, by rising frequency; trials of one frequency and load are repeats of one another."""
    found: list[Cell] = []
    for trial in sorted(trials, key=lambda t: t.frequency_hz):
        load = load_of(trial, sweeps)
        near = (
            n
            for n, c in enumerate(found)
            if abs(c.frequency_hz / trial.frequency_hz - 1) <= SAME_HZ and alike(c.load, load)
        )
        at = next(near, None)
        if at is None:
            found.append(Cell(trial.frequency_hz, load, (trial,)))
        else:
            found[at] = Cell(found[at].frequency_hz, found[at].load, (*found[at].trials, trial))
    return found


def frequencies_wanted(window: Window) -> list[float]:
    """Where a window is tried: a narrow one in the middle, a wider one at its edges and between."""
    ratio = window.high_hz / window.low_hz
    if ratio <= NARROW:
        return [math.sqrt(window.low_hz * window.high_hz)]
    steps = max(1, math.ceil(math.log(ratio) / math.log(FARTHEST) - 1e-9))
    return [window.low_hz * ratio ** (i / steps) for i in range(steps + 1)]


def edge_loads(of: LoadRange) -> list[complex]:
    """The loads at the edge of a range: both its ends, or of all loads up to an SWR four on its circle. Of any load
    there are none."""
    if of.anything:
        return []
    if of.most_swr is not None:
        s, g = of.most_swr, float(gamma_from_swr(of.most_swr))
        side = 50 * complex(1, g) / complex(1, -g)
        side = complex(round(side.real, 1), round(side.imag, 1))
        return [50 * s + 0j, round(50 / s, 2) + 0j, side, side.conjugate()]
    return [of.low_ohm + 0j, of.high_ohm + 0j]


def inner_load(of: LoadRange) -> complex:
    """A load inside a range."""
    if of.most_swr is not None:
        return _rounded(50 * math.sqrt(of.most_swr)) + 0j
    return _rounded(math.sqrt(of.low_ohm * of.high_ohm)) + 0j


def _rounded(value: float) -> float:
    size = 10.0 ** (math.floor(math.log10(value)) - 1)
    return round(value / size) * size


@dataclass(frozen=True)
class Wanted:
    """A place that a claim over a range asks to be tried: at its edge this load, `inside` any that is not an edge."""

    frequency_hz: float
    load_ohm: complex
    of: LoadRange
    inside: bool = False

    @property
    def words(self) -> str:
        return format_load(self.load_ohm)

    def met_by(self, cell: Cell, window: Window) -> bool:
        """Whether a trial stands for it: the load in Γ, the frequency within a twentieth, or anywhere in a narrow
        window."""
        if cell.load.gamma is None or not window.low_hz <= cell.frequency_hz <= window.high_hz:
            return False
        narrow = window.high_hz / window.low_hz <= NARROW
        near = narrow or abs(cell.frequency_hz / self.frequency_hz - 1) <= 0.05
        if not near:
            return False
        if not self.inside:
            return _apart(cell.load.gamma, self.load_ohm) <= EDGE_GAMMA
        edges = edge_loads(self.of)
        return bool(self.of.holds(cell.load)) and all(_apart(cell.load.gamma, z) > EDGE_GAMMA for z in edges)


def _apart(gamma: complex, load_ohm: complex) -> float:
    return abs(gamma - complex(gamma_from_impedance(load_ohm, 50.0)))


def wanted_in(window: Window, of: LoadRange) -> list[Wanted]:
    """The fewest trials that show a window of a claim, load by load: each change of load is a walk."""
    if of.anything:
        return []
    places = [(load, False) for load in edge_loads(of)] + [(inner_load(of), True)]
    return [Wanted(hz, load, of, inside) for load, inside in places for hz in frequencies_wanted(window)]


def share_words(good: int, of: int, confidence: float = 0.95) -> str:
    """`at least 55 % of such trials, 95 % one-sided` of 5 good of 5, by exact limits [1]_."""
    low = beta(1 - confidence, good, of - good + 1) if good else 0.0
    high = beta(confidence, good + 1, of - good) if good < of else 1.0
    if good == of:
        return f"at least {100 * low:.0f} % of such trials, 95 % one-sided"
    if not good:
        return f"at most {100 * high:.0f} % of such trials, 95 % one-sided"
    return f"between {100 * low:.0f} % and {100 * high:.0f} % of such trials, each 95 % one-sided"


def by_load(cells: Sequence[Cell]) -> list[Load]:
    """The loads of a grid, each once, from low resistance to high; those in words last."""
    found: list[Load] = []
    for cell in cells:
        if not any(alike(cell.load, other) for other in found):
            found.append(cell.load)

    def order(load: Load) -> tuple[int, float, float, str]:
        z = None if load.named else load.impedance_ohm
        if z is not None:
            return (0, z.real, z.imag, "")
        return (
            (1, load.gamma.real, 0.0, load.words)
            if load.gamma is not None
            else (2, load.magnitude or 0.0, 0.0, load.words)
        )

    return sorted(found, key=order)
