"""Findings kept in memory: judging is pure, so a case in which nothing has changed is judged once."""

from collections.abc import Hashable

from levelmoor.core.evidence.findings import Findings
from levelmoor.core.judge import judge
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.records.kept import Kept

_kept: Kept[Findings] = Kept(128)


def findings_of(evaluation: Evaluation) -> Findings:
    """The findings of an evaluation, judged anew only where something in it is new."""
    return _kept.get(key_of(evaluation), lambda: judge(evaluation))


def key_of(evaluation: Evaluation) -> Hashable:
    """Everything that findings rest on; sweeps and traces stand for their raw files and how those were read."""
    whole = ("sweeps", "checks", "wishes", "pictures", "captures")
    sweeps = tuple(tuple(v for k, v in vars(e).items() if k != "sweep") for e in evaluation.sweeps)
    checks = tuple(tuple(v for k, v in vars(c).items() if k not in ("sweep", "traces")) for c in evaluation.checks)
    captures = tuple(tuple(v for k, v in vars(c).items() if k != "trace") for c in evaluation.captures)
    return tuple(v for k, v in vars(evaluation).items() if k not in whole), sweeps, checks, captures
