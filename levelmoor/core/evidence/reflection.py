"""Sweeps of reflection, and readings one by one, as evidence of a level of SWR, a resonance or a bandwidth."""

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from levelmoor.core.bench.gates import is_meter, obstacle
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.kinds import EvidenceKind, Figure, Judged, Question
from levelmoor.core.evidence.pieces import Piece
from levelmoor.core.metrology.decision import DecisionRule, Verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evidence, Plane
from levelmoor.core.model.quantities import Quantity, ShownBy
from levelmoor.core.rf.noise import noise_of_magnitude
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.other_impedance import judge_in_other_impedance
from levelmoor.core.verdict.read_off_verdict import judge_bandwidth, judge_resonance
from levelmoor.core.verdict.window_verdict import WindowFinding
from levelmoor.core.words.figures import format_mhz, format_swr
from levelmoor.core.words.said import as_sentence, said, together

USABILITY_RULE = DecisionRule.SIMPLE
"""Usability says what share of a band lies within the profile; it needs no guard band."""
USUAL = 0.95
"""Two sweeps are seen to differ by what this share of their common points differ at the most."""


class Reflection(EvidenceKind[Piece]):
    """Complex sweeps, sweeps of SWR alone, and sheets of readings; repeats are one piece."""

    in_settings = True
    todo = "sweep"

    def __init__(self, question: Question, dossier: Dossier) -> None:
        self.question, self.dossier = question, dossier
        self.claim = question.claim
        self.z0_ohm = question.claim.z0_ohm if question.claim else 50.0
        self.rule = question.evaluation.rule if question.claim else USABILITY_RULE

    def pieces(self) -> Sequence[Piece]:
        return self.dossier.of_sample(self.question.sample_id)

    def set_aside(self) -> Sequence[tuple[Piece, str]]:
        mine = (e for e in self.question.evaluation.sweeps if e.sample_id == self.question.sample_id)
        return [(Piece((e,)), e.set_aside) for e in mine if e.set_aside]

    def nothing(self, window: Window | None) -> str:
        return said("nothing.sweep")

    def judge(self, piece: Piece, window: Window | None) -> Judged:
        assert window is not None
        bench = self.dossier
        finding = self._judged(piece, window)
        scalar = bench.placed(piece).sweep
        if scalar.scalar and scalar.z0_ohm != self.z0_ohm and finding.verdict is not Verdict.NOT_SHOWN:
            finding = judge_in_other_impedance(finding, scalar, self.z0_ohm, lambda s: self._again(piece, window, s))
        finding = self._without_bursts(piece, window, finding)
        gates = bench.gates(piece.latest, window)
        verdict, reason, figure = finding.verdict, finding.reason, self._figure(finding)
        if self.claim is not None and self.claim.quantity.spec.shown_by is ShownBy.READ_OFF:
            verdict, reason, figure = self._read_off(self.claim, piece, window, finding)
        assumed = [g.words for g in gates if g.assumed]
        if assumed and verdict is not Verdict.NOT_SHOWN and is_meter(bench.book, piece.latest.instrument_id):
            reason = together(reason, *(as_sentence(w) for w in assumed))
        return Judged(
            self,
            piece,
            verdict,
            reason,
            figure,
            finding,
            gates,
            piece.latest.id if bench.is_sweep(piece) else None,
            self._moved(piece, window),
        )

    def _again(self, piece: Piece, window: Window, sweep: Sweep) -> WindowFinding:
        return self.dossier.judged(piece, window, self.question.limit_swr, self.z0_ohm, self.rule, instead=sweep)

    def _figure(self, finding: WindowFinding) -> Figure | None:
        if finding.worst is None:
            return None
        size = float(gamma_from_swr(finding.worst.swr))
        words = f"{format_swr(finding.worst.swr)} at {format_mhz(round(finding.worst.frequency_hz, -3))} MHz"
        return Figure(size, finding.u_gamma or 0.0, float(gamma_from_swr(finding.limit_swr)) - size, words)

    def _without_bursts(self, piece: Piece, window: Window, found: WindowFinding) -> WindowFinding:
        """Repeats have one verdict where each of them could have it by itself: what a single one alone would turn is
        told, and neither passes nor fails the article."""
        if len(piece.members) < 2 or (found.verdict is Verdict.NOT_SHOWN and not found.unfit):
            return found
        if not any(e.sweep.low_hz <= window.high_hz and e.sweep.high_hz >= window.low_hz for e in piece.members):
            return found
        hit = [(e, n) for e in piece.members if (n := self._burst(piece, e, window))]
        clean = tuple(e for e in piece.members if all(e is not b for b, _ in hit))
        if hit and clean:
            rest = self._judged(Piece(clean), window)
            if rest.verdict is found.verdict:
                return found
            one, points = hit[0]
            return _not_shown(
                found,
                said(
                    "repeats.burst",
                    one=one.name,
                    first=_worst(self._judged(Piece((one,)), window)),
                    other=clean[0].name,
                    second=_worst(rest),
                    points=said("repeats.points", count=points),
                ),
            )
        if len(piece.members) > 2 or found.verdict not in (Verdict.PASS, Verdict.FAIL):
            return found
        own = [(e.name, self._judged(Piece((e,)), window).verdict) for e in piece.members]
        failed = next((name for name, v in own if v is Verdict.FAIL), "")
        passed = next((name for name, v in own if v is Verdict.PASS), "")
        if not failed or not passed:
            return found
        return _not_shown(found, said("repeats.apart", one=failed, first="Fail", other=passed, second="Pass"))

    def _judged(self, piece: Piece, window: Window) -> WindowFinding:
        return self.dossier.judged(piece, window, self.question.limit_swr, self.z0_ohm, self.rule)

    def _burst(self, piece: Piece, repeat: Evidence, window: Window) -> int:
        key = (piece.key, repeat.id, window)
        if key not in self.dossier.leaps:
            self.dossier.leaps[key] = _leaps(piece, repeat, window)
        return self.dossier.leaps[key]

    def _read_off(
        self, claim: Claim, piece: Piece, window: Window, finding: WindowFinding
    ) -> tuple[Verdict, str, Figure | None]:
        """A resonance or a bandwidth, read off a sweep that qualifies for the window."""
        bench = self.dossier
        analysis, placed = bench.analysis(piece, claim.z0_ohm), bench.placed(piece)
        why = obstacle(bench.gates(piece.latest, window)) or finding.unfit
        if why:
            return Verdict.NOT_SHOWN, as_sentence(why), None
        if placed.plane is Plane.SHACK:
            return Verdict.NOT_SHOWN, said("plane.turns"), None
        if claim.quantity is Quantity.RESONANCE:
            return (*judge_resonance(analysis, window, placed.figures, self.rule), None)
        swr_at = self.question.limit_swr
        figures = placed.figures_at(float(gamma_from_swr(swr_at)))
        return (*judge_bandwidth(analysis, window, swr_at, 1e3 * (claim.limit or 0.0), figures, self.rule), None)

    def _moved(self, piece: Piece, window: Window) -> Sweep | None:
        """What was judged, with some room about the window, where it is not the sweep as it came."""
        placed = self.dossier.placed(piece)
        room = DRAWN_ROOM * (window.high_hz - window.low_hz) or 0.01 * window.low_hz
        return placed.sweep.cut(window.low_hz - room, window.high_hz + room) if placed.moved else None

    def rank(self, judged: Judged, window: Window | None) -> float:
        assert isinstance(judged.piece, Piece) and window is not None
        return self.dossier.accuracy(judged.piece, window, self.question.limit_swr)

    def covers(self, piece: Piece, window: Window | None) -> float:
        assert window is not None
        sweep = piece.evidence.sweep
        if sweep.covers(window.low_hz, window.high_hz):
            return math.inf
        part = sweep.cut(window.low_hz, window.high_hz)
        return max(part.high_hz - part.low_hz, 1.0) if part is not None else 0.0

    def seen_apart(self, one: Judged, other: Judged, window: Window | None) -> float | None:
        """By how much |gamma| of two pieces differs at their common points of a window, noise apart."""
        assert isinstance(one.piece, Piece) and isinstance(other.piece, Piece) and window is not None
        if self.claim is not None and self.claim.quantity.spec.shown_by is ShownBy.READ_OFF:
            return None
        a, b = (self.dossier.analysis(p, self.z0_ohm).sweep for p in (one.piece, other.piece))
        parts = [s.cut(window.low_hz, window.high_hz) for s in (a, b)]
        if parts[0] is None or parts[1] is None:
            return None
        low, high = max(p.low_hz for p in parts if p), min(p.high_hz for p in parts if p)
        points = [s.inside(low, high) for s in (a, b)]
        f = min(points, key=lambda x: x.size or math.inf)
        if not f.size:
            return super().seen_apart(one, other, window)
        away = np.abs(np.abs(a.gamma_at(f)) - np.abs(b.gamma_at(f)))
        noise = math.hypot(noise_of_magnitude(a), noise_of_magnitude(b))
        return max(float(np.quantile(away, USUAL)) - 2 * noise, 0.0)


