"""The court: which evidence decides a window of a claim, whatever kind it is of.

A right sum on the wrong evidence is a wrong verdict. Only setups that the claim allows decide, in a setting that is
meant for the window, in the latest round; inside that state every piece that passes the gates is heard, the most
accurate one leads, and where two cannot both be right nothing is shown. Of several setups, and of several windows, the
worst decides.
"""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from itertools import combinations
from typing import Any

from levelmoor.core.evidence.admission import ANY_CLAIM, own_setup, why_not_allowed
from levelmoor.core.evidence.findings import Part, PieceFinding, WindowEvidence
from levelmoor.core.evidence.kinds import EvidenceKind, Heard, Judged, Question, uncertainties_apart
from levelmoor.core.evidence.rounds import Rounds
from levelmoor.core.evidence.ruling import (
    STANDS_FIRST,
    Ruling,
    as_beside,
    evidence_of,
    nothing_shown,
    piece_finding,
    worst,
)
from levelmoor.core.metrology.decision import VERDICT_WORDS, Verdict, kindness
from levelmoor.core.model.claims import Tuner
from levelmoor.core.model.evaluation import Setup
from levelmoor.core.model.state import SETUP_ROLE_WORDS
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.said import as_sentence, said

Offered = tuple[EvidenceKind[Any], Heard]


DOUBT = 1.5
"""What two pieces are seen to differ by is one draw of how far both can be wrong; where their verdicts differ more is
held against the margin (`benchmarks.honesty_kinds`: the best stated of two instruments four times worse)."""


