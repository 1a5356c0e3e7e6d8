"""Readers of sweeps and headings of tables that plug-ins bring: who knows a file or a heading says what it is, before
anything here looks at it."""

from collections.abc import Mapping
from functools import lru_cache
from typing import Protocol

from levelmoor.core.plugins import DIALECTS, READERS, plugged
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.words.bounds import POINTS
from levelmoor.formats.problem import FileProblem


class Reader(Protocol):
    """What a plug-in brings in the group `levelmoor.readers`."""

    def knows(self, name: str, data: bytes) -> bool:
        """Whether it is a file of its own."""

    def read(self, name: str, data: bytes) -> Sweep:
        """The sweep. Raises FileProblem with the place, or ValueError in words."""


@lru_cache
def _readers() -> dict[str, Reader]:
    return plugged(READERS, _checked)


def _checked(reader: Reader) -> Reader:
    if not (callable(reader.knows) and callable(reader.read)):
        raise ValueError("it has no `knows` and `read`")
    return reader


def read_by_plugin(name: str, data: bytes) -> tuple[str, Sweep] | None:
    """The name of the plug-in that knows a file and the sweep that it reads; None where none does.

    Raises
    ------
    FileProblem
        Where the plug-in cannot read it.
    """
    for plugin, reader in _readers().items():
        try:
            if not reader.knows(name, data):
                continue
            sweep = reader.read(name, data)
            if not isinstance(sweep, Sweep) or sweep.points > POINTS:
                raise ValueError(f"a sweep of at most {POINTS} points was expected")
        except FileProblem:
            raise
        except Exception as problem:  # whatever a stranger's code does with a stranger's file
            raise FileProblem(
                name, 1, 1, f"the plug-in {plugin} cannot read it: {problem}", "choose another file"
            ) from None
        return plugin, sweep
    return None


@lru_cache
def plugged_headings(known: frozenset[str]) -> Mapping[str, str]:
    """What headings stand for in the dialects that plug-ins bring, by heading; `known` is what they may stand for."""

    def dialect(brought: Mapping[str, str]) -> dict[str, str]:
        if wrong := {str(r) for r in brought.values()} - known:
            may = ", ".join(sorted(known))
            raise ValueError(f"a heading stands for {', '.join(sorted(wrong))}; allowed are {may}")
        return {" ".join(heading.lower().split()): role for heading, role in brought.items()}

    every = plugged(DIALECTS, dialect)
    return {heading: role for one in every.values() for heading, role in one.items()}
