"""The command line's backup and restore."""

import argparse
from pathlib import Path
from typing import Any

from levelmoor.cli.exits import BadInput

KEPT = 14


def add_commands(commands: Any) -> None:
    """The parsers of these commands."""
    backup = commands.add_parser("backup", help="write the whole database into a file, while it is in use")
    backup.add_argument("file", type=Path, help="a new file; or a folder, which gets another one with its date")
    backup.add_argument("--keep", type=int, default=KEPT, help=f"how many stay in a folder (default {KEPT})")
    backup.set_defaults(run=_backup)
    restore = commands.add_parser("restore", help="put a backup into an empty database; stop the server first")
    restore.add_argument("file", type=Path)
    restore.add_argument("--replace", action="store_true", help="lose what the database holds now")
    restore.set_defaults(run=_restore)


def _backup(options: argparse.Namespace) -> int:
    from levelmoor.records.backup import BackupProblem, back_up
    from levelmoor.records.backup_folder import add_backup, note
    from levelmoor.records.database import owner_url

    path = options.file
    try:
        if path.is_dir():
            path = add_backup(owner_url(), path, options.keep)
        else:
            note(path, back_up(owner_url(), path))
    except BackupProblem as problem:
        raise BadInput(str(problem)) from None
    size = path.stat().st_size / 1e6
    print(f"{path}: {size:.1f} MB. It holds passwords' digests and everything measured: keep it safe.")
    return 0


def _restore(options: argparse.Namespace) -> int:
    from levelmoor.records.backup import BackupProblem, restore
    from levelmoor.records.database import database_url, owner_url

    try:
        about = restore(owner_url(), database_url(), options.file, options.replace)
    except BackupProblem as problem:
        raise BadInput(str(problem)) from None
    print(f"Restored as it was on {about['made'][:16].replace('T', ' ')} UTC.")
    return 0
