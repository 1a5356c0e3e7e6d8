"""From rows to the core's evaluation."""

from typing import Any

import numpy as np
from sqlalchemy.orm import object_session

from levelmoor.core.metrology.decision import Rule
from levelmoor.core.model import evaluation as core
from levelmoor.core.model.bench_records import BenchRule
from levelmoor.core.model.claims import Claim, Tuner
from levelmoor.core.model.conditions import Conditions
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.plan_wishes import OwnRun, PlanWishes
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.state import Role
from levelmoor.core.model.usability import PROFILES, Profile, own_profile
from levelmoor.core.rf.sweep import Sweep
from levelmoor.formats.equipment_fields import connector_from
from levelmoor.records import tables
from levelmoor.records.arrays import unpack, unpack_complex
from levelmoor.records.article_state import setting_of, windows_of
from levelmoor.records.bench import instrument_of, parts_of, team_bench
from levelmoor.records.captures import captures_of, rule_sets_of


def profile_of(name: str, limit: float) -> Profile:
    return PROFILES.get(name) or own_profile(limit)


def claim_of(row: tables.Claim) -> Claim:
    return Claim(
        id=str(row.id),
        quantity=Quantity(row.quantity),
        windows=windows_of(row.windows),
        limit=row.limit,
        z0_ohm=row.z0_ohm,
        tuner=Tuner(row.tuner),
        condition=row.condition,
        source=row.source,
        seen_on=row.seen_on.isoformat() if row.seen_on else "",
        swr_at=row.swr_at,
        power_w=row.power_w,
        mode=row.mode or "",
        duty=row.duty,
        stated=row.stated or "",
        setup_id=str(row.setup_id or ""),
        excerpt=row.excerpt or "",
        one_setting=bool(row.one_setting),
        unit=row.unit or "",
    )


def sweep_of(row: tables.Sweep) -> Sweep:
    half = unpack(row.half_step) if row.half_step else None
    gamma = unpack_complex(row.gamma)
    return Sweep(unpack(row.frequency), np.asarray(gamma), row.z0_ohm, row.scalar, half)


def evidence_of(row: tables.Sweep) -> core.Evidence:
    return core.Evidence(
        id=str(row.id),
        name=row.name,
        sample_id=str(row.sample_id),
        setup_id=str(row.setup_id),
        instrument_id=str(row.instrument_id),
        calibration=core.Calibration(row.calibration),
        sweep=sweep_of(row),
        file_name=row.file_name,
        sha256=row.raw_file.sha256,
        taken_on=row.taken_on,
        port=row.port,
        unit=row.unit,
        kind=row.kind,
        calibration_id=str(row.calibration_id or ""),
        raw=row.raw,
        segments=parts_of(row.segments),
        columns=row.columns,
        setting_id=str(row.setting_id or ""),
        round=row.round,
        not_adjusted=row.not_adjusted,
        set_aside=row.set_aside,
    )


def sample_of(row: tables.Sample) -> core.Sample:
    return core.Sample(
        str(row.id),
        row.label,
        row.serial,
        core.Obtained(row.obtained),
        row.note,
        row.obtained_from,
        row.price,
        connector_from(row.connector),
        row.suspicion,
        row.control,
    )


def setup_of(row: tables.Setup) -> core.Setup:
    line, plane = str(row.line_id or ""), core.Plane(row.plane)
    conditions = Conditions(**(row.conditions or {}))
    return core.Setup(
        str(row.id), row.name, row.description, plane, row.tuner_in_line, line, row.planned, conditions, Role(row.role)
    )


def picture_of(row: tables.Picture) -> core.Picture:
    return core.Picture(row.raw_file.sha256, row.file_name, row.caption, str(row.claim_id or ""))


def wishes_of(row: tables.Evaluation, team: tables.Team | None) -> PlanWishes:
    """The evaluation's wishes over the team's own minutes and spread."""
    kept: dict[str, Any] = dict(row.wishes or {})
    own = tuple(OwnRun(**o) for o in kept.pop("own", ()))
    lists: dict[str, Any] = {name: tuple(kept.pop(name, ())) for name in ("dropped", "order")}
    minutes = (
        {n: getattr(team, n) for n in ("rebuild_min", "calibration_min", "sweep_min", "spread_hz")} if team else {}
    )
    return PlanWishes(own=own, **lists, **{**minutes, **kept})


def evaluation_of(row: tables.Evaluation) -> core.Evaluation:
    """The whole tree with the team's bench behind it; `only_used` leaves the bench that its evidence rests on."""
    session = object_session(row)
    assert session is not None
    bench = team_bench(session, row.team_id)
    rules = rule_sets_of(session, row.team_id) if row.rule_ids else {}
    return core.Evaluation(
        title=row.title or row.product.name,
        product=core.Product(row.product.name, row.product.maker, row.product.description, row.product.in_the_box),
        region=row.region,
        rule=Rule(row.rule),
        profile=profile_of(row.profile, row.profile_limit),
        samples=tuple(sample_of(s) for s in row.samples),
        claims=tuple(claim_of(c) for c in row.claims),
        setups=tuple(setup_of(s) for s in row.setups),
        instruments=_with_removed(row, bench.instruments),
        sweeps=tuple(evidence_of(s) for s in row.sweeps),
        notes=row.notes,
        bench_rule=BenchRule(row.bench_rule),
        age_limit_h=row.age_limit_h,
        calibrations=bench.calibrations,
        checks=bench.checks,
        equipment=bench.equipment,
        pictures=tuple(picture_of(p) for p in row.pictures),
        wishes=wishes_of(row, session.get(tables.Team, row.team_id)),
        captures=captures_of(session, row.captures),
        settings=tuple(setting_of(s) for s in row.settings),
        rule_sets=tuple(rules[i] for i in row.rule_ids or () if i in rules),
    )


def _with_removed(row: tables.Evaluation, instruments: tuple[Instrument, ...]) -> tuple[Instrument, ...]:
    """The team's instruments, and those it no longer has that a sweep was taken with."""
    have = {i.id for i in instruments}
    taken: tuple[Any, ...] = (*row.sweeps, *row.captures)
    gone = {s.instrument_id: s.instrument for s in taken if str(s.instrument_id) not in have}
    return (*instruments, *(instrument_of(i) for i in gone.values()))