BURST = 0.03
"""A leap in |gamma| beside which repeats agree; less is noise."""
MOST_OF_A_BURST = 0.03
"""A signal on the air takes no more than this share of the points of a window (common practice, no source)."""
DRAWN_ROOM = 0.5
"""Room on each side of a window, as a share of its width, that a figure of it shows."""


def _leaps(piece: Piece, repeat: Evidence, window: Window) -> int:
    """At how many points of a window a repeat leaps up out of its neighbours where none of the others does; 0 where
    they are so many that none of them is a leap."""
    one, others = repeat.sweep, [e.sweep for e in piece.members if e is not repeat]
    f = one.inside(window.low_hz, window.high_hz)
    above = np.abs(one.gamma_at(f)) - np.max([np.abs(o.gamma_at(f)) for o in others], axis=0)
    if not np.any(above > BURST):
        return 0
    noise = max(noise_of_magnitude(s) for s in (one, *others))
    leaps = int(np.sum(above > BURST + 5 * noise))
    return leaps if leaps <= max(MOST_OF_A_BURST * f.size, 3) else 0


def _not_shown(found: WindowFinding, reason: str) -> WindowFinding:
    return replace(found, verdict=Verdict.NOT_SHOWN, probability=None, reason=reason)


def _worst(found: WindowFinding) -> str:
    return format_swr(found.worst.swr) if found.worst else ""
