"""Whole evaluations into the database."""

import json
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import asdict, fields, replace
from datetime import timedelta
from itertools import chain, count
from typing import Any

from sqlalchemy import inspect, select
from sqlalchemy.orm import Session

from levelmoor.core.model.adjusting import Adjustment
from levelmoor.core.model.bench_records import BenchCheck, CalibrationRecord, RawPart
from levelmoor.core.model.captures import Capture
from levelmoor.core.model.chosen_comparisons import Comparison
from levelmoor.core.model.evaluation import Evaluation, Evidence, Picture, Setup
from levelmoor.core.model.plan_wishes import PlanWishes
from levelmoor.core.model.reading_sheets import ReadingSheet
from levelmoor.core.model.rule_sets import RuleSet
from levelmoor.core.model.state import OpenedRound
from levelmoor.core.model.through import Through
from levelmoor.core.model.time_strips import TimeStrip
from levelmoor.formats.exchange_file import Exchange
from levelmoor.formats.owned_kinds import OWNED, kept_from
from levelmoor.formats.picture import read_photograph
from levelmoor.formats.sweepfile import ReadOptions
from levelmoor.records import sweeps
from levelmoor.records import tables as t
from levelmoor.records.adjusting import RETURNED
from levelmoor.records.article_state import named_state
from levelmoor.records.bench import PLACES, calibration_rows, check_rows, facts_of, keep_facts, rows_of
from levelmoor.records.by_name import row_from
from levelmoor.records.captures import Circumstances, add_capture, rule_sets_of
from levelmoor.records.database import now
from levelmoor.records.field import CONTACT, HEAT, LEVEL, add_through, record_row
from levelmoor.records.mapping import strip_row
from levelmoor.records.place import Place
from levelmoor.records.raw_files import keep_raw
from levelmoor.records.store import open_evaluation
from levelmoor.records.trials import network_row

REPEATED_WITHIN = timedelta(minutes=1)


def imported(session: Session, team: t.Team, came: Exchange, digest: str = "") -> tuple[t.Evaluation, tuple[str, ...]]:
    """Take an exported evaluation into a team as a new one; gives it, and what did not come along in sentences.

    Pieces that the team has under the same name with the same figures are used; others are added. Ids are made anew.
    The same file sent again within a minute is the same evaluation: a form sent twice takes it in once.
    """
    session.execute(select(t.Team.id).where(t.Team.id == team.id).with_for_update())
    if digest and (known := _just_taken(session, team.id, digest)):
        return known, ("You imported it a moment ago; here it is.",)
    core = came.evaluation
    coming = _Coming(session, team.id, came.files)
    coming.bench(core)  # before an instrument is put on the bench where the team has none
    row = coming.row = open_evaluation(session, team, core.product.name, core.product.maker)
    row.imported_sha256 = digest
    _case(row, core)
    coming.case(core)
    for evidence in core.sweeps:
        coming.sweep(evidence)
    for comparison in core.comparisons:
        coming.comparison(comparison)
    row.rule_ids = [coming.rules(r) for r in core.rule_sets]
    coming.field(core)
    coming.trials(core)
    for capture in core.captures:
        coming.capture(capture)
    for picture in core.pictures:
        coming.picture(picture)
    for filter_ in came.beside.filters:
        raw = keep_raw(session, team.id, came.files[filter_.sha256])
        session.add(t.Filter(evaluation_id=row.id, raw_file=raw, file_name=filter_.file_name))
    for sheet in core.readings:
        coming.sheet(sheet)
    row.opened_rounds = {coming.state_name(o): o.round for o in core.opened}
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


def _case(row: t.Evaluation, core: Evaluation) -> None:
    row.title = "" if core.title == core.product.name else core.title
    row.region, row.rule, row.notes = core.region, core.rule.value, core.notes
    row.profile, row.profile_limit = core.profile.id, core.profile.limit_swr
    row.bench_rule, row.age_limit_h = core.bench_rule.value, core.age_limit_h
    row.product.description, row.product.in_the_box = core.product.description, core.product.in_the_box
    row.product.kind = core.product.kind.value
    # What was done by hand names runs by ids of the other installation, so only the figures come along.
    plain = asdict(PlanWishes())
    row.wishes = {
        n: getattr(core.wishes, n)
        for n, v in plain.items()
        if not isinstance(v, tuple) and getattr(core.wishes, n) != v
    }


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


