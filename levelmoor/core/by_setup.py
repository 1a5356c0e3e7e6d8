"""What each setup as supplied gives by itself, where a claim was measured in several: the worst of them decides."""

from dataclasses import dataclass, replace
from typing import Any

from levelmoor.core.evidence.findings import ClaimFinding
from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.evaluation import Evaluation, Setup
from levelmoor.core.model.relied_on import rows_of
from levelmoor.core.model.state import Role


@dataclass(frozen=True)
class SetupResult:
    """What one setup gives on a claim of a sample. `figure` is the worst SWR, None where none was read."""

    setup_id: str
    verdict: Verdict
    figure: float | None


@dataclass(frozen=True)
class BySetup:
    """The results of one claim on one sample, in the order of the setups."""

    claim_id: str
    sample_id: str
    results: tuple[SetupResult, ...]


def by_setup(evaluation: Evaluation) -> tuple[BySetup, ...]:
    """The claims that two or more setups as supplied say something about, with what each of these gives by itself."""
    supplied = [s for s in evaluation.setups if s.role is Role.AS_SUPPLIED and not s.set_aside]
    measured = {getattr(row, "setup_id", "") for name, row in rows_of(evaluation) if name != "claims"}
    supplied = [s for s in supplied if s.id in measured]
    if len(supplied) < 2:
        return ()
    found: dict[tuple[str, str], list[SetupResult]] = {}
    for setup in supplied:
        for of in judge(_alone(evaluation, setup)).claims:
            if any(w.setup_id == setup.id and w.pieces for w in of.windows):
                found.setdefault((of.claim_id, of.sample_id), []).append(_result(of, setup))
    return tuple(BySetup(*of, tuple(results)) for of, results in found.items() if len(results) > 1)


def _alone(evaluation: Evaluation, setup: Setup) -> Evaluation:
    """The evaluation with what was measured in one setup, and nothing else."""
    of_a_setup = {name for name, row in rows_of(evaluation) if hasattr(row, "setup_id")} - {"claims"}
    kept: dict[str, Any] = {
        name: tuple(row for row in getattr(evaluation, name) if row.setup_id == setup.id) for name in of_a_setup
    }
    return replace(evaluation, **kept)


def _result(of: ClaimFinding, setup: Setup) -> SetupResult:
    read = (w.finding.worst.swr for w in of.windows if w.finding and w.finding.worst)
    return SetupResult(setup.id, of.verdict, max(read, default=None))