class Court:
    """Hears the evidence of one question, all kinds that can show it."""

    def __init__(self, question: Question, kinds: Sequence[EvidenceKind[Any]], rounds: Rounds) -> None:
        self.question, self.kinds, self.rounds = question, kinds, rounds
        self.claim = question.claim or ANY_CLAIM
        self.setups = {s.id: s for s in question.evaluation.setups}
        self.settings = question.evaluation.settings
        self.instruments = {i.id: i.name for i in question.evaluation.instruments}
        self.pieces = [(k, p) for k in kinds for p in k.pieces()]
        self.allowed, self.others = self._setups()

    def _setups(self) -> tuple[list[Setup], list[Setup]]:
        """The setups that the claim allows, and the others, each by its name; the order they are listed in is none."""
        of = self.question.evaluation
        every = sorted(of.setups, key=lambda s: (s.name, s.id))
        measured = {p.latest.setup_id for _, p in self.pieces}
        allowed = [s for s in every if not why_not_allowed(self.claim, s)]
        if not any(s.id in measured for s in allowed):
            allowed = [s for s in every if s in allowed or own_setup(of, self.claim, s)]
        return allowed, [s for s in every if s not in allowed]

    # -- All windows of a claim --------------------------------------------------------------------------------------

    def windows(self) -> tuple[WindowEvidence, ...]:
        """Each window by the setting meant for it; a claim that nothing is readjusted, all of them by one setting."""
        every: Sequence[Window | None] = self.claim.windows or (None,)
        if not (self.claim.one_setting and self.settings):
            return tuple(self.window(w) for w in every)
        meant = [s for s in self.settings if all(s.meant_for(w) for w in self.claim.windows)]
        alone = [tuple(self.window(w, s.id) for w in every) for s in sorted(meant, key=lambda s: (s.name, s.id))]
        reason = said("setting.no_one", windows=", ".join(w.name for w in self.claim.windows))
        nothing = tuple(nothing_shown(w, "", reason) for w in every)
        return min(alone, key=lambda f: kindness(worst(w.verdict for w in f)), default=nothing)

    def window(self, window: Window | None, setting_id: str | None = None) -> WindowEvidence:
        """The verdict on a window over all setups; `setting_id` holds it to one setting."""
        found = [d for s in self.allowed if (d := self._in_setup(s, window, setting_id)) is not None]
        settled = [d for d in found if d.settled]
        beside = [d.evidence for s in self.others if (d := self._in_setup(s, window, setting_id)) is not None]
        asides = tuple(self._set_aside(window))
        if not found:
            nothing = nothing_shown(window, "", self._nothing_said(window))
            return replace(nothing, pieces=(*asides, *as_beside(beside)), beside=self._beside_words(beside))
        # Of setups that show nothing the one that says best what is missing speaks.
        chosen = min(settled, key=_worst_of_setups) if settled else max(found, key=_told)
        reason = chosen.evidence.reason
        for other in settled:
            if other is not chosen and other.verdict is not chosen.verdict:
                name = self.setups[other.evidence.setup_id].name
                reason = said("setups.other", found=reason, name=name, verdict=VERDICT_WORDS[other.verdict])
        return replace(
            chosen.evidence,
            reason=reason,
            pieces=(*chosen.evidence.pieces, *asides, *as_beside(beside)),
            beside=self._beside_words(beside),
        )

    def _nothing_said(self, window: Window | None) -> str:
        """Why nothing is shown where no setup that the claim allows was measured in."""
        measured = {p.latest.setup_id for _, p in self.pieces}
        reason = next((why_not_allowed(self.claim, s) for s in self.others if s.id in measured), "")
        return as_sentence(reason) if reason else self.kinds[0].nothing(window)

    def _beside_words(self, beside: Iterable[WindowEvidence]) -> tuple[str, ...]:
        return tuple(w for found in beside if (w := self._one_beside(found)))

    def _one_beside(self, found: WindowEvidence) -> str:
        setup = self.setups[found.setup_id]
        name, role, verdict = setup.name, SETUP_ROLE_WORDS[setup.role], VERDICT_WORDS[found.verdict].lower()
        where = found.window.name if found.window else ""
        if found.finding is not None and found.finding.worst is not None:
            swr = found.finding.worst.swr
            return said("beside.swr", name=name, role=role, swr=swr, window=where, verdict=verdict)
        if not found.figure:
            return ""
        on = f" on {where}" if where else ""
        return said("beside.figure", name=name, role=role, figure=found.figure, where=on, verdict=verdict)

    def _set_aside(self, window: Window | None) -> Iterable[PieceFinding]:
        for kind in self.kinds:
            for piece, why in kind.set_aside():
                if kind.covers(piece, window):
                    words = said("aside.named", name=piece.name, why=why)
                    yield piece_finding(replace(kind.judge(piece, window), reason=words), Part.SET_ASIDE)

    # -- One setup: its settings and their latest rounds -------------------------------------------------------------

    def _in_setup(self, setup: Setup, window: Window | None, setting_id: str | None) -> Ruling | None:
        pieces = [(k, p) for k, p in self.pieces if p.latest.setup_id == setup.id]
        if not pieces:
            return self._opened(setup, window)
        if not self.settings or not any(k.in_settings for k, _ in pieces):
            by_setting: dict[str, list[Offered]] = {}
            for kind, piece in pieces:
                by_setting.setdefault(piece.latest.setting_id, []).append((kind, piece))
            every = [self._latest(setup, of, window) for of in by_setting.values()]
            return self._of_tuner(setup, window, min(every, key=_worst_of_setups))
        if window is None:
            return None
        meant = [s for s in self.settings if s.meant_for(window) and setting_id in (None, s.id)]
        if not meant:
            none = said("setting.none", window=window.name, unsaid=self._unsaid(pieces))
            return self._trials(setup, window, pieces) or Ruling(nothing_shown(window, setup.id, none))
        found = []
        for setting in sorted(meant, key=lambda s: (s.name, s.id)):
            mine = [(k, p) for k, p in pieces if p.latest.setting_id == setting.id or _anywhere(k, p)]
            if mine:
                found.append(self._latest(setup, mine, window))
            else:
                reason = said("setting.not_swept", name=setting.name, window=window.name)
                found.append(Ruling(replace(nothing_shown(window, setup.id, reason), setting_id=setting.id)))
        # An article that can be adjusted keeps a claim where one of its settings does.
        return min(found, key=lambda f: (kindness(f.verdict), f.open_))

    def _opened(self, setup: Setup, window: Window | None) -> Ruling | None:
        """A setup of which nothing is heard any more: what there was was set aside, or it was adjusted since."""
        gone = [p for k in self.kinds for p, _ in k.set_aside() if p.latest.setup_id == setup.id]
        if not gone:
            return None
        state = max((p.latest for p in gone), key=lambda s: s.round)
        last = self.rounds.latest(state.sample_id, state.setup_id, state.setting_id)
        return Ruling(nothing_shown(window, setup.id, self._adjusted_since(last))) if last > 1 else None

    def _adjusted_since(self, last: int) -> str:
        todo = self.kinds[0].todo
        return said("round.nothing", round=last, nothing="nothing has counted", todo=todo)

    def _unsaid(self, pieces: Sequence[Offered]) -> str:
        name = next((p.name for k, p in pieces if k.in_settings and not p.latest.setting_id), "")
        return said("setting.unsaid_by", name=name) if name else ""

    def _of_tuner(self, setup: Setup, window: Window | None, found: Ruling) -> Ruling:
        """A tuner is set anew at each frequency: one sweep past the limit in one setting does not fail it."""
        swept = self.claim.quantity.spec.swept and setup.tuner_in_line
        if not swept or window is None or window.spot or found.verdict is not Verdict.FAIL:
            return found
        return Ruling(replace(found.evidence, verdict=Verdict.NOT_SHOWN, reason=said("tuner.one_setting")))

    def _trials(self, setup: Setup, window: Window, pieces: Sequence[Offered]) -> Ruling | None:
        """With a tuner each setting is a trial at its own frequencies: one that fails, fails; the rest has gaps."""
        if self.claim.tuner is not Tuner.WITH:
            return None
        tried: list[WindowEvidence] = []
        for setting in sorted(self.settings, key=lambda s: (s.name, s.id)):
            mine = [(k, p) for k, p in pieces if p.latest.setting_id == setting.id]
            tried += [self._latest(setup, mine, part).evidence for part in setting.parts_of(window) if mine]
        if not tried:
            return None
        failed = next((t for t in tried if t.verdict is Verdict.FAIL), None)
        if failed is not None and failed.window is not None:
            reason = said("tuner.in_setting", window=failed.window.name, found=failed.reason)
            return Ruling(replace(failed, window=window, reason=reason))
        good = ", ".join(t.window.name for t in tried if t.window and t.verdict is Verdict.PASS) or "none"
        reason = said("tuner.some", window=window.name, good=good)
        return Ruling(replace(tried[0], window=window, finding=None, verdict=Verdict.NOT_SHOWN, reason=reason))

    # -- One state: what is heard ------------------------------------------------------------------------------------

    def _latest(self, setup: Setup, pieces: Sequence[Offered], window: Window | None) -> Ruling:
        """The latest round of a setting; what was measured before the article was adjusted is history."""
        state = pieces[0][1].latest
        last = self.rounds.latest(state.sample_id, state.setup_id, state.setting_id)
        now = [(k, p) for k, p in pieces if p.latest.round == last]
        if not now:
            nothing = nothing_shown(window, setup.id, self._adjusted_since(last))
            return Ruling(replace(nothing, setting_id=state.setting_id, round=last))
        found = self._heard(now, window)
        earlier = any(k.covers(p, window) for k, p in pieces if p.latest.round < last)
        if window is not None and earlier and not any(k.covers(p, window) for k, p in now):
            reason = said("round.not_swept", round=last, window=window.name)
            return Ruling(replace(found.evidence, verdict=Verdict.NOT_SHOWN, reason=reason))
        return found

    def _heard(self, pieces: Sequence[Offered], window: Window | None) -> Ruling:
        judged = [kind.judge(piece, window) for kind, piece in pieces]
        shown = sorted((j for j in judged if j.verdict is not Verdict.NOT_SHOWN), key=lambda j: self._rank(j, window))
        if not shown:
            return Ruling(evidence_of(self._most_telling(judged, window), window, judged, {}))
        # What was measured at different places must hold at each of them; what was measured at one must agree.
        places: list[list[Judged]] = []
        for one in shown:
            home = next((p for p in places if _same_place(p[0], one)), None)
            if home is None:
                places.append([one])
            else:
                home.append(one)
        found = [self._agreed(of, judged, window) for of in places]
        chosen = min(found, key=_worst_of_setups)
        if chosen.verdict is Verdict.PASS:
            silent = (j for j in judged if j.verdict is Verdict.NOT_SHOWN and j.kind.covers(j.piece, window))
            unfit = [j for j in silent if not _at_any(j, places)]
            if unfit:  # another carrier, another frequency, of which nothing is shown
                return Ruling(evidence_of(self._most_telling(unfit, window), window, judged, {}))
        return chosen

    def _most_telling(self, judged: Sequence[Judged], window: Window | None) -> Judged:
        """Of pieces that show nothing the one that says best what is missing."""

        def told(j: Judged) -> tuple[bool, float, bool, str, int, str]:
            reach = j.kind.covers(j.piece, window)
            latest = j.piece.latest
            whole = reach == float("inf")
            blocked = any(g.blocks for g in j.gates)
            return whole, reach, not blocked, latest.taken_on, len(latest.id), latest.id

        return max(judged, key=told)

    def _rank(self, judged: Judged, window: Window | None) -> tuple[int, float, str, int, str]:
        latest = judged.piece.latest
        newest = "".join(chr(0x10FFFF - ord(c)) for c in latest.taken_on)
        number = "".join(chr(0x10FFFF - ord(c)) for c in latest.id)
        return self.kinds.index(judged.kind), judged.kind.rank(judged, window), newest, -len(latest.id), number

    def _agreed(self, heard: Sequence[Judged], judged: Sequence[Judged], window: Window | None) -> Ruling:
        """What pieces of one thing come to together: the first leads, unless they cannot all be right."""
        lead = heard[0]
        clash = next(((a, b) for a, b in combinations(heard, 2) if _contradict(a, b)), None)
        if clash is not None:
            return self._open(lead, judged, window, clash, self._clash_words(*clash))
        doubt = next((o for o in heard[1:] if self._in_doubt(lead, o, window)), None)
        if doubt is not None:
            return self._open(lead, judged, window, (lead, doubt), self._doubt_words(lead, doubt, window))
        parts = {j.piece.key: Part.HEARD for j in heard} | {lead.piece.key: Part.DECIDES}
        away = next((j for j in heard[1:] if uncertainties_apart(lead, j) > 1), None)
        found = evidence_of(lead, window, judged, parts)
        if away is not None and away.figure is not None:
            verdict = "the same" if away.verdict is lead.verdict else VERDICT_WORDS[away.verdict]
            figures = {"other": self._label(away), "second": away.figure.words, "verdict": verdict}
            found = replace(found, reason=said("differ.beside", found=found.reason, **figures))
        return Ruling(found)

    def _open(
        self, lead: Judged, judged: Sequence[Judged], window: Window | None, both: tuple[Judged, Judged], reason: str
    ) -> Ruling:
        parts = dict.fromkeys((j.piece.key for j in both), Part.CONTRADICTS)
        found = evidence_of(lead, window, judged, parts)
        return Ruling(replace(found, verdict=Verdict.NOT_SHOWN, reason=reason), open_=True)

    def _in_doubt(self, lead: Judged, other: Judged, window: Window | None) -> bool:
        """Whether by as much as two pieces are seen to differ the verdict could be the opposite: that is asked where
        they differ in their verdicts, or by more than both leave open."""
        apart = uncertainties_apart(lead, other) > 1
        if lead.verdict is Verdict.TOO_CLOSE or (lead.verdict is other.verdict and not apart):
            return False
        seen = lead.kind.seen_apart(lead, other, window) if lead.kind is other.kind else None
        margins = [abs(j.figure.margin) for j in (lead, other) if j.figure and j.verdict is lead.verdict]
        draws = 1.0 if lead.verdict is other.verdict else DOUBT
        return seen is not None and bool(margins) and min(margins) <= draws * seen

    def _label(self, judged: Judged) -> str:
        name = self.instruments.get(judged.piece.latest.instrument_id, "")
        return f"{name} ({judged.piece.names})" if name else judged.piece.names

    def _clash_words(self, one: Judged, other: Judged) -> str:
        """Both figures, how far they are apart, and the check that would settle it."""
        names = {"one": self._label(one), "other": self._label(other)}
        settles = _settles(one, other)
        if one.figure is None or other.figure is None or one.kind is not other.kind:
            return said("clash.verdicts", **names, first=one.reason, second=other.reason, settles=settles)
        words = {"first": one.figure.words, "second": other.figure.words}
        if one.finding is None:
            return said("clash.values", **names, **words, settles=settles)
        away = abs(one.figure.value - other.figure.value)
        u = away / uncertainties_apart(one, other) if away else 0.0
        return said("clash.figures", **names, **words, apart=away, u=u, settles=settles)

    def _doubt_words(self, one: Judged, other: Judged, window: Window | None) -> str:
        assert one.figure is not None and other.figure is not None
        seen = one.kind.seen_apart(one, other, window) or 0.0
        return said(
            "differ.open",
            one=self._label(one),
            other=self._label(other),
            first=one.figure.words,
            second=other.figure.words,
            apart=f"{seen:.3f} in |Γ|" if one.finding is not None else f"{seen:.3g}",
            settles=_settles(one, other),
        )


