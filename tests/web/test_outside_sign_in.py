"""Sign-in by an outside identity provider: a simulated one, which says what each test has it say."""

import json
import re
import threading
import time
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from urllib.parse import parse_qs, urlsplit

import pytest
from joserfc import jwt
from joserfc.jwk import RSAKey
from sqlalchemy import select

from levelmoor.records import second_step as steps
from levelmoor.records import tables as t
from levelmoor.records.accounts import find_user
from levelmoor.records.database import now
from levelmoor.web.accounts.outside import VARIABLES, provider_of
from levelmoor.web.app import create_app

KEY, ANOTHER_KEY = (RSAKey.generate_key(2048, {"kid": "a"}) for _ in range(2))


class Answers(BaseHTTPRequestHandler):
    """Discovery, keys, and a token for any code."""

    def do_GET(self):
        base = self.server.base
        if self.path.endswith("openid-configuration"):
            self.say({
                "issuer": base, "authorization_endpoint": f"{base}/authorize", "token_endpoint": f"{base}/token",
                "jwks_uri": f"{base}/keys", "id_token_signing_alg_values_supported": ["RS256"],
            })  # fmt: skip
        else:
            self.say({"keys": [KEY.as_dict(private=False)]})

    def do_POST(self):
        self.server.asked = parse_qs(self.rfile.read(int(self.headers["Content-Length"])).decode())
        claims = {k: v for k, v in self.server.claims.items() if v is not None}
        token = jwt.encode({"alg": "RS256", "kid": "a"}, claims, self.server.key)
        self.say({"access_token": "x", "token_type": "Bearer", "id_token": token})

    def say(self, what):
        body = json.dumps(what).encode()
        self.send_response(200)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, *_):
        pass


@pytest.fixture(scope="module")
def provider():
    with ThreadingHTTPServer(("127.0.0.1", 0), Answers) as server:
        server.base, server.key, server.claims = f"http://127.0.0.1:{server.server_port}", KEY, {}
        thread = threading.Thread(target=server.serve_forever, daemon=True)
        thread.start()
        yield server
        server.shutdown()
        thread.join()


@pytest.fixture(scope="module")
def app(provider, database_url, tmp_path_factory):
    secret = tmp_path_factory.mktemp("oidc") / "secret"
    secret.write_text("between the two\n")
    with pytest.MonkeyPatch.context() as patch:
        values = {"issuer": provider.base, "client_id": "bench", "secret_file": str(secret), "name": "The club"}
        for what, value in values.items():
            patch.setenv(VARIABLES[what], value)
        return create_app(database_url)


def sent_there(client, onward="/equipment"):
    """What the provider is asked, by its address."""
    answer = client.get("/sign-in/outside", query_string={"next": onward})
    return {k: v[0] for k, v in parse_qs(urlsplit(answer.location).query).items()}


def come_back(app, provider, email, state=None, **other):
    """A browser that went to the provider and came back, and the answer it got."""
    client = app.test_client()
    asked = sent_there(client)
    at = int(time.time())
    provider.claims = {
        "iss": provider.base, "sub": f"number of {email}", "aud": "bench", "iat": at, "exp": at + 60,
        "nonce": asked["nonce"], "email": email, "email_verified": True, **other,
    }  # fmt: skip
    return client, client.get("/sign-in/outside/back", query_string={"code": "c", "state": state or asked["state"]})


def test_who_has_an_account_is_let_in_and_led_on(app, provider, member):
    client, answer = come_back(app, provider, member.email)
    assert (answer.status_code, answer.location) == (302, "/equipment")
    assert member.email in client.get("/account").text
    assert provider.asked["code_verifier"]


def test_the_account_is_known_again_by_the_providers_number_and_not_by_the_address(app, provider, member):
    come_back(app, provider, member.email)
    client, _ = come_back(app, provider, "new@elsewhere.example", sub=f"number of {member.email}")
    assert member.email in client.get("/account").text


@pytest.mark.parametrize(
    "other",
    [
        {"email": "nobody@elsewhere.example", "sub": "nobody"},
        {"email_verified": False},
        {"email_verified": None},
        {"email": None},
        {"aud": "another"},
        {"aud": "another", "azp": "bench"},
        {"iss": "https://another.example"},
        {"nonce": "another"},
        {"nonce": None},
        {"exp": 1},
        {"state": "another"},
        {"sub": None},
    ],
    ids=lambda other: " ".join(f"{k} {v}" for k, v in other.items()),
)
def test_nobody_else_is_let_in(app, provider, member, other):
    client, answer = come_back(
        app, provider, **{"email": f"fresh-{member.email}" if "sub" in other else member.email, **other}
    )
    assert answer.status_code == 403 and re.search("did not confirm|no account here has", answer.text)
    assert client.get("/account").status_code == 302


def test_a_token_signed_by_another_lets_nobody_in(app, provider, member):
    provider.key = ANOTHER_KEY
    try:
        client, answer = come_back(app, provider, member.email)
    finally:
        provider.key = KEY
    assert (answer.status_code, client.get("/account").status_code) == (403, 302)


def test_the_second_step_is_asked_for_all_the_same(app, provider, member, maker):
    with maker.begin() as session:
        row = steps.begin(session, find_user(session, member.email))
        row.confirmed_at = now()
    client, answer = come_back(app, provider, member.email)
    assert answer.location == "/sign-in/code?next=/equipment"
    assert client.get("/account").status_code == 302


def test_a_provider_that_is_away_is_told_and_the_password_still_works(app, provider, member, monkeypatch):
    monkeypatch.setitem(app.config["OUTSIDE"].client.server_metadata, "token_endpoint", "http://127.0.0.1:1/token")
    _, answer = come_back(app, provider, member.email)
    assert answer.status_code == 403 and 'name="password"' in answer.text


def test_who_deletes_the_account_is_not_known_to_the_provider_any_more(app, provider, member, maker):
    from levelmoor.records.audit import OPERATOR
    from levelmoor.records.forgetting import forget

    come_back(app, provider, member.email)
    with maker() as session:
        user = find_user(session, member.email)
        session.execute(t.Membership.__table__.delete().where(t.Membership.user_id == user.id))
        forget(session, session.get(t.User, user.id, populate_existing=True), OPERATOR)
        left = session.scalars(select(t.OutsideIdentity).where(t.OutsideIdentity.user_id == user.id)).all()
        session.rollback()
    assert left == []


def test_without_a_provider_there_is_no_such_page(database_url):
    assert create_app(database_url).test_client().get("/sign-in/outside").status_code == 404


@pytest.mark.parametrize(
    ("settings", "said"),
    [
        ({"issuer": "http://id.example", "client_id": "a", "secret_file": "b", "name": "c"}, "must begin with https"),
        ({"issuer": "https://id.example", "client_id": "a"}, "must be set too"),
    ],
)
def test_a_provider_that_cannot_be_right_is_refused_at_the_start(app, settings, said):
    with pytest.raises(ValueError, match=said):
        provider_of(app, {VARIABLES[k]: v for k, v in settings.items()})
