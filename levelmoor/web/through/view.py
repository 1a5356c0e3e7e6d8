"""What the page of accessories shows: sweeps through against their claims, what a choke changes, levels, heat."""

from collections.abc import Sequence
from dataclasses import dataclass

from levelmoor.core.comparison.place_matrix import PlaceMatrix, place_matrix
from levelmoor.core.evidence.swept_through import empty_of
from levelmoor.core.heat.heating import Heating, fit_heating, stop_words
from levelmoor.core.heat.ratings import too_weak
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.through import Fixture, HeatRun, LevelKind, Through
from levelmoor.core.readings.field_levels import LevelChange, LevelSummary, changes, summary
from levelmoor.core.rf.reflection import return_loss_db
from levelmoor.core.words.figures import brief_range
from levelmoor.figures.through import heat_figure
from levelmoor.services.findings import behind_of, long_work
from levelmoor.web.in_parts import part_at, parts_of
from levelmoor.web.through.drawn import Between, claim_on

SWEEPS_A_PART = 20
SIZES = ((760.0, 270.0), (370.0, 270.0))
"""Wide and narrow."""


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
    """The sweeps of one sample, those of a part of them, the latest first: `count` there are in all."""

    sweeps: Sequence[ThroughPart]
    count: int
    parts: Sequence[slice]
    part: slice
    matrix: PlaceMatrix | None
    levels: Sequence[LevelSummary]
    changes: Sequence[LevelChange]
    heats: Sequence[HeatPart]

    @property
    def anything(self) -> bool:
        return bool(self.sweeps or self.levels or self.heats)


def page_of(evaluation: Evaluation, sample_id: str, part: int = 1) -> ThroughPage:
    """The page of one sample, with a part of its sweeps; of a long evaluation made apart."""
    return long_work(evaluation, (sample_id, part), build, evaluation, sample_id, part)


def whole_page_of(evaluation: Evaluation, sample_id: str) -> ThroughPage:
    """The same with all its sweeps."""
    most = len(evaluation.throughs) or 1
    return long_work(evaluation, (sample_id, "whole"), build, evaluation, sample_id, 1, most)


def build(evaluation: Evaluation, sample_id: str, part: int = 1, in_a_part: int = SWEEPS_A_PART) -> ThroughPage:
    """The page of one sample, with a part of its sweeps."""
    dossier = behind_of(evaluation)
    mine = [x for x in evaluation.throughs if x.sample_id == sample_id]
    parts = parts_of(len(mine), in_a_part)
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
        [_part(evaluation, x) for x in list(reversed(mine))[part_at(parts, part)]],
        len(mine),
        parts,
        part_at(parts, part),
        place_matrix(evaluation, dossier, sample_id),
        [summary(x) for x in levels],
        compared,
        heats,
    )


def _part(evaluation: Evaluation, one: Through) -> ThroughPart:
    figures = next(i.figures for i in evaluation.instruments if i.id == one.instrument_id)
    swept = empty_of(evaluation, one.instrument_id) if one.fixture is Fixture.SERIES else None
    empty = swept.two_port if swept else None
    between = Between(one.fixture, figures, empty, claim_on(evaluation, one.fixture))
    f = one.two_port.frequency_hz
    words = [f"{brief_range(float(f[0]), float(f[-1]))}, {f.size} points"]
    _, found = read = between.read(one.two_port)
    if found is None:
        words += _port_words(one)
    elif one.fixture is Fixture.OPEN:
        return ThroughPart(one, "", "", [*words, f"a stray of {1e12 * found.stray_f:.2g} pF from port to port"])
    else:
        words.append(
            f"{found.stray}; can be believed up to {found.believed_ohm[-1] / 1e3:.2g} kΩ at the top of the sweep"
        )
    wide, narrow = between.figures_of(read, SIZES)
    return ThroughPart(one, wide, narrow, words)


def _port_words(one: Through) -> list[str]:
    """Loss and the match of both ports over all that was swept."""
    here = one.two_port.referred_to(50.0)
    words = [f"{here.loss_db.min():.2f} to {here.loss_db.max():.2f} dB through"]
    for name, s in (("port 1", here.s11), ("port 2", here.s22)):
        if s is not None:
            words.append(f"return loss at {name} at least {float(return_loss_db(s).min()):.1f} dB")
    return words
