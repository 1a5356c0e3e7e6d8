"""How every command ends: exit codes, and what a person can put right."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

VERDICT_EXITS = {"pass": 0, "fail": 1, "too_close": 3, "not_shown": 4, "outside": 4}
"""The exit code of a verdict, by its value."""
BAD_INPUT = 2
INSTRUMENT_FAILS = 5
NOTHING_MATCHES = 6
"""No setting of the network matches the load."""


class BadInput(Exception):
    """Said on standard error; the exit code is 2 and nothing goes to standard output."""


@contextmanager
def refusing(path: Path | None = None) -> Iterator[None]:
    """What a person can put right becomes a line that says it."""
    try:
        yield
    except OSError as problem:
        raise BadInput(f"{problem.filename or path}: {problem.strerror or problem}") from None
    except KeyError as problem:
        raise BadInput(f"{path}: {problem.args[0]} is missing") from None
    except ValueError as problem:
        raise BadInput(str(problem)) from None
