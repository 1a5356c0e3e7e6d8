"""Every id of another team, in an address under the own evaluation or in any field of any form: it is not there."""

import pytest
from sqlalchemy import select

from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member
from levelmoor.records.roles import MemberRole
from levelmoor.web.cells import CELLS
from tests.conftest import PASSWORD
from tests.web.test_route_matrix import OF_AN_EVALUATION, address, routes
from tests.web.whole_team import NAMED, one_of_everything

FIXED = {"kind": "claim", "name": "limit", "action": "drop", "form": "csv", "step": "open", "part": "coil", "digest": "0", "task": "within",
         "slug": "none", "answer_id": 1, "number": 1, "place": "0-0-0-0-swr", "kind_id": "line"}  # fmt: skip
FIELDS = {
    "sample_id": "sample", "sample": "sample", "setup_id": "setup", "setup": "setup", "setting_id": "setting",
    "setting": "setting", "instrument_id": "instrument", "instrument": "instrument", "calibration_id": "calibration",
    "calibration": "calibration", "sweep": "sweep", "sweep_id": "sweep", "load_sweep_id": "sweep", "claim_id": "claim",
    "claim": "claim", "through_id": "through", "through": "through", "network_id": "network", "network": "network",
    "pad": "piece", "pads": "piece", "pad_ids": "piece", "line": "piece", "line_id": "piece", "item": "piece",
    "item_id": "piece", "kit_id": "piece", "load_id": "piece", "other": "evaluation", "evaluation": "evaluation",
    "capture": "capture", "element_id": "element", "element": "element", "for_id": "user", "from": "sweep", "first": "sweep",
    "second": "sweep", "empty": "through", "file": "file", "strip": "strip", "picture": "picture",
}  # fmt: skip
"""Fields that forms have or hide, each with the kind whose id may stand in it."""


@pytest.fixture(scope="module")
def both(maker):
    """Two teams that each have one of everything: ids by kind, and the address of each one's editor."""
    found = {}
    for name in ("Ours", "Theirs"):
        with maker.begin() as session:
            team = t.Team(name=f"{name} of the ids")
            session.add(team)
            session.flush()
            email = f"{name.lower()}@ids.example"
            user = add_member(session, team.name, email, name, PASSWORD, role=MemberRole.EDITOR).id
            ids = one_of_everything(session, team, f"Secret {name}")
            session.flush()
            found[name] = {**ids, "user": user, "team": team.id, "email": email}
    return found["Ours"], found["Theirs"]


@pytest.fixture
def ours(app, both, monkeypatch):
    monkeypatch.setitem(app.config, "WTF_CSRF_ENABLED", False)
    client = app.test_client()
    client.post("/sign-in", data={"email": both[0]["email"], "password": PASSWORD})
    return client


def rows_of(maker, ids):
    """Every row of a team and of its evaluation, by table."""
    with maker() as session:
        found = {}
        for table in t.Base.metadata.sorted_tables:
            for column, value in (("evaluation_id", ids["evaluation"]), ("team_id", ids["team"])):
                if column in table.c:
                    rows = session.execute(table.select().where(table.c[column] == value)).all()
                    found[table.name, column] = sorted(map(repr, rows))
        return found


def foreign(maker, own, other):
    """Where a row of the own team names one of the other's."""
    found = []
    with maker() as session:
        for table in t.Base.metadata.sorted_tables:
            column = next((c for c in ("evaluation_id", "team_id") if c in table.c), None)
            if column is None:
                continue
            mine = table.c[column] == own["evaluation" if column == "evaluation_id" else "team"]
            for key in table.foreign_keys:
                target, held = key.column.table, key.parent
                home = next((c for c in ("evaluation_id", "team_id") if c in target.c), None)
                if home is None or target.name in ("team", "evaluation"):
                    continue
                theirs = target.c[home] == other["evaluation" if home == "evaluation_id" else "team"]
                named = select(held).join(target, held == key.column).where(mine, theirs)
                found += [(table.name, held.name, v) for v in session.scalars(named)]
    return found


def told(answer):
    """What an answer gives away of the other team."""
    return b"Secret Theirs" in answer.data


def test_an_id_of_another_team_under_the_own_evaluation_is_not_there(app, maker, ours, both):
    own, other = both
    before, wrong = rows_of(maker, other), []
    for rule, method in routes(app, OF_AN_EVALUATION):
        nested = [a for a in rule.arguments if a in NAMED]
        if "evaluation_id" not in rule.arguments or not nested:
            continue
        values = {**FIXED, **{a: other[NAMED[a]] for a in nested}, "evaluation_id": own["evaluation"]}
        answer = ours.open(address(app, rule, values), method=method, data={"value": "1"})
        if answer.status_code >= 500 or told(answer) or (answer.status_code == 200 and method == "GET"):
            wrong.append((rule.endpoint, method, answer.status_code))
    assert wrong == []
    assert rows_of(maker, other) == before


@pytest.mark.parametrize("with_kind", [False, True], ids=["an id", "a kind and an id"])
def test_no_field_of_any_form_takes_an_id_of_another_team(app, maker, ours, both, with_kind):
    own, other = both
    before, wrong = rows_of(maker, other), []
    ids = {f: f"{k}-{other[k]}" if with_kind else str(other[k]) for f, k in FIELDS.items()}
    more = {"about": f"claim-{other['claim']}", "words": "x", "value": "1", "text": "SWR < 2 20m", "name": "x",
            "frequency": "7.1", "swr": "1.5", "low": "7 MHz", "high": "7.2 MHz", "answer": "yes"}  # fmt: skip
    for rule, method in routes(app, OF_AN_EVALUATION):
        if method != "POST" or "remove" in rule.rule or rule.endpoint == "reports.publish":
            continue
        values = {**FIXED, **{a: own[k] for a, k in NAMED.items()}, "evaluation_id": own["evaluation"]}
        answer = ours.post(address(app, rule, values), data={**ids, **more})
        if answer.status_code >= 500 or told(answer):
            wrong.append((rule.endpoint, answer.status_code))
    assert wrong == []
    assert foreign(maker, own, other) == []
    assert rows_of(maker, other) == before


def test_no_cell_takes_an_id_of_another_team(maker, ours, both):
    own, other = both
    before, refused = rows_of(maker, other), {}
    homes = {"evaluation": "evaluation", "hand": "evaluation", "product": "evaluation"}
    for kind, cells in CELLS.items():
        row = own.get(homes.get(kind, kind))
        for name in (n for n in cells if n in FIELDS and row is not None):
            where, of = f"/e/{own['evaluation']}/cell/{kind}/{row}/{name}", FIELDS[name]
            code = ours.post(where, data={"value": str(other[of])}).status_code
            if ours.post(where, data={"value": str(own[of])}).status_code == 200:  # the own one is taken there
                refused[kind, name] = code
    assert len(refused) > 8 and set(refused.values()) == {422}, refused
    assert foreign(maker, own, other) == []
    assert rows_of(maker, other) == before
