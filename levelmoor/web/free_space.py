"""Nothing is kept any more while the disk still has room: a database without any breaks off, and may not come back."""

import os
import shutil

from flask import Flask, request

FOLDER = "LEVELMOOR_DATA_FOLDER"
"""A folder on the disk that the database writes to, where that is a disk of this machine."""
LEAST_BYTES = 200_000_000
"""What the database may need to end what it has begun: a large evaluation, its figures, its log."""
STILL_DONE = ("accounts", "second_step", "outside")
"""Signing in and out: who cannot, cannot read either, nor see to it."""


class NoRoom(Exception):
    """The disk is nearly full."""


def folder() -> str:
    """Where free space is looked for; empty where it is not known."""
    return os.environ.get(FOLDER, "")


def install(app: Flask) -> None:
    """Raises FileNotFoundError where the setting names no folder."""
    if folder():
        shutil.disk_usage(folder())
    app.before_request(_refuse)


def _refuse() -> None:
    if request.method in ("GET", "HEAD", "OPTIONS") or request.blueprint in STILL_DONE or not folder():
        return
    if shutil.disk_usage(folder()).free < LEAST_BYTES:
        raise NoRoom
