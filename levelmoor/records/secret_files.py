"""Secrets of the installation that settings name by a file."""

from pathlib import Path


def secret_in(path: Path, least: int) -> str:
    """The first line of a file.

    Raises
    ------
    ValueError
        Where it cannot be read, or has fewer than `least` characters.
    """
    try:
        found = path.read_text("utf-8").split("\n", 1)[0].strip()
    except (OSError, UnicodeDecodeError) as problem:
        raise ValueError(f"{path} cannot be read: {problem}") from problem
    if len(found) < least:
        raise ValueError(f"the first line of {path} has {len(found)} characters; it needs at least {least}")
    return found
