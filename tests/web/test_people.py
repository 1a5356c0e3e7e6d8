"""How people come in and go: invitations, sign-ins, passwords, roles, and the record of it all."""

import re
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta

import pytest
from sqlalchemy import select

from levelmoor.demo import scenario
from levelmoor.records import sign_ins, tries
from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member
from levelmoor.records.database import now
from levelmoor.records.roles import MemberRole
from levelmoor.services import mail
from levelmoor.web.app import create_app
from levelmoor.web.links import outward
from tests.conftest import PASSWORD

ANOTHER = "quite another one of mine"


def client_of(app, email, password=PASSWORD):
    client = app.test_client()
    client.post("/sign-in", data={"email": email, "password": password})
    return client


@pytest.fixture
def app_without_tokens(app, monkeypatch):
    monkeypatch.setitem(app.config, "WTF_CSRF_ENABLED", False)
    return app


@pytest.fixture
def stranger(maker, member):
    """Somebody of another team."""
    email = f"stranger-{member.email}"
    with maker.begin() as session:
        add_member(session, f"Strangers of {member.team}", email, "Stranger", PASSWORD, role=MemberRole.EDITOR)
    return email


def invitation(client, email, **more):
    """The address that an invitation gives."""
    text = client.post("/team/invitations", data={"email": email, "role": "member", **more}).text
    return "/invited/" + text.split("/invited/")[1].split('"')[0]


def teams_of(client):
    return client.get("/account").text


# -- Joining takes the person's own word ---------------------------------------------------------------------------


def test_nobody_is_a_member_by_an_invitation_alone(app_without_tokens, signed_in, stranger, member):
    theirs = client_of(app_without_tokens, stranger)
    invitation(signed_in, stranger)
    assert member.team not in theirs.get("/account").text.replace(f"Strangers of {member.team}", "")
    assert stranger not in signed_in.get("/team").text.split("Invited")[0]


def test_the_editors_answer_is_the_same_whether_or_not_there_is_an_account(signed_in, stranger):
    answers = []
    for email in (stranger, f"nobody-{stranger}"):
        answer = signed_in.post("/team/invitations", data={"email": email, "role": "member"})
        answers.append((answer.status_code, answer.text.split("is invited.")[1].split("/invited/")[0]))
    assert answers[0] == answers[1]
    assert "Stranger" not in signed_in.get("/team").text


def test_opening_an_account_answers_the_same_whether_or_not_there_is_one(app_without_tokens, signed_in, stranger):
    told = []
    for email in (stranger, f"nobody-{stranger}"):
        link = invitation(signed_in, email)
        visitor = app_without_tokens.test_client()
        data = {"name": "Me", "password": ANOTHER, "again": ANOTHER}
        answer = visitor.post(f"{link}/account", data=data, follow_redirects=True)
        told.append((answer.status_code, answer.text.count("already had an account")))
        assert visitor.post(f"{link}/account", data=data).status_code == 404  # once
    assert told[0] == told[1] == (200, 1)
    assert client_of(app_without_tokens, stranger).get("/account").status_code == 200  # the old password still


def test_who_joins_lands_in_the_team_and_a_page_of_the_other_goes_on_in_its_own(
    app_without_tokens, signed_in, stranger, member
):
    theirs = client_of(app_without_tokens, stranger)
    own = re.search(r'name="of_team" value="(\d+)"', theirs.get("/").text)[1]
    link = invitation(signed_in, stranger)
    theirs.post(link, data={"answer": "accept"})
    theirs.post("/evaluations", data={"product": "Where does this land", "of_team": own})
    assert f'data-team="{member.team_id}"' in theirs.get("/").text
    assert "Where does this land" not in theirs.get("/").text
    theirs.post("/team-in-hand", data={"team": own})
    assert "Where does this land" in theirs.get("/").text


