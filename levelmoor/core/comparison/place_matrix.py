"""Where a choke does something: each place of it against none, band by band, in the antenna's own state."""

from collections.abc import Sequence
from dataclasses import dataclass

from levelmoor.core.comparison.comparison import compare
from levelmoor.core.comparison.comparison_model import Question, WindowComparison
from levelmoor.core.comparison.comparison_words import signed_shift
from levelmoor.core.comparison.features import BEST, BEST_HZ, width_key
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.metrology.significance import Difference, Estimate, Meaning
from levelmoor.core.model.evaluation import Evaluation, Evidence, Setup
from levelmoor.core.rf.bandplan import bands_covered
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
        return any(m in (Meaning.REAL, Meaning.MOUNTING) for _, _, m in self.changes)


@dataclass(frozen=True)
class PlaceMatrix:
    """The setups that differ from the first by an accessory or its place, by band; None where one was not swept."""

    reference: Setup
    setups: tuple[Setup, ...]
    bands: tuple[Window, ...]
    cells: tuple[tuple[PlaceCell | None, ...], ...]


def place_matrix(evaluation: Evaluation, dossier: Dossier, sample_id: str) -> PlaceMatrix | None:
    """The matrix of a sample, by the same comparison as of any setups; None where no setup has an accessory."""
    mine = [e for e in evaluation.sweeps if e.sample_id == sample_id and not e.set_aside]
    swept = [s for s in evaluation.setups if any(e.setup_id == s.id for e in mine)]
    reference = next((s for s in swept if not s.conditions.accessory), None)
    if reference is None:
        return None
    current = {s.id: _current(dossier, sample_id, s.id) for s in swept}
    others = [s for s in swept if s.conditions.accessory and current[s.id]]
    if not others or not current[reference.id]:
        return None
    sides = [current[s.id] for s in (reference, *others)]
    windows = _windows(evaluation, [e for side in sides for e in side])
    found = compare(evaluation, sides, Question.SETUPS, windows, evaluation.profile.limit_swr)
    bands = tuple(w for w in found.windows if any(n in w.sides[0].figures for n in LOOKED_AT))
    cells = tuple(tuple(_cell(w, n + 1) for w in bands) for n in range(len(others)))
    return PlaceMatrix(reference, tuple(others), tuple(w.window for w in bands), cells)


def _current(dossier: Dossier, sample_id: str, setup_id: str) -> tuple[Evidence, ...]:
    """The sweeps of a setup that are not history."""
    return tuple(e for p in dossier.current(sample_id, setup_id) for e in p.members)


def _windows(evaluation: Evaluation, sweeps: Sequence[Evidence]) -> tuple[Window, ...]:
    """What is claimed of reflection, else the bands that were swept: a choke has no SWR of its own to claim."""
    claimed = (w for c in evaluation.claims if c.quantity.spec.swept for w in c.windows if not w.spot)
    covered = (b.window for e in sweeps for b in bands_covered(e.sweep, evaluation.region))
    return tuple(dict.fromkeys(claimed)) or tuple(dict.fromkeys(covered))


def _cell(found: WindowComparison, side: int) -> PlaceCell | None:
    differences = found.differences[found.pairs.index((0, side))]
    shared = [n for n in LOOKED_AT if n in differences]
    if not shared:
        return None
    first, second = found.sides[0].figures, found.sides[side].figures
    told = ((WORDS[n], _words(n, first[n], second[n], differences[n]), differences[n].meaning) for n in shared)
    return PlaceCell(tuple(told))


def _words(name: str, first: Estimate, second: Estimate, difference: Difference) -> str:
    if name == BEST:
        before, after = (float(swr_from_gamma(x.value)) for x in (first, second))
        return f"{before:.2f} to {after:.2f}"
    return signed_shift(difference)
