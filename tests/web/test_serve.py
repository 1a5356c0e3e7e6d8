"""The server in front of the application: what is announced and never sent, what is too large, and what streams hold."""

import contextlib
import http.cookiejar
import socket
import threading
import time
import urllib.parse
import urllib.request

import pytest

from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.web.live import routes
from levelmoor.web.live.runs import VARIABLE
from levelmoor.web.serve import is_loopback, make_server
from levelmoor.web.streams import MOST_BY_PERSON, Streams, TooManyStreams

THREADS = 4
WHOLE_S = 3


@pytest.fixture(scope="module")
def served(database_url):
    """The real server with few threads; host and port."""
    server = make_server("127.0.0.1", 0, THREADS, whole_s=WHOLE_S, url=database_url)

    def run():
        with contextlib.suppress(OSError):  # its loop may look at what was closed once more
            server.run()

    thread = threading.Thread(target=run, daemon=True)
    thread.start()
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(routes, "HEARTBEAT_S", 0.3)
        yield "127.0.0.1", server.effective_port
        # Streams end by themselves at their next word; only then is there nobody who writes to what is closed.
        server.task_dispatcher.shutdown(timeout=30)
        server.close()


def opened(served, text):
    """A connection on which a request was begun."""
    line = socket.create_connection(served, timeout=20)
    line.sendall(text.encode())
    return line


def answers(served, path="/help"):
    with urllib.request.urlopen(f"http://{served[0]}:{served[1]}{path}", timeout=20) as answer:
        return answer.status


def test_bodies_that_are_announced_and_never_sent_silence_nobody(served):
    """More of them than there are threads, for pages that lock and for some that do not."""
    head = "POST /e/1/claims HTTP/1.1\r\nHost: x\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: 900\r\n\r\n"
    lines = [opened(served, head) for _ in range(10 * THREADS)]
    assert answers(served) == 200
    for line in lines:
        line.close()


def test_body_that_is_too_large_is_refused_from_its_head(served):
    head = "POST /sign-in HTTP/1.1\r\nHost: x\r\nContent-Length: 5000000000\r\n\r\n"
    line = opened(served, head)
    assert b"413" in line.recv(200)
    line.close()


def test_request_that_only_drips_is_given_up(served):
    """A letter of the head now and then does not keep a connection for ever."""
    line = opened(served, "GET /help HTTP/1.1\r\nHost: x\r\nX-Slow: ")
    given_up = False
    for _ in range(200):
        try:
            line.sendall(b"x")
            line.setblocking(False)
            given_up = line.recv(1) == b""
        except BlockingIOError:
            pass
        except OSError:
            given_up = True
        if given_up:
            break
        line.setblocking(True)
        time.sleep(0.1)
    line.close()
    assert given_up


def test_nobody_says_what_serves(served):
    with urllib.request.urlopen(f"http://{served[0]}:{served[1]}/help", timeout=20) as answer:
        assert "Server" not in answer.headers


# -- Streams -------------------------------------------------------------------------------------------------------


def test_streams_are_bounded_for_a_person_and_in_all():
    streams = Streams(6)
    for _ in range(MOST_BY_PERSON):
        streams.enter(1)
    with pytest.raises(TooManyStreams, match="of your live screens"):
        streams.enter(1)
    streams.enter(2)
    streams.enter(2)
    with pytest.raises(TooManyStreams, match="on this server"):
        streams.enter(3)
    streams.leave(1)
    streams.enter(3)


def test_streams_leave_threads_for_pages(served, member, maker, monkeypatch):
    """As many streams as somebody cares to open, and pages still come; closed streams make room again."""
    monkeypatch.setenv(VARIABLE, "127.0.0.1:9")
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), "Live")
        instrument = session.get(t.Instrument, row.bench_instrument_id)
        instrument.address, instrument.driver = "127.0.0.1:9", "Generic one-port analyzer"
        path = f"/e/{row.id}/live/{instrument.id}/stream"
    cookie = signed_in_cookie(served, member)
    request = f"GET {path} HTTP/1.1\r\nHost: x\r\nCookie: {cookie}\r\n\r\n"

    def first_words(line):
        text = b""
        while b"event: status" not in text:
            text += line.recv(4000)
        return text.decode()

    lines = [opened(served, request) for _ in range(3)]
    words = [first_words(line) for line in lines]
    assert [("live screens are open on this server" in w) for w in words].count(True) == 2  # a quarter of four threads
    assert answers(served) == 200
    for line in lines:
        line.close()
    deadline = time.monotonic() + 30
    while time.monotonic() < deadline:
        line = opened(served, request)
        told = first_words(line)
        line.close()
        if "on this server" not in told:
            return
        time.sleep(0.3)
    pytest.fail("a closed stream kept its place")


def signed_in_cookie(served, member):
    jar = http.cookiejar.CookieJar()
    browser = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
    base = f"http://{served[0]}:{served[1]}"
    page = browser.open(f"{base}/sign-in", timeout=20).read().decode()
    token = page.split('name="csrf_token" value="')[1].split('"')[0]
    data = {"csrf_token": token, "email": member.email, "password": member.password}
    browser.open(f"{base}/sign-in", urllib.parse.urlencode(data).encode(), timeout=20)
    return "; ".join(f"{c.name}={c.value}" for c in jar)


@pytest.mark.parametrize(
    ("host", "own"), [("127.0.0.1", True), ("::1", True), ("localhost", True), ("0.0.0.0", False), ("bench", False)]
)
def test_what_is_loopback(host, own):
    assert is_loopback(host) is own
