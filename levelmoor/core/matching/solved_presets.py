"""Where the knobs of a known network stand for an antenna as it was swept: on each band, and between.

The network is solved at the frequency itself; what hands noted elsewhere says how far its tables are off.

References
----------
.. [1] JCGM 100:2008, 4.2, the spread of few observations (memory).
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from levelmoor.core.matching.knobs import foreseen_gamma
from levelmoor.core.matching.preset_card import PresetCard, dials_of
from levelmoor.core.matching.solutions import MATCHED, Match, matches, solutions
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.networks import Network, Part
from levelmoor.core.model.trials import Trial
from levelmoor.core.rf.bandplan import band_plan
from levelmoor.core.rf.reflection import FloatArray, impedance_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window

GOOD_SWR = 1.5
"""Up to this a setting that comes nearest is one to use, where dials click or end (common practice, no source)."""
NEAREST_LOSS_DB = 0.3
"""Settings that lose this much more than the best are chosen from by how near they are to what was noted."""


@dataclass(frozen=True)
class SolvedPreset:
    """One line: the marks by part with their standard uncertainty, None where no trial has checked the tables; the SWR
    that the tables give there, and the loss in dB. `matched` is False where nothing does and this comes nearest."""

    name: str
    frequency_hz: float
    marks: Mapping[Part, tuple[float, float | None]]
    swr: float
    loss_db: float
    matched: bool


@dataclass(frozen=True)
class Noted:
    """What trials say of a network's tables: the marks noted at each frequency, and by how much those of the solution
    miss them."""

    at: Sequence[tuple[float, Mapping[Part, float]]]
    off: Mapping[Part, Sequence[float]]


@dataclass(frozen=True)
class Solved:
    """Presets, and the network whose knobs they are of."""

    network: Network
    lines: Sequence[SolvedPreset]


def load_at(antenna: Sweep, frequency_hz: float) -> complex | None:
    """The antenna's impedance; None where it was not swept, or without its phase."""
    if antenna.scalar or not antenna.covers(frequency_hz, frequency_hz):
        return None
    z = complex(impedance_from_gamma(complex(antenna.gamma_at(frequency_hz)), antenna.z0_ohm))
    return z if math.isfinite(abs(z)) and z.real > 0 else None


def noted_of(network: Network, antenna: Sweep, trials: Sequence[Trial]) -> Noted:
    """What the trials with an antenna, their dials noted as numbers, say of the network's tables."""
    at: list[tuple[float, Mapping[Part, float]]] = []
    off: dict[Part, list[float]] = {p: [] for p in network.parts}
    for trial in trials:
        dials, z = dials_of(trial, network), load_at(antenna, trial.frequency_hz)
        if dials is None or z is None:
            continue
        at.append((trial.frequency_hz, dials))
        for part, mark in (_matched_beside(network, trial.frequency_hz, z, dials) or {}).items():
            off[part].append(dials[part] - mark)
    return Noted(at, off)


def _matched_beside(
    network: Network, frequency_hz: float, load: complex, dials: Mapping[Part, float]
) -> dict[Part, float] | None:
    """The marks at which the tables match, nearest to those that were noted; where two other knobs can do it the coil
    stays, since one match leads to another along it. None where there is none."""
    free = [p for p in network.parts if p is not Part.COIL] if len(network.parts) > 2 else list(network.parts)
    knobs = {p: network.knob(p) for p in free}
    low, high = (np.array([sorted((k.dial[0], k.dial[-1]))[end] for k in knobs.values() if k]) for end in (0, 1))

    def left(x: FloatArray) -> FloatArray:
        marks = {**dials, **dict(zip(free, x.tolist(), strict=True))}
        gamma = complex(foreseen_gamma(network, marks, frequency_hz, load))
        return np.array([gamma.real, gamma.imag])

    from scipy.optimize import least_squares  # it takes long to load

    start = np.clip([dials[p] for p in free], low + 1e-6, high - 1e-6)
    found = least_squares(left, start, bounds=(low, high), x_scale=high - low)
    return dict(zip(free, found.x.tolist(), strict=True)) if 2 * found.cost < MATCHED**2 else None


