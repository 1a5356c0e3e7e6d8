"""Loads the demo into an empty database: exported evaluations, and what people then do with them."""

import json
from collections.abc import Callable, Iterator, Mapping
from functools import cache
from hashlib import sha256
from importlib.resources import files
from importlib.resources.abc import Traversable

from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.demo import scenario
from levelmoor.demo.others import publish_others
from levelmoor.demo.together import work_together
from levelmoor.formats.exchange_file import Exchange, read_exchange
from levelmoor.records import publishing
from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member, find_team
from levelmoor.records.importing import imported
from levelmoor.records.roles import MemberRole

Refresh = Callable[[t.Evaluation, int], None]
HERE = files("levelmoor.demo")


def load_demo(maker: sessionmaker[Session], refresh: Refresh, draw: publishing.Draw) -> str:
    """Load the scenario once; says what it did and how to sign in. `refresh` keeps what the list shows, `draw` makes
    the figures of what is published on the shelf."""
    with maker.begin() as session:
        if session.scalar(select(t.Team).where(t.Team.name == scenario.TEAM)):
            return f"The demo is there already. {scenario.SIGN_IN}"
        team = find_team(session, scenario.TEAM)
        team.spots = [{"hz": parse_frequency(mhz), "name": name} for mhz, name in scenario.SPOTS]
        people = [
            add_member(session, team.name, email, name, scenario.PASSWORD, MemberRole(role))
            for email, name, role in scenario.PEOPLE
        ]
        bench = json.loads(HERE.joinpath("bench.json").read_text("utf-8"))
        team.bands = bench["own_bands"]
        rows = [imported(session, team, came)[0] for came in _evaluations(bench)]
        for instrument in session.scalars(select(t.Instrument).where(t.Instrument.team_id == team.id)):
            instrument.address, instrument.driver = scenario.LIVE.get(instrument.name, ("", ""))
        for name, words in scenario.OF_ITSELF.items():
            setattr(team, name, words)
        for row in rows:
            refresh(row, _published(session, team, row, draw) if row.product.name in scenario.PUBLISHED else 0)
        work_together(session, team, *people)
        publish_others(session, {f.name.removesuffix(".json"): f for f in _in("others")}, raw_files(), draw)
    return f"Loaded {len(rows)} evaluations of the {scenario.TEAM}. {scenario.SIGN_IN}"


def raw_files() -> Mapping[str, bytes]:
    """The raw files of the demo by their names."""
    return {f.name: f.read_bytes() for f in _in("files")}


def sweeps() -> Mapping[str, bytes]:
    """Those of them that the evaluations name as sweeps."""
    raw = raw_files()
    every = [json.loads(f.read_text("utf-8")).get("sweeps", ()) for f in _in("evaluations")]
    return {s["file_name"]: raw[s["file_name"]] for sweeps in every for s in sweeps}


def _in(folder: str) -> list[Traversable]:
    return sorted(HERE.joinpath(folder).iterdir(), key=lambda f: f.name)


@cache
def example(product: str) -> Evaluation:
    """One evaluation of the scenario as it was exported, to show something by; its bench comes along."""
    bench = json.loads(HERE.joinpath("bench.json").read_text("utf-8"))
    raw = {sha256(data).hexdigest(): data for data in raw_files().values()}
    document = next(d for f in _in("evaluations") if (d := json.loads(f.read_text("utf-8")))["title"] == product)
    return read_exchange(json.dumps(document | bench).encode(), files=raw).evaluation


def _evaluations(bench: Mapping[str, object]) -> Iterator[Exchange]:
    """The evaluations as they would come from another installation, each with the whole bench of the team."""
    raw = {sha256(data).hexdigest(): data for data in raw_files().values()}
    for exported in _in("evaluations"):
        document = json.loads(exported.read_text("utf-8")) | bench
        yield read_exchange(json.dumps(document).encode(), files=raw)


def _published(session: Session, team: t.Team, row: t.Evaluation, draw: publishing.Draw) -> int:
    corrected = row.product.name == scenario.CORRECTED
    revisions = scenario.REVISIONS if corrected else scenario.REVISIONS[:1]
    for reason, serial in revisions:
        if corrected:
            row.samples[-1].serial = serial
            session.flush()
        publishing.publish(session, row, team, scenario.PEOPLE[0][1], reason, True, draw)
    return len(revisions)
