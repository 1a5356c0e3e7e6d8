"""The second step at sign-in: codes by RFC 6238, each good for once, and what a password alone no longer opens."""

import re
import time

import pyotp
import pytest
from playwright.sync_api import expect

from levelmoor.records import second_step
from levelmoor.records import tables as t
from levelmoor.records.accounts import find_user
from levelmoor.records.tries import MOST_BY_ACCOUNT
from levelmoor.web.accounts import entering
from tests.browser.steps import begin_evaluation, cell

RFC_KEY = "GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ"
"""The key of the RFC's test values, 12345678901234567890, in base 32."""


@pytest.mark.parametrize(
    ("at", "code"), [(59, "287082"), (1111111109, "081804"), (1234567890, "005924"), (2000000000, "279037")]
)
def test_codes_are_those_of_the_standard(at, code, monkeypatch):
    """RFC 6238, Appendix B, SHA-1, the last six of its eight digits."""
    monkeypatch.setattr(second_step.time, "time", lambda: at)
    assert second_step._is_of_app(t.SecondStep(secret=RFC_KEY, last_step=0), code)


@pytest.mark.parametrize(("late_s", "right"), [(0, True), (30, True), (-30, True), (75, False), (-75, False)])
def test_a_code_is_right_a_step_early_or_late(late_s, right, monkeypatch):
    now = 1_800_000_015
    monkeypatch.setattr(second_step.time, "time", lambda: now)
    code = pyotp.TOTP(RFC_KEY).at(now - late_s)
    assert second_step._is_of_app(t.SecondStep(secret=RFC_KEY, last_step=0), code) is right


class Clock:
    """Time that a test moves on: each code lets in once."""

    def __init__(self, monkeypatch):
        self.at = time.time()
        monkeypatch.setattr(second_step.time, "time", lambda: self.at)

    def code(self, secret):
        self.at += 60
        return pyotp.TOTP(secret).at(self.at)


@pytest.fixture
def clock(monkeypatch):
    return Clock(monkeypatch)


@pytest.fixture
def turned_on(signed_in, member, clock):
    """The secret and the recovery codes of the member, whose browser is signed out again."""
    page = signed_in.post("/account/second-step", data={"now": member.password}).text
    secret = re.search(r"Key: <code>([A-Z2-7]+)<", page)[1]
    shown = signed_in.post("/account/second-step/confirm", data={"code": clock.code(secret)}).text
    codes = re.findall(r"<li><code>(\w{5}-\w{5})</code>", shown)
    assert len(codes) == second_step.RECOVERY_CODES
    signed_in.post("/sign-out")
    return secret, codes


def password(client, member):
    return client.post("/sign-in", data={"email": member.email, "password": member.password})


def is_in(client):
    return client.get("/account").status_code == 200


def test_a_password_alone_does_not_let_in(client, member, turned_on, clock):
    assert password(client, member).headers["Location"].startswith("/sign-in/code")
    assert not is_in(client)
    assert client.post("/sign-in/code", data={"code": "000000"}).status_code == 422
    assert not is_in(client)
    client.post("/sign-in/code", data={"code": clock.code(turned_on[0])})
    assert is_in(client)


def test_a_code_lets_in_once(client, member, turned_on, clock):
    for code in (clock.code(turned_on[0]), turned_on[1][0]):
        for lets_in in (True, False):
            password(client, member)
            client.post("/sign-in/code", data={"code": code})
            assert is_in(client) is lets_in
            client.post("/sign-out")


def test_nobody_gets_to_the_code_without_the_password_or_long_after_it(client, member, turned_on, clock, monkeypatch):
    assert client.post("/sign-in/code", data={"code": clock.code(turned_on[0])}).headers["Location"] == "/sign-in"
    password(client, member)
    monkeypatch.setattr(entering, "HALF_S", -1.0)
    client.post("/sign-in/code", data={"code": clock.code(turned_on[0])})
    assert not is_in(client)


def test_codes_cannot_be_guessed_for_long(client, member, turned_on, clock):
    password(client, member)
    said = [client.post("/sign-in/code", data={"code": "000000"}).text for _ in range(MOST_BY_ACCOUNT + 1)]
    assert ["Too many tries" in text for text in said] == [False] * MOST_BY_ACCOUNT + [True]
    client.post("/sign-in/code", data={"code": clock.code(turned_on[0])})
    assert not is_in(client)


def test_it_is_turned_off_with_password_and_code_alone(client, member, turned_on, clock):
    secret, codes = turned_on
    password(client, member)
    client.post("/sign-in/code", data={"code": clock.code(secret)})
    for data in ({"now": "wrong", "code": codes[0]}, {"now": member.password, "code": "wrong"}):
        assert client.post("/account/second-step/off", data=data).status_code == 422
    client.post("/account/second-step/off", data={"now": member.password, "code": codes[0]})
    client.post("/sign-out")
    password(client, member)
    assert is_in(client)


def test_what_was_begun_and_not_confirmed_asks_for_nothing(signed_in, client, member):
    signed_in.post("/account/second-step", data={"now": member.password})
    signed_in.post("/sign-out")
    password(client, member)
    assert is_in(client)


def test_who_works_on_signs_in_in_place_with_a_code(page, maker, member):
    bench = begin_evaluation(page, maker, member, limit=1.5)
    limit = cell(bench, "Limit")
    with maker.begin() as session:
        user = find_user(session, member.email)
        secret = second_step.begin(session, user).secret
        assert second_step.confirm(session, user.id, pyotp.TOTP(secret).at(time.time() - 30))
        session.query(t.SignIn).filter_by(user_id=user.id).update({"ended_at": t.SignIn.begun_at})
    limit.fill("1.8")
    limit.press("Tab")
    dialog = bench.get_by_role("dialog")
    dialog.get_by_label("Password").fill(member.password)
    dialog.get_by_role("button", name="Sign in").click()
    dialog.get_by_label("Code from your app").fill(pyotp.TOTP(secret).now())
    dialog.get_by_role("button", name="Sign in").click()
    expect(bench.locator("#outbox summary")).to_have_text("All kept")
    with maker() as session:
        assert session.query(t.Claim.limit).order_by(t.Claim.id.desc()).first().limit == 1.8
