"""What whoever runs the installation learns of it, and what the log and the figures do not tell."""

import json
import logging

import pytest

from levelmoor.records import logs, operating
from levelmoor.records import tables as t
from levelmoor.records.database import now
from levelmoor.records.operating import Answered, keep_minute
from levelmoor.web import health
from levelmoor.web.operator.routes import VARIABLE


def test_the_page_is_there_for_those_alone_whom_the_setting_names(signed_in, member, monkeypatch):
    assert signed_in.get("/operator").status_code == 404
    monkeypatch.setenv(VARIABLE, f"somebody@else.example, {member.email.upper()}")
    assert signed_in.get("/operator").status_code == 200


def test_late_pages_and_errors_are_told_by_their_route(signed_in, member, maker, monkeypatch):
    monkeypatch.setenv(VARIABLE, member.email)
    answers = [
        Answered("a1", "/e/<int:evaluation_id>/plan", 200, 3.25),
        Answered("b2", "/e/<int:evaluation_id>/bench", 500, 0.1, "ZeroDivisionError", "core/judge.py:9"),
        Answered("c3", "/help", 200, 0.1),
    ]
    with maker.begin() as session:
        keep_minute(session, "one", now().replace(second=0), answers)
    page = signed_in.get("/operator").text
    assert "/e/&lt;int:evaluation_id&gt;/plan" in page
    assert "3.2 s" in page
    assert "ZeroDivisionError" in page
    assert "core/judge.py:9" in page


def test_a_minute_has_its_answers_errors_and_times(maker):
    minute = now().replace(second=0)
    answers = [Answered(str(n), "/", 500 if n == 0 else 200, n / 100) for n in range(100)]
    with maker.begin() as session:
        keep_minute(session, "of a test", minute, answers)
        row = session.get(t.ServerMinute, (minute, "of a test"))
        assert (row.answers, row.errors, row.median_s, row.most_s, row.slowest_s) == (100, 1, 0.5, 0.94, 0.99)


def test_a_minute_that_was_looked_at_before_its_end_has_all_its_answers(maker):
    minute = now().replace(second=0)
    with maker.begin() as session:
        for status, seconds in ((200, 0.2), (500, 0.1)):
            keep_minute(session, "in parts", minute, [Answered("a", "/", status, seconds)])
        row = session.get(t.ServerMinute, (minute, "in parts"))
        assert (row.answers, row.errors, row.slowest_s) == (2, 1, 0.2)


def test_minutes_of_long_ago_go(maker):
    old = now().replace(second=0) - 2 * operating.KEPT_FOR
    with maker.begin() as session:
        session.add(t.ServerMinute(minute=old, server="x", answers=1, errors=0, median_s=1, most_s=1, slowest_s=1))
        session.flush()
        keep_minute(session, "y", now().replace(second=0), [Answered("a", "/", 200, 0.1)])
        session.expire_all()
        assert session.get(t.ServerMinute, (old, "x")) is None


def test_a_request_has_a_line_in_the_log_and_a_number_but_nothing_that_was_typed(signed_in, caplog):
    caplog.set_level("INFO", "levelmoor.request")
    answer = signed_in.get("/reports?q=a+secret+word")
    line = next(r.msg for r in caplog.records if r.name == "levelmoor.request")
    assert line["request"] == answer.headers["Levelmoor-Request"]
    assert (line["route"], line["status"]) == ("/reports", 200)
    assert "secret" not in str(line)


@pytest.mark.parametrize("path", ["/join/a-secret-token", "/reset/a-secret-token"])
def test_an_address_that_lets_in_is_in_no_log(client, caplog, path):
    caplog.set_level("INFO")
    client.get(path)
    assert "secret" not in "".join(str(r.msg) for r in caplog.records)


def test_a_page_that_breaks_logs_neither_its_address_nor_what_was_typed(client, caplog, monkeypatch):
    caplog.set_level("INFO")

    def broken(*_, **__):
        raise ZeroDivisionError("a secret")

    monkeypatch.setitem(client.application.view_functions, "accounts.reset", broken)
    monkeypatch.setitem(client.application.config, "PROPAGATE_EXCEPTIONS", False)
    assert client.get("/reset/a-secret-token").status_code == 500
    lines = [logging.Formatter().format(r) if not isinstance(r.msg, dict) else str(r.msg) for r in caplog.records]
    assert any("ZeroDivisionError" in line for line in lines)
    assert not any("secret" in line for line in lines)


def test_of_an_error_its_kind_and_place_are_logged_and_not_its_words(capsys):
    logs.configure()
    try:
        json.loads("{a secret")
    except ValueError as problem:
        logs.log("levelmoor.test").error("broken", exc_info=problem)
    line = json.loads(capsys.readouterr().err.splitlines()[-1])
    assert (line["event"], line["error"], line["level"]) == ("broken", "JSONDecodeError", "error")
    assert "secret" not in str(line)


@pytest.fixture(autouse=True)
def _handlers():
    """The log as it was."""
    root, ours = logging.getLogger(), logging.getLogger("levelmoor")
    before, level = root.handlers[:], ours.level
    yield
    root.handlers[:] = before
    ours.setLevel(level)


def test_figures_are_for_this_machine_or_for_who_has_the_token(client, monkeypatch):
    def seen(headers=None, **environ):
        return client.get("/metrics", headers=headers, environ_base=environ).status_code

    assert seen(REMOTE_ADDR="127.0.0.1") == 200
    assert seen(REMOTE_ADDR="192.0.2.7") == 404
    monkeypatch.setitem(client.application.config, "PROXIES", 1)
    assert seen(REMOTE_ADDR="127.0.0.1") == 404
    monkeypatch.setenv(health.TOKEN_VARIABLE, "sesame")
    assert seen(REMOTE_ADDR="127.0.0.1") == 404
    assert seen({"Authorization": "Bearer sesame"}, REMOTE_ADDR="192.0.2.7") == 200


def test_figures_count_answers_by_route(client):
    client.get("/help")
    told = client.get("/metrics", environ_base={"REMOTE_ADDR": "127.0.0.1"}).text
    assert 'levelmoor_answers_total{route="/help",status="200"}' in told
    assert 'levelmoor_answer_seconds_bucket{le="0.1",route="/help"}' in told
