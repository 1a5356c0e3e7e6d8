"""Files of strangers are read, and evaluations judged, in processes of their own with limits of time and memory.

So none holds the server.

Where none are joined, as on the command line, both are done in the process itself.
"""

from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

from levelmoor.core.evidence.findings import Findings
from levelmoor.core.judge import judge
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.formats.problem import FileProblem
from levelmoor.records.judging import judge_next
from levelmoor.records.worker_line import Line, TooMuch
from levelmoor.records.workforce import JUDGING_S, READING_S

T = TypeVar("T")
LONG_POINTS = 100_000
"""Evaluations with more points than these are long: one process judges them, behind pages, and the others wait for
none of them."""

_readers: Line | None = None
_judges: Line | None = None
_long_judges: Line | None = None


def join(folder: Path) -> None:
    """Have all that done by the workers that another process has begun."""
    global _readers, _judges, _long_judges  # noqa: PLW0603
    found = {path.name: path for path in folder.iterdir()}
    _readers = Line(found["readers"], READING_S) if "readers" in found else None
    _judges = Line(found["judges"], JUDGING_S) if "judges" in found else None
    _long_judges = Line(found["long"], JUDGING_S) if "long" in found else _judges


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
