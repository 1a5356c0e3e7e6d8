"""Loads the demo into an empty database, through the same functions that the pages use."""

from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass, replace
from importlib.resources import files
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, object_session, sessionmaker

from levelmoor.core.model.adjusting import Element, ElementKind
from levelmoor.core.model.bench_records import RawPart
from levelmoor.core.model.through import FieldLevel, Fixture, HeatRun, LevelKind
from levelmoor.core.readings.readings import ReadingKind
from levelmoor.core.readings.width_text import read_width
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.rf.window_text import parse_windows
from levelmoor.demo import club_bench, scenario, tuner_cases
from levelmoor.demo.hut_tuners import PI
from levelmoor.demo.radios import CARRICK, NEAR_RBW_HZ, RBW_HZ
from levelmoor.demo.ring_choke import CURRENT, NOISE
from levelmoor.demo.threespire import rotation
from levelmoor.demo.together import work_together
from levelmoor.formats.adif import read_adif
from levelmoor.formats.heat_log import read_heat_log
from levelmoor.formats.owned_kinds import OWNED
from levelmoor.formats.spots_csv import read_spots
from levelmoor.formats.sweepfile import ReadOptions
from levelmoor.formats.trials_csv import read_trials
from levelmoor.records import publishing, store, sweeps
from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member, find_team
from levelmoor.records.article_state import windows_row
from levelmoor.records.bench import keep_facts
from levelmoor.records.by_name import row_from
from levelmoor.records.captures import Circumstances, add_capture
from levelmoor.records.field import CONTACT, HEAT, LEVEL, add_records, add_through
from levelmoor.records.place import Place
from levelmoor.records.raw_files import keep_raw
from levelmoor.records.readings import Change, keep_changes, sheet_on_bench
from levelmoor.records.roles import MemberRole
from levelmoor.records.trials import add_trials, network_row

Refresh = Callable[[t.Evaluation, int], None]
CASES = (*scenario.CASES, *tuner_cases.CASES)
NETWORKS = {PI.name: PI}


def load_demo(maker: sessionmaker[Session], refresh: Refresh) -> str:
    """Load the scenario once; says what it did and how to sign in. `refresh` keeps what the list shows."""
    with maker.begin() as session:
        if session.scalar(select(t.Team).where(t.Team.name == scenario.TEAM)):
            return f"The demo is there already. {scenario.SIGN_IN}"
        team = find_team(session, scenario.TEAM)
        team.bands = [{"low_hz": 35.06e6, "high_hz": 35.14e6, "name": "Race marshals"}]
        team.spots = [{"hz": parse_frequency(mhz), "name": name} for mhz, name in scenario.SPOTS]
        people = [
            add_member(session, team.name, email, name, scenario.PASSWORD, MemberRole(role))
            for email, name, role in scenario.PEOPLE
        ]
        bench = _load_bench(session, team)
        for case in CASES:
            _load_case(session, team, case, bench, refresh)
        work_together(session, team, *people)
    return f"Loaded {len(CASES)} evaluations of the {scenario.TEAM}. {scenario.SIGN_IN}"


@dataclass(frozen=True)
class _Bench:
    instruments: list[t.Instrument]
    pieces: dict[str, t.Owned]
    records: list[t.Calibration]


