"""What evidence comes to in a window: a ruling, the evidence as it stands in the findings, and the worst of several."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from levelmoor.core.evidence.findings import Part, PieceFinding, WindowEvidence
from levelmoor.core.evidence.kinds import Judged
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.said import said, together

STANDS_FIRST = (Verdict.FAIL, Verdict.TOO_CLOSE, Verdict.NOT_SHOWN, Verdict.OUTSIDE, Verdict.PASS)
"""Of several that must all hold the first of these stands: what a rule has no figure for is not passed either."""
NAMED_WINDOWS = 3


@dataclass(frozen=True)
class Ruling:
    """What a setup, a setting or a window comes to; `open_` where the evidence contradicts itself."""

    evidence: WindowEvidence
    open_: bool = False

    @property
    def verdict(self) -> Verdict:
        return self.evidence.verdict

    @property
    def settled(self) -> bool:
        """Whether it says something that another setup cannot make good."""
        return self.open_ or self.verdict not in (Verdict.NOT_SHOWN, Verdict.OUTSIDE)


def worst(verdicts: Iterable[Verdict]) -> Verdict:
    """What stands of several that must all hold; of none Not shown."""
    return min(verdicts, key=STANDS_FIRST.index, default=Verdict.NOT_SHOWN)


def over_windows(windows: Sequence[WindowEvidence]) -> tuple[Verdict, str]:
    """The worst of all windows with its reason: of what fails every window is named, of the rest what is missing."""
    verdict = worst(w.verdict for w in windows)
    deciding = [w for w in windows if w.verdict is verdict]
    if verdict is Verdict.PASS and len(deciding) > 1 and deciding[0].finding is None:
        names = ", ".join(w.name for w in deciding)
        return verdict, said("windows.each", windows=names, first=deciding[0].name, found=deciding[0].reason)
    shown = deciding
    if verdict is not Verdict.FAIL:
        shown = deciding[:1] if deciding[0].finding is not None else deciding[:NAMED_WINDOWS]
    parts = [said("windows.named", window=w.name, found=w.reason) if len(windows) > 1 else w.reason for w in shown]
    if len(deciding) > len(shown) > 1:
        parts.append(said("windows.more", count=len(deciding) - len(shown)))
    return verdict, together(*parts)


def evidence_of(
    lead: Judged, window: Window | None, judged: Sequence[Judged], parts: dict[tuple[str, ...], Part]
) -> WindowEvidence:
    """What the findings say of a window where `lead` decides, with the part of each piece that was judged."""
    state = lead.piece.latest
    return WindowEvidence(
        lead.finding,
        window,
        lead.sweep_id,
        lead.verdict,
        lead.reason,
        tuple(g.words for g in lead.gates if g.told),
        state.setup_id,
        state.setting_id,
        state.round,
        state.instrument_id,
        tuple(
            piece_finding(j, parts.get(j.piece.key, Part.NOT_SHOWN))
            for j in judged
            if j is lead or j.figure is not None
        ),
        figure=lead.figure.words if lead.figure and lead.finding is None else "",
        margin=lead.figure.margin if lead.figure else None,
        curve=lead.curve,
    )


def piece_finding(judged: Judged, part: Part) -> PieceFinding:
    """A piece as the findings tell it."""
    one = judged.piece.latest
    worst_swr = judged.finding.worst.swr if judged.finding and judged.finding.worst else None
    return PieceFinding(
        judged.piece.key,
        one.setup_id,
        one.setting_id,
        one.round,
        one.instrument_id,
        part,
        judged.verdict,
        worst_swr,
        judged.reason,
        judged.piece.names,
    )


def as_beside(found: Sequence[WindowEvidence]) -> tuple[PieceFinding, ...]:
    """What decides in setups that the claim does not allow, told beside the verdict."""
    return tuple(replace(p, part=Part.BESIDE) for d in found for p in d.pieces if p.part is Part.DECIDES)


def nothing_shown(window: Window | None, setup_id: str, reason: str) -> WindowEvidence:
    """A window of which nothing is shown, and why."""
    return WindowEvidence(None, window, None, Verdict.NOT_SHOWN, reason, setup_id=setup_id)
