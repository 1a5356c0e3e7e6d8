"""What each role may do, route by route."""

from itertools import product

import pytest

from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member
from levelmoor.records.roles import MemberRole
from tests.conftest import PASSWORD
from tests.web.test_route_matrix import (
    EDITORS,
    EDITORS_OF_REPORTS,
    MEMBERS,
    OF_AN_EVALUATION,
    REVIEWERS,
    address,
    routes,
    theirs,
)
from tests.web.whole_team import NAMED, one_of_everything

__all__ = ["theirs"]  # a fixture

LAST = ("evaluations.remove", "workbench.remove", "teams.remove")
"""What takes away what others of these need."""
ROLES = {
    #                     see, comment, work, publish, review, lead
    MemberRole.READER: (True, True, False, False, False, False),
    MemberRole.MEMBER: (True, True, True, True, False, False),
    MemberRole.REVIEWER: (True, True, True, True, True, False),
    MemberRole.EDITOR: (True, True, True, True, True, True),
}


def may(role, rule, method):
    """Whether the role may, by the table."""
    see, comment, work, publish, review, lead = ROLES[role]
    if rule.endpoint in EDITORS or rule.endpoint in EDITORS_OF_REPORTS:
        return lead
    if rule.endpoint in REVIEWERS:
        return review
    if method == "GET":
        return see
    if rule.endpoint.startswith("comments."):
        return comment and rule.endpoint != "comments.remove"  # it is the keeper's: nobody else takes it out
    return publish if rule.endpoint in ("reports.publish", "reports.ask_review") else work


@pytest.fixture(scope="module")
def everything(maker):
    """A team with one of everything, and a person of each role."""
    with maker.begin() as session:
        team = t.Team(name="Roles")
        session.add(team)
        session.flush()
        add_member(session, team.name, "keeps@roles.example", "Keeper", PASSWORD, role=MemberRole.EDITOR)
        for role in MemberRole:
            add_member(session, team.name, f"{role}@roles.example", "One", PASSWORD, role=role)
        return one_of_everything(session, team, "Ours")


def test_each_role_does_what_its_table_says_and_nothing_else(app, maker, monkeypatch, theirs, everything):
    """The editor does it all; of who comes after it shows only whether they would be let. A comment is its keeper's, so
    the others try before the editor."""
    monkeypatch.setitem(app.config, "WTF_CSRF_ENABLED", False)
    named = {a: everything[k] for a, k in NAMED.items() if k in everything}
    own = {**theirs, **named, "evaluation_id": everything["evaluation"], "driver_id": 0}
    clients = {role: app.test_client() for role in ROLES}
    for role, client in clients.items():
        client.post("/sign-in", data={"email": f"{role}@roles.example", "password": PASSWORD})
    every = sorted(routes(app, MEMBERS | EDITORS | OF_AN_EVALUATION), key=lambda r: r[0].endpoint in LAST)
    comments = [r for r in every if r[0].endpoint == "comments.remove"]
    rest = [r for r in every if r not in comments]
    wrong = []
    for role, asked in [*product(ROLES, [comments]), *product(reversed(ROLES), [rest])]:
        for rule, method in asked:
            code = clients[role].open(address(app, rule, own), method=method).status_code
            if (code != 403) != may(role, rule, method) or code >= 500:
                wrong.append((role, rule.endpoint, method, code))
    assert wrong == []
