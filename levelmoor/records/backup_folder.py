"""Backups one after the other in a folder: a name by its moment, the newest kept, the next one due after a day."""

import os
import re
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

from levelmoor.records.backup import BackupProblem, back_up
from levelmoor.records.database import connect
from levelmoor.records.operating import note_backup
from levelmoor.records.secret_files import secret_in

EVERY = timedelta(days=1)
SEALED_BY = "LEVELMOOR_BACKUP_PASSPHRASE_FILE"
SHORTEST = 12
"""Letters of a passphrase: whoever has the file can try as long as they like."""
NAME = re.compile(r"levelmoor-\d{8}-\d{6}\.gz")


def passphrase_of_installation() -> str:
    """What backups are sealed with: the first line of the file that LEVELMOOR_BACKUP_PASSPHRASE_FILE names; empty
    without one.

    Raises
    ------
    BackupProblem
        Where that file cannot be read or holds too little.
    """
    named = os.environ.get(SEALED_BY, "")
    return read_passphrase(Path(named)) if named else ""


def read_passphrase(path: Path) -> str:
    """The first line of a file.

    Raises
    ------
    BackupProblem
        Where it cannot be read or is too short.
    """
    try:
        return secret_in(path, SHORTEST)
    except ValueError as problem:
        raise BackupProblem(f"There is no passphrase: {problem}.") from problem


def backups_in(folder: Path) -> list[Path]:
    """Those that were written whole, the newest last."""
    return sorted(p for p in folder.glob("levelmoor-*.gz") if NAME.fullmatch(p.name)) if folder.is_dir() else []


def is_due(folder: Path, at: float | None = None) -> bool:
    """Whether the newest is older than a day, or there is none."""
    newest = backups_in(folder)[-1:]
    return not newest or (time.time() if at is None else at) - newest[0].stat().st_mtime > EVERY.total_seconds()


def add_backup(owner_url: str, folder: Path, keep: int, passphrase: str = "") -> Path:
    """Write another one, then remove the oldest beyond so many; those that are there stay until it is whole.

    Raises
    ------
    BackupProblem
        Where the database or the disk does not give it.
    """
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / f"levelmoor-{datetime.now(UTC):%Y%m%d-%H%M%S}.gz"
    size = back_up(owner_url, path, passphrase)
    note(path, size)
    for old in backups_in(folder)[: -max(keep, 1)]:
        old.unlink()
    return path


def note(path: Path, size: int) -> None:
    """Have the operator's page know of a backup."""
    maker = connect()
    with maker.begin() as session:
        note_backup(session, path.name, size)
    maker.kw["bind"].dispose()
