"""Whether a server is alive and ready, as whoever sends requests to it asks."""

import pytest
from sqlalchemy.exc import OperationalError

from levelmoor.web import health


def asked(client, path):
    answer = client.get(path)
    return answer.status_code, answer.text.strip(), answer.headers["Cache-Control"]


def test_a_server_with_its_database_is_ready(client):
    assert asked(client, "/readyz") == (200, "The server is ready.", "no-store")


def test_without_a_database_it_is_alive_and_not_ready(app, client, monkeypatch):
    def gone():
        raise OperationalError("SELECT 1", {}, Exception(2003, "Can't connect"))

    monkeypatch.setitem(app.config, "SESSIONS", gone)
    assert asked(client, "/healthz") == (200, "The server is running.", "no-store")
    assert asked(client, "/readyz") == (503, "The database does not answer.", "no-store")


@pytest.mark.parametrize(("wanted", "code"), [("0001", 200), ("9999", 503)])
def test_an_older_schema_is_not_ready_and_a_newer_one_is(client, monkeypatch, wanted, code):
    monkeypatch.setattr(health, "newest_revision", lambda: wanted)
    found = asked(client, "/readyz")
    assert found[0] == code
    assert ("run levelmoor migrate" in found[1]) == (code == 503)
