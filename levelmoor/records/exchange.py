"""Whole evaluations out of and into the database."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import asdict, replace
from datetime import date, timedelta
from itertools import chain, count
from typing import Any

from sqlalchemy import inspect, select
from sqlalchemy.orm import Session

from levelmoor.core.model.bench_records import RawPart
from levelmoor.core.model.captures import Capture
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.plan_wishes import PlanWishes
from levelmoor.core.model.rule_sets import RuleSet
from levelmoor.core.readings.readings import ReadingKind
from levelmoor.core.words.counting import counted
from levelmoor.formats.exchange import Beside, FilterDocument, ReadingDocument, SheetDocument, raw_files_of
from levelmoor.formats.exchange_file import Exchange
from levelmoor.formats.owned_kinds import OWNED, kept_from
from levelmoor.formats.picture import read_photograph
from levelmoor.formats.sweepfile import ReadOptions
from levelmoor.records import readings, sweeps, ticks
from levelmoor.records import tables as t
from levelmoor.records.article_state import windows_row
from levelmoor.records.bench import PLACES, calibration_rows, check_rows, keep_facts, rows_of
from levelmoor.records.captures import Circumstances, add_capture, rule_sets_of
from levelmoor.records.database import now
from levelmoor.records.intake import waiting
from levelmoor.records.mapping import evaluation_of
from levelmoor.records.raw_files import keep_raw, raw_data
from levelmoor.records.store import open_evaluation, report_of

REPEATED_WITHIN = timedelta(minutes=1)


def exported(session: Session, row: t.Evaluation) -> Exchange:
    """An evaluation with the team's whole bench, its readings and filters, and its raw files by SHA-256."""
    core, beside = evaluation_of(row), _beside(session, row)
    return Exchange(core, raw_data(session, row.team_id, raw_files_of(core, beside)), beside)


def _beside(session: Session, row: t.Evaluation) -> Beside:
    kept = tuple(
        SheetDocument(
            sample_id=str(s.sample_id),
            setup_id=str(s.setup_id),
            instrument_id=str(s.instrument_id),
            kind=ReadingKind(s.kind),
            sweep_id=str(s.sweep_id or ""),
            setting_id=str(s.setting_id or ""),
            round=s.round,
            readings=tuple(
                ReadingDocument(
                    entry_id=r.entry_id, typed=r.typed, answers=r.answers, made_at=r.made_at, made_by=r.made_by
                )
                for r in s.readings
            ),
        )
        for s in readings.sheets(session, row.id)
        if s.readings
    )
    filters = tuple(FilterDocument(file_name=f.file_name, sha256=f.raw_file.sha256) for f in row.filters)
    return Beside(readings=kept, filters=filters, stays=_stays(session, row))


def _stays(session: Session, row: t.Evaluation) -> tuple[str, ...]:
    """What is of this installation alone, in sentences."""
    said = []
    report = report_of(session, row.id)
    if report and report.revisions:
        last = report.revisions[-1]
        said.append(
            f"Published revisions stay where they were published: {last.number}, the latest of "
            f"{last.published_at.date()}, each with its bundle at its own address."
        )
    if count := len(ticks.entries(session, row.id)):
        said.append(f"{counted(count, 'entry of the run sheet stays', 'entries of the run sheet stay')} behind.")
    if count := len(waiting(session, row.id)):
        files = counted(count, "file that waits for its columns stays", "files that wait for their columns stay")
        said.append(f"{files} behind.")
    if any(row.wishes.get(name) for name in ("dropped", "order", "own")):
        said.append("Changes made to the plan by hand stay behind: runs are named anew where it is taken in.")
    return tuple(said)