def _load_bench(session: Session, team: t.Team) -> _Bench:
    """What the club owns, its calibrations, and its checks."""
    instruments = [t.Instrument(team_id=team.id, name=name) for name, _ in club_bench.INSTRUMENTS]
    for row, (_name, facts) in zip(instruments, club_bench.INSTRUMENTS, strict=True):
        keep_facts(row, _read("instrument", facts))
        row.address, row.driver = club_bench.LIVE.get(row.name, ("", ""))
    pieces = {
        name: t.Owned(team_id=team.id, kind=kind, name=name, facts=_read(kind, facts))
        for kind, name, facts in club_bench.PIECES
    }
    session.add_all([*instruments, *pieces.values()])
    session.flush()
    kit = next(p for p in pieces.values() if p.kind == "kit")
    records = [
        t.Calibration(
            team_id=team.id,
            instrument_id=instruments[r.instrument].id,
            low_hz=parse_frequency(r.low),
            high_hz=parse_frequency(r.high),
            points=r.points,
            plane=r.plane,
            at=r.at,
            done_at=r.done_at,
            kit_id=kit.id,
            parts=[],
        )
        for r in club_bench.RECORDS
    ]
    session.add_all(records)
    session.flush()
    for check in club_bench.CHECKS:
        session.add(
            t.BenchCheck(
                team_id=team.id,
                kind=check.kind,
                instrument_id=None if check.instrument is None else instruments[check.instrument].id,
                calibration_id=None if check.record is None else records[check.record].id,
                item_id=pieces[check.item].id if check.item else None,
                done_at=check.done_at,
                parts=[_part(session, team, name) for name in check.files],
                figures=check.figures,
                pairs=[list(p) for p in check.pairs],
                note=check.note,
            )
        )
    session.flush()
    return _Bench(instruments, pieces, records)


def _read(kind: str, facts: dict[str, str]) -> dict[str, Any]:
    return {name: OWNED[kind].field(name).read(text) for name, text in facts.items()}


def _data(name: str) -> bytes:
    return files("levelmoor.demo").joinpath("files", name).read_bytes()


def _part(session: Session, team: t.Team, name: str) -> dict[str, Any]:
    raw = keep_raw(session, team.id, _data(name))
    return asdict(RawPart(name, raw.sha256, role="level" if name.endswith(".csv") else ""))


def _load_case(session: Session, team: t.Team, case: scenario.Case, bench: _Bench, refresh: Refresh) -> None:
    row = store.open_evaluation(session, team, case.product, case.maker)
    row.product.description, row.product.in_the_box = case.description, case.in_the_box
    row.bench_rule = case.bench_rule
    _fill(row.samples, t.Sample, [vars(s) for s in case.samples])
    setups = [{k: v for k, v in vars(s).items() if k != "line"} for s in case.setups]
    for values, setup in zip(setups, case.setups, strict=True):
        values["line_id"] = bench.pieces[setup.line].id if setup.line else None
    _fill(row.setups, t.Setup, setups)
    row.settings.extend(
        t.ArticleSetting(
            name=name,
            windows=windows_row(parse_windows(bands, row.region)),
            mark=mark[0] if mark else None,
            mark_words=mark[1] if mark else "",
        )
        for name, bands, *mark in case.settings
    )
    session.flush()
    row.claims.extend(_claim(c, row) for c in case.claims)
    session.flush()
    for sweep in case.sweeps:
        place = Place(
            row.samples[sweep.sample].id,
            row.setups[sweep.setup].id,
            bench.instruments[sweep.instrument].id,
            sweep.calibration,
            None if sweep.record is None else bench.records[sweep.record].id,
            None if sweep.setting is None else row.settings[sweep.setting].id,
            sweep.round,
        )
        place.to_bench(row)
        options, data = ReadOptions(port=sweep.port), _data(sweep.file)
        sweeps.add_sweep(session, row, sweep.file, data, options, taken_on=sweep.taken_on, place=place)
    for reason, serial in case.revisions:
        row.samples[-1].serial = serial
        session.flush()
        publishing.publish(session, row, team, scenario.PEOPLE[0][1], reason, listed=True)
    _adjusted(row, case)
    _readings(session, row, case, bench)
    _captures(session, row, case, bench)
    _tried(session, row, case, bench)
    _in_the_field(session, row, case, bench)
    refresh(row, len(case.revisions))