@pytest.mark.parametrize("end", ["withdrawn", "declined", "taken", "run out"])
def test_invitation_that_has_ended_lets_nobody_in(app_without_tokens, signed_in, stranger, member, maker, end):
    theirs, link = client_of(app_without_tokens, stranger), invitation(signed_in, stranger)
    with maker.begin() as session:
        row = session.scalars(select(t.Invitation).where(t.Invitation.team_id == member.team_id)).one()
        if end == "run out":
            row.ends_at = now() - timedelta(seconds=1)
    if end == "withdrawn":
        signed_in.post(f"/team/invitations/{row.id}/withdraw")
    elif end != "run out":
        theirs.post(link, data={"answer": "accept" if end == "taken" else "decline"})
    for client in (theirs, app_without_tokens.test_client()):
        assert client.get(link).status_code == 404
    assert theirs.post(link, data={"answer": "accept"}).status_code == 404


# -- Roles ---------------------------------------------------------------------------------------------------------


def plain_member(maker, member):
    with maker.begin() as session:
        user = add_member(session, member.team, f"plain-{member.email}", "Plain", PASSWORD, role=MemberRole.MEMBER)
        return user.id, user.email


def test_making_an_editor_asks_for_the_own_password_once_more(signed_in, maker, member):
    user_id, _ = plain_member(maker, member)
    for own, code in (("", 422), ("not the one it is", 422), (PASSWORD, 200)):
        answer = signed_in.post(f"/team/members/{user_id}/role", data={"role": "editor", "own_password": own})
        assert answer.status_code == code
    answer = signed_in.post("/team/invitations", data={"email": "x@y.example", "role": "editor", "own_password": "no"})
    assert answer.status_code == 422


def test_the_last_editor_cannot_vanish(signed_in, maker, member):
    plain_member(maker, member)
    with maker() as session:
        own = session.scalar(select(t.User.id).where(t.User.email == member.email))
    answers = [
        signed_in.post(f"/team/members/{own}/remove"),
        signed_in.post(f"/team/members/{own}/role", data={"role": "member"}),
        signed_in.post(f"/account/teams/{member.team_id}/leave"),
    ]
    assert [a.status_code for a in answers] == [422] * 3
    assert all("only editor" in a.text for a in answers)


def test_member_who_is_removed_is_out_at_once(app_without_tokens, signed_in, maker, member):
    user_id, email = plain_member(maker, member)
    theirs = client_of(app_without_tokens, email)
    assert theirs.get("/team").status_code == 200
    signed_in.post(f"/team/members/{user_id}/remove")
    assert theirs.get("/team").location == "/account"
    assert "You are not in a team" in teams_of(theirs)


def test_member_leaves(app_without_tokens, maker, member):
    _, email = plain_member(maker, member)
    theirs = client_of(app_without_tokens, email)
    theirs.post(f"/account/teams/{member.team_id}/leave")
    assert "You are not in a team" in teams_of(theirs)


# -- Going for good --------------------------------------------------------------------------------------------------


def everything_kept(maker):
    """Each row of a person that the database may forget, as text."""
    tables = (t.User, t.Membership, t.SignIn, t.Invitation, t.ResetLink, t.SecondStep, t.RecoveryCode)
    with maker() as session:
        return "".join(str(row) for table in tables for row in session.execute(select(table.__table__)))


def test_who_deletes_the_account_is_forgotten_and_what_they_measured_stays(app_without_tokens, maker, member):
    email = f"leaver-{member.email}"
    with maker.begin() as session:
        user = add_member(session, member.team, email, "Lea Vinger", PASSWORD)
        session.add(t.Invitation(team_id=user.memberships[0].team_id, email=email, token_sha256="0" * 64, made_by="x",
                                 made_at=now(), ends_at=now()))  # fmt: skip
    client = client_of(app_without_tokens, email)
    client.post("/evaluations", data={"product": "Whip of a leaver"})
    assert client.post("/account/delete", data={"now": "not my password at all"}).status_code == 422
    assert email in everything_kept(maker)
    assert client.post("/account/delete", data={"now": PASSWORD}).status_code == 302
    assert [word for word in (email, "Lea Vinger") if word in everything_kept(maker)] == []
    assert client.get("/account").status_code == 302
    assert client_of(app_without_tokens, email).get("/account").status_code == 302
    with maker() as session:
        query = select(t.Evaluation).join(t.Product).where(t.Product.name == "Whip of a leaver")
        assert session.scalar(query).deleted_at is None