def imported(session: Session, team: t.Team, came: Exchange, digest: str = "") -> tuple[t.Evaluation, tuple[str, ...]]:
    """Take an exported evaluation into a team as a new one; gives it, and what did not come along in sentences.

    Pieces that the team has under the same name with the same figures are used; others are added. Ids are made anew.
    The same file sent again within a minute is the same evaluation: a form sent twice takes it in once.
    """
    session.execute(select(t.Team.id).where(t.Team.id == team.id).with_for_update())
    if digest and (known := _just_taken(session, team.id, digest)):
        return known, ("It was taken in a moment ago; this is it.",)
    core, files = came.evaluation, came.files
    row = open_evaluation(session, team, core.product.name, core.product.maker)
    row.imported_sha256 = digest
    new = _Taken(session, team.id, files)
    instruments = {i.id: new.piece("instrument", i) for i in core.instruments}
    owned = {x.id: new.piece(kind, x) for kind, place in PLACES.items() for x in getattr(core.equipment, place)}
    _case(row, core)
    samples = _replace(row.samples, [_sample(s) for s in core.samples], core.samples)
    setups = _replace(row.setups, [_setup(s, owned) for s in core.setups], core.setups)
    settings = {s.id: t.ArticleSetting(name=s.name, windows=windows_row(s.windows)) for s in core.settings}
    row.settings.extend(settings.values())
    session.flush()
    claims = {}
    for claim in core.claims:
        claims[claim.id] = _claim(claim, setups)
        row.claims.append(claims[claim.id])
    calibrations = {c.id: new.calibration(c, instruments, owned) for c in core.calibrations}
    for check in core.checks:
        new.check(check, instruments, owned, calibrations)
    session.flush()
    swept: dict[str, t.Sweep] = {}
    for evidence in core.sweeps:
        row.bench_sample_id, row.bench_setup_id = samples[evidence.sample_id].id, setups[evidence.setup_id].id
        row.bench_instrument_id = instruments[evidence.instrument_id].id
        row.bench_calibration = evidence.calibration.value
        record = calibrations.get(evidence.calibration_id)
        row.bench_calibration_id = record.id if record else None
        row.bench_setting_id = settings[evidence.setting_id].id if evidence.setting_id in settings else None
        options = ReadOptions(evidence.port, evidence.unit, evidence.kind, evidence.columns)
        added = sweeps.add_sweep(
            session, row, evidence.file_name, files[evidence.sha256], options, taken_on=evidence.taken_on
        )
        added.name, added.raw = evidence.name, evidence.raw
        added.setting_id, added.round = row.bench_setting_id, evidence.round
        added.not_adjusted, added.set_aside = evidence.not_adjusted, evidence.set_aside
        added.segments = [new.part(p) for p in evidence.segments]
        swept[evidence.id] = added
        if added.raw or added.segments:
            sweeps.compose(added)
    row.rule_ids = [new.rules(r) for r in core.rule_sets]
    for capture in core.captures:
        new.capture(row, capture, samples, setups, instruments, owned)
    for picture in core.pictures:
        new.picture(row, picture, claims)
    for filter_ in came.beside.filters:
        raw = keep_raw(session, team.id, files[filter_.sha256])
        session.add(t.Filter(evaluation_id=row.id, raw_file=raw, file_name=filter_.file_name))
    for sheet in came.beside.readings:
        new.sheet(row, sheet, samples, setups, instruments, settings, swept)
    session.flush()
    session.refresh(row, ["filters"])
    return row, tuple(came.beside.stays)


def _just_taken(session: Session, team_id: int, digest: str) -> t.Evaluation | None:
    return session.scalar(
        select(t.Evaluation).where(
            t.Evaluation.team_id == team_id,
            t.Evaluation.imported_sha256 == digest,
            t.Evaluation.deleted_at.is_(None),
            t.Evaluation.created_at > now() - REPEATED_WITHIN,
        )
    )


def _replace(rows: list[Any], made: list[Any], core: tuple[Any, ...]) -> dict[str, Any]:
    """Put the made rows in place of the first one that an opened evaluation has; by the core's ids."""
    if not made:
        return {}
    first, kept = rows[0], made[0]
    for column in [a.key for a in inspect(type(kept)).column_attrs]:
        value = getattr(kept, column)
        if column not in ("id", "evaluation_id") and value is not None:
            setattr(first, column, value)
    rows.extend(made[1:])
    return dict(zip([c.id for c in core], [first, *made[1:]], strict=True))