def _adjusted(row: t.Evaluation, case: scenario.Case) -> None:
    """What is moved of an article, and the trips to it."""
    row.wanted_hz = [parse_frequency(f) for f in case.wanted]
    cores = [Element(str(n), e[0], ElementKind(e[1])) for n, e in enumerate(case.elements)]
    row.elements.extend(
        t.ArticleElement(name=name, kind=kind, unit="cm", at=at, low=low, high=high, bands=[band])
        for name, kind, at, low, high, band in case.elements
    )
    object_session(row).flush()  # type: ignore[union-attr]
    for day, line, position in case.widths:
        place = {"sample_id": row.samples[0].id, "setup_id": row.setups[0].id, "setting_id": row.settings[position].id}
        place["instrument_id"] = row.sweeps[0].instrument_id
        width, who = read_width(line, row.region), scenario.PEOPLE[1][1]
        row.widths.append(t.WidthReading(**place, **vars(width), taken_on=day, who=who))
    for position, number, at in case.returns:
        state = {"sample_id": row.samples[0].id, "setup_id": row.setups[0].id, "setting_id": row.settings[position].id}
        row.adjustments.append(
            t.Adjustment(
                **state,
                round=number,
                made_at=at,
                moves=[],
                words="left the mark and returned to it",
                who=scenario.PEOPLE[0][1],
            )
        )
    if case.product.startswith("Threespire"):
        points, marks = rotation()
        place = {
            "sample_id": row.samples[0].id,
            "setup_id": row.setups[0].id,
            "instrument_id": row.sweeps[0].instrument_id,
        }
        said = {"begun_at": "2026-10-03T14:05", "note": "steel pole 5 m to the north", "who": scenario.PEOPLE[1][1]}
        row.strips.append(t.TimeStrip(**place, **said, kind="rotation", wanted_hz=[51e6], points=points, marks=marks))
    for number, at, amounts, down in case.adjustments:
        moved = [(e, core, by) for e, core, by in zip(row.elements, cores, amounts, strict=True) if by]
        row.adjustments.append(
            t.Adjustment(
                sample_id=row.samples[0].id, setup_id=row.setups[0].id, round=number, made_at=at, down_min=down,
                moves=[{"element_id": str(e.id), "by": by} for e, _, by in moved],
                words="; ".join(core.say(by) for _, core, by in moved), who=scenario.PEOPLE[1][1],
            )
        )  # fmt: skip


def _tried(session: Session, row: t.Evaluation, case: scenario.Case, bench: _Bench) -> None:
    """What is inside a tuner, and its trials."""
    if case.network:
        row.networks.append(network_row(NETWORKS[case.network]))
        session.flush()
    if not case.trials:
        return
    row.bench_sample_id, row.bench_setup_id = row.samples[0].id, row.setups[0].id
    row.bench_instrument_id = bench.instruments[case.read_with].id
    placed = {f"{k}_id": str(getattr(row, f"bench_{k}_id")) for k in ("sample", "setup", "instrument")}
    placed |= {"network_id": str(row.networks[0].id)} if row.networks else {}
    placed |= {"load_sweep_id": str(row.sweeps[0].id)} if row.sweeps else {}
    found = read_trials(case.trials, _data(case.trials), **placed)
    add_trials(session, row, [(f"demo-{n}", one) for n, one in enumerate(found)], scenario.PEOPLE[1][1])


