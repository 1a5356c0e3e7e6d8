"""The workers of one machine: who reads files, and who judges evaluations."""

import tempfile
from pathlib import Path

from levelmoor.records.workers import Workers

READING_S, JUDGING_S = 20.0, 60.0
"""That a file may take, and an evaluation."""
BEHIND = 10
"""How far readers, and who judges what is long, stand behind pages where both want the processor."""
SHORT_WAITING = 16
"""For each judge of what is not long: a tenth of a second each."""
OF_READERS_BYTES = 50_000_000
"""That a reader may come to hold; nothing that it holds is of use to the next file."""
OF_LONG_BYTES = 100_000_000
"""That who judges what is long may come to hold: what it keeps of 300 sweeps of 2,001 points spares it judging them all
at each change."""

_begun: list[Workers] = []
_folder: tempfile.TemporaryDirectory[str] | None = None


def begin(readers: int, judges: int) -> Path:
    """Have so many processes read files from now on, and so many judge evaluations; of two or more one judges those
    that are long. Gives the folder in which servers `join` them."""
    global _folder  # noqa: PLW0603  one machine, one set of each
    end()
    _folder = tempfile.TemporaryDirectory(prefix="levelmoor-")
    folder = Path(_folder.name)
    if readers:
        _begun.append(Workers(folder / "readers", readers, READING_S, BEHIND, large=OF_READERS_BYTES))
    if judges:
        _begun.append(Workers(folder / "judges", max(judges - 1, 1), JUDGING_S, waiting=SHORT_WAITING))
    if judges > 1:
        _begun.append(Workers(folder / "long", 1, JUDGING_S, BEHIND, large=OF_LONG_BYTES))
    return folder


def end() -> None:
    """End them."""
    global _folder  # noqa: PLW0603
    while _begun:
        _begun.pop().end()
    if _folder is not None:
        _folder.cleanup()
        _folder = None
