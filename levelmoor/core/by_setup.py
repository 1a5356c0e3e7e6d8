"""What each setup as supplied gives by itself, where a claim was measured in several: the worst of them decides."""

from dataclasses import dataclass, replace

from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.findings import ClaimFinding
from levelmoor.core.judge import as_judged, judge_claim
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
    evaluation = as_judged(evaluation)
    measured = {getattr(row, "setup_id", "") for name, row in rows_of(evaluation) if name != "claims"}
    supplied = [s for s in evaluation.setups if s.role is Role.AS_SUPPLIED and not s.set_aside and s.id in measured]
    if len(supplied) < 2:
        return ()
    dossier, found = Dossier(evaluation), []
    for claim in evaluation.claims:
        for sample in evaluation.samples:
            alone = ((s, judge_claim(replace(evaluation, setups=(s,)), dossier, claim, sample)) for s in supplied)
            results = tuple(_result(of, setup) for setup, of in alone if _says_something(of, setup))
            if len(results) > 1:
                found.append(BySetup(claim.id, sample.id, results))
    return tuple(found)


def _says_something(of: ClaimFinding, setup: Setup) -> bool:
    return any(w.setup_id == setup.id and w.pieces for w in of.windows)


def _result(of: ClaimFinding, setup: Setup) -> SetupResult:
    read = (w.finding.worst.swr for w in of.windows if w.finding and w.finding.worst)
    return SetupResult(setup.id, of.verdict, max(read, default=None))
