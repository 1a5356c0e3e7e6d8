"""Passkeys in a real browser with a simulated device: added, used, used once, removed, and only where they can be."""

import re

import pytest
import requests
from playwright.sync_api import expect
from sqlalchemy import update

from levelmoor.records import passkeys
from levelmoor.records import tables as t
from levelmoor.records.accounts import find_user

DEVICE = {
    "protocol": "ctap2", "transport": "internal", "hasResidentKey": True, "hasUserVerification": True,
    "isUserVerified": True, "automaticPresenceSimulation": True,
}  # fmt: skip


@pytest.fixture
def page(browser, live):
    """A page read at a name, in a browser on a device that makes passkeys."""
    context = browser.new_context(base_url=live.replace("127.0.0.1", "localhost"))
    opened = context.new_page()
    device = context.new_cdp_session(opened)
    device.send("WebAuthn.enable")
    device.send("WebAuthn.addVirtualAuthenticator", {"options": DEVICE})
    yield opened
    context.close()


def signed_in_with_password(page, member):
    page.goto("/sign-in")
    page.get_by_label("Email address").fill(member.email)
    page.get_by_label("Password", exact=True).fill(member.password)
    page.get_by_role("button", name="Sign in", exact=True).click()
    page.get_by_role("heading", name="Evaluations").wait_for()


def ask_for_one(page, password):
    page.goto("/account")
    page.get_by_text("Add a passkey").click()
    page.get_by_label("Name of this device").fill("hut telephone")
    page.locator("#passkey-now").fill(password)
    page.get_by_role("button", name="Add it").click()


@pytest.fixture
def added(page, member):
    """A page with a passkey of the member's, signed out."""
    signed_in_with_password(page, member)
    ask_for_one(page, member.password)
    page.get_by_text("hut telephone signs you in from now on.").wait_for()
    page.context.clear_cookies()
    page.goto("/sign-in?next=/account")
    return page


def test_a_passkey_signs_in_without_a_password(added, member):
    added.get_by_role("button", name="Sign in with a passkey").click()
    expect(added).to_have_url(re.compile(r"\d/account$"))
    expect(added.get_by_text(member.email)).to_be_visible()


def test_what_a_passkey_signed_lets_in_once(added, maker):
    sent = {}

    def note(route):
        cookies = {one["name"]: one["value"] for one in added.context.cookies()}
        sent.update(url=route.request.url, data=route.request.post_data, headers=route.request.headers, cookies=cookies)
        route.continue_()

    added.route(re.compile(r"/sign-in/passkey\?"), note)
    added.get_by_role("button", name="Sign in with a passkey").click()
    expect(added).to_have_url(re.compile(r"\d/account$"))
    with maker.begin() as session:
        session.execute(update(t.Passkey).values(sign_count=0))  # as those that several devices share have it
    assert requests.post(sent.pop("url"), **sent, timeout=60).status_code == 403


def test_a_removed_passkey_lets_nobody_in(added, member, maker):
    with maker.begin() as session:
        passkeys.remove(session, find_user(session, member.email).id)
    added.get_by_role("button", name="Sign in with a passkey").click()
    expect(added.locator("#passkey-said")).to_contain_text("does not open an account here")


def test_adding_one_asks_for_the_password(page, member, maker):
    signed_in_with_password(page, member)
    ask_for_one(page, "another one altogether")
    expect(page.locator("#passkey-said")).to_have_text("That is not your current password.")
    with maker() as session:
        assert not passkeys.of_user(session, find_user(session, member.email).id)


ADD_UNASKED = """async (token) => {
  const send = (address, body) => fetch(address, { method: "POST", body,
    headers: { "X-CSRFToken": token, ...(body && { "Content-Type": "application/json" }) } });
  const { challenge } = await (await send("/sign-in/passkey/ask")).json();
  const rp = { id: "localhost", name: "Levelmoor" };
  const user = { id: "MQ", name: "one", displayName: "One" };
  const publicKey = PublicKeyCredential.parseCreationOptionsFromJSON({ challenge, rp, user,
    pubKeyCredParams: [{ type: "public-key", alg: -7 }], authenticatorSelection: { userVerification: "required" } });
  return (await send("/account/passkeys", JSON.stringify(await navigator.credentials.create({ publicKey })))).status;
}"""


def test_what_anybody_may_ask_for_adds_no_passkey(page, member):
    """Whoever finds a browser signed in cannot come back to it without the password."""
    signed_in_with_password(page, member)
    page.goto("/account")
    assert page.evaluate(ADD_UNASKED, page.locator("#passkey").get_attribute("data-token")) == 422


@pytest.mark.parametrize(
    ("origin", "name"),
    [("https://moor.example", "moor.example"), ("http://localhost:8080", "localhost"), ("http://127.0.0.1:8080", "")],
)
def test_a_passkey_belongs_to_a_name(origin, name):
    assert passkeys.Site(origin).name == name


def test_at_a_number_none_is_offered(client):
    assert "passkey" not in client.get("/sign-in", base_url="http://127.0.0.1").text
    assert client.post("/sign-in/passkey/ask", base_url="http://127.0.0.1").status_code == 404


def test_a_deleted_account_keeps_none(added, member, maker):
    with maker() as session:
        user_id = find_user(session, member.email).id
    signed_in_with_password(added, member)
    added.goto("/account")
    added.get_by_text("Delete it", exact=True).click()
    added.locator("#delete-now").fill(member.password)
    added.get_by_role("button", name="Delete my account for good").click()
    added.get_by_text("Your account is deleted.").wait_for()
    with maker() as session:
        assert not passkeys.of_user(session, user_id)
