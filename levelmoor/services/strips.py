"""The tiny skylines of what the bands are good for, each drawn once as long as its curve and its finding stand."""

from hashlib import blake2b

from levelmoor.core.evidence.findings import Findings, UsabilityFinding
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.usability import Usability
from levelmoor.figures.strip import band_strip, curve_of
from levelmoor.records.kept import Kept

Strip = tuple[UsabilityFinding, str]
_kept: Kept[str] = Kept(1024)


def strips_of(evaluation: Evaluation, findings: Findings, width: float = 104, height: float = 44) -> list[Strip]:
    """Each band that the evidence shows something of, with its skyline."""
    shown = [use for use in findings.usability if use.state is not Usability.NOT_SHOWN]
    return [(use, _strip(evaluation, use, width, height)) for use in shown]


def _strip(evaluation: Evaluation, use: UsabilityFinding, width: float, height: float) -> str:
    sweep = curve_of(evaluation, use)
    curve = blake2b(sweep.frequency_hz.tobytes() + sweep.gamma.tobytes()).digest()
    key = (use, evaluation.profile.limit_swr, curve, width, height)
    return _kept.get(key, lambda: band_strip(evaluation, use, width, height))
