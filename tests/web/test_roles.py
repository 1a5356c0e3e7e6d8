"""What each role may do, route by route."""

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


@pytest.mark.parametrize("role", ROLES, ids=[r.value for r in ROLES])
def test_each_role_does_what_its_table_says_and_nothing_else(app, maker, monkeypatch, theirs, role):
    monkeypatch.setitem(app.config, "WTF_CSRF_ENABLED", False)
    with maker.begin() as session:
        team = t.Team(name=f"Roles {role}")
        session.add(team)
        session.flush()
        email = f"{role}@roles.example"
        add_member(session, team.name, f"keeps-{email}", "Keeper", PASSWORD, role=MemberRole.EDITOR)
        add_member(session, team.name, email, "One", PASSWORD, role=role)
        ids = one_of_everything(session, team, "Ours")
    own = {
        **theirs,
        **{a: ids[k] for a, k in NAMED.items() if k in ids},
        "evaluation_id": ids["evaluation"],
        "driver_id": 0,
    }
    client = app.test_client()
    client.post("/sign-in", data={"email": email, "password": PASSWORD})
    wrong = []
    every = sorted(routes(app, MEMBERS | EDITORS | OF_AN_EVALUATION), key=lambda r: r[0].endpoint in LAST)
    for rule, method in every:
        code = client.open(address(app, rule, own), method=method).status_code
        allowed = code != 403
        if allowed != may(role, rule, method) or code >= 500:
            wrong.append((rule.endpoint, method, code))
    assert wrong == []