def test_the_last_editor_of_others_cannot_be_forgotten_and_stays_whole(signed_in, maker, member):
    with maker.begin() as session:
        add_member(session, member.team, f"reader-{member.email}", "Reader", PASSWORD, role=MemberRole.READER)
    before = everything_kept(maker)
    answer = signed_in.post("/account/delete", data={"now": PASSWORD})
    assert (answer.status_code, member.email in everything_kept(maker)) == (422, True)
    assert len(everything_kept(maker)) == len(before)


def test_who_is_alone_in_a_team_can_be_forgotten_and_the_team_stays(signed_in, maker, member):
    assert signed_in.post("/account/delete", data={"now": PASSWORD}).status_code == 302
    assert member.email not in everything_kept(maker)
    with maker() as session:
        assert session.get(t.Team, member.team_id).name == member.team


def test_team_does_not_take_the_name_of_another(signed_in, stranger, member):
    data = {"name": f"Strangers of {member.team}", "region": "1", "rule": "guarded", "profile": "strict"}
    answer = signed_in.post("/team", data=data)
    assert answer.status_code == 422
    assert "Another team on this server has that name" in answer.text


# -- Sign-ins ------------------------------------------------------------------------------------------------------


def copied(app, client):
    """Another browser with the same cookie."""
    other = app.test_client()
    other.set_cookie("levelmoor", client.get_cookie("levelmoor").value)
    return other


def test_a_copied_cookie_is_worth_nothing_after_signing_out(app_without_tokens, signed_in):
    thief = copied(app_without_tokens, signed_in)
    assert thief.get("/team").status_code == 200
    signed_in.post("/sign-out")
    assert "/sign-in" in thief.get("/team").location
    assert "/sign-in" in thief.post("/evaluations", data={"product": "x"}).location


def test_sign_ins_are_listed_and_ended_one_by_one(app_without_tokens, signed_in, member, maker):
    other = client_of(app_without_tokens, member.email)
    with maker() as session:
        user = session.scalar(select(t.User).where(t.User.email == member.email))
        newest = max(s.id for s in sign_ins.of_user(session, user.id))
    assert signed_in.get("/account").text.count("/end") >= 2
    signed_in.post(f"/account/sign-ins/{newest}/end")
    assert "/sign-in" in other.get("/team").location
    assert signed_in.get("/team").status_code == 200


def test_nobody_ends_the_sign_in_of_another(app_without_tokens, signed_in, stranger, maker):
    theirs = client_of(app_without_tokens, stranger)
    with maker() as session:
        newest = session.scalar(select(t.SignIn.id).order_by(t.SignIn.id.desc()).limit(1))
    signed_in.post(f"/account/sign-ins/{newest}/end")
    assert theirs.get("/account").status_code == 200


@pytest.mark.parametrize(("column", "age"), [("seen_at", sign_ins.UNSEEN_FOR), ("begun_at", sign_ins.LONGEST)])
def test_sign_in_ends_by_itself(signed_in, maker, column, age):
    with maker.begin() as session:
        row = session.scalars(select(t.SignIn).order_by(t.SignIn.id.desc())).first()
        setattr(row, column, now() - age - timedelta(minutes=1))
    assert "/sign-in" in signed_in.get("/team").location


# -- Passwords -----------------------------------------------------------------------------------------------------


def test_own_password_is_changed_and_other_browsers_are_signed_out(app_without_tokens, signed_in, member):
    other = client_of(app_without_tokens, member.email)
    data = {"now": PASSWORD, "new": ANOTHER, "again": ANOTHER}
    assert signed_in.post("/account/password", data={**data, "now": "wrong one here"}).status_code == 422
    assert signed_in.post("/account/password", data={**data, "again": "else"}).status_code == 422
    assert signed_in.post("/account/password", data=data).status_code == 302
    assert signed_in.get("/team").status_code == 200
    assert "/sign-in" in other.get("/team").location
    assert client_of(app_without_tokens, member.email, ANOTHER).get("/team").status_code == 200
    assert client_of(app_without_tokens, member.email).get("/team").status_code == 302


@pytest.mark.parametrize(
    ("password", "words"),
    [
        ("short", "at least 12"),
        ("aaaaaaaaaaaaaa", "too few different"),
        ("password1234567", "any people use this password"),
        ("qwertyuiop1234567890", "any people use this password"),
        ("footballfootball", "any people use this password"),
        ("x" * 501, "at most 500"),
    ],
)
def test_password_that_may_not_be_one_is_refused_with_the_reason(signed_in, password, words):
    answer = signed_in.post("/account/password", data={"now": PASSWORD, "new": password, "again": password})
    assert answer.status_code == 422
    assert words in answer.text