def _case(row: t.Evaluation, core: Evaluation) -> None:
    row.title = "" if core.title == core.product.name else core.title
    row.region, row.rule, row.notes = core.region, core.rule.value, core.notes
    row.profile, row.profile_limit = core.profile.id, core.profile.limit_swr
    row.bench_rule, row.age_limit_h = core.bench_rule.value, core.age_limit_h
    row.product.description, row.product.in_the_box = core.product.description, core.product.in_the_box
    # What was done by hand names runs by ids of the other installation, so only the figures come along.
    plain = asdict(PlanWishes())
    row.wishes = {
        n: getattr(core.wishes, n)
        for n, v in plain.items()
        if not isinstance(v, tuple) and getattr(core.wishes, n) != v
    }


def _sample(s: Any) -> t.Sample:
    return t.Sample(
        label=s.label,
        serial=s.serial,
        obtained=s.obtained.value,
        note=s.note,
        obtained_from=s.obtained_from,
        price=s.price,
        connector=str(s.connector or ""),
        suspicion=s.suspicion,
        control=s.control,
    )


def _setup(s: Any, owned: Mapping[str, Any]) -> t.Setup:
    return t.Setup(
        name=s.name,
        description=s.description,
        plane=s.plane.value,
        tuner_in_line=s.tuner_in_line,
        line_id=owned[s.line_id].id if s.line_id in owned else None,
        planned=s.planned,
        role=s.role.value,
        conditions={k: v for k, v in asdict(s.conditions).items() if v},
    )


def _claim(c: Any, setups: Mapping[str, t.Setup]) -> t.Claim:
    return t.Claim(
        quantity=c.quantity.value,
        limit=c.limit,
        z0_ohm=c.z0_ohm,
        tuner=c.tuner.value,
        windows=windows_row(c.windows),
        condition=c.condition,
        source=c.source,
        seen_on=date.fromisoformat(c.seen_on) if c.seen_on else None,
        swr_at=c.swr_at,
        power_w=c.power_w,
        mode=c.mode,
        duty=c.duty,
        stated=c.stated,
        setup_id=setups[c.setup_id].id if c.setup_id in setups else None,
        excerpt=c.excerpt,
        one_setting=c.one_setting,
        unit=c.unit,
    )