class _Coming:
    """What comes in: the rows made or found for it, by their kind and the id that the file gives them."""

    row: t.Evaluation
    """Once the bench is there."""

    def __init__(self, session: Session, team_id: int, files: Mapping[str, bytes]) -> None:
        self.session, self.team_id, self.files = session, team_id, files
        self.rows: defaultdict[str, dict[str, Any]] = defaultdict(dict)

    def id(self, kind: str, ident: str) -> int | None:
        found = self.rows[kind].get(ident)
        return found.id if found else None

    def place(self, of: Evidence | Capture | Through | ReadingSheet) -> Place:
        """What evidence is of, its state included."""
        return Place(
            self.id("sample", of.sample_id),
            self.id("setup", of.setup_id),
            self.id("instrument", of.instrument_id),
            setting_id=self.id("setting", of.setting_id),
            round=of.round,
        )

    def bench(self, core: Evaluation) -> None:
        for instrument in core.instruments:
            self.rows["instrument"][instrument.id] = self.piece("instrument", instrument)
        for kind, place in PLACES.items():
            for owned in getattr(core.equipment, place):
                self.rows["owned"][owned.id] = self.piece(kind, owned)
        for record in core.calibrations:
            self.rows["calibration"][record.id] = self.calibration(record)
        for check in core.checks:
            self.check(check)

    def case(self, core: Evaluation) -> None:
        row, rows = self.row, self.rows
        rows["sample"] = _replace(row.samples, [row_from(t.Sample, s) for s in core.samples], core.samples)
        rows["setup"] = _replace(row.setups, [self.setup(s) for s in core.setups], core.setups)
        rows["setting"] = {s.id: row_from(t.ArticleSetting, s) for s in core.settings}
        row.settings.extend(rows["setting"].values())
        rows["element"] = {e.id: row_from(t.ArticleElement, e) for e in core.elements}
        row.elements.extend(rows["element"].values())
        row.wanted_hz = list(core.wanted_hz)
        row.report_sections = [asdict(s) for s in core.sections]
        self.session.flush()
        for adjustment in core.adjustments:
            row.adjustments.append(self.adjustment(adjustment, core))
        for width in core.widths:
            ids = {
                n: self.id(n.removesuffix("_id"), getattr(width, n)) for n in ("sample_id", "setup_id", "setting_id")
            }
            ids["instrument_id"] = self.id("instrument", width.instrument_id)
            row.widths.append(row_from(t.WidthReading, width, **ids))
        for strip in core.strips:
            row.strips.append(self.strip(strip))
        for claim in core.claims:
            made = row_from(t.Claim, claim, setup_id=self.id("setup", claim.setup_id))
            rows["claim"][claim.id] = made
            row.claims.append(made)
        self.session.flush()

    def adjustment(self, one: Adjustment, core: Evaluation) -> t.Adjustment:
        moved = [(next(e for e in core.elements if e.id == m.element_id), m.by) for m in one.moves]
        return row_from(
            t.Adjustment,
            one,
            sample_id=self.id("sample", one.sample_id),
            setup_id=self.id("setup", one.setup_id),
            setting_id=self.id("setting", one.setting_id),
            moves=[{"element_id": str(self.id("element", e.id)), "by": by} for e, by in moved],
            words="; ".join(e.say(by) for e, by in moved) or RETURNED,
        )

    def trials(self, core: Evaluation) -> None:
        """Networks and trials, after the sweeps that are their loads."""
        self.rows["network"] = {n.id: network_row(n) for n in core.networks}
        self.row.networks.extend(self.rows["network"].values())
        self.session.flush()
        of = {"sample_id": "sample", "setup_id": "setup", "instrument_id": "instrument", "network_id": "network"}
        of |= {"load_sweep_id": "sweep", "through_id": "through", "setting_id": "setting"}
        for n, trial in enumerate(core.trials):
            ids = {name: self.id(kind, getattr(trial, name)) for name, kind in of.items()}
            self.row.trials.append(row_from(t.Trial, trial, entry_id=f"import-{n}", **ids))

    def field(self, core: Evaluation) -> None:
        """Sweeps through, and what was noted in the field."""
        for one in core.throughs:
            place = replace(self.place(one), calibration_id=self.id("calibration", one.calibration_id))
            data, kept = self.files[one.sha256], (self.session, self.row, one.file_name)
            made = add_through(*kept, data, one.fixture, place, one.taken_on)
            made.name, made.note, made.set_aside = one.name, one.note, one.set_aside
            self.rows["through"][one.id] = made
        kinds: dict[str, tuple[Any, ...]] = {LEVEL: core.levels, HEAT: core.heats, CONTACT: core.contacts}
        for kind, records in kinds.items():
            for n, record in enumerate(records):
                named = ("sample", "setup", "setting", "instrument")
                ids = {f"{k}_id": self.id(k, getattr(record, f"{k}_id", "")) for k in named}
                self.row.field_records.append(record_row(kind, record, f"import-{kind}-{n}", "", **ids))

    def strip(self, strip: TimeStrip) -> t.TimeStrip:
        kinds = ("sample", "setup", "setting", "instrument")
        ids = {f"{kind}_id": self.id(kind, getattr(strip, f"{kind}_id")) for kind in kinds}
        return strip_row(strip, **ids)

    def setup(self, s: Setup) -> t.Setup:
        conditions = {k: v for k, v in asdict(s.conditions).items() if v}
        return row_from(t.Setup, s, line_id=self.id("owned", s.line_id), conditions=conditions)

    def piece(self, kind: str, core: Any) -> Any:
        kept = kept_from(kind, core)
        for known in rows_of(self.session, self.team_id, kind):
            if getattr(core, "retired", False):
                break  # the team has it no longer, and may have another of that name
            have = facts_of(known)
            if known.name == core.name and {f.name: have.get(f.name, f.empty) for f in OWNED[kind].fields} == kept:
                return known
        row: Any = t.Instrument(team_id=self.team_id, name=core.name)
        if kind != "instrument":
            row = t.Owned(team_id=self.team_id, kind=kind, name=core.name, facts={})
        if getattr(core, "retired", False):
            row.deleted_at = now()
        keep_facts(row, kept)
        self.session.add(row)
        self.session.flush()
        return row

    def part(self, part: RawPart) -> dict[str, Any]:
        keep_raw(self.session, self.team_id, self.files[part.sha256])
        return asdict(part)

    def calibration(self, record: CalibrationRecord) -> t.Calibration:
        made = row_from(
            t.Calibration,
            record,
            team_id=self.team_id,
            instrument_id=self.id("instrument", record.instrument_id),
            kit_id=self.id("owned", record.kit_id),
            load_id=self.id("owned", record.load_id),
            parts=[self.part(p) for p in record.parts],
        )
        found: t.Calibration = self._once(made, calibration_rows(self.session, self.team_id))
        return found

    def check(self, check: BenchCheck) -> None:
        made = row_from(
            t.BenchCheck,
            check,
            team_id=self.team_id,
            instrument_id=self.id("instrument", check.instrument_id),
            calibration_id=self.id("calibration", check.calibration_id),
            item_id=self.id("owned", check.item_id),
            parts=[self.part(p) for p in check.parts],
            figures=dict(check.figures),
            pairs=[list(p) for p in check.pairs],
        )
        self._once(made, check_rows(self.session, self.team_id))

    def _once(self, made: Any, rows: Any) -> Any:
        """The row of the team that says the same, or the new one: importing twice records the bench once."""
        columns = [a.key for a in inspect(type(made)).column_attrs if a.key not in ("id", "deleted_at")]
        for known in rows:
            if all(getattr(known, name) == getattr(made, name) for name in columns):
                return known
        self.session.add(made)
        self.session.flush()
        return made

    def sweep(self, evidence: Evidence) -> None:
        place = replace(
            self.place(evidence),
            calibration=evidence.calibration.value,
            calibration_id=self.id("calibration", evidence.calibration_id),
        )
        options = ReadOptions(evidence.port, evidence.unit, evidence.kind, evidence.columns)
        data = self.files[evidence.sha256]
        added = sweeps.add_sweep(
            self.session, self.row, evidence.file_name, data, options, taken_on=evidence.taken_on, place=place
        )
        for name in ("name", "raw", "round", "not_adjusted", "set_aside", "mounting", "dips"):
            setattr(added, name, getattr(evidence, name))
        added.setting_id = place.setting_id  # whatever its file is called
        added.segments = [self.part(p) for p in evidence.segments]
        self.rows["sweep"][evidence.id] = added
        place.to_bench(self.row)
        if added.raw or added.segments:
            sweeps.compose(added)

    def comparison(self, one: Comparison) -> None:
        self.session.flush()
        ids = {"sweep_ids": [self.id("sweep", i) for i in one.sweep_ids], "claim_id": self.id("claim", one.claim_id)}
        self.row.comparisons.append(row_from(t.ChosenComparison, one, **ids))

    def capture(self, capture: Capture) -> None:
        said = {f.name: getattr(capture, f.name) for f in fields(Circumstances)}
        said["pad_ids"] = tuple(i for p in capture.pad_ids if (i := self.id("owned", p)) is not None)
        said["line_id"] = self.id("owned", capture.line_id)
        place, data = self.place(capture), self.files[capture.sha256]
        added = add_capture(self.session, self.row, capture.file_name, data, Circumstances(**said), place)
        added.set_aside = capture.set_aside
        place.to_bench(self.row)

    def picture(self, picture: Picture) -> None:
        taken = read_photograph(picture.file_name, self.files[picture.sha256])  # looked at again: it comes from outside
        made = row_from(
            t.Picture, picture, claim_id=self.id("claim", picture.claim_id),
            setting_id=self.id("setting", picture.setting_id), width=taken.width, height=taken.height,
            media_type=taken.media_type, raw_file=keep_raw(self.session, self.team_id, taken.data),
        )  # fmt: skip
        self.row.pictures.append(made)

    def state_name(self, opened: OpenedRound) -> str:
        """What the rounds of a state are kept under."""
        ids = (self.id(k, getattr(opened, f"{k}_id")) for k in ("sample", "setup", "setting"))
        return named_state(*ids)

    def sheet(self, sheet: ReadingSheet) -> None:
        place = self.place(sheet)
        made = t.ReadingSheet(
            evaluation_id=self.row.id,
            sample_id=place.sample_id,
            setup_id=place.setup_id,
            instrument_id=place.instrument_id,
            setting_id=place.setting_id,
            round=place.round,
            kind=sheet.kind,
            sweep_id=self.id("sweep", sheet.sweep_id),
            created_at=now(),
        )
        made.readings.extend(
            t.Reading(
                entry_id=r.entry_id,
                typed=dict(r.typed),
                answers=dict(r.answers),
                made_at=r.made_at,
                made_by=r.made_by,
                received_at=now(),
            )
            for r in sheet.readings
        )
        self.session.add(made)

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
