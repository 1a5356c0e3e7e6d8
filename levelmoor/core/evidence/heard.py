"""Which evidence decides a window of a claim: of which setup, setting and round, what is heard, and what contradicts.

A right sum on the wrong sweep is a wrong verdict. Only setups that the claim allows decide, in a setting that is meant
for the window, in the latest round; inside that state every piece that passes the gates is heard, the most accurate one
leads, and where two cannot both be right nothing is shown.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from math import hypot

from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.findings import Part, PieceFinding, WindowEvidence
from levelmoor.core.evidence.pieces import Piece
from levelmoor.core.metrology.decision import VERDICT_WORDS, Verdict, kindness
from levelmoor.core.model.claims import Claim, Tuner
from levelmoor.core.model.evaluation import Evaluation, Evidence, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.state import SETUP_ROLE_WORDS, Role, Setting
from levelmoor.core.rf.frequency import format_mhz
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.window_verdict import WindowFinding, format_swr


@dataclass(frozen=True)
class Judged:
    """What one piece says by itself: its finding in the window, and the verdict on what is asked of it."""

    piece: Piece
    finding: WindowFinding
    verdict: Verdict
    reason: str


Judge = Callable[[Piece, Window], Judged]
DRAWN_ROOM = 0.5
"""Room on each side of a window, as a share of its width, that a figure of it shows."""


def why_not_allowed(claim: Claim, setup: Setup) -> str:
    """Why a sweep in this setup does not decide the claim, or nothing."""
    if claim.setup_id:
        return "" if claim.setup_id == setup.id else "the claim speaks of another setup; sweep the sample in that one"
    if claim.tuner is Tuner.WITHOUT and setup.tuner_in_line:
        return "the claim is without a tuner, and this sweep was taken with one in line; sweep without it"
    if claim.tuner is Tuner.WITH and not setup.tuner_in_line:
        return "the claim is with a tuner, and this sweep was taken without one; sweep with it in line"
    with_tuner = claim.tuner is Tuner.WITH and setup.role is not Role.COMPARISON
    if setup.role is Role.AS_SUPPLIED or with_tuner:
        return ""
    return (
        f"{setup.name} is {_with_article(setup.role)}, so it stands beside the verdict and does not decide; sweep the "
        "sample as supplied"
    )


def why_not_heard(evaluation: Evaluation, claim: Claim, evidence: Evidence) -> str:
    """Why a sweep has no part in the verdict on a claim by the state it is of, or nothing."""
    setup = next(s for s in evaluation.setups if s.id == evidence.setup_id)
    reason = why_not_allowed(claim, setup)
    if reason or evidence.set_aside:
        return reason or f"it was set aside: {evidence.set_aside}"
    setting = next((s for s in evaluation.settings if s.id == evidence.setting_id), None)
    if evaluation.settings and setting is None:
        return "it does not say in which setting it was taken"
    if setting is not None and not any(setting.meant_for(w) for w in claim.windows):
        return f"{setting.name} is not a setting for {', '.join(w.name for w in claim.windows)}"
    state = ("sample_id", "setup_id", "setting_id")
    alike = [e for e in evaluation.sweeps if all(getattr(e, n) == getattr(evidence, n) for n in state)]
    last = max((e.round for e in alike if not e.set_aside), default=evidence.round)
    return f"the article was adjusted since; round {last} decides" if last > evidence.round else ""


def _with_article(role: Role) -> str:
    return {Role.OPTION: "a supplied option", Role.ADDED: "an addition", Role.COMPARISON: "for comparison"}[role]


class Hearing:
    """The evidence of one sample as one claim hears it; without a claim, as the usability of its bands does."""

    def __init__(
        self, evaluation: Evaluation, bench: Dossier, claim: Claim | None, sample_id: str, limit: float, judge: Judge
    ) -> None:
        self.bench, self.claim, self.limit, self.judge = bench, claim, limit, judge
        self.rule_claim = claim or _ANY
        self.setups, self.settings = evaluation.setups, evaluation.settings
        self.pieces = bench.of_sample(sample_id)
        self.aside = [e for e in evaluation.sweeps if e.sample_id == sample_id and e.set_aside]

    # -- One window over all setups ----------------------------------------------------------------------------------

    def window(self, window: Window, setting_id: str | None = None) -> WindowEvidence:
        """The verdict on a window; `setting_id` holds it to one setting."""
        allowed: list[Setup] = []
        others: list[Setup] = []
        for setup in self.setups:
            (others if why_not_allowed(self.rule_claim, setup) else allowed).append(setup)
        found = [d for s in allowed if (d := self._in_setup(s, window, setting_id)) is not None]
        decided = [d for d in found if d.verdict is not Verdict.NOT_SHOWN]
        chosen = next(iter(decided), None) or max(found, key=_told, default=None)
        if chosen is None:
            return WindowEvidence(None, window, None, Verdict.NOT_SHOWN, self._nothing(others))
        reason = chosen.reason
        for other in decided:
            if other is not chosen and other.verdict is not chosen.verdict:
                name = self.bench.setups[other.setup_id].name
                reason = f"{reason[:-1]}; {name}, also as supplied, would be {VERDICT_WORDS[other.verdict]}."
        beside = [d for s in others if (d := self._in_setup(s, window, setting_id)) is not None]
        return replace(
            chosen,
            reason=reason,
            pieces=(*chosen.pieces, *self._set_aside(window), *_as_beside(beside)),
            beside=tuple(self._beside_words(d) for d in beside if d.finding and d.finding.worst),
        )

    def _nothing(self, others: Sequence[Setup]) -> str:
        """Why nothing is shown where no setup that the claim allows was swept."""
        swept = {p.latest.setup_id for p in self.pieces}
        reason = next((why_not_allowed(self.rule_claim, s) for s in others if s.id in swept), "")
        if reason:
            return f"{reason[:1].upper()}{reason[1:]}."
        return "There is no sweep of this sample yet."

    def _beside_words(self, found: WindowEvidence) -> str:
        assert found.finding is not None and found.finding.worst is not None
        setup = self.bench.setups[found.setup_id]
        swr = format_swr(found.finding.worst.swr)
        would = VERDICT_WORDS[found.verdict].lower()
        return (
            f"{setup.name} ({SETUP_ROLE_WORDS[setup.role]}): {swr} at worst on {found.window.name}, {would} by itself"
        )

    def _set_aside(self, window: Window) -> Iterable[PieceFinding]:
        for e in self.aside:
            if e.sweep.cut(window.low_hz, window.high_hz) is None:
                continue
            one = self.judge(Piece((e,)), window)
            worst = one.finding.worst.swr if one.finding.worst else None
            yield PieceFinding(
                (e.id,), e.setup_id, e.setting_id, e.round, e.instrument_id, Part.SET_ASIDE, one.verdict, worst,
                f"{e.name} was set aside: {e.set_aside}",
            )  # fmt: skip

    # -- One setup: its settings and their latest rounds -------------------------------------------------------------

    def _in_setup(self, setup: Setup, window: Window, setting_id: str | None) -> WindowEvidence | None:
        pieces = [p for p in self.pieces if p.latest.setup_id == setup.id]
        if not pieces:
            return None
        if not self.settings:
            return self._one_setting_of_tuner(setup, window, self._latest(pieces, window))
        meant = [s for s in self.settings if s.meant_for(window) and setting_id in (None, s.id)]
        if not meant:
            return self._trials(setup, window, pieces) or _not_shown(setup, window, self._no_setting(window, pieces))
        found = []
        for setting in meant:
            mine = [p for p in pieces if p.latest.setting_id == setting.id]
            if mine:
                found.append(self._latest(mine, window))
            else:
                reason = f"{setting.name} is the setting for {window.name}, and no sweep says that it was taken in it."
                found.append(replace(_not_shown(setup, window, reason), setting_id=setting.id))
        # An article that can be adjusted keeps a claim where one of its settings does.
        return min(found, key=lambda f: kindness(f.verdict))

    def _no_setting(self, window: Window, pieces: Sequence[Piece]) -> str:
        unsaid = next((p.latest for p in pieces if not p.latest.setting_id), None)
        said = f"No setting for {window.name} has been swept."
        return f"{said} {unsaid.name} does not say in which setting it was taken." if unsaid else said

    def _one_setting_of_tuner(self, setup: Setup, window: Window, found: WindowEvidence) -> WindowEvidence:
        """A tuner is set anew at each frequency: one sweep past the limit in one setting does not fail it."""
        if not setup.tuner_in_line or window.spot or found.verdict is not Verdict.FAIL:
            return found
        reason = (
            "A tuner is set anew at each frequency, and one setting need not match the whole window; note each setting "
            "with the frequency it is for."
        )
        return replace(found, verdict=Verdict.NOT_SHOWN, reason=reason)

    def _trials(self, setup: Setup, window: Window, pieces: Sequence[Piece]) -> WindowEvidence | None:
        """With a tuner each setting is a trial at its own frequencies: one that fails, fails; the rest has gaps."""
        if self.rule_claim.tuner is not Tuner.WITH:
            return None
        tried = []
        for setting in self.settings:
            mine = [p for p in pieces if p.latest.setting_id == setting.id]
            tried += [self._latest(mine, part) for part in setting.parts_of(window) if mine]
        if not tried:
            return None
        worst = next((t for t in tried if t.verdict is Verdict.FAIL), None)
        if worst is not None:
            return replace(worst, window=window, reason=f"In the setting for {worst.window.name}: {worst.reason}")
        good = ", ".join(t.window.name for t in tried if t.verdict is Verdict.PASS) or "none"
        reason = (
            f"The tuner was tried at some frequencies of {window.name} alone; passed: {good}. The rest is not shown."
        )
        return replace(tried[0], window=window, finding=None, verdict=Verdict.NOT_SHOWN, reason=reason)

    # -- One state: what is heard ------------------------------------------------------------------------------------

    def _latest(self, pieces: Sequence[Piece], window: Window) -> WindowEvidence:
        """The latest round of a setting; what was swept before the article was adjusted is history."""
        last = max(p.latest.round for p in pieces)
        now = [p for p in pieces if p.latest.round == last]
        found = self._heard(now, window)
        earlier = [p for p in pieces if p.latest.round < last and p.latest.sweep.covers(window.low_hz, window.high_hz)]
        reached = any(p.latest.sweep.cut(window.low_hz, window.high_hz) for p in now)
        if earlier and not reached:
            reason = f"Since the last adjustment (round {last}) {window.name} was not swept; sweep it again."
            return replace(found, reason=reason)
        return found

    def _heard(self, pieces: Sequence[Piece], window: Window) -> WindowEvidence:
        judged = [self.judge(p, window) for p in pieces]
        heard = sorted((j for j in judged if j.verdict is not Verdict.NOT_SHOWN), key=lambda j: self._rank(j, window))
        if not heard:
            lead = max(judged, key=lambda j: (_covers(j, window), _overlap(j, window), j.piece.latest.id))
            lead = next((j for j in reversed(judged) if _covers(j, window) and not self._blocked(j, window)), lead)
            return self._evidence(lead, window, judged, {})
        lead = heard[0]
        clash = next(((a, b) for a, b in combinations(heard, 2) if _contradict(a, b)), None)
        if clash is not None:
            found = self._evidence(lead, window, judged, dict.fromkeys((j.piece.key for j in clash), Part.CONTRADICTS))
            return replace(found, verdict=Verdict.NOT_SHOWN, reason=self._clash_words(*clash))
        parts = {j.piece.key: Part.HEARD for j in heard} | {lead.piece.key: Part.DECIDES}
        found = self._evidence(lead, window, judged, parts)
        away = next((j for j in heard[1:] if _apart(lead, j)), None)
        if away is not None:
            said = f"{self._label(away)} reads {_worst(away)}, further off than the uncertainty of both, and would be "
            same = "the same" if away.verdict is lead.verdict else VERDICT_WORDS[away.verdict]
            found = replace(found, reason=f"{found.reason[:-1]}; {said}{same}.")
        return found

    def _rank(self, judged: Judged, window: Window) -> tuple[float, int]:
        order = next(i for i, p in enumerate(self.bench.pieces) if p is judged.piece)
        return self.bench.accuracy(judged.piece, window, self.limit), -order

    def _blocked(self, judged: Judged, window: Window) -> bool:
        return bool(self.bench.disqualified(judged.piece, window))

    def _evidence(
        self, lead: Judged, window: Window, judged: Sequence[Judged], parts: dict[tuple[str, ...], Part]
    ) -> WindowEvidence:
        state = lead.piece.latest
        return WindowEvidence(
            lead.finding,
            window,
            state.id,
            lead.verdict,
            lead.reason,
            self.bench.passed(lead.piece, window),
            state.setup_id,
            state.setting_id,
            state.round,
            state.instrument_id,
            tuple(
                _piece_finding(j, parts.get(j.piece.key, Part.NOT_SHOWN))
                for j in judged
                if j is lead or j.finding.worst is not None
            ),
            curve=self._moved(lead.piece, window),
        )

    def _moved(self, piece: Piece, window: Window) -> Sweep | None:
        """What was judged, with some room about the window, where it is not the sweep as it came."""
        placed = self.bench.placed(piece)
        room = DRAWN_ROOM * (window.high_hz - window.low_hz) or 0.01 * window.low_hz
        return placed.sweep.cut(window.low_hz - room, window.high_hz + room) if placed.moved else None

    def _label(self, judged: Judged) -> str:
        one = judged.piece.latest
        return f"{self.bench.instrument(one).name} ({judged.piece.names})"

    def _clash_words(self, one: Judged, other: Judged) -> str:
        """Both figures, how far they are apart, and the check that would settle it."""
        if one.finding.worst and other.finding.worst:
            a, b = (f"{self._label(j)} reads {_worst(j)}" for j in (one, other))
            u = 2 * hypot(one.finding.u_gamma or 0.0, other.finding.u_gamma or 0.0)
            away = abs(_level(one) - _level(other))
            said = f"{a} and {b}, {away:.3f} apart in |Γ| where {u:.3f} is their combined uncertainty"
        else:
            said = f"{self._label(one)}: {one.reason} {self._label(other)}: {other.reason}"
        same = one.piece.latest.instrument_id == other.piece.latest.instrument_id
        settles = (
            "say whether the article was adjusted between them, or sweep again"
            if same
            else "sweep the same known load with both, or both through another feed line, and set the wrong one aside"
        )
        return f"The figures contradict each other: {said}; {settles}."


_ANY = Claim("", Quantity.SWR)
"""What the usability of a band asks: as a claim of SWR that names nothing else."""


def _covers(judged: Judged, window: Window) -> bool:
    return judged.piece.evidence.sweep.covers(window.low_hz, window.high_hz)


def _overlap(judged: Judged, window: Window) -> float:
    """How much of the window the sweep covers, in Hz."""
    sweep = judged.piece.evidence.sweep
    return max(min(sweep.high_hz, window.high_hz) - max(sweep.low_hz, window.low_hz), 0.0)


def _level(judged: Judged) -> float:
    assert judged.finding.worst is not None
    return float(gamma_from_swr(judged.finding.worst.swr))


def _worst(judged: Judged) -> str:
    worst = judged.finding.worst
    assert worst is not None
    return f"{format_swr(worst.swr)} at {format_mhz(round(worst.frequency_hz, -3))} MHz"


def _apart(one: Judged, other: Judged) -> bool:
    """Whether two pieces differ by more than their combined uncertainty."""
    if not (one.finding.worst and other.finding.worst):
        return False
    u = hypot(one.finding.u_gamma or 0.0, other.finding.u_gamma or 0.0)
    return abs(_level(one) - _level(other)) > 2 * u


def _contradict(one: Judged, other: Judged) -> bool:
    """Opposite verdicts, or figures too far apart under verdicts that differ."""
    if {one.verdict, other.verdict} == {Verdict.PASS, Verdict.FAIL}:
        return True
    return one.verdict is not other.verdict and _apart(one, other)


def _piece_finding(judged: Judged, part: Part) -> PieceFinding:
    one = judged.piece.latest
    worst = judged.finding.worst.swr if judged.finding.worst else None
    return PieceFinding(
        judged.piece.key, one.setup_id, one.setting_id, one.round, one.instrument_id, part, judged.verdict, worst,
        judged.reason,
    )  # fmt: skip


def _as_beside(found: Sequence[WindowEvidence]) -> Iterable[PieceFinding]:
    return (replace(p, part=Part.BESIDE) for d in found for p in d.pieces if p.part is Part.DECIDES)


def _not_shown(setup: Setup, window: Window, reason: str) -> WindowEvidence:
    return WindowEvidence(None, window, None, Verdict.NOT_SHOWN, reason, setup_id=setup.id)


def _told(found: WindowEvidence) -> tuple[bool, float]:
    """Which of several setups that show nothing says best what is missing."""
    finding = found.finding
    return finding is not None, float(finding.points_inside) if finding else 0.0


def settings_for(settings: Sequence[Setting], claim: Claim) -> list[Setting]:
    """The settings that are meant for all windows of a claim."""
    return [s for s in settings if all(s.meant_for(w) for w in claim.windows)]
