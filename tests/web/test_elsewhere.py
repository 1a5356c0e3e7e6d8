"""A link into another of one's teams, and to what a colleague removed, leads on."""

import pytest

from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.accounts import find_team, find_user, join
from levelmoor.records.roles import MemberRole


@pytest.fixture
def case(signed_in, member, maker):
    with maker.begin() as session:
        return store.open_evaluation(session, session.get(t.Team, member.team_id), "Whip").id


def of_other_team(maker, member, name):
    with maker.begin() as session:
        team = find_team(session, name) or t.Team(name=name)
        session.add(team)
        session.flush()
        join(session, team, find_user(session, member.email), MemberRole.MEMBER)
        return store.open_evaluation(session, team, "Whip").id, team.id


def test_an_evaluation_of_another_of_my_teams_offers_to_switch(signed_in, member, maker):
    signed_in.get("/")
    evaluation, team = of_other_team(maker, member, f"Second of {member.email}")
    answer = signed_in.get(f"/e/{evaluation}/adjust")
    assert answer.status_code == 404
    assert f"This is an evaluation of Second of {member.email}" in answer.text
    switched = signed_in.post("/team-in-hand", data={"team": team, "back": f"/e/{evaluation}/adjust"})
    assert switched.location == f"/e/{evaluation}/adjust"
    assert signed_in.get(switched.location).status_code == 200


def test_what_a_page_of_one_team_sends_is_done_in_that_team(signed_in, member, maker):
    """The team in hand was changed meanwhile, on another page of the device."""
    signed_in.get("/")
    evaluation, team = of_other_team(maker, member, f"Third of {member.email}")
    assert signed_in.post(f"/e/{evaluation}/add/sample").status_code == 404
    assert signed_in.post(f"/e/{evaluation}/add/sample", headers={"Levelmoor-Team": str(team)}).status_code == 200
    assert signed_in.post(f"/e/{evaluation}/add/sample", headers={"Levelmoor-Team": "999999"}).status_code != 200


def test_an_evaluation_that_was_removed_says_by_whom_and_is_restored(signed_in, case, member):
    signed_in.post(f"/evaluations/{case}/remove")
    gone = signed_in.get(f"/e/{case}")
    assert gone.status_code == 404
    assert "removed the evaluation of" in gone.text and "Restore it" in gone.text
    assert signed_in.post(f"/undo/evaluation/{case}").status_code == 200
    assert signed_in.get(f"/e/{case}").status_code == 200


def test_an_act_that_comes_twice_is_done_once(signed_in, case, maker):
    for _ in range(2):
        act = {"Levelmoor-Act": "the-same-act-of-one-browser", "HX-Request": "true"}
        assert signed_in.post(f"/e/{case}/add/sample", headers=act).status_code == 200
    with maker() as session:
        assert len(session.get(t.Evaluation, case).samples) == 2


def test_an_act_that_was_refused_is_heard_again(signed_in, case, maker):
    act = {"Levelmoor-Act": "an-act-that-is-put-right", "HX-Request": "true"}
    assert signed_in.post(f"/e/{case}/claims", data={"text": "nonsense"}, headers=act).status_code == 422
    assert signed_in.post(f"/e/{case}/claims", data={"text": "SWR < 2 40m"}, headers=act).status_code == 200
