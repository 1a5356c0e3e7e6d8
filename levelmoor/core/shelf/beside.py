"""Reports beside each other on one band: curves, widths, which differences mean anything, and what does not compare.

References
----------
.. [1] Widths at a level of SWR: see `core/rf/dips.py`.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations

from levelmoor.core.evidence.findings import ClaimFinding, Findings, WindowEvidence
from levelmoor.core.evidence.rests_on import judged_sweep
from levelmoor.core.metrology.agreement import agreement
from levelmoor.core.metrology.decision import RULE_WORDS, Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import PLANE_WORDS, Evaluation, Evidence, Sample, Setup
from levelmoor.core.model.quantities import ShownBy
from levelmoor.core.model.state import SETUP_ROLE_WORDS
from levelmoor.core.rf.bandplan import band_plan
from levelmoor.core.rf.dips import Width, dip_near_window, width_around
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.sweep_analysis import analyse_sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.shelf.entry import band_of
from levelmoor.core.words.figures import format_mhz

FEWEST, MOST = 2, 6
WIDTH_AT = 2.0


@dataclass(frozen=True)
class Side:
    """One report: what it is called here, and what it holds."""

    name: str
    evaluation: Evaluation
    findings: Findings


@dataclass(frozen=True)
class SideCurve:
    """What a report has on a band: the sweep that decided for its first unit that counts."""

    side: Side
    claim: Claim
    sample: Sample
    setup: Setup
    evidence: Evidence
    sweep: Sweep
    figures: Residuals
    worst_swr: float
    verdict: Verdict
    width: Width | None


@dataclass(frozen=True)
class Difference:
    """Two reports on the band: whether they differ by more than both uncertainties, None where they do not compare."""

    first: str
    second: str
    means: bool | None
    words: str


def bands_of(sides: Sequence[Side]) -> list[str]:
    """The bands on which at least two of the reports have a curve, those that most have first."""
    count: dict[str, int] = {}
    for side in sides:
        for band in dict.fromkeys(band_of(w.window, side.evaluation.region) for _, w in _levels(side) if w.window):
            count[band] = count.get(band, 0) + 1
    return sorted((b for b, n in count.items() if b and n >= FEWEST), key=lambda b: (-count[b], b))


def curve_on(side: Side, band: str) -> SideCurve | None:
    """What a report has on a band; None where no sweep of it decided there."""
    for finding, part in _levels(side):
        if part.window is None or band_of(part.window, side.evaluation.region) != band:
            continue
        if found := _curve(side, finding, part):
            return found
    return None


def _levels(side: Side) -> Iterator[tuple[ClaimFinding, WindowEvidence]]:
    claims = {c.id: c for c in side.evaluation.claims}
    for finding in side.findings.claims:
        if finding.counted and claims[finding.claim_id].quantity.spec.shown_by is ShownBy.LEVEL:
            yield from ((finding, part) for part in finding.windows)


def _curve(side: Side, finding: ClaimFinding, part: WindowEvidence) -> SideCurve | None:
    of, found = side.evaluation, part.finding
    evidence = next((e for e in of.sweeps if e.id == part.sweep_id), None)
    sweep = judged_sweep(of, part)
    if evidence is None or sweep is None or found is None or found.worst is None:
        return None
    claim = next(c for c in of.claims if c.id == finding.claim_id)
    analysis = analyse_sweep(sweep, claim.z0_ohm)
    dip = dip_near_window(analysis.dips, found.window.low_hz, found.window.high_hz)
    return SideCurve(
        side,
        claim,
        next(s for s in of.samples if s.id == finding.sample_id),
        next(s for s in of.setups if s.id == evidence.setup_id),
        evidence,
        analysis.sweep,
        next(i for i in of.instruments if i.id == evidence.instrument_id).figures,
        found.worst.swr,
        part.verdict,
        width_around(analysis.sweep, dip, float(gamma_from_swr(WIDTH_AT))) if dip else None,
    )


def differences(curves: Sequence[SideCurve], band: str) -> list[Difference]:
    """Every two of the reports on the band."""
    return [_difference(one, other, band) for one, other in combinations(curves, 2)]


def _difference(one: SideCurve, other: SideCurve, band: str) -> Difference:
    names = one.side.name, other.side.name
    if reasons := list(_not_alike(one, other)):
        return Difference(*names, None, f"They do not compare: {'; '.join(reasons)}.")
    window = window_of(band, one)
    found = agreement(one.sweep, one.figures, other.sweep, other.figures, window)
    if found is None:
        return Difference(*names, None, "They do not compare: they have no frequency in common there.")
    if found.agree:
        return Difference(*names, False, "The difference is within both uncertainties: it means nothing.")
    share = 100 * (1 - found.share)
    words = f"They differ by more than both uncertainties over {share:.0f} % of the band"
    return Difference(*names, True, f"{words}, most at {format_mhz(round(found.worst_hz, -3))} MHz.")


def window_of(band: str, curve: SideCurve) -> Window:
    """The band as a window, by the plan of a report's region; the whole sweep where the plan does not have it."""
    known = next((b for b in band_plan(curve.side.evaluation.region).bands if b.name == band), None)
    return known.window if known else Window(curve.sweep.low_hz, curve.sweep.high_hz)


def _not_alike(one: SideCurve, other: SideCurve) -> Iterator[str]:
    """Why two curves say different things whatever they show."""
    if one.setup.plane is not other.setup.plane:
        yield f"one is at {PLANE_WORDS[one.setup.plane]}, the other at {PLANE_WORDS[other.setup.plane]}"
    if one.setup.role is not other.setup.role:
        roles = SETUP_ROLE_WORDS[one.setup.role], SETUP_ROLE_WORDS[other.setup.role]
        yield f"one was measured {roles[0].lower()}, the other {roles[1].lower()}"
    if one.setup.tuner_in_line is not other.setup.tuner_in_line:
        yield "one has a tuner in line"
    if one.claim.z0_ohm != other.claim.z0_ohm:
        yield f"one is referred to {one.claim.z0_ohm:g} Ω, the other to {other.claim.z0_ohm:g} Ω"


def unlike_rules(curves: Sequence[SideCurve]) -> str:
    """What is to be said where the verdicts were reached by different rules; nothing where by one."""
    rules = {c.side.evaluation.rule: c.side.name for c in curves}
    if len(rules) < 2:
        return ""
    each = "; ".join(f"{name}: {RULE_WORDS[rule].partition(':')[0].lower()}" for rule, name in rules.items())
    return f"The verdicts do not compare, because the reports decide by different rules ({each}). The curves do."
