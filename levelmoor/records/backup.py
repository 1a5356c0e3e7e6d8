"""The whole database in one file, and from it into an empty database: by MariaDB's own programs.

The file is SQL, packed with gzip, between a line that says what it is and one that says that nothing is missing; with a
passphrase it is sealed.
"""

import gzip
import io
import json
import os
import re
import subprocess
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, BinaryIO, cast

from sqlalchemy import create_engine, inspect, make_url, text
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from levelmoor.records.database import migrate, newest_revision, schema_revision
from levelmoor.records.private_server import program
from levelmoor.records.sealed_file import NotOpened, SealedReader, SealedWriter, is_sealed

FIRST, LAST = b"-- levelmoor backup ", b"-- levelmoor backup ends\n"
PACKED = 3
MADE_AGAIN = ("drawn", "kept_result", "live_run", "live_look", "live_sweep", "live_wish")
"""Tables whose rows are made again when they are asked for, or last for minutes; they stay behind."""
PIECE = 1 << 20
_DEFINER = re.compile(rb"/\*!50017 DEFINER=`[^`]*`@`[^`]*`\*/ ")
"""Whose a trigger is: it becomes that of whoever restores it."""
_MAKES_TRIGGER = b"/*!50003 CREATE"


class BackupProblem(Exception):
    """What keeps a backup from being written or restored, and what would be right."""


def back_up(owner_url: str, path: Path, passphrase: str = "") -> int:
    """Write everything that the database holds into a file, as it stands at one moment, while it is used; says how many
    bytes. A file that was there stays until the new one is whole. With a passphrase nobody reads it without that.

    Raises
    ------
    BackupProblem
        Where the database or the disk does not give it.
    """
    about = {"version": 1, "schema": _with_session(owner_url, schema_revision), "made": datetime.now(UTC).isoformat()}
    database = str(make_url(owner_url).database)
    command = [
        program("mariadb-dump", "/usr/bin/mariadb-dump"), *_account(owner_url), "--single-transaction", "--quick",
        "--hex-blob", "--skip-lock-tables", "--no-tablespaces", "--skip-comments", "--max-allowed-packet=512M",
        "--default-character-set=utf8mb4", *(f"--ignore-table-data={database}.{name}" for name in MADE_AGAIN), database,
    ]  # fmt: skip
    part = path.with_name(f"{path.name}.part")
    try:
        with os.fdopen(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as file:
            with _sealing(file, passphrase) as out, gzip.GzipFile("", "wb", PACKED, out) as packed:
                packed.write(FIRST + json.dumps(about).encode() + b"\n")
                dump = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, env=_secret(owner_url))
                assert dump.stdout is not None
                for line in dump.stdout:
                    packed.write(_DEFINER.sub(b"", line) if line.startswith(_MAKES_TRIGGER) else line)
                said = dump.communicate()[1]
                if dump.returncode:
                    raise BackupProblem(f"The database was not written: {said.decode(errors='replace').strip()}")
                packed.write(LAST)
            file.flush()
            os.fsync(file.fileno())
        part.replace(path)
    except OSError as problem:
        raise BackupProblem(f"{path} cannot be written: {problem.strerror or problem}.") from problem
    finally:
        part.unlink(missing_ok=True)
    return path.stat().st_size


