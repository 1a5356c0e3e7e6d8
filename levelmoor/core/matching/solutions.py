"""The settings of a network that match a load: all of them, by what stays inside.

References
----------
.. [1] D. M. Pozar, Microwave Engineering, ch. 5.1, matching with lumped elements; two solutions of an L (memory).
.. [2] Newton's method for two equations, any text of numerical analysis.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from levelmoor.core.matching.exact_settings import can_be_solved, exact_settings, nearest_settings, shares
from levelmoor.core.matching.knobs import POSITIONS, foreseen_gamma, marks_of, positions_of, values_at
from levelmoor.core.matching.ladder import impedances, stress
from levelmoor.core.model.networks import Knob, Network, NetworkKind, Part
from levelmoor.core.rf.reflection import ComplexArray, FloatArray, swr_from_gamma

COIL_POSITIONS = 30
"""So many places a coil that turns freely is looked at, where two capacitors are tuned beside it."""
NEAR = 0.8
"""|Γ| of a place of the grid below which a match is looked for around it."""
APART = 0.02
"""As a share of a dial: settings closer than this on every dial are told as one."""
MATCHED = 0.02
"""|Γ| below which a setting is a match."""
NEWTON_STEPS = 30


@dataclass(frozen=True)
class Match:
    """One setting: marks by part, the values there in F or H, the SWR it gives, and what it costs at 1 W."""

    dials: Mapping[Part, float]
    values: Mapping[Part, float]
    swr: float
    share: float
    watts: Mapping[Part, float]
    peak_v: Mapping[Part, float]
    rms_a: Mapping[Part, float]
    load_peak_v: float

    @property
    def loss_db(self) -> float:
        return -10 * math.log10(self.share) if self.share > 0 else math.inf


def match_at(
    network: Network, dials: Mapping[Part, float], frequency_hz: float, load_ohm: complex, z0_ohm: float = 50.0
) -> Match:
    """What a setting of the knobs gives with a load."""
    values = values_at(network, dials)
    z = impedances(network, values, frequency_hz)
    inside = stress(network.places, z, load_ohm)
    gamma = foreseen_gamma(network, dials, frequency_hz, load_ohm, z0_ohm)
    by_part = {
        name: {p.part: float(v) for p, v in zip(network.places, getattr(inside, name), strict=True)}
        for name in ("watts", "peak_v", "rms_a")
    }
    return Match(
        dict(dials),
        {p: float(v) for p, v in values.items()},
        float(swr_from_gamma(complex(gamma))),
        float(inside.share),
        by_part["watts"],
        by_part["peak_v"],
        by_part["rms_a"],
        float(inside.load_peak_v),
    )


def solutions(
    network: Network,
    frequency_hz: float,
    load_ohm: complex,
    z0_ohm: float = 50.0,
    most: int = 40,
    positions: int = POSITIONS,
) -> list[Match]:
    """Every setting that matches, the least loss first; where none does, the one that comes nearest.

    With a coil and two capacitors there is a match, or two, for each position of the coil [1]_: they are followed along
    it to the ends of the dials (`exact_settings`). Where too many dials are switches for that, or none matches exactly,
    all positions are looked at, and around each least reflection the two dials that turn freely are brought as near to
    Γ = 0 as they go [2]_.

    Raises
    ------
    ValueError
        Where the load takes no power, or a table is not written down.
    """
    load = complex(load_ohm)
    if not (math.isfinite(load.real) and math.isfinite(load.imag)) or load.real <= 0:
        raise ValueError("a load without resistance cannot be matched; R must be above 0 Ω")
    if network.missing:
        raise ValueError(f"{network.name}: the table of the {network.missing[0].value} dial is empty")
    if can_be_solved(network):
        found = exact_settings(network, frequency_hz, load, z0_ohm)
        if not found:
            near = nearest_settings(network, frequency_hz, load, z0_ohm)
            found = [v for v in near if _reflects(network, v, frequency_hz, load, z0_ohm) < MATCHED] or near[:1]
        order = np.argsort(-shares(network, found, frequency_hz, load), kind="stable")
        marks = [marks_of(network, found[i]) for i in order]
    else:
        of_grid = _of_grid(network, _grids(network, positions), frequency_hz, load, z0_ohm)
        every = [match_at(network, d, frequency_hz, load, z0_ohm) for d in of_grid]
        marks = [dict(m.dials) for m in sorted(every, key=lambda m: -m.share)]
    return [match_at(network, d, frequency_hz, load, z0_ohm) for d in _different(network, marks, most)]


def _reflects(
    network: Network, values: Mapping[Part, float], frequency_hz: float, load: complex, z0_ohm: float
) -> float:
    return float(abs(foreseen_gamma(network, marks_of(network, values), frequency_hz, load, z0_ohm)))


def _of_grid(
    network: Network, grids: Mapping[Part, FloatArray], frequency_hz: float, load: complex, z0_ohm: float
) -> list[dict[Part, float]]:
    """Positions of switches, and of a dial that turns freely beside them, that match; else the one that comes nearest.
    Two dials that turn freely are brought to the least from there [2]_."""
    size = np.abs(_gamma_of_grid(network, grids, frequency_hz, load, z0_ohm))
    free = [p for p in network.parts if not _steps(network, p)]
    good = zip(*np.nonzero(size < MATCHED), strict=True)
    found = [{p: float(grids[p][i]) for p, i in zip(network.parts, at, strict=True)} for at in good]
    if len(free) == 2:
        from scipy.ndimage import minimum_filter  # it takes long to load

        shape = tuple(3 if p in free else 1 for p in network.parts)
        lowest = (size <= minimum_filter(size, size=shape, mode="nearest")) & (size < NEAR)
        start = {p: grids[p][i] for p, i in zip(network.parts, np.nonzero(lowest), strict=True)}
        found = _newton(network, start, free, frequency_hz, load, z0_ohm)
    if not found:
        at = np.unravel_index(int(np.argmin(size)), size.shape)
        return [{p: float(grids[p][i]) for p, i in zip(network.parts, at, strict=True)}]
    return found


def matches(match: Match) -> bool:
    """Whether a setting is a match, and not only the one that comes nearest."""
    return match.swr < float(swr_from_gamma(2 * MATCHED))


def with_loss(match: Match, power_w: float) -> Match:
    """The setting with its watts, volts and amperes at a power."""
    root = math.sqrt(power_w)
    return replace(
        match,
        watts={p: v * power_w for p, v in match.watts.items()},
        peak_v={p: v * root for p, v in match.peak_v.items()},
        rms_a={p: v * root for p, v in match.rms_a.items()},
        load_peak_v=match.load_peak_v * root,
    )


def _steps(network: Network, part: Part) -> bool:
    knob = network.knob(part)
    return knob is not None and knob.steps


def _grids(network: Network, positions: int) -> dict[Part, FloatArray]:
    three = len(network.parts) == 3
    grids = {}
    for part in network.parts:
        knob = network.knob(part)
        assert isinstance(knob, Knob)
        grids[part] = positions_of(knob, COIL_POSITIONS if three and part is Part.COIL else positions)
    return grids


def _gamma_of_grid(
    network: Network, grids: Mapping[Part, FloatArray], frequency_hz: float, load: complex, z0_ohm: float
) -> ComplexArray:
    """The reflection at every position: an axis for each knob."""
    count = len(network.parts)
    dials = {p: grids[p].reshape(tuple(-1 if i == n else 1 for i in range(count))) for n, p in enumerate(network.parts)}
    return foreseen_gamma(network, dials, frequency_hz, load, z0_ohm)


def _newton(
    network: Network,
    start: Mapping[Part, FloatArray],
    free: list[Part],
    frequency_hz: float,
    load: complex,
    z0_ohm: float,
) -> list[dict[Part, float]]:
    """The marks near each start where nothing is reflected [2]_; starts from which the dials do not reach there are
    left out. All starts are followed at once."""
    dials = {p: np.array(v, dtype=np.float64) for p, v in start.items()}
    ends = {p: np.sort(positions_of(k, 2)) for p in free if (k := network.knob(p)) is not None}
    for _ in range(NEWTON_STEPS):
        here = foreseen_gamma(network, dials, frequency_hz, load, z0_ohm)
        if np.all(np.abs(here) < 1e-9):
            break
        columns = []
        for part in free:
            low, high = ends[part]
            small = 1e-6 * (high - low) * np.where(dials[part] > (low + high) / 2, -1.0, 1.0)
            there = foreseen_gamma(network, {**dials, part: dials[part] + small}, frequency_hz, load, z0_ohm)
            columns.append((there - here) / small)
        first, second = columns
        determinant = first.real * second.imag - second.real * first.imag
        turned = np.where(np.abs(determinant) > 1e-300, determinant, np.inf)
        steps = (
            (second.real * here.imag - here.real * second.imag) / turned,
            (first.imag * here.real - first.real * here.imag) / turned,
        )
        for part, step in zip(free, steps, strict=True):
            low, high = ends[part]
            room = 0.1 * (high - low)
            dials[part] = np.clip(dials[part] + np.clip(step, -room, room), low, high)
    reached = np.abs(foreseen_gamma(network, dials, frequency_hz, load, z0_ohm)) < MATCHED
    return [{p: float(v[i]) for p, v in dials.items()} for i in np.flatnonzero(reached)]


def _different(network: Network, marks: Sequence[Mapping[Part, float]], most: int) -> list[Mapping[Part, float]]:
    """Each setting once, and of those that lie close together the first."""
    spans = np.array([k.high - k.low for p in network.parts if (k := network.knob(p)) is not None])
    every = np.array([[one[p] for p in network.parts] for one in marks]) / spans
    kept: list[int] = []
    for i, one in enumerate(every):
        if len(kept) == most:
            break
        if not kept or np.min(np.max(np.abs(every[kept] - one), axis=1)) > APART:
            kept.append(i)
    return [marks[i] for i in kept]


GENERIC_KNOBS = {
    Part.C_IN: Knob(Part.C_IN, "transmitter side", 0.0, 100.0, (0.0, 100.0), (10.0, 250.0)),
    Part.COIL: Knob(Part.COIL, "coil", 0.0, 100.0, (0.0, 100.0), (0.1, 28.0)),
    Part.C_OUT: Knob(Part.C_OUT, "antenna side", 0.0, 100.0, (0.0, 100.0), (10.0, 250.0)),
}
"""Parts of a usual size for a network of which nothing is written down (common practice, no source)."""


def generic_network(kind: NetworkKind, name: str = "a typical one") -> Network:
    """A network of a kind with parts of a usual size."""
    bare = Network("generic", name, kind)
    return replace(bare, knobs=tuple(GENERIC_KNOBS[p] for p in bare.parts))
