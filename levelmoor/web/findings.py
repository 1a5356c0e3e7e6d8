"""Findings kept in memory: judging is pure, so a case in which nothing has changed is judged once."""

from levelmoor.core.evaluation import Evaluation
from levelmoor.core.judge import Findings, judge

MOST_KEPT = 128
_kept: dict[object, Findings] = {}


def findings_of(evaluation: Evaluation) -> Findings:
    """The findings of an evaluation, judged anew only where something in it is new."""
    key = _key(evaluation)
    found = _kept.pop(key, None) or judge(evaluation)
    _kept[key] = found  # the latest last, so that the first is the one to go
    while len(_kept) > MOST_KEPT:
        _kept.pop(next(iter(_kept)), None)
    return found


def _key(evaluation: Evaluation) -> object:
    """Everything that findings rest on; a sweep stands for its raw file and how that was read."""
    sweeps = tuple(tuple(v for k, v in vars(e).items() if k != "sweep") for e in evaluation.sweeps)
    return tuple(v for k, v in vars(evaluation).items() if k != "sweeps"), sweeps
