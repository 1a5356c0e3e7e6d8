"""A cluster's hosts: connections go to one that answers for it, and a request outlives the loss of one."""

import pytest
from sqlalchemy import make_url, text

from levelmoor.records import hosts
from levelmoor.records.database import connect
from levelmoor.records.hosts import hosts_of
from levelmoor.records.private_server import free_port
from levelmoor.web.context import db
from levelmoor.web.transactions import TransactionalFlask, close


@pytest.mark.parametrize(
    ("also", "others"),
    [
        ("", []),
        ("db2", [("db2", 3307)]),
        ("db2:3310, db3", [("db2", 3310), ("db3", 3307)]),
    ],
)
def test_others_are_named_beside_the_first(also, others):
    url, found = hosts_of(f"mysql+mysqldb://a:b@db1:3307/levelmoor?charset=utf8mb4&also={also}")
    assert found == others
    assert dict(url.query) == {"charset": "utf8mb4"}


def test_a_port_that_is_none_is_said():
    with pytest.raises(ValueError, match="also=db2:x: x is not a port"):
        hosts_of("mysql+mysqldb://a:b@db1/levelmoor?also=db2:x")


@pytest.fixture
def first_is_away(database_url):
    """The address of the database, as that of a second host whose first does not answer."""
    url = make_url(database_url)
    also = f"{url.host}:{url.port or 3306}"
    return url.set(host="127.0.0.1", port=free_port()).update_query_dict({"also": also}).render_as_string(False)


def port_of(maker):
    with maker() as session:
        return session.scalar(text("SELECT @@port"))


def test_where_the_first_does_not_answer_the_next_is_taken(first_is_away, maker):
    assert port_of(connect(first_is_away)) == port_of(maker)


def test_a_node_that_has_lost_its_cluster_is_passed_over(database_url, monkeypatch):
    url = make_url(database_url)
    asked = []

    def first_has_lost_it(_connection):
        asked.append(1)
        return len(asked) > 1

    monkeypatch.setattr(hosts, "_takes_part", first_has_lost_it)
    same_by_another_name = f"127.1:{url.port or 3306}"
    made = connect(url.update_query_dict({"also": same_by_another_name}).render_as_string(False))
    assert port_of(made)
    assert len(asked) == 2


def test_a_request_whose_connection_is_lost_begins_anew(database_url):
    app = TransactionalFlask("levelmoor.web.app")
    app.config["SESSIONS"] = connect(database_url)
    app.teardown_appcontext(lambda _: close())
    tried = []

    @app.get("/")
    def page():
        tried.append(1)
        if len(tried) == 1:
            own = db().scalar(text("SELECT CONNECTION_ID()"))
            with app.config["SESSIONS"]() as other:
                other.execute(text(f"KILL CONNECTION {own}"))
        return str(db().scalar(text("SELECT 42")))

    assert app.test_client().get("/").text == "42"
    assert len(tried) == 2
