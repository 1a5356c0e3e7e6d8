"""The presets that a network and an antenna as swept give, for a card and for a chosen sweep."""

from collections.abc import Sequence
from dataclasses import dataclass

from levelmoor.core.matching.preset_card import PresetCard
from levelmoor.core.matching.solved_presets import SolvedPreset, noted_of, solved_at, solved_presets
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.networks import Network
from levelmoor.core.rf.bandplan import band_plan
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window


@dataclass(frozen=True)
class Solved:
    """Presets, and the network whose knobs they are of."""

    network: Network
    lines: Sequence[SolvedPreset]


def windows_of(evaluation: Evaluation) -> list[Window]:
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
    return Solved(network, solved_presets(network, antenna, trials, windows_of(evaluation)))


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
