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
    _passphrase_option(backup, "encrypt it with the passphrase in the first line of this file")
    backup.set_defaults(run=_backup)
    restore = commands.add_parser("restore", help="put a backup into an empty database; stop the server first")
    restore.add_argument("file", type=Path)
    restore.add_argument("--replace", action="store_true", help="lose what the database holds now")
    _passphrase_option(restore, "the file with the passphrase of an encrypted backup")
    restore.set_defaults(run=_restore)


def _passphrase_option(command: argparse.ArgumentParser, words: str) -> None:
    command.add_argument("--passphrase-file", type=Path, metavar="FILE", help=words)


def _passphrase(options: argparse.Namespace) -> str:
    from levelmoor.records.backup_folder import passphrase_of_installation, read_passphrase

    return read_passphrase(options.passphrase_file) if options.passphrase_file else passphrase_of_installation()


def _backup(options: argparse.Namespace) -> int:
    from levelmoor.records.backup import BackupProblem, back_up
    from levelmoor.records.backup_folder import add_backup, note
    from levelmoor.records.database import owner_url

    path = options.file
    try:
        passphrase = _passphrase(options)
        if path.is_dir():
            path = add_backup(owner_url(), path, options.keep, passphrase)
        else:
            note(path, back_up(owner_url(), path, passphrase))
    except BackupProblem as problem:
        raise BadInput(str(problem)) from None
    size = path.stat().st_size / 1e6
    safe = "It is encrypted: keep its passphrase in another place, because nothing else opens it."
    if not passphrase:
        safe = "It holds passwords' digests and everything measured: keep it safe."
    print(f"{path}: {size:.1f} MB. {safe}")
    return 0


def _restore(options: argparse.Namespace) -> int:
    from levelmoor.records.backup import BackupProblem, restore
    from levelmoor.records.database import database_url, owner_url

    try:
        about = restore(owner_url(), database_url(), options.file, options.replace, _passphrase(options))
    except BackupProblem as problem:
        raise BadInput(str(problem)) from None
    print(f"Restored as it was on {about['made'][:16].replace('T', ' ')} UTC.")
    return 0
