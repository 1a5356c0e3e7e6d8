"""From rows to the core's evaluation."""

from collections.abc import Sequence
from typing import Any

import numpy as np
from sqlalchemy import inspect, select
from sqlalchemy.orm import Session, object_session

from levelmoor.core.metrology.decision import DecisionRule
from levelmoor.core.model import evaluation as core
from levelmoor.core.model.adjusting import Adjustment, Element
from levelmoor.core.model.bench_records import BenchRule
from levelmoor.core.model.chosen_comparisons import Comparison
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.conditions import Conditions
from levelmoor.core.model.plan_wishes import OwnRun, PlanWishes
from levelmoor.core.model.reading_sheets import ReadingSheet, TypedReading
from levelmoor.core.model.report_sections import ChosenSection, ReportSection
from levelmoor.core.model.time_strips import StripMark, StripPoint, TimeStrip
from levelmoor.core.model.usability import PROFILES, Profile, own_profile
from levelmoor.core.model.widths import WidthReading
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.bounds import EVALUATION_POINTS
from levelmoor.records import tables
from levelmoor.records.arrays import unpack, unpack_complex
from levelmoor.records.article_state import opened_of, setting_of
from levelmoor.records.bench import TeamRows, team_bench
from levelmoor.records.by_name import core_from, row_from
from levelmoor.records.captures import captures_of, rule_sets_of
from levelmoor.records.field import records_of, throughs_of
from levelmoor.records.kept import Kept
from levelmoor.records.reading_rows import sheets_of
from levelmoor.records.retired import with_retired
from levelmoor.records.trials import network_of, trial_of


def profile_of(name: str, limit: float) -> Profile:
    return PROFILES.get(name) or own_profile(limit)


def claim_of(row: tables.Claim) -> Claim:
    return core_from(Claim, row)


_swept: Kept[Sweep] = Kept(4096, lambda sweep: sweep.points, EVALUATION_POINTS)
"""By what their arrays hold, so that those need not come from the database each time."""


def evidence_of(session: Session, rows: Sequence[tables.Sweep]) -> tuple[core.Evidence, ...]:
    """The sweeps with their arrays; those that are not in memory come in one query."""
    missing = [r.id for r in rows if r.content not in _swept and "gamma" in inspect(r).unloaded]
    stored = tables.Sweep
    query = select(stored.id, stored.frequency, stored.gamma, stored.half_step).where(stored.id.in_(missing))
    arrays = {found[0]: found[1:] for found in session.execute(query)} if missing else {}

    def swept(row: tables.Sweep) -> Sweep:
        return _sweep_from(row, *arrays[row.id]) if row.id in arrays else sweep_of(row)

    return tuple(
        core_from(
            core.Evidence, r, sha256=r.raw_file.sha256,
            sweep=_swept.get(r.content, lambda: swept(r)) if r.content else swept(r),  # noqa: B023
        )
        for r in rows
    )  # fmt: skip


def sweep_of(row: tables.Sweep) -> Sweep:
    return _sweep_from(row, row.frequency, row.gamma, row.half_step)


def _sweep_from(row: tables.Sweep, frequency: bytes, gamma: bytes, half_step: bytes | None) -> Sweep:
    half = unpack(half_step) if half_step else None
    return Sweep(unpack(frequency), np.asarray(unpack_complex(gamma)), row.z0_ohm, row.scalar, half)


def sample_of(row: tables.Sample) -> core.Sample:
    return core_from(core.Sample, row)


def setup_of(row: tables.Setup) -> core.Setup:
    return core_from(core.Setup, row, conditions=Conditions(**(row.conditions or {})))


def element_of(row: tables.ArticleElement) -> Element:
    return core_from(Element, row)


def adjustment_of(row: tables.Adjustment) -> Adjustment:
    return core_from(Adjustment, row)


def strip_of(row: tables.TimeStrip) -> TimeStrip:
    points = tuple(StripPoint(at, tuple(swr), dip, counts) for at, swr, dip, counts in row.points)
    return core_from(TimeStrip, row, points=points, marks=tuple(StripMark(*m) for m in row.marks))


def strip_row(strip: TimeStrip, **said: Any) -> tables.TimeStrip:
    """A row of a time strip, its points and marks as plain lists; the ids of other rows are `said`."""
    points = [[p.at_s, list(p.swr), p.dip_hz, p.counts] for p in strip.points]
    return row_from(
        tables.TimeStrip, strip, points=points, marks=[[m.at_s, m.words, m.figure] for m in strip.marks], **said
    )


