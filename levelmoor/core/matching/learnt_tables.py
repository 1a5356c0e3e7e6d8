"""How the tables of a network's dials are learnt from sweeps with known loads: which marks, how well, which are kept.

References
----------
.. [1] A trust-region least squares fit, SciPy's `least_squares` (its documentation).
.. [2] JCGM 100:2008, annex H.3: the covariance of a fit's parameters from its Jacobian and what it leaves (memory).
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from levelmoor.core.matching.knobs import foreseen_gamma
from levelmoor.core.model.networks import Knob, Network, Part
from levelmoor.core.rf.reflection import FloatArray
from levelmoor.core.words.counting import counted

SHOWN = 1e-5
"""The page rounds the values of a table to about this share, so a smaller difference is not a correction."""
Seen = tuple[float, Mapping[Part, float], complex, complex]
"""What a table is learnt from: frequency in Hz, the marks, the load in ohm, the reflection seen at the input."""
UNEXPLAINED = 0.1
"""What may stay of |difference of reflection| where tables are learnt."""
SMALLEST_LEFT = 2e-3
"""So much of |difference of reflection| is left at the least by any sweep (common practice, no source)."""
FEWEST = 2
"""Settings of the knobs that a mark has to be seen in: one alone does not tell one knob from another."""
LOOSEST = 0.5
"""Standard uncertainty, as a share, above which a mark is not learnt but kept as it was."""
FIRM = 1.0
"""How firmly a value is held to what it was, as a share: what nothing tells stays."""


@dataclass(frozen=True)
class LearntMark:
    """One mark of a knob: its value before and after in the knob's unit, its standard uncertainty, in how many settings
    of the knobs it was seen; kept as it was where `u` is None, by hand where `held`."""

    knob: str
    mark: float
    before: float
    value: float
    u: float | None
    settings: int
    unit: str
    held: bool = False

    @property
    def words(self) -> str:
        if self.held:
            return f"{self.knob} {self.mark:g}: kept at {self.before:.3g} {self.unit}, corrected by hand"
        if self.u is None:
            seen = f"seen in {counted(self.settings, 'setting')}" if self.settings else "not seen"
            return f"{self.knob} {self.mark:g}: kept at {self.before:.3g} {self.unit}, {seen}"
        seen = counted(self.settings, "setting")
        expanded = float(f"{2 * self.u:.1g}")
        return f"{self.knob} {self.mark:g}: {self.value:.3g} ± {expanded:g} {self.unit} from {seen}"


@dataclass(frozen=True)
class Learnt:
    """The network with its new tables, every mark, and the root mean square of what is left of |difference of
    reflection|."""

    network: Network
    marks: tuple[LearntMark, ...]
    left: float


def learn_tables(network: Network, seen: Sequence[Seen], z0_ohm: float = 50.0) -> Learnt:
    """The tables of the knobs that make the network's reflections those that were seen with known loads, by least
    squares [1]_; each table keeps its marks, and the values at those that were seen in two settings or more and are not
    held are moved.

    Raises
    ------
    ValueError
        Where too little was seen, or no tables make what was seen.
    """
    knobs = [k for p in network.parts if (k := network.knob(p)) is not None and k.dial]
    places = [(knob, n) for knob in knobs for n in range(len(knob.dial))]
    told = [_settings(seen, knob, n) for knob, n in places]
    if len({_setting(dials) for _, dials, _, _ in seen}) < FEWEST:
        raise ValueError(
            "one setting of the knobs does not tell one knob from another: sweep at least two, with different marks"
        )
    held = [knob.dial[n] in knob.held for knob, n in places]
    free = [i for i, settings in enumerate(told) if settings >= FEWEST and not held[i]]
    if 2 * len(seen) < len(free) or not free:
        raise ValueError(
            f"{len(free)} values are unknown; sweep at least {-(-len(free) // 2)} positions, not {len(seen)}"
        )
    before = np.log(np.maximum(np.concatenate([np.asarray(k.value) for k in knobs]), 1e-6))
    while True:
        logs, shares, left = _fit(network, knobs, seen, before, free, z0_ohm)
        loose = {i for i, of in zip(free, shares, strict=True) if of > LOOSEST}
        if not loose or len(loose) == len(free):
            break
        free = [i for i in free if i not in loose]
    if left > UNEXPLAINED:
        raise ValueError(
            f"even the best tables leave a tenth of the reflection or more unexplained ({left:.2f}); do the "
            f"marks and loads belong to these sweeps?"
        )
    made = _with_values(network, knobs, logs)
    known = dict(zip(free, shares, strict=True))
    marks = []
    for i, (knob, n) in enumerate(places):
        new = made.knob(knob.part)
        assert new is not None
        spread = known.get(i)
        of = new.value[n]
        learnt = spread is not None and spread <= LOOSEST
        marks.append(
            LearntMark(
                knob.name,
                knob.dial[n],
                knob.value[n],
                of,
                of * spread if learnt and spread else None,
                told[i],
                knob.unit,
                held[i],
            )
        )
    return Learnt(made, tuple(marks), left)


def with_correction(network: Network, knob: Knob) -> Network:
    """The network with a knob's table as corrected by hand: the marks whose value was changed or added are held from
    now on."""
    old = network.knob(knob.part)
    known = dict(zip(old.dial, old.value, strict=True)) if old else {}
    held = tuple(
        mark
        for mark, value in zip(knob.dial, knob.value, strict=True)
        if not math.isclose(known.get(mark, math.inf), value, rel_tol=SHOWN) or (old and mark in old.held)
    )
    new = replace(knob, held=held)
    return replace(network, knobs=tuple(new if k.part is knob.part else k for k in network.knobs))


def let_go(network: Network) -> Network:
    """The network with no mark held."""
    return replace(network, knobs=tuple(replace(k, held=()) for k in network.knobs))


def _setting(dials: Mapping[Part, float]) -> tuple[tuple[str, float], ...]:
    return tuple(sorted((part.value, mark) for part, mark in dials.items()))


def _settings(seen: Sequence[Seen], knob: Knob, n: int) -> int:
    """In how many settings a mark's value counts: those between its neighbours."""
    low, high = knob.dial[max(n - 1, 0)], knob.dial[min(n + 1, len(knob.dial) - 1)]

    def counts(mark: float) -> bool:
        return mark == knob.dial[n] or low < mark < high or (n == 0 and mark < high) or (high == knob.dial[n] < mark)

    return len({_setting(dials) for _, dials, _, _ in seen if knob.part in dials and counts(dials[knob.part])})


