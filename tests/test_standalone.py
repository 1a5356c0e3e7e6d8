"""./start as a program: from nothing to a page, twice, and a clean end."""

import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import pytest


def started(folder, *arguments, database=None):
    """The running program and what it has said until it was ready or ended."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    environment = {k: v for k, v in os.environ.items() if k != "LEVELMOOR_DATABASE_URL"}
    if database:
        environment["LEVELMOOR_DATABASE_URL"] = database
    program = subprocess.Popen(
        [sys.executable, "-m", "levelmoor.standalone", "--port", str(port), "--folder", str(folder), *arguments],
        stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, env=environment,
    )  # fmt: skip
    said = []
    for line in program.stdout:
        said.append(line.strip())
        if "Ctrl-C" in line:
            break
    return program, said, f"http://127.0.0.1:{port}/"


def ended(program):
    program.send_signal(signal.SIGINT)
    rest = program.communicate(timeout=30)[0]
    return program.returncode, rest.strip()


def refuses(address):
    with pytest.raises(OSError):
        urllib.request.urlopen(address, timeout=5)
    return True


def test_from_nothing_to_a_page_and_again_with_the_data_kept(tmp_path):
    program, said, address = started(tmp_path / "db")
    assert "levelmoor: loading the demo" in said
    assert any("Sign in as" in line for line in said)
    assert b"Levelmoor" in urllib.request.urlopen(f"{address}sign-in", timeout=10).read()
    pid = int((tmp_path / "db" / "mariadb.pid").read_text())
    assert ended(program) == (0, "levelmoor: stopped")
    assert refuses(address)
    deadline = time.monotonic() + 10
    while time.monotonic() < deadline and Path(f"/proc/{pid}").exists():
        time.sleep(0.1)
    assert not Path(f"/proc/{pid}").exists()

    program, said, address = started(tmp_path / "db")
    assert "levelmoor: loading the demo" not in said
    assert b"Rollaway 2/70" in urllib.request.urlopen(f"{address}reports", timeout=10).read()
    assert ended(program)[0] == 0


def test_server_of_ones_own_gets_no_demo(tmp_path, database_url):
    program, said, _ = started(tmp_path / "unused", database=database_url)
    assert ended(program)[0] == 0
    assert not any("demo" in line or "Sign in as" in line for line in said)
    assert not (tmp_path / "unused").exists()


def test_fresh_is_refused_for_a_server_of_ones_own(tmp_path, database_url):
    program, said, _ = started(tmp_path / "unused", "--fresh", database=database_url)
    assert program.wait(30) == 1
    assert any("--fresh is for the private database only" in line for line in said)
    program.stdout.close()


def test_command_without_a_database_says_what_is_missing(monkeypatch):
    environment = {k: v for k, v in os.environ.items() if k != "LEVELMOOR_DATABASE_URL"}
    done = subprocess.run(
        [sys.executable, "-m", "levelmoor.cli", "demo"], capture_output=True, text=True, env=environment, check=False
    )
    assert done.returncode == 2
    assert "run ./start in another terminal" in done.stderr
