"""What of the bench an evaluation's evidence rests on: a published bundle carries that and no more."""

from dataclasses import replace

from levelmoor.core.model.bench_records import BenchRule, CheckKind
from levelmoor.core.model.equipment import Equipment
from levelmoor.core.model.evaluation import Evaluation


def only_relied_on(evaluation: Evaluation) -> Evaluation:
    """The evaluation with the calibrations, checks and pieces that its sweeps rest on; its findings stay the same."""
    by_sweep = {e.calibration_id for e in evaluation.sweeps} | {x.calibration_id for x in evaluation.throughs}
    by_sweep |= _that_through_may_rest_on(evaluation)
    calibrations = tuple(c for c in evaluation.calibrations if c.id in by_sweep)
    swept_with = {e.instrument_id for e in evaluation.sweeps}
    swept_with |= {c.instrument_id for c in evaluation.captures} | {w.instrument_id for w in evaluation.widths}
    swept_with |= {x.instrument_id for x in evaluation.throughs} | {h.instrument_id for h in evaluation.heats}
    swept_with |= {s.instrument_id for s in evaluation.readings}
    swept_with |= {s.instrument_id for s in evaluation.strips} | {t.instrument_id for t in evaluation.trials}
    lines = {s.line_id for s in evaluation.setups if s.line_id}
    lines |= {c.line_id for c in evaluation.captures if c.line_id}
    pads = {i for c in evaluation.captures for i in c.pad_ids}
    checks = tuple(
        c
        for c in evaluation.checks
        if (c.kind in (CheckKind.LOAD, CheckKind.OPEN_OR_SHORT) and c.calibration_id and c.calibration_id in by_sweep)
        or (c.kind is CheckKind.CABLE and c.item_id in lines)
        or (c.kind is CheckKind.PAD and c.item_id in pads)
        or (c.kind is CheckKind.METER and c.instrument_id in swept_with)
    )
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
    return replace(
        evaluation,
        calibrations=calibrations,
        checks=checks,
        equipment=equipment,
        instruments=tuple(i for i in evaluation.instruments if i.id in instruments),
        adjustments=tuple(replace(a, who="") for a in evaluation.adjustments),
        widths=tuple(replace(w, who="") for w in evaluation.widths),
        strips=tuple(replace(s, who="") for s in evaluation.strips),
        trials=tuple(replace(t, who="") for t in evaluation.trials),
        levels=tuple(replace(x, who="") for x in evaluation.levels),
        heats=tuple(replace(x, who="") for x in evaluation.heats),
        contacts=tuple(replace(x, who="") for x in evaluation.contacts),
        readings=tuple(
            replace(s, readings=tuple(replace(r, made_by="") for r in s.readings))
            for s in evaluation.readings
            if not s.sweep_id
        ),
    )


def _that_through_may_rest_on(evaluation: Evaluation) -> set[str]:
    """The calibrations of an instrument with which figures were read that name none: a proven bench looks for one."""
    unnamed = {x.instrument_id for x in evaluation.throughs if not x.calibration_id}
    unnamed |= {w.instrument_id for w in evaluation.widths} | {t.instrument_id for t in evaluation.trials}
    proven = evaluation.bench_rule is BenchRule.PROVEN
    return {c.id for c in evaluation.calibrations if proven and c.instrument_id in unnamed}
