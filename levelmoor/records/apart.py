"""Files of strangers are read, and evaluations judged, in processes of their own with limits of time and memory.

So none holds the server.

Where none were begun, as on the command line, both are done in the process itself.
"""

import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

from levelmoor.core.evidence.findings import Findings
from levelmoor.core.judge import judge
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.formats.problem import FileProblem
from levelmoor.records.judging import judge_next
from levelmoor.records.workers import Line, TooMuch, Workers

T = TypeVar("T")
READING_S, JUDGING_S = 20.0, 60.0
"""That a file may take, and an evaluation."""
BEHIND = 10
"""How far readers, and who judges what is long, stand behind pages where both want the processor."""
SHORT_WAITING = 16
"""For each judge of what is not long: a tenth of a second each."""
LONG_POINTS = 100_000
"""Evaluations with more points than these are long: one process judges them, behind pages, and the others wait for
none of them."""

_readers: Line | None = None
_judges: Line | None = None
_long_judges: Line | None = None
_begun: list[Workers] = []
_folder: tempfile.TemporaryDirectory[str] | None = None


def begin(readers: int, judges: int) -> Path:
    """Have files read by so many processes from now on, and evaluations judged by so many; of two or more one judges
    those that are long. Gives the folder in which another process may `join` them."""
    global _folder  # noqa: PLW0603  one installation, one set of each
    end()
    _folder = tempfile.TemporaryDirectory(prefix="levelmoor-")
    folder = Path(_folder.name)
    if readers:
        _begun.append(Workers(folder / "readers", readers, READING_S, BEHIND))
    if judges:
        _begun.append(Workers(folder / "judges", max(judges - 1, 1), JUDGING_S, waiting=SHORT_WAITING))
    if judges > 1:
        _begun.append(Workers(folder / "long", 1, JUDGING_S, BEHIND))
    join(folder)
    return folder


def join(folder: Path) -> None:
    """Have all that done by the workers that another process has begun."""
    global _readers, _judges, _long_judges  # noqa: PLW0603
    found = {path.name: path for path in folder.iterdir()}
    _readers = Line(found["readers"], READING_S) if "readers" in found else None
    _judges = Line(found["judges"], JUDGING_S) if "judges" in found else None
    _long_judges = Line(found["long"], JUDGING_S) if "long" in found else _judges


def end() -> None:
    """End the workers; all is done in the process itself again."""
    global _readers, _judges, _long_judges, _folder  # noqa: PLW0603
    _readers = _judges = _long_judges = None
    while _begun:
        _begun.pop().end()
    if _folder is not None:
        _folder.cleanup()
        _folder = None


def read_apart(read: Callable[..., T], *args: Any, **kwargs: Any) -> T:
    """What a reader of files makes of one, read apart where there are readers.

    Raises
    ------
    FileProblem
        As the reader raises it, and where the file takes too much time or memory, or no reader is free for long.
    """
    if _readers is None:
        return read(*args, **kwargs)
    try:
        return _readers.do(read, *args, **kwargs)
    except TooMuch as much:
        name = next((a for a in args if isinstance(a, str) and "." in a), "the file")
        if str(much) == "work":
            raise FileProblem(name, 1, 1, "other files are being read", "send it again in a minute") from None
        raise FileProblem(name, 1, 1, f"reading it takes too much {much}", "fewer points; split the file") from None


def judge_apart(evaluation: Evaluation) -> Findings:
    """The findings of an evaluation, judged apart where there are judges.

    Raises
    ------
    TooMuch
        Where it takes too much time or memory, or no judge is free for long.
    """
    return judge(evaluation) if _judges is None else work_apart(evaluation, judge_next, evaluation)


def work_apart(evaluation: Evaluation, work: Callable[..., T], *args: Any) -> T:
    """Work on an evaluation, done by the judges where there are any.

    Raises
    ------
    TooMuch
        Where it takes too much time or memory, or no judge is free for long.
    """
    judges = _long_judges if is_long(evaluation) else _judges
    return judges.do(work, *args) if judges is not None else work(*args)


def judges_work() -> bool:
    """Whether evaluations are judged in processes of their own."""
    return _judges is not None


def is_long(evaluation: Evaluation) -> bool:
    """Whether judging it may take many seconds."""
    return sum(e.sweep.points for e in evaluation.sweeps) > LONG_POINTS
