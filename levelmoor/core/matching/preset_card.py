"""The card of a manual tuner: for an antenna, where the knobs stand on each frequency, and what is foreseen between.

References
----------
.. [1] Draper and Smith, Applied Regression Analysis: the spread of a straight line's prediction (memory).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from levelmoor.core.matching.knobs import foreseen_gamma
from levelmoor.core.model.networks import Network, Part
from levelmoor.core.model.trials import Outcome, Trial
from levelmoor.core.rf.bandplan import band_at
from levelmoor.core.rf.reflection import swr_from_gamma
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.words.counting import counted
from levelmoor.core.words.figures import brief_mhz

EDGE_POINTS = 401
NEAR_BAND = 0.15


@dataclass(frozen=True)
class Edge:
    """From where to where an SWR is kept without touching a knob; None where that lies beyond what was swept."""

    swr: float
    low_hz: float | None
    high_hz: float | None

    @property
    def words(self) -> str:
        low = brief_mhz(round(self.low_hz, -3)) if self.low_hz else "?"
        high = brief_mhz(round(self.high_hz, -3)) if self.high_hz else "?"
        return f"{low} to {high}"


@dataclass(frozen=True)
class Preset:
    """One line of the card: the last good setting at a frequency."""

    trial: Trial
    band: str
    edges: tuple[Edge, ...]

    def at(self, knob: str) -> str:
        return next((d.at for d in self.trial.dials if d.knob == knob), "")


@dataclass(frozen=True)
class PresetCard:
    """The settings for one antenna, in one setup; another antenna or another radial field has a card of its own."""

    antenna: str
    setup_id: str
    knobs: tuple[str, ...]
    presets: tuple[Preset, ...]


def noted_matches(trials: Sequence[Trial]) -> list[Trial]:
    """The trials that become lines of a card: matched, with dials noted, not set aside."""
    return [t for t in trials if t.dials and t.outcome is Outcome.MATCHED and not t.set_aside]


def preset_cards(
    trials: Sequence[Trial], networks: Sequence[Network], sweeps: dict[str, Sweep], region: int
) -> list[PresetCard]:
    """The cards of all antennas that were matched with dials noted; of trials at one frequency the latest counts."""
    good = noted_matches(trials)
    by_network = {n.id: n for n in networks}
    cards = []
    for antenna, setup_id in dict.fromkeys((t.load or "the antenna as swept", t.setup_id) for t in good):
        mine = [t for t in good if (t.load or "the antenna as swept", t.setup_id) == (antenna, setup_id)]
        latest = {round(t.frequency_hz, -3): t for t in sorted(mine, key=lambda t: t.taken_on)}
        presets = []
        for hz in sorted(latest):
            trial = latest[hz]
            edges = _edges(trial, by_network.get(trial.network_id), sweeps.get(trial.load_sweep_id))
            presets.append(Preset(trial, band_at(hz, region), edges))
        knobs = tuple(dict.fromkeys(d.knob for p in presets for d in p.trial.dials))
        cards.append(PresetCard(antenna, setup_id, knobs, tuple(presets)))
    return cards


def dials_of(trial: Trial, network: Network) -> dict[Part, float] | None:
    """The marks of a trial by part, None where a knob is not noted as a number."""
    found: dict[Part, float] = {}
    for part in network.parts:
        knob = network.knob(part)
        at = next((d.at for d in trial.dials if knob and d.knob.lower() == knob.name.lower()), None)
        try:
            found[part] = knob.mark_of(at) if knob is not None and at is not None else math.nan
        except ValueError:
            return None
        if math.isnan(found[part]):
            return None
    return found


def _edges(trial: Trial, network: Network | None, sweep: Sweep | None) -> tuple[Edge, ...]:
    """Where 1.5:1 and 2:1 are kept, foreseen from the network and the antenna as swept, with the knobs where they are.

    What is foreseen is turned so that it has nothing reflected where the trial had: the last tenths of a mark that no
    hand notes shift the whole curve.
    """
    if network is None or network.missing or sweep is None or sweep.scalar:
        return ()
    dials = dials_of(trial, network)
    low, high = (
        max(sweep.low_hz, trial.frequency_hz * (1 - NEAR_BAND)),
        min(sweep.high_hz, trial.frequency_hz * (1 + NEAR_BAND)),
    )
    if dials is None or not low < trial.frequency_hz < high:
        return ()
    f = np.linspace(low, high, EDGE_POINTS)
    g = sweep.referred_to(50.0).gamma_at(f)
    with np.errstate(divide="ignore", invalid="ignore"):
        load = 50.0 * (1 + g) / (1 - g)
    seen = foreseen_gamma(network, dials, f, load)
    here = np.interp(trial.frequency_hz, f, seen.real) + 1j * np.interp(trial.frequency_hz, f, seen.imag)
    swr = np.asarray(swr_from_gamma(seen - here))
    at = int(np.argmin(np.abs(f - trial.frequency_hz)))
    return tuple(_edge(f, swr, at, limit) for limit in (1.5, 2.0))


def _edge(f: "np.ndarray[tuple[int], np.dtype[np.float64]]", swr: object, at: int, limit: float) -> Edge:
    above = np.flatnonzero(np.asarray(swr) > limit)
    below, over = above[above < at], above[above > at]
    low = float(f[below[-1] + 1]) if below.size else None
    high = float(f[over[0] - 1]) if over.size else None
    return Edge(limit, low, high)


@dataclass(frozen=True)
class ForeseenDials:
    """Where the knobs are thought to stand at a new frequency: mark and spread by knob; `words` says from what."""

    at: tuple[tuple[str, float, float], ...]
    words: str


def foresee_dials(card: PresetCard, frequency_hz: float) -> ForeseenDials | None:
    """The marks at a new frequency, between settings that are known on the same coil position.

    Each knob by a straight line in ln f through the nearest settings with the same marks of what is switched; the
    spread is that of the line's prediction [1]_, with two settings a third of their difference. None where fewer than
    two settings lie near, or none on one side.
    """
    known = []
    for preset in card.presets:
        try:
            marks = [float(preset.at(k).replace(",", ".")) for k in card.knobs]
        except ValueError:
            continue
        known.append((preset.trial.frequency_hz, marks))
    near = [k for k in known if abs(math.log(k[0] / frequency_hz)) <= NEAR_BAND]
    if len(near) < 2 or not min(hz for hz, _ in near) <= frequency_hz <= max(hz for hz, _ in near):
        return None
    x = np.log([hz for hz, _ in near])
    found = []
    for n, knob in enumerate(card.knobs):
        y = np.array([marks[n] for _, marks in near])
        slope, offset = np.polyfit(x, y, 1)
        at = float(slope * math.log(frequency_hz) + offset)
        left = y - (slope * x + offset)
        spread = float(np.ptp(y)) / 3
        if len(near) > 2:
            s = math.sqrt(float(np.sum(left**2)) / (len(near) - 2))
            away = (math.log(frequency_hz) - float(x.mean())) ** 2 / max(float(np.sum((x - x.mean()) ** 2)), 1e-12)
            spread = 2 * s * math.sqrt(1 + 1 / len(near) + away)
        found.append((knob, at, spread))
    return ForeseenDials(tuple(found), f"between {counted(len(near), 'known setting')} near it")
