"""Findings kept in memory: judging is pure, so a case in which nothing has changed is judged once."""

from levelmoor.core.evidence.findings import Findings
from levelmoor.core.judge import judge
from levelmoor.core.model.evaluation import Evaluation

MOST_KEPT = 128
_kept: dict[object, Findings] = {}


def findings_of(evaluation: Evaluation) -> Findings:
    """The findings of an evaluation, judged anew only where something in it is new."""
    key = key_of(evaluation)
    found = _kept.pop(key, None) or judge(evaluation)
    _kept[key] = found  # the latest last, so that the first is the one to go
    while len(_kept) > MOST_KEPT:
        _kept.pop(next(iter(_kept)), None)
    return found


def key_of(evaluation: Evaluation) -> object:
    """Everything that findings rest on; sweeps and traces stand for their raw files and how those were read."""
    whole = ("sweeps", "checks", "wishes", "pictures", "captures")
    sweeps = tuple(tuple(v for k, v in vars(e).items() if k != "sweep") for e in evaluation.sweeps)
    checks = tuple(tuple(v for k, v in vars(c).items() if k not in ("sweep", "traces")) for c in evaluation.checks)
    captures = tuple(tuple(v for k, v in vars(c).items() if k != "trace") for c in evaluation.captures)
    return tuple(v for k, v in vars(evaluation).items() if k not in whole), sweeps, checks, captures
