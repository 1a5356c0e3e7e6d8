"""One file against one line of claims, for somebody without an account: judged by the same rules, and nothing kept."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from levelmoor.core.claims.claim_line import UnderstoodLine
from levelmoor.core.evidence.findings import ClaimFinding
from levelmoor.core.judge import judge
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Instrument
from levelmoor.core.model.evaluation import Calibration, Evaluation, Evidence, Product, Sample, Setup
from levelmoor.core.model.quantities import REFLECTION
from levelmoor.core.plan.surer import what_would_make_it_sure
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.figures.curves import Drawn
from levelmoor.figures.landscape import landscape, read_off_data, view_around, waterline_of
from levelmoor.figures.overlay import overlay
from levelmoor.formats.sweepfile import read_sweep_file

SIZES = (("wide", 760, 330), ("narrow", 360, 300))
MOST_CLAIMS = 4


class ClaimProblem(ValueError):
    """The line of claims cannot be judged by a sweep as it stands."""


@dataclass(frozen=True)
class TriedClaim:
    """One claim with its verdict, and the figure that shows it in both sizes; `points` is for reading off."""

    words: str
    verdict: Verdict
    reason: str
    wide: str = ""
    narrow: str = ""
    points: str = ""
    outside: str = ""


@dataclass(frozen=True)
class Tried:
    claims: tuple[TriedClaim, ...]
    surer: tuple[str, ...]
    file_name: str
    read_as: str
    assumed: tuple[str, ...] = ()


def claims_to_try(found: UnderstoodLine) -> tuple[Claim, ...]:
    """The claims of a line, as many as are shown at once.

    Raises
    ------
    ClaimProblem
        Where the line is not understood, asks something, or is about something that no sweep of reflection shows.
    """
    if found.leftover:
        raise ClaimProblem(f'"{found.leftover}" in the claim is not understood; leave it out')
    if found.problem or found.questions:
        raise ClaimProblem(found.problem or found.questions[0].words)
    claims = tuple(c for c in found.claims if c.checkable and c.quantity.spec.shown_by in REFLECTION)
    if not claims:
        raise ClaimProblem("a sweep alone does not show this claim; try one about SWR, such as SWR < 1.5 2m")
    return tuple(replace(c, id=str(n)) for n, c in enumerate(claims[:MOST_CLAIMS]))


@dataclass(frozen=True, eq=False)
class Published:
    """A claim of a report with the sweep that decided it there, and the figures of the instrument that swept."""

    claim: Claim
    evidence: Evidence
    figures: Residuals


def try_out(
    name: str,
    data: bytes,
    claims: Sequence[Claim],
    calibration: Calibration,
    region: int = 1,
    beside: Published | None = None,
) -> Tried:
    """Judge a file against claims; where a published sweep is given beside it, both are drawn over one another.

    Raises
    ------
    FileProblem
        Where the file cannot be read, or asks which column is which.
    """
    file = read_sweep_file(name, data)
    mine = Evidence("1", name, "1", "1", "1", calibration, file.sweep, name)
    evaluation = Evaluation(
        "", Product(""), region, samples=(Sample("1", "Yours"),), claims=tuple(claims), setups=(Setup("1", "Yours"),),
        instruments=(Instrument("1", "Your analyzer"),), sweeps=(mine,),
    )  # fmt: skip
    findings = judge(evaluation)
    tried = []
    for claim in claims:
        found = next(f for f in findings.claims if f.claim_id == claim.id)
        outside = next((w.finding.outside for w in found.windows if w.finding and w.finding.outside), "")
        wide, narrow = (_figure(evaluation, claim, found, beside, size) for size in SIZES)
        points = "" if beside else read_off_data(file.sweep, *_view(file.sweep, claim))
        tried.append(TriedClaim(claim.wording, found.verdict, found.reason, wide, narrow, points, outside))
    return Tried(tuple(tried), what_would_make_it_sure(evaluation, findings), name, file.format, tuple(file.guessed))


def _view(sweep: Sweep, claim: Claim) -> tuple[float, float]:
    """The claim's windows as far as the sweep reaches them, with room on both sides."""
    return view_around(sweep, [w for w in claim.windows if sweep.cut(w.low_hz, w.high_hz) is not None])


def _figure(
    evaluation: Evaluation, claim: Claim, found: ClaimFinding, beside: Published | None, size: tuple[str, int, int]
) -> str:
    ident, width, height = size
    sweep, figures = evaluation.sweeps[0].sweep, evaluation.instruments[0].figures
    analysis = analyse_sweep(sweep, claim.z0_ohm)
    label = f"SWR of {evaluation.sweeps[0].name} against {claim.wording}"
    view = _view(sweep, claim)
    if beside is None:
        levels = [waterline_of(w.finding, evaluation.rule) for w in found.windows if w.finding is not None]
        return landscape(
            analysis, levels, figures, view, label=label, width=width, height=height, ident=f"tried-{claim.id}-{ident}"
        )
    theirs = analyse_sweep(beside.evidence.sweep, claim.z0_ohm)
    both = [Drawn("A", "the report's sweep", 0, theirs, beside.figures), Drawn("B", "yours", 1, analysis, figures)]
    return overlay(both, claim.windows, claim.limit_swr or 2.0, view, label=label, width=width, height=height)