def _with_values(network: Network, knobs: Sequence[Knob], logs: FloatArray) -> Network:
    at, made = 0, []
    for knob in knobs:
        own = np.exp(logs[at : at + len(knob.value)])
        ordered = np.sort(own) if not knob.inverted else np.sort(own)[::-1]
        apart = ordered * (1 + (1 if not knob.inverted else -1) * 1e-9 * np.arange(own.size))
        made.append(replace(knob, value=tuple(apart.tolist())))
        at += own.size
    return replace(network, knobs=tuple(made))


def _fit(
    network: Network,
    knobs: Sequence[Knob],
    seen: Sequence[Seen],
    before: FloatArray,
    free: Sequence[int],
    z0_ohm: float,
) -> tuple[FloatArray, FloatArray, float]:
    """The logarithms of all values, the standard uncertainties of those that are free [2]_, and what is left."""

    def whole(x: FloatArray) -> FloatArray:
        logs = before.copy()
        logs[list(free)] = x
        return logs

    def off(x: FloatArray) -> FloatArray:
        tried = _with_values(network, knobs, whole(x))
        parts = []
        for hz, dials, load, gamma in seen:
            difference = complex(foreseen_gamma(tried, dials, hz, load, z0_ohm)) - gamma
            parts += [difference.real, difference.imag]
        held = SMALLEST_LEFT / FIRM * (x - before[list(free)])
        return np.concatenate([np.asarray(parts), held])

    from scipy.optimize import least_squares  # it takes long to load

    found = least_squares(off, before[list(free)], x_scale=0.1, max_nfev=400)
    figures = 2 * len(seen)
    left = math.sqrt(2 * float(np.mean(found.fun[:figures] ** 2)))
    scatter = max(left / math.sqrt(2), SMALLEST_LEFT / math.sqrt(2))
    jacobian: NDArray[np.float64] = found.jac[:figures]
    cov = np.linalg.pinv(jacobian.T @ jacobian, rcond=1e-12) * scatter**2
    # What nothing tells has no column in the Jacobian: it is as uncertain as can be.
    blind = np.sum(jacobian**2, axis=0) < scatter**2
    return whole(found.x), np.where(blind, np.inf, np.sqrt(np.diag(cov))), left