def _worst_of_setups(found: Ruling) -> tuple[int, float, str, str]:
    """Fail before Too close to call before a contradiction before Pass; of two alike the one nearer to failing."""
    of = found.evidence
    margin = of.margin if of.margin is not None else float("inf")
    return STANDS_FIRST.index(found.verdict), margin, of.setup_id, of.sweep_id or ""


def _told(found: Ruling) -> tuple[bool, float, bool, str]:
    """Which of several setups that show nothing says best what is missing."""
    finding = found.evidence.finding
    points = float(finding.points_inside) if finding else 0.0
    return finding is not None, points, bool(found.evidence.pieces), found.evidence.setup_id


def _same_place(one: Judged, other: Judged) -> bool:
    return one.kind is not other.kind or one.kind.same_place(one.piece, other.piece)


def _at_any(judged: Judged, places: Sequence[Sequence[Judged]]) -> bool:
    return any(_same_place(of[0], judged) for of in places)


def _anywhere(kind: EvidenceKind[Any], piece: Heard) -> bool:
    """Whether a piece of a kind that need not say its setting says none: it is of all of them."""
    return not kind.in_settings and not piece.latest.setting_id


def _contradict(one: Judged, other: Judged) -> bool:
    """Opposite verdicts, or figures too far apart under verdicts that differ."""
    if {one.verdict, other.verdict} == {Verdict.PASS, Verdict.FAIL}:
        return True
    return one.verdict is not other.verdict and uncertainties_apart(one, other) > 1


def _settles(one: Judged, other: Judged) -> str:
    if one.finding is None:
        return said("clash.third")
    same = one.piece.latest.instrument_id == other.piece.latest.instrument_id
    return said("clash.adjusted") if same else said("clash.same_load")
