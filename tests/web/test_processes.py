"""Several server processes at one socket: one that ends is replaced, and all end with the one that keeps them."""

import os
import signal
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import pytest

from levelmoor.records.database import VARIABLE
from levelmoor.records.private_server import free_port

PATIENCE_S = 90


def soon(what):
    """What a look gives once it is true."""
    until = time.monotonic() + PATIENCE_S
    while time.monotonic() < until:
        if found := what():
            return found
        time.sleep(0.1)
    pytest.fail(f"not within {PATIENCE_S} s")


class Kept:
    """A server of two processes and a reader that they share."""

    def __init__(self, database_url):
        self.port = free_port()
        command = [
            sys.executable,
            "-m",
            "levelmoor.cli",
            "serve",
            "--port",
            str(self.port),
            "--processes",
            "2",
            "--threads",
            "4",
        ]
        environment = {**os.environ, VARIABLE: database_url, "LEVELMOOR_READERS": "1", "LEVELMOOR_JUDGES": "0"}
        self.process = subprocess.Popen(command, env=environment)
        soon(self.answers)

    def answers(self):
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{self.port}/healthz", timeout=10) as answer:
                return answer.status == 200
        except OSError:
            return False

    def children(self, name, of=None):
        found = []
        for folder in Path(f"/proc/{of or self.process.pid}/task").glob("*/children"):
            for pid in folder.read_text().split():
                found += [int(pid)] * (Path(f"/proc/{pid}/comm").read_text().strip() == name)
                found += self.children(name, pid)
        return found


@pytest.fixture
def kept(database_url):
    one = Kept(database_url)
    yield one
    one.process.kill()
    one.process.wait()


def test_a_server_and_a_worker_that_are_killed_are_replaced_and_pages_come_meanwhile(kept):
    for name, count in (("lm-server", 2), ("lm-readers", 1)):
        before = soon(lambda m=name, n=count: len(found := kept.children(m)) == n and found)
        os.kill(before[0], signal.SIGKILL)
        assert kept.answers()
        soon(lambda m=name, n=count, gone=before[0]: len(found := kept.children(m)) == n and gone not in found)


@pytest.mark.parametrize("how", [signal.SIGKILL, signal.SIGTERM])
def test_all_end_with_the_one_that_keeps_them(kept, how):
    pids = kept.children("lm-server") + kept.children("lm-readers")
    kept.process.send_signal(how)
    kept.process.wait(PATIENCE_S)
    soon(lambda: not any(Path(f"/proc/{pid}").exists() for pid in pids))
    assert not kept.answers()


@pytest.mark.parametrize(
    ("settings", "said"),
    [
        ({VARIABLE: f"mysql+mysqldb://a:b@127.0.0.1:{free_port()}/levelmoor"}, b"Can't connect"),
        ({"LEVELMOOR_OIDC_ISSUER": "https://id.example"}, b"LEVELMOOR_OIDC_CLIENT, "),
        ({"LEVELMOOR_KEY_FILE": "/nowhere/key"}, b"/nowhere/key cannot be read"),
    ],
    ids=["no database", "half a provider", "no key"],
)
def test_what_cannot_serve_ends_at_once_instead_of_beginning_servers_for_ever(database_url, settings, said):
    command = [sys.executable, "-m", "levelmoor.cli", "serve", "--port", str(free_port()), "--processes", "2"]
    environment = {**os.environ, VARIABLE: database_url, **settings}
    done = subprocess.run(command, check=False, env=environment, capture_output=True, timeout=PATIENCE_S)
    assert done.returncode != 0 and said in done.stderr


ENDING = """
import signal
from levelmoor.records.kept_running import end_when_told
end_when_told(signal.SIGTERM)
try:
    print("begun", flush=True)
    signal.pause()
finally:
    print("ending", flush=True)
    input()
    print("ended in order", flush=True)
"""


def test_a_process_that_is_told_twice_ends_in_order():
    with subprocess.Popen(
        [sys.executable, "-c", ENDING], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    ) as one:
        for word in ("begun", "ending"):
            assert one.stdout.readline().strip() == word
            one.send_signal(signal.SIGTERM)
        assert one.communicate("\n")[0].strip() == "ended in order"
