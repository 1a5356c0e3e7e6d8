"""./start under bad luck: killed, started twice, thrown away by mistake, its database gone."""

import os
import signal
import subprocess
import sys
import time
import urllib.request
from contextlib import suppress
from pathlib import Path

import pytest

from levelmoor.records.accounts import find_team
from levelmoor.records.database import connect, migrate
from levelmoor.records.private_server import (
    MARK,
    InUse,
    addresses_in,
    claimed,
    end_recorded,
    private_server,
    throw_away,
)
from tests.test_standalone import started


def gone(pid, seconds=30):
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        try:
            if Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0] == "Z":
                return True
        except OSError:
            return True
        time.sleep(0.1)
    return False


def pid_in(path):
    return int(path.read_text().split()[0])


def until(seconds, what):
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        if what():
            return True
        time.sleep(0.2)
    return False


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    """A database folder with a team in it, so that no demo is loaded into it."""
    folder = tmp_path_factory.mktemp("start") / "db"
    with private_server(folder, durable=False) as server:
        migrate(server.addresses.owner, serving_url=server.addresses.serving)
        maker = connect(server.addresses.serving)
        with maker.begin() as session:
            find_team(session, "Somebody's")
        maker.kw["bind"].dispose()
    return folder


@pytest.fixture(scope="module")
def begun():
    """The one start that the tests of this module look at in turn; one of them kills it."""
    begun = []
    yield begun
    for program, _ in begun:
        if program.poll() is None:
            program.send_signal(signal.SIGTERM)
            program.communicate(timeout=60)


@pytest.fixture
def start(folder, begun):
    """Program and address of a start that runs."""
    if not begun or begun[-1][0].poll() is not None:
        program, said, address = started(folder)
        begun.append((program, address))
        assert any("ready at" in line for line in said), said
    return begun[-1]


@pytest.mark.parametrize("more", [(), ("--fresh",)])
def test_second_start_is_told_where_the_first_one_serves(folder, start, more):
    second, said, _ = started(folder, *more)
    assert second.wait(30) == 1
    second.stdout.close()
    assert any("is in use" in line and start[1] in line for line in said)


def test_command_finds_the_database_while_it_runs(folder, start):
    assert addresses_in(folder).serving.startswith("mysql+mysqldb://levelmoor:")


def test_database_that_dies_is_started_again_and_it_is_said(folder, start):
    program, address = start
    os.kill(pid_in(folder / "mariadb.pid"), signal.SIGKILL)
    assert "the database stopped unexpectedly; starting it again" in next(x for x in program.stdout if "database" in x)
    assert "is running again" in next(line for line in program.stdout if "database" in line)

    def serves():
        try:
            return urllib.request.urlopen(f"{address}reports", timeout=10).status == 200
        except OSError:
            return False

    assert until(30, serves)


def writing_to(pipe):
    """The processes that still write there, by name."""
    end, found = f"pipe:[{os.fstat(pipe.fileno()).st_ino}]", []
    for place in Path("/proc").glob("[0-9]*"):
        with suppress(OSError):
            if str((place / "fd" / "1").readlink()) == end:
                found.append((place / "cmdline").read_bytes().replace(b"\0", b" ").decode()[-120:])
    return found


def test_killed_start_leaves_nothing_running_and_the_next_one_ends_with_its_terminal(folder, start):
    program, _ = start
    for ending in (signal.SIGKILL, signal.SIGHUP):
        database, server = pid_in(folder / "mariadb.pid"), pid_in(folder / "server.pid")
        program.send_signal(ending)
        until(60, lambda pipe=program.stdout: not writing_to(pipe))
        assert (ending, writing_to(program.stdout)) == (ending, [])
        program.communicate(timeout=60)
        assert (ending, gone(server), gone(database)) == (ending, True, True)
        if ending is signal.SIGKILL:
            program, said, _ = started(folder)
            assert any("ready at" in line for line in said)
    assert addresses_in(folder) is None


def test_orphaned_database_is_ended_by_its_recorded_id(tmp_path):
    """A server that was left by a start without these manners: it is ended before its folder is used again."""
    folder = tmp_path / "db"
    with private_server(folder, durable=False):
        pass
    program = "import time; print(flush=True); time.sleep(600)"
    orphan = subprocess.Popen(
        [sys.executable, "-c", program, f"--datadir={folder / 'data'}"], start_new_session=True, stdout=subprocess.PIPE
    )
    orphan.stdout.read(1)  # a process that has only just begun has no command to know it by
    (folder / "mariadb.pid").write_text(f"{orphan.pid}\n")
    with orphan, private_server(folder, durable=False) as server:
        assert server.running
        assert orphan.wait(30) == -signal.SIGTERM


def test_recorded_id_of_another_program_is_left_alone(tmp_path):
    other = subprocess.Popen([sys.executable, "-c", "import time; time.sleep(600)"])
    (tmp_path / "pid").write_text(f"{other.pid}\n")
    assert end_recorded(tmp_path / "pid", "--datadir=/somewhere") is False
    assert other.poll() is None
    other.kill()
    other.wait()


def test_fresh_removes_nothing_from_a_folder_that_is_not_ours(tmp_path):
    folder = tmp_path / "photographs"
    folder.mkdir()
    (folder / "moor.jpg").write_bytes(b"a picture")
    program, said, _ = started(folder, "--fresh")
    assert program.wait(30) == 1
    program.stdout.close()
    assert any("has no mark of a Levelmoor database" in line for line in said)
    assert (folder / "moor.jpg").read_bytes() == b"a picture"


def test_database_is_put_into_no_folder_that_holds_other_things(tmp_path):
    (tmp_path / "moor.jpg").write_bytes(b"a picture")
    with pytest.raises(RuntimeError, match="contains other files"), claimed(tmp_path):
        pass
    assert [p.name for p in tmp_path.iterdir()] == ["moor.jpg"]


def test_folder_in_use_is_not_thrown_away(tmp_path):
    with claimed(tmp_path / "db"), pytest.raises(InUse):
        throw_away(tmp_path / "db")
    assert (tmp_path / "db" / MARK).exists()
    (tmp_path / "db" / "data").mkdir()
    throw_away(tmp_path / "db")
    assert not (tmp_path / "db" / "data").exists()


def test_user_is_added_beside_a_running_start(tmp_path):
    """Without any variable: the command finds the database that ./start made."""
    from levelmoor.records import database

    with private_server(tmp_path / "db", durable=False) as server:
        database.migrate(server.addresses.owner, serving_url=server.addresses.serving)
        code = (
            "import sys; from pathlib import Path; from levelmoor.records import database; "
            f"database.FOLDER = Path({str(tmp_path / 'db')!r}); from levelmoor.cli.command_line import main; "
            "sys.exit(main(['user', 'add', 'ann@club.example', '--team', 'Our club', '--editor']))"
        )
        environment = {k: v for k, v in os.environ.items() if not k.startswith("LEVELMOOR_")}
        done = subprocess.run(
            [sys.executable, "-c", code], input="a fine long password\n", capture_output=True, text=True,
            env=environment, check=False,
        )  # fmt: skip
        assert (done.returncode, done.stdout) == (0, "ann@club.example is now in Our club\n"), done.stderr
        reset = code.replace(
            "'user', 'add', 'ann@club.example', '--team', 'Our club', '--editor'", "'user', 'reset', 'ann@club.example'"
        )
        done = subprocess.run(
            [sys.executable, "-c", reset], capture_output=True, text=True, env=environment, check=False
        )
        assert "/reset/" in done.stdout
