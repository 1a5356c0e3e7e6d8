"""What judging finds: verdicts with their reasons, and the evidence that each of them rests on."""

from collections import Counter
from dataclasses import dataclass, field
from enum import StrEnum

from levelmoor.core.emissions.emission_findings import EmissionsFinding
from levelmoor.core.evidence.pieces import AdjustedQuestion
from levelmoor.core.evidence.radio_use import RadioUse
from levelmoor.core.metrology.decision import VERDICT_WORDS, Verdict, worst_verdict
from levelmoor.core.model.usability import Usability
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.window_verdict import WindowFinding
from levelmoor.core.words.counting import counted


class Part(StrEnum):
    """The part that a piece of evidence has in a verdict."""

    DECIDES = "decides"
    HEARD = "heard"
    CONTRADICTS = "contradicts"
    NOT_SHOWN = "does not show it"
    SET_ASIDE = "set aside"
    BESIDE = "beside"


PART_WORDS = {
    Part.DECIDES: "Decides",
    Part.HEARD: "Also counts",
    Part.CONTRADICTS: "Contradicts",
    Part.NOT_SHOWN: "Does not count",
    Part.SET_ASIDE: "Left out of the verdict",
    Part.BESIDE: "For comparison",
}


@dataclass(frozen=True)
class PieceFinding:
    """One piece of evidence in one window: of which state, what it says by itself, and its part in the verdict."""

    sweep_ids: tuple[str, ...]
    setup_id: str
    setting_id: str
    round: int
    instrument_id: str
    part: Part
    verdict: Verdict
    worst_swr: float | None
    words: str
    name: str = ""


@dataclass(frozen=True)
class WindowEvidence:
    """The verdict on one window of a claim and the sweep it rests on, None where there is no sweep. Of a claim that
    names no window there is one without.

    `sweep_id` is the latest of the repeats that decide; the state is that of the deciding evidence. `pieces` are all
    that were looked at, `beside` what other setups would have shown, in sentences.
    """

    finding: WindowFinding | None
    window: Window | None
    sweep_id: str | None
    verdict: Verdict
    reason: str
    gates: tuple[str, ...] = ()
    """The gates of the bench that the evidence passed."""
    setup_id: str = ""
    setting_id: str = ""
    round: int = 0
    instrument_id: str = ""
    pieces: tuple[PieceFinding, ...] = ()
    beside: tuple[str, ...] = ()
    figure: str = ""
    """The figure that decides where it is none of SWR."""
    margin: float | None = None
    """How far it stands within its limit, in its own unit; below zero beyond it."""
    curve: Sweep | None = field(default=None, compare=False)
    """What was judged, where it was moved to another plane: it is drawn as it was then."""

    @property
    def name(self) -> str:
        """The window's name; a claim that names no window has one without."""
        return self.window.name if self.window else ""


@dataclass(frozen=True)
class ClaimFinding:
    """The verdict on a claim for a sample; `counted` is false where the sample does not speak of the model."""

    claim_id: str
    sample_id: str
    verdict: Verdict
    reason: str
    windows: tuple[WindowEvidence, ...] = ()
    counted: bool = True


@dataclass(frozen=True)
class UsabilityFinding:
    sample_id: str
    band: str
    low_hz: float
    high_hz: float
    state: Usability
    share: float | None
    worst_swr: float | None
    sweep_id: str
    sentence: str
    curve: Sweep | None = field(default=None, compare=False)
    """What was looked at, where it is not the one sweep as it came: moved to its plane, or the mean of repeats."""


@dataclass(frozen=True)
class ProfileUse:
    """A band of a sample by one of the usability profiles, beside the one that is chosen."""

    sample_id: str
    band: str
    profile: str
    limit_swr: float
    state: Usability
    share: float | None


@dataclass(frozen=True)
class Findings:
    claims: tuple[ClaimFinding, ...]
    usability: tuple[UsabilityFinding, ...]
    warnings: tuple[str, ...]
    emissions: tuple[EmissionsFinding, ...] = ()
    questions: tuple[AdjustedQuestion, ...] = ()
    emission_problems: tuple[tuple[float, str], ...] = ()
    """Captures that show nothing: the carrier in Hz, and why."""
    checks: tuple[tuple[str, str], ...] = ()
    """The checks of the bench: what was checked and when, and what it showed."""
    paths: tuple[tuple[str, str], ...] = ()
    """The path of each capture by its id, in words."""
    profiles: tuple[ProfileUse, ...] = ()
    """Every band that is shown by every profile."""
    radios: tuple[RadioUse, ...] = ()
    """What the team's radios make of each band that is shown."""

    @property
    def summary(self) -> dict[Verdict, int]:
        """How many claim verdicts that count there are of each kind, in the order of the verdicts."""
        counts = Counter(f.verdict for f in self.claims if f.counted)
        return {v: counts[v] for v in Verdict if counts[v]}


def headline(findings: Findings) -> str:
    """The whole in a few words: `2 Pass, 1 Fail`, or that nothing is judged yet."""
    parts = [f"{count} {VERDICT_WORDS[verdict]}" for verdict, count in findings.summary.items()]
    if not findings.claims and findings.emissions:
        worst = worst_verdict(e.report.verdict for e in findings.emissions)
        parts = [f"Emissions {VERDICT_WORDS[worst]}"]
    aside = sum(not f.counted for f in findings.claims)
    if not parts and aside:
        return f"{counted(aside, 'verdict')}, none counted"
    if not findings.claims and findings.usability:
        return "Measurements alone"
    return ", ".join(parts) or "Nothing judged yet"