def restore(
    owner_url: str, serving_url: str, path: Path, replace: bool = False, passphrase: str = ""
) -> dict[str, Any]:
    """Put a backup into an empty database, or with `replace` in place of what is there, and bring it to the schema of
    this program; says what the backup says of itself. The file is read to its end before anything is touched.

    Raises
    ------
    BackupProblem
        Where the file is none, is cut off or too new, its passphrase is another, the database is not empty, or does not
        take it.
    """
    about = _checked(path, passphrase)
    tables = _with_session(owner_url, lambda session: inspect(session.connection()).get_table_names())
    if not replace and tables and ("team" not in tables or _with_session(owner_url, _teams)):
        raise BackupProblem("The database is not empty. Restore into an empty one; --replace loses what it holds.")
    _with_session(owner_url, lambda session: _drop(session, tables))
    account = make_url(owner_url)
    command = [
        program("mariadb", "/usr/bin/mariadb"), *_account(owner_url), "--max-allowed-packet=512M",
        "--default-character-set=utf8mb4", str(account.database),
    ]  # fmt: skip
    taking = subprocess.Popen(command, stdin=subprocess.PIPE, stderr=subprocess.PIPE, env=_secret(owner_url))
    assert taking.stdin is not None
    try:
        with _opened(path, passphrase) as packed:
            for piece in _pieces(packed):
                taking.stdin.write(piece)
    except BrokenPipeError:
        pass  # it says itself why it ended
    said = taking.communicate()[1]
    if taking.returncode:
        words = said.decode(errors="replace").strip()
        raise BackupProblem(f"The database did not accept the backup and is now empty or incomplete: {words}")
    migrate(owner_url, serving_url=serving_url)
    return about


@contextmanager
def _sealing(file: BinaryIO, passphrase: str) -> Iterator[BinaryIO]:
    """The file, or what seals what is written into it."""
    if not passphrase:
        yield file
        return
    with SealedWriter(file, passphrase) as sealed:
        yield cast(BinaryIO, sealed)


@contextmanager
def _opened(path: Path, passphrase: str) -> Iterator[gzip.GzipFile]:
    with path.open("rb") as file:
        inner: Any = file
        if is_sealed(file):
            if not passphrase:
                raise BackupProblem(f"{path} is encrypted: give the passphrase that it was made with.")
            inner = io.BufferedReader(SealedReader(file, passphrase), PIECE)
        with gzip.GzipFile("", "rb", fileobj=inner) as packed:
            yield packed


def _checked(path: Path, passphrase: str) -> dict[str, Any]:
    """What a backup says of itself; its end is there."""
    last, about = b"", dict[str, Any]()
    try:
        with _opened(path, passphrase) as packed:
            first = packed.readline(PIECE)
            if first.startswith(FIRST):
                about = json.loads(first.removeprefix(FIRST))
            for piece in _pieces(packed):
                last = (last + piece)[-len(LAST) :]
    except NotOpened as problem:
        raise BackupProblem(f"{path} cannot be opened: {problem}.") from problem
    except (OSError, EOFError, ValueError, zlib.error) as problem:
        raise BackupProblem(f"{path} is not a backup, or it is cut off: {problem}.") from problem
    if about.get("version") != 1 or last != LAST:
        raise BackupProblem(f"{path} is not a backup of Levelmoor, or it is cut off.")
    if about["schema"] > newest_revision():
        raise BackupProblem(f"{path} was made by a newer Levelmoor (schema {about['schema']}). Update this one first.")
    return about


def _pieces(packed: gzip.GzipFile) -> Iterator[bytes]:
    while piece := packed.read(PIECE):
        yield piece


def _teams(session: Session) -> int:
    return int(session.scalar(text("SELECT COUNT(*) FROM team")) or 0)


def _drop(session: Session, tables: list[str]) -> None:
    session.execute(text("SET foreign_key_checks = 0"))
    for name in tables:
        session.execute(text(f"DROP TABLE `{name}`"))


def _with_session(url: str, work: Any) -> Any:
    engine = create_engine(url)
    try:
        with Session(engine) as session, session.begin():
            return work(session)
    except OperationalError as problem:
        raise BackupProblem(f"The database does not answer: {problem.orig}.") from problem
    finally:
        engine.dispose()


def _account(url: str) -> list[str]:
    """How MariaDB's programs reach the database; `--no-defaults` comes first, as they want it."""
    of = make_url(url)
    reach = [f"--host={of.host}", f"--port={of.port or 3306}"]
    if of.query.get("unix_socket"):
        reach = [f"--socket={of.query['unix_socket']}"]
    return ["--no-defaults", *reach, f"--user={of.username}"]


def _secret(url: str) -> dict[str, str]:
    """The environment with the password in it, which nobody sees in the list of processes."""
    return {**os.environ, "MYSQL_PWD": str(make_url(url).password or "")}
