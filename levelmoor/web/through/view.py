"""What the page of accessories shows: sweeps through against their claims, what a choke changes, levels, heat."""

from collections.abc import Sequence
from dataclasses import dataclass

from levelmoor.core.comparison.place_matrix import PlaceMatrix, place_matrix
from levelmoor.core.evidence.by_through import empty_of
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.heat.heating import Heating, fit_heating, stop_words
from levelmoor.core.heat.ratings import too_weak
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.quantities import Quantity, ShownBy
from levelmoor.core.model.through import Fixture, HeatRun, LevelKind, Through
from levelmoor.core.readings.field_levels import LevelChange, LevelSummary, changes, summary
from levelmoor.core.rf.frequency import format_range
from levelmoor.core.rf.reflection import return_loss_db
from levelmoor.core.through.choking import choking
from levelmoor.core.through.through_verdict import choking_curve, loss_curve
from levelmoor.figures.through import heat_figure, through_figure


@dataclass(frozen=True)
class ThroughPart:
    """One sweep through with its figure, wide and narrow, and its numbers in words."""

    through: Through
    wide: str
    narrow: str
    words: Sequence[str]


@dataclass(frozen=True)
class HeatPart:
    run: HeatRun
    found: Heating | None
    wide: str
    narrow: str
    stop: str
    weak: str


@dataclass(frozen=True)
class ThroughPage:
    parts: Sequence[ThroughPart]
    matrix: PlaceMatrix | None
    levels: Sequence[LevelSummary]
    changes: Sequence[LevelChange]
    heats: Sequence[HeatPart]

    @property
    def anything(self) -> bool:
        return bool(self.parts or self.levels or self.heats)


def build(evaluation: Evaluation, dossier: Dossier, sample_id: str) -> ThroughPage:
    """The page of one sample."""
    mine = [x for x in evaluation.throughs if x.sample_id == sample_id]
    levels = [x for x in evaluation.levels if x.sample_id == sample_id]
    plain = {s.id for s in evaluation.setups if not s.conditions.accessory}
    compared = [c for kind in LevelKind for c in changes(levels, kind, plain)]
    heats = []
    for run in (r for r in evaluation.heats if r.sample_id == sample_id):
        found = fit_heating(run)
        wide, narrow = (heat_figure(run.points, found, run.limit_c, width) for width in (560.0, 350.0))
        weak = too_weak(evaluation.equipment, run.average_w)
        heats.append(HeatPart(run, found, wide, narrow, stop_words(run, found), weak))
    return ThroughPage(
        [_part(evaluation, x) for x in mine],
        place_matrix(evaluation, dossier, sample_id),
        [summary(x) for x in levels],
        compared,
        heats,
    )


def _claim_for(evaluation: Evaluation, one: Through) -> Claim | None:
    wanted = (Quantity.CHOKING,) if one.fixture is Fixture.SERIES else (Quantity.INSERTION_LOSS, Quantity.ATTENUATION)
    claims = [c for c in evaluation.claims if c.quantity.spec.shown_by is ShownBy.THROUGH and c.limit is not None]
    return next((c for c in claims if c.quantity in wanted), None)


def _part(evaluation: Evaluation, one: Through) -> ThroughPart:
    figures = next(i.figures for i in evaluation.instruments if i.id == one.instrument_id)
    claim = _claim_for(evaluation, one) if one.fixture is not Fixture.OPEN else None
    said = {
        "limit": claim.limit if claim else None,
        "at_most": bool(claim and claim.quantity is Quantity.INSERTION_LOSS),
        "tolerance": claim.tolerance if claim else None,
        "windows": claim.windows if claim else (),
    }
    f = one.two_port.frequency_hz
    words = [f"{format_range(float(f[0]), float(f[-1]))}, {f.size} points"]
    if one.fixture is Fixture.THROUGH:
        curve = loss_curve(one.two_port, figures)
        words += _port_words(one)
        drawn = [through_figure(curve, None, **said, width=w) for w in (760.0, 370.0)]  # type: ignore[arg-type]
        return ThroughPart(one, drawn[0], drawn[1], words)
    empty = empty_of(evaluation, one) if one.fixture is Fixture.SERIES else None
    found = choking(one.two_port, figures, empty)
    if one.fixture is Fixture.OPEN:
        return ThroughPart(one, "", "", [*words, f"a stray of {1e12 * found.stray_f:.2g} pF from port to port"])
    if one.fixture is Fixture.SERIES:
        words.append(f"{found.stray}; believed up to {found.believed_ohm[-1] / 1e3:.2g} kΩ at the top of the sweep")
    ohm = None if found.impedance is None else (found.impedance.real, found.impedance.imag)
    drawn = [through_figure(choking_curve(found), ohm, **said, width=w) for w in (760.0, 370.0)]  # type: ignore[arg-type]
    return ThroughPart(one, drawn[0], drawn[1], words)


def _port_words(one: Through) -> list[str]:
    """Loss and the match of both ports over all that was swept."""
    loss = one.two_port.loss_db
    words = [f"{loss.min():.2f} to {loss.max():.2f} dB through"]
    for name, s in (("port 1", one.two_port.s11), ("port 2", one.two_port.s22)):
        if s is not None:
            words.append(f"return loss at {name} at least {float(return_loss_db(s).min()):.1f} dB")
    return words