def _in_the_field(session: Session, row: t.Evaluation, case: scenario.Case, bench: _Bench) -> None:
    """Sweeps through, levels without and with, a run under power, contacts."""
    who = scenario.PEOPLE[1][1]
    first = {"sample_id": str(row.samples[0].id), "setup_id": str(row.setups[0].id)}
    for file, fixture in case.throughs:
        row.bench_sample_id, row.bench_setup_id = row.samples[0].id, row.setups[0].id
        row.bench_instrument_id = bench.instruments[0].id
        add_through(session, row, file, _data(file), Fixture(fixture), Place.on_bench(row), "2026-10-16T18:20")
    if case.heat:
        points = read_heat_log(case.heat, _data(case.heat).decode().splitlines()).points
        run = HeatRun(
            "", first["sample_id"], first["setup_id"], 100.0, points, mode="carrier", where="the ring, inner turns",
            limit_c=90.0, taken_on="2026-10-16T19:10",
        )  # fmt: skip
        add_records(session, row, HEAT, [("demo-heat", run, "run with 100 W")], who)
    if case.levels:
        place = {"with": str(row.setups[1].id), "without": str(row.setups[2].id)}
        read: tuple[tuple[LevelKind, Mapping[str, tuple[float, ...]], str, float | None], ...] = (
            (LevelKind.NOISE, NOISE, "S", None),
            (LevelKind.CURRENT, CURRENT, "mA", 50.0),
        )
        for kind, values, unit, watts in read:
            for how, levels in values.items():
                one = FieldLevel("", kind, first["sample_id"], place[how], 7.1e6, levels, unit, watts)
                one = replace(one, taken_on="2026-10-17T13:30")
                add_records(session, row, LEVEL, [(f"demo-{kind}-{how}", one, f"{kind.value} {how}")], who)
    setups = {s.name.lower(): str(s.id) for s in row.setups}
    for file in case.on_air:
        adif, data = file.endswith(".adi"), _data(file)
        came = read_adif(file, data, 1, setups) if adif else read_spots(file, data, setups)
        add_records(session, row, CONTACT, [(f"{file[:20]}-{c.id}", c, f"{c.kind.value} {c.call}") for c in came], who)


def _captures(session: Session, row: t.Evaluation, case: scenario.Case, bench: _Bench) -> None:
    """Spectra of the keyed radio with the pads they came through, and a filter that might be added."""
    if case.rules:
        row.rule_ids = list(case.rules)
    if not case.captures:
        return
    row.bench_sample_id, row.bench_setup_id = row.samples[0].id, row.setups[0].id
    row.bench_instrument_id = next(i.id for i in bench.instruments if i.instrument_class == "spectrum")
    for file, pads, taken_on in case.captures:
        said = Circumstances(
            CARRICK.carrier_hz,
            NEAR_RBW_HZ if "near" in file else RBW_HZ,
            "FM",
            tuple(bench.pieces[p].id for p in pads),
            taken_on=taken_on,
        )
        add_capture(session, row, file, _data(file), said)
    if case.filter_file:
        raw = keep_raw(session, row.team_id, _data(case.filter_file))
        session.add(t.Filter(evaluation_id=row.id, raw_file=raw, file_name=case.filter_file))


def _readings(session: Session, row: t.Evaluation, case: scenario.Case, bench: _Bench) -> None:
    """A sheet of readings as it was typed, slips and all."""
    if not case.readings:
        return
    row.bench_sample_id, row.bench_setup_id = row.samples[0].id, row.setups[1].id  # a radio's meter is in the hut
    row.bench_instrument_id = next(i.id for i in bench.instruments if i.instrument_class == "meter")
    row.bench_setting_id = row.settings[1].id  # the links that were open while the 40 m band was read
    sheet = sheet_on_bench(session, row, ReadingKind.SWR)
    changes = [
        Change("add", f"demo-{i}", {"frequency": mhz, "swr": swr}, made_at=f"2026-09-06T15:{10 + i}:00")
        for i, (mhz, swr) in enumerate(case.readings)
    ]
    keep_changes(session, sheet, changes, scenario.PEOPLE[1][1])


def _fill(rows: list[Any], kind: type[Any], wanted: list[dict[str, Any]]) -> None:
    """The first row is there since the evaluation was opened; the others are added."""
    for name, value in wanted[0].items():
        setattr(rows[0], name, value)
    rows.extend(kind(**values) for values in wanted[1:])


def _claim(claim: scenario.Claim, row: t.Evaluation) -> t.Claim:
    setup_id = None if claim.setup is None else row.setups[claim.setup].id
    windows = windows_row(parse_windows(claim.windows, row.region))
    limit = float(claim.limit) if claim.limit else None
    return row_from(t.Claim, claim, limit=limit, windows=windows, setup_id=setup_id)
