"""What of the bench an evaluation's evidence rests on: a published bundle carries that and no more."""

from collections.abc import Iterator
from dataclasses import fields, is_dataclass, replace
from typing import Any

from levelmoor.core.model.bench_records import BenchCheck, BenchRule, Reads
from levelmoor.core.model.equipment import Equipment
from levelmoor.core.model.evaluation import Evaluation

BENCH = ("instruments", "calibrations", "checks", "equipment")
"""What is the team's own and stays behind unless something names it."""


def rows_of(evaluation: Evaluation) -> Iterator[tuple[str, Any]]:
    """Every row that is the evaluation's own, with the name of the field that it stands in."""
    for field in fields(evaluation):
        value = getattr(evaluation, field.name)
        if field.name not in BENCH and isinstance(value, tuple):
            yield from ((field.name, row) for row in value if is_dataclass(row))


def named_in(evaluation: Evaluation, field: str) -> set[str]:
    """The ids that any row of the evaluation names in a field."""
    found: set[str] = set()
    for _, row in rows_of(evaluation):
        ids = getattr(row, field, ())
        found |= {ids} if isinstance(ids, str) else set(ids)
    return found - {""}


def only_relied_on(evaluation: Evaluation) -> Evaluation:
    """The evaluation with the calibrations, checks and pieces that its evidence rests on, and without who typed what;
    its findings stay the same."""
    calibrated = named_in(evaluation, "calibration_id") | _that_through_may_rest_on(evaluation)
    calibrations = tuple(c for c in evaluation.calibrations if c.id in calibrated)
    swept_with = named_in(evaluation, "instrument_id")
    lines, pads = named_in(evaluation, "line_id"), named_in(evaluation, "pad_ids")
    checks = tuple(c for c in evaluation.checks if _told_by(c, calibrated, lines | pads, swept_with))
    instruments = swept_with | {c.instrument_id for c in calibrations} | {c.instrument_id for c in checks}
    pieces = {c.item_id for c in checks} | {c.kit_id for c in calibrations} | lines | pads
    owned = evaluation.equipment
    equipment = Equipment(
        loads=tuple(x for x in owned.loads if x.id in pieces),
        kits=tuple(x for x in owned.kits if x.id in pieces),
        lines=tuple(x for x in owned.lines if x.id in pieces),
        pads=tuple(x for x in owned.pads if x.id in pieces),
        radios=tuple(x for x in owned.radios if x.ranges and evaluation.sweeps),
    )
    told = {name for name, row in rows_of(evaluation) if hasattr(row, "who")}
    unsigned: dict[str, Any] = {name: tuple(replace(row, who="") for row in getattr(evaluation, name)) for name in told}
    return replace(
        replace(evaluation, **unsigned),
        calibrations=calibrations,
        checks=checks,
        equipment=equipment,
        instruments=tuple(i for i in evaluation.instruments if i.id in instruments),
        readings=tuple(
            replace(s, readings=tuple(replace(r, made_by="") for r in s.readings))
            for s in evaluation.readings
            if not s.sweep_id
        ),
    )


def _told_by(check: BenchCheck, calibrated: set[str], pieces: set[str], swept_with: set[str]) -> bool:
    """Whether a check tells something of what was measured: of its calibration, its piece, or the meter it was read
    with. Noise is looked at before anything is keyed, and tells nothing of what was found."""
    if check.spec.calibration:
        return check.calibration_id in calibrated
    if check.spec.piece:
        return check.item_id in pieces
    return check.spec.reads is Reads.PAIRS and check.instrument_id in swept_with


def _that_through_may_rest_on(evaluation: Evaluation) -> set[str]:
    """The calibrations of an instrument with which figures were read that name none: a proven bench looks for one."""
    unnamed = {x.instrument_id for x in evaluation.throughs if not x.calibration_id}
    unnamed |= {w.instrument_id for w in evaluation.widths} | {t.instrument_id for t in evaluation.trials}
    proven = evaluation.bench_rule is BenchRule.PROVEN
    return {c.id for c in evaluation.calibrations if proven and c.instrument_id in unnamed}