class _Taken:
    """Pieces, calibrations and checks as they are taken into a team."""

    def __init__(self, session: Session, team_id: int, files: Mapping[str, bytes]) -> None:
        self.session, self.team_id, self.files = session, team_id, files

    def piece(self, kind: str, core: Any) -> Any:
        kept = kept_from(kind, core)
        for known in rows_of(self.session, self.team_id, kind):
            have = {
                f.name: known.facts.get(f.name, f.empty) if kind != "instrument" else getattr(known, f.name)
                for f in OWNED[kind].fields
            }
            if known.name == core.name and have == kept:
                return known
        row: Any = (
            t.Instrument(team_id=self.team_id, name=core.name)
            if kind == "instrument"
            else t.Owned(team_id=self.team_id, kind=kind, name=core.name, facts={})
        )
        keep_facts(row, kept)
        self.session.add(row)
        self.session.flush()
        return row

    def part(self, part: RawPart) -> dict[str, Any]:
        keep_raw(self.session, self.team_id, self.files[part.sha256])
        return asdict(part)

    def calibration(self, c: Any, instruments: Mapping[str, Any], owned: Mapping[str, Any]) -> t.Calibration:
        values = {n: getattr(c, n) for n in ("low_hz", "high_hz", "points", "standards", "plane", "at", "done_at")}
        kit, load = owned.get(c.kit_id), owned.get(c.load_id)
        row: t.Calibration = self._once(
            t.Calibration,
            calibration_rows(self.session, self.team_id),
            instrument_id=instruments[c.instrument_id].id,
            kit_id=kit.id if kit else None,
            load_id=load.id if load else None,
            parts=[self.part(p) for p in c.parts],
            **values,
        )
        return row

    def check(
        self, c: Any, instruments: Mapping[str, Any], owned: Mapping[str, Any], calibrations: Mapping[str, Any]
    ) -> t.BenchCheck:
        def id_of(found: Mapping[str, Any], key: str) -> int | None:
            return found[key].id if key in found else None

        row: t.BenchCheck = self._once(
            t.BenchCheck,
            check_rows(self.session, self.team_id),
            kind=c.kind.value,
            instrument_id=id_of(instruments, c.instrument_id),
            calibration_id=id_of(calibrations, c.calibration_id),
            item_id=id_of(owned, c.item_id),
            done_at=c.done_at,
            parts=[self.part(p) for p in c.parts],
            figures=dict(c.figures),
            pairs=[list(p) for p in c.pairs],
            note=c.note,
        )
        return row

    def _once(self, table: type[Any], rows: Sequence[Any], **values: Any) -> Any:
        """The row of the team that says the same, or a new one: importing twice records the bench once."""
        for known in rows:
            if all(getattr(known, name) == value for name, value in values.items()):
                return known
        row = table(team_id=self.team_id, **values)
        self.session.add(row)
        self.session.flush()
        return row

    def sheet(
        self,
        row: t.Evaluation,
        sheet: SheetDocument,
        samples: Mapping[str, Any],
        setups: Mapping[str, Any],
        instruments: Mapping[str, Any],
        settings: Mapping[str, t.ArticleSetting],
        swept: Mapping[str, t.Sweep],
    ) -> None:
        joined = swept.get(sheet.sweep_id)
        kept = t.ReadingSheet(
            evaluation_id=row.id,
            sample_id=samples[sheet.sample_id].id,
            setup_id=setups[sheet.setup_id].id,
            instrument_id=instruments[sheet.instrument_id].id,
            setting_id=settings[sheet.setting_id].id if sheet.setting_id in settings else None,
            round=sheet.round,
            kind=sheet.kind.value,
            sweep_id=joined.id if joined else None,
            created_at=now(),
        )
        kept.readings.extend(t.Reading(**r.model_dump(), received_at=now()) for r in sheet.readings)
        self.session.add(kept)

    def rules(self, rules: RuleSet) -> str:
        """The id of a rule set; one that is not here becomes the team's own, by another id where another has its id."""
        known = rule_sets_of(self.session, self.team_id)
        ids = chain((rules.id,), (f"{rules.id[:56]}-{n}" for n in count(2)))
        wanted = next(w for w in (replace(rules, id=i) for i in ids) if known.get(w.id, w) == w)
        if wanted.id not in known:
            data = json.loads(json.dumps(asdict(wanted)))
            self.session.add(t.RuleSet(team_id=self.team_id, rule_id=wanted.id, rules=data))
            self.session.flush()
        return wanted.id

    def capture(
        self,
        row: t.Evaluation,
        c: Capture,
        samples: Mapping[str, Any],
        setups: Mapping[str, Any],
        instruments: Mapping[str, Any],
        owned: Mapping[str, Any],
    ) -> None:
        row.bench_sample_id, row.bench_setup_id = samples[c.sample_id].id, setups[c.setup_id].id
        row.bench_instrument_id = instruments[c.instrument_id].id
        said = Circumstances(
            c.carrier_hz,
            c.rbw_hz,
            c.mode,
            tuple(owned[i].id for i in c.pad_ids if i in owned),
            owned[c.line_id].id if c.line_id in owned else None,
            c.offset,
            c.filter_name,
            c.columns,
            c.unit,
            c.taken_on,
            c.name,
            c.entered_db,
        )
        add_capture(self.session, row, c.file_name, self.files[c.sha256], said)

    def picture(self, row: t.Evaluation, core: Any, claims: Mapping[str, t.Claim]) -> None:
        data = self.files[core.sha256]
        taken = read_photograph(core.file_name, data)  # looked at again: it comes from outside
        claim = claims.get(core.claim_id)
        row.pictures.append(
            t.Picture(
                claim_id=claim.id if claim else None,
                raw_file=keep_raw(self.session, self.team_id, taken.data),
                file_name=core.file_name,
                caption=core.caption,
                width=taken.width,
                height=taken.height,
                media_type=taken.media_type,
            )
        )