def picture_of(row: tables.Picture) -> core.Picture:
    return core_from(core.Picture, row, sha256=row.raw_file.sha256)


def wishes_of(row: tables.Evaluation, team: tables.Team | None) -> PlanWishes:
    """The evaluation's wishes over the team's own minutes and spread."""
    kept: dict[str, Any] = dict(row.wishes or {})
    own = tuple(OwnRun(**o) for o in kept.pop("own", ()))
    lists: dict[str, Any] = {name: tuple(kept.pop(name, ())) for name in ("dropped", "order")}
    minutes = (
        {n: getattr(team, n) for n in ("rebuild_min", "calibration_min", "sweep_min", "spread_hz")} if team else {}
    )
    return PlanWishes(own=own, **lists, **{**minutes, **kept})


def evaluation_of(row: tables.Evaluation, rows: TeamRows | None = None) -> core.Evaluation:
    """The whole tree with the team's bench behind it, of which the rows may be at hand; `only_relied_on` leaves the
    bench that its evidence rests on."""
    session = object_session(row)
    assert session is not None
    bench = with_retired(session, row, team_bench(session, row.team_id, rows))
    team = session.get(tables.Team, row.team_id)
    noted = records_of(row.field_records)
    rules = rule_sets_of(session, row.team_id) if row.rule_ids else {}
    return core.Evaluation(
        title=row.title or row.product.name,
        product=core_from(core.Product, row.product),
        region=row.region,
        rule=DecisionRule(row.rule),
        profile=profile_of(row.profile, row.profile_limit),
        samples=tuple(sample_of(s) for s in row.samples),
        claims=tuple(claim_of(c) for c in row.claims),
        setups=tuple(setup_of(s) for s in row.setups),
        instruments=bench.instruments,
        sweeps=evidence_of(session, row.sweeps),
        notes=row.notes,
        bench_rule=BenchRule(row.bench_rule),
        age_limit_h=row.age_limit_h,
        calibrations=bench.calibrations,
        checks=bench.checks,
        equipment=bench.equipment,
        pictures=tuple(picture_of(p) for p in row.pictures),
        wishes=wishes_of(row, team),
        captures=captures_of(session, row.captures),
        settings=tuple(setting_of(s) for s in row.settings),
        rule_sets=tuple(rules[i] for i in row.rule_ids or () if i in rules),
        elements=tuple(element_of(e) for e in row.elements),
        adjustments=tuple(adjustment_of(a) for a in row.adjustments),
        wanted_hz=tuple(row.wanted_hz or ()),
        widths=tuple(core_from(WidthReading, w) for w in row.widths),
        strips=tuple(strip_of(s) for s in row.strips),
        networks=tuple(network_of(n) for n in row.networks),
        trials=tuple(trial_of(x) for x in row.trials),
        throughs=throughs_of(session, row.throughs),
        levels=noted.levels,
        heats=noted.heats,
        contacts=noted.contacts,
        own_bands=tuple(Window(**w) for w in (team.bands if team else ())),
        spots=tuple(Window(s["hz"], s["hz"], s["name"]) for s in (team.spots or () if team else ())),
        readings=tuple(sheet_of(s) for s in sheets_of(session, row.id) if s.readings),
        opened=opened_of(row),
        comparisons=comparisons_of(row),
        sections=sections_of(row),
    )


def sections_of(row: tables.Evaluation) -> tuple[ChosenSection, ...]:
    """What was chosen of the sections of the report."""
    kept = row.report_sections or ()
    return tuple(ChosenSection(ReportSection(s["section"]), s["shown"], s["words"]) for s in kept)


def comparisons_of(row: tables.Evaluation) -> tuple[Comparison, ...]:
    """Those that go into the report, as far as their sweeps are still there."""
    there = {str(s.id) for s in row.sweeps}
    found = []
    for one in row.comparisons:
        if ids := tuple(str(i) for i in one.sweep_ids if str(i) in there):
            found.append(Comparison(str(one.id), ids, one.question, str(one.claim_id or ""), one.words))
    return tuple(found)


def sheet_of(row: tables.ReadingSheet) -> ReadingSheet:
    readings = tuple(
        TypedReading(r.entry_id, tuple(r.typed.items()), tuple(r.answers.items()), r.made_at, r.made_by)
        for r in row.readings
    )
    return core_from(ReadingSheet, row, readings=readings)