def test_member_chooses_a_new_password_by_an_editors_link_once(app_without_tokens, signed_in, maker, member):
    user_id, email = plain_member(maker, member)
    theirs = client_of(app_without_tokens, email)
    text = signed_in.post(f"/team/members/{user_id}/reset").text
    link = "/reset/" + text.split("/reset/")[1].split('"')[0]
    assert app_without_tokens.test_client().post(link, data={"password": ANOTHER, "again": ANOTHER}).status_code == 302
    assert "/sign-in" in theirs.get("/team").location
    assert client_of(app_without_tokens, email, ANOTHER).get("/team").status_code == 200
    assert app_without_tokens.test_client().get(link).status_code == 404


def test_editor_resets_nobody_who_is_in_a_team_of_others(app_without_tokens, signed_in, maker, member, stranger):
    with maker.begin() as session:
        user = add_member(session, member.team, stranger, "Stranger", "", role=MemberRole.MEMBER)
        user_id = user.id
    answer = signed_in.post(f"/team/members/{user_id}/reset")
    assert answer.status_code == 422
    assert "/reset/" not in answer.text.split("<main")[1].split("whoever runs the server")[0]


def test_the_demos_password_opens_nothing_where_others_reach_the_server(database_url, maker):
    with maker.begin() as session:
        add_member(session, "A demo", "demo@team.example", "Demo", scenario.PASSWORD, role=MemberRole.EDITOR)
    codes = []
    for reachable in (False, True):
        app = create_app(database_url, demo_sign_in=not reachable)
        app.config["WTF_CSRF_ENABLED"] = False
        data = {"email": "demo@team.example", "password": scenario.PASSWORD}
        codes.append(app.test_client().post("/sign-in", data=data).status_code)
        app.config["SESSIONS"].kw["bind"].dispose()
    assert codes == [302, 422]


def test_addresses_of_accounts_are_compared_as_they_are(maker, member):
    """An accent makes another address; capitals do not."""
    with maker.begin() as session:
        one = add_member(session, member.team, "rene@team.example", "Rene", PASSWORD, role=MemberRole.MEMBER)
        two = add_member(session, member.team, "rené@team.example", "René", PASSWORD, role=MemberRole.MEMBER)
        assert one.id != two.id
        assert (
            add_member(session, member.team, "RENE@team.example", "Rene", PASSWORD, role=MemberRole.MEMBER).id == one.id
        )


# -- Tries ---------------------------------------------------------------------------------------------------------


def tried(client, email, password="x", address="203.0.113.9"):
    return client.post(
        "/sign-in", data={"email": email, "password": password}, environ_base={"REMOTE_ADDR": address}
    ).status_code


def test_tries_of_an_account_are_bounded_from_wherever_they_come_and_by_all_servers(database_url, member):
    """Two applications on one database, and an address of its own for every try."""
    apps = [create_app(database_url) for _ in range(2)]
    codes = []
    for n in range(tries.MOST_BY_ACCOUNT + 2):
        app = apps[n % 2]
        app.config["WTF_CSRF_ENABLED"] = False
        codes.append(tried(app.test_client(), member.email, address=f"198.51.100.{n}"))
    assert codes == [422] * tries.MOST_BY_ACCOUNT + [429] * 2
    assert (
        tried(apps[0].test_client(), member.email, PASSWORD, "198.51.100.200") == 429
    )  # nor the right one, for a while
    for app in apps:
        app.config["SESSIONS"].kw["bind"].dispose()


def test_tries_from_an_address_are_bounded_whatever_account_they_are_for(client, member):
    codes = [tried(client, f"n{n}-{member.email}", address="203.0.113.77") for n in range(tries.MOST_BY_ADDRESS + 1)]
    assert codes == [422] * tries.MOST_BY_ADDRESS + [429]


def test_tries_are_forgotten(client, member, maker):
    for _ in range(tries.MOST_BY_ACCOUNT):
        tried(client, member.email)
    with maker.begin() as session:
        for row in session.scalars(select(t.Attempt)):
            row.at = now() - tries.WITHIN - timedelta(seconds=1)
    assert tried(client, member.email, PASSWORD) == 302


