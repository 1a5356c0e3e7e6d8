"""Where a choke does something: each place of it against none, band by band, in the antenna's own state."""

from collections.abc import Sequence
from dataclasses import dataclass

from levelmoor.core.comparison.comparison_words import signed_shift
from levelmoor.core.comparison.features import BEST, BEST_HZ, features, width_key
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.pieces import Piece
from levelmoor.core.metrology.significance import Difference, Estimate, Meaning, differ, measured
from levelmoor.core.model.evaluation import Evaluation, Setup
from levelmoor.core.rf.reflection import swr_from_gamma
from levelmoor.core.rf.windows import Window

LOOKED_AT = (BEST_HZ, width_key(2.0), BEST)
WORDS = {BEST_HZ: "dip", width_key(2.0): "width at 2:1", BEST: "best SWR"}


@dataclass(frozen=True)
class PlaceCell:
    """A setup against the first on a band: each figure with its change and what it means."""

    changes: tuple[tuple[str, str, Meaning], ...]

    @property
    def real(self) -> bool:
        return any(m is Meaning.REAL for _, _, m in self.changes)


@dataclass(frozen=True)
class PlaceMatrix:
    """The setups that differ from the first by an accessory or its place, by band; None where one was not swept."""

    reference: Setup
    setups: tuple[Setup, ...]
    bands: tuple[Window, ...]
    cells: tuple[tuple[PlaceCell | None, ...], ...]


def place_matrix(evaluation: Evaluation, dossier: Dossier, sample_id: str) -> PlaceMatrix | None:
    """The matrix of a sample; None where no setup has an accessory."""
    swept = [
        s for s in evaluation.setups if any(e.sample_id == sample_id and e.setup_id == s.id for e in evaluation.sweeps)
    ]
    reference = next((s for s in swept if not s.conditions.accessory), None)
    others = [s for s in swept if s.conditions.accessory]
    if reference is None or not others:
        return None
    windows = tuple(
        dict.fromkeys(w for c in evaluation.claims if c.quantity.spec.swept for w in c.windows if not w.spot)
    )
    first = {w: _estimates(dossier, sample_id, reference, w) for w in windows}
    bands = tuple(w for w in windows if first[w])
    count = max(1, len(bands) * len(others) * len(LOOKED_AT))
    cells = tuple(tuple(_cell(first[w], _estimates(dossier, sample_id, s, w), count) for w in bands) for s in others)
    return PlaceMatrix(reference, tuple(others), bands, cells)


def _estimates(dossier: Dossier, sample_id: str, setup: Setup, window: Window) -> dict[str, Estimate]:
    """The figures of all repeats of a setup on a band."""
    pieces: Sequence[Piece] = dossier.current(sample_id, setup.id)
    values: dict[str, list[tuple[float, float]]] = {}
    for piece in pieces:
        for member in piece.members:
            if not member.sweep.covers(window.low_hz, window.high_hz):
                continue
            alone = Piece((member,))
            found = features(dossier.analysis(alone, 50.0), dossier.placed(alone).figures, window, 2.0)
            for name in LOOKED_AT:
                if name in found and not found[name].open_:
                    values.setdefault(name, []).append((found[name].value, found[name].u))
    return {n: measured([v for v, _ in pairs], max(u for _, u in pairs)) for n, pairs in values.items()}


def _cell(first: dict[str, Estimate], second: dict[str, Estimate], count: int) -> PlaceCell | None:
    shared = [n for n in LOOKED_AT if n in first and n in second]
    if not shared:
        return None
    found = []
    for name in shared:
        difference = differ(first[name], second[name], count, 0.5)
        found.append((WORDS[name], _words(name, first[name], second[name], difference), difference.meaning))
    return PlaceCell(tuple(found))


def _words(name: str, first: Estimate, second: Estimate, difference: Difference) -> str:
    if name == BEST:
        before, after = (float(swr_from_gamma(x.value)) for x in (first, second))
        return f"{before:.2f} to {after:.2f}"
    return signed_shift(difference)
