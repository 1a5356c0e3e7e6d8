"""Loads the demo into an empty database, through the same functions that the pages use."""

from collections.abc import Callable
from datetime import date
from importlib.resources import files
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.core.window_text import parse_windows
from levelmoor.demo import scenario
from levelmoor.formats.sweepfile import ReadOptions
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member, find_team
from levelmoor.records.mapping import windows_row

Refresh = Callable[[t.Evaluation, int], None]


def load_demo(maker: sessionmaker[Session], refresh: Refresh) -> str:
    """Load the scenario once; says what it did and how to sign in. `refresh` keeps what the list shows."""
    with maker.begin() as session:
        if session.scalar(select(t.Team).where(t.Team.name == scenario.TEAM)):
            return f"The demo is there already. {sign_in()}"
        team = find_team(session, scenario.TEAM)
        for email, name, editor in scenario.PEOPLE:
            add_member(session, team.name, email, name, scenario.PASSWORD, editor)
        instruments = [
            t.Instrument(
                team_id=team.id,
                name=name,
                kind=kind,
                directivity_db=d,
                tracking=tr,
                source_match_db=m,
                figures_source=whose,
            )
            for name, kind, d, tr, m, whose in scenario.INSTRUMENTS
        ]
        session.add_all(instruments)
        session.flush()
        for case in scenario.CASES:
            _load_case(session, team, case, instruments, refresh)
    return f"Loaded {len(scenario.CASES)} evaluations of the {scenario.TEAM}. {sign_in()}"


def sign_in() -> str:
    return f"Sign in as {scenario.PEOPLE[0][0]} with the password {scenario.PASSWORD}"


def _load_case(
    session: Session, team: t.Team, case: scenario.Case, instruments: list[t.Instrument], refresh: Refresh
) -> None:
    row = store.open_evaluation(session, team, case.product, case.maker)
    row.product.description = case.description
    _fill(row.samples, t.Sample, [vars(s) for s in case.samples])
    _fill(row.setups, t.Setup, [vars(s) for s in case.setups])
    row.claims.extend(_claim(c, row.region) for c in case.claims)
    session.flush()
    for sweep in case.sweeps:
        row.bench_sample_id, row.bench_setup_id = row.samples[sweep.sample].id, row.setups[sweep.setup].id
        row.bench_instrument_id, row.bench_calibration = instruments[sweep.instrument].id, sweep.calibration
        data = files("levelmoor.demo").joinpath("files", sweep.file).read_bytes()
        added = store.add_sweep(session, row, sweep.file, data, ReadOptions(port=sweep.port))
        added.taken_on = date.fromisoformat(sweep.taken_on)
    for reason, serial in case.revisions:
        row.samples[-1].serial = serial
        session.flush()
        store.publish(session, row, team, scenario.PEOPLE[0][1], reason, listed=True)
    refresh(row, len(case.revisions))


def _fill(rows: list[Any], kind: type[Any], wanted: list[dict[str, Any]]) -> None:
    """The first row is there since the evaluation was opened; the others are added."""
    for name, value in wanted[0].items():
        setattr(rows[0], name, value)
    rows.extend(kind(**values) for values in wanted[1:])


def _claim(claim: scenario.Claim, region: int) -> t.Claim:
    return t.Claim(
        quantity=claim.quantity,
        limit=float(claim.limit) if claim.limit else None,
        z0_ohm=50.0,
        tuner=claim.tuner,
        windows=windows_row(parse_windows(claim.windows, region)),
        condition=claim.condition,
        source=claim.source,
        seen_on=date.fromisoformat(claim.seen_on),
    )