def test_tries_at_the_same_moment_count_as_one_after_another(app_without_tokens, member):
    with ThreadPoolExecutor(25) as together:
        every = [app_without_tokens.test_client() for _ in range(25)]
        codes = sorted(together.map(lambda one: tried(one, member.email), every))
    assert codes.count(422) <= tries.MOST_BY_ACCOUNT and set(codes) <= {422, 429}


def test_what_strangers_try_keeps_nobody_out_of_a_known_device(app_without_tokens, member):
    own = client_of(app_without_tokens, member.email)
    own.post("/sign-out")
    for n in range(tries.MOST_BY_ACCOUNT + 2):
        tried(app_without_tokens.test_client(), member.email, address=f"198.51.100.{n}")
    assert tried(app_without_tokens.test_client(), member.email, PASSWORD, "198.51.100.99") == 429
    assert tried(own, member.email, PASSWORD) == 302


def test_tries_on_a_known_device_are_bounded_too(app_without_tokens, member):
    own = client_of(app_without_tokens, member.email)
    own.post("/sign-out")
    codes = [tried(own, member.email, address=f"198.51.100.{n}") for n in range(tries.MOST_BY_ACCOUNT + 1)]
    assert codes == [422] * tries.MOST_BY_ACCOUNT + [429]


def test_an_invitation_is_for_its_address_alone(app_without_tokens, signed_in, stranger, member):
    link = invitation(signed_in, f"somebody-else-{stranger}")
    theirs = client_of(app_without_tokens, stranger)
    answer = theirs.post(link, data={"answer": "accept"})
    assert answer.status_code == 403 and "This invitation is for somebody-else" in answer.text
    assert member.team not in teams_of(theirs).replace(f"Strangers of {member.team}", "")


def test_links_in_letters_name_this_server_whatever_a_request_calls_it(app, monkeypatch):
    with app.test_request_context("/", base_url="http://evil.example"):
        assert outward("accounts.invited", token="x") == "http://localhost/invited/x"
    monkeypatch.setitem(app.config, "TRUSTED_HOSTS", ["moor.example"])
    with app.test_request_context("/", base_url="https://moor.example"):
        assert outward("accounts.invited", token="x") == "https://moor.example/invited/x"


def test_letters_of_a_team_are_bounded(signed_in, member, monkeypatch):
    monkeypatch.setattr(mail, "LETTERS_A_DAY", 3)
    said = [
        signed_in.post("/team/invitations", data={"email": f"n{n}@x.example", "role": "member"}).text for n in range(4)
    ]
    assert ["Too many emails" in text for text in said] == [False, False, False, True]


# -- The record ----------------------------------------------------------------------------------------------------


def test_what_is_done_stands_in_the_teams_record_and_in_the_log(app_without_tokens, signed_in, member, maker, caplog):
    caplog.set_level("INFO", "levelmoor.audit")
    tried(app_without_tokens.test_client(), member.email, "wrong\nforged line")
    client_of(app_without_tokens, member.email)
    invitation(signed_in, "somebody@team.example")
    user_id, _ = plain_member(maker, member)
    signed_in.post(f"/team/members/{user_id}/role", data={"role": "editor", "own_password": PASSWORD})
    signed_in.post(f"/team/members/{user_id}/remove")
    signed_in.post("/evaluations", data={"product": "Recorded antenna"})
    mine = signed_in.get("/").text.split('href="/e/')[1].split('"')[0]
    signed_in.get(f"/e/{mine}/export")
    signed_in.post(f"/evaluations/{mine}/remove")
    page = signed_in.get("/team/record").text
    for words in (
        "Sign-in refused", "signed in", "somebody@team.example is invited", "is now an editor", "was removed",
        "Recorded antenna was exported", "Removed", "evaluation Recorded antenna", "203.0.113.9",
    ):  # fmt: skip
        assert words in page, words
    lines = [r.getMessage() for r in caplog.records]
    assert any("'invitation'" in line and f"'team': {member.team_id}" in line for line in lines)
    assert not any("forged" in line or "@" in line or "Recorded antenna" in line for line in lines), "nothing typed"