def solved_at(
    network: Network, antenna: Sweep, noted: Noted, frequency_hz: float, name: str = ""
) -> SolvedPreset | None:
    """The setting at a frequency, None where the antenna's impedance is not known there."""
    z = load_at(antenna, frequency_hz)
    if z is None:
        return None
    found = solutions(network, frequency_hz, z)
    near = min(noted.at, key=lambda n: abs(math.log(n[0] / frequency_hz)), default=None)
    best = _nearest(network, found, near[1], NEAREST_LOSS_DB) if near else found[0]
    good = best.swr <= GOOD_SWR
    marks = {p: _corrected(network, p, best.dials[p], noted.off[p] if good else ()) for p in network.parts}
    return SolvedPreset(name, frequency_hz, marks, best.swr, best.loss_db, good)


def solved_presets(
    network: Network, antenna: Sweep, trials: Sequence[Trial], windows: Sequence[Window]
) -> tuple[SolvedPreset, ...]:
    """A line for the middle of each window that the antenna was swept in, by rising frequency."""
    noted = noted_of(network, antenna, trials)
    found = (solved_at(network, antenna, noted, w.middle_hz, w.name) for w in sorted(windows, key=lambda w: w.low_hz))
    return tuple(one for one in found if one is not None)


def _windows(evaluation: Evaluation) -> list[Window]:
    """The windows that claims name, else the bands of the region."""
    claimed = list(dict.fromkeys(w for c in evaluation.claims for w in c.windows))
    return claimed or [b.window for b in band_plan(evaluation.region).bands]


def can_solve(evaluation: Evaluation, card: PresetCard) -> bool:
    """Whether a network with tables and the antenna's sweep are known of a card."""
    return _known(evaluation, card) is not None


def presets_for(evaluation: Evaluation, card: PresetCard) -> Solved | None:
    """All bands for the antenna of a card, where a network with tables and the antenna's sweep are known."""
    known = _known(evaluation, card)
    if known is None:
        return None
    network, antenna = known
    trials = [p.trial for p in card.presets]
    return Solved(network, solved_presets(network, antenna, trials, _windows(evaluation)))


def solved_for(evaluation: Evaluation, card: PresetCard, hz: float) -> Solved | None:
    """The setting at one frequency, solved from the network; None where it or the antenna's impedance is not known."""
    known = _known(evaluation, card)
    if known is None:
        return None
    network, antenna = known
    found = solved_at(network, antenna, noted_of(network, antenna, [p.trial for p in card.presets]), hz)
    return Solved(network, [found]) if found else None


def _known(evaluation: Evaluation, card: PresetCard) -> tuple[Network, Sweep] | None:
    networks = {n.id: n for n in evaluation.networks if not n.missing}
    sweeps = {e.id: e.sweep for e in evaluation.sweeps if not e.sweep.scalar}
    trials = [p.trial for p in card.presets]
    return next(
        (
            (networks[t.network_id], sweeps[t.load_sweep_id])
            for t in reversed(trials)
            if t.network_id in networks and t.load_sweep_id in sweeps
        ),
        None,
    )


def _nearest(network: Network, found: Sequence[Match], dials: Mapping[Part, float], within_db: float) -> Match:
    """Of the settings that match and lose hardly more than the best, the one nearest to other marks."""
    good = [m for m in found if matches(m) and m.loss_db <= found[0].loss_db + within_db] or [found[0]]
    ranges = {p: max(abs(k.dial[-1] - k.dial[0]), 1e-9) for p in network.parts if (k := network.knob(p)) is not None}
    return min(good, key=lambda m: sum(((m.dials[p] - dials[p]) / ranges[p]) ** 2 for p in ranges))


def _corrected(network: Network, part: Part, mark: float, off: Sequence[float]) -> tuple[float, float | None]:
    """A mark moved by what hands noted elsewhere differ from the tables, as far as its knob goes; its u is how unevenly
    they do [1]_."""
    knob = network.knob(part)
    if not off or knob is None:
        return mark, None
    mean = float(np.median(off))  # where two settings meet, one trial may be told of the other
    u = float(np.std(off, ddof=1)) * math.sqrt(1 + 1 / len(off)) if len(off) > 1 else abs(mean)
    return min(max(mark + mean, knob.low), knob.high), u
