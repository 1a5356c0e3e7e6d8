"""Edges from a notebook as evidence of a bandwidth, beside the sweeps."""

from collections.abc import Sequence

from levelmoor.core.bench.gates import obstacle, reading_gates
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.kinds import EvidenceKind, Figure, Heard, Judged, Question
from levelmoor.core.evidence.pieces import Measurement
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.widths import WidthReading
from levelmoor.core.readings.width_verdict import judge_width, width_inside, width_uncertainty
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.figures import format_step
from levelmoor.core.words.said import as_sentence, said

SAME_SWR = 0.005


class TypedWidths(EvidenceKind):
    in_settings = True
    todo = "read"

    def __init__(self, question: Question, dossier: Dossier) -> None:
        assert question.claim is not None
        self.question, self.dossier, self.claim = question, dossier, question.claim

    def _mine(self, aside: bool) -> list[WidthReading]:
        of = self.question
        return [
            w
            for w in of.evaluation.widths
            if w.sample_id == of.sample_id
            and bool(w.set_aside) is aside
            and abs(w.swr - of.limit_swr) <= SAME_SWR
            and w.instrument_id in self.dossier.book.instruments
            and any(x.low_hz <= w.high_hz and w.low_hz <= x.high_hz for x in self.claim.windows)
        ]

    def pieces(self) -> Sequence[Heard]:
        return [WidthPiece((w,)) for w in self._mine(False)]

    def set_aside(self) -> Sequence[tuple[Heard, str]]:
        return [(WidthPiece((w,)), w.set_aside) for w in self._mine(True)]

    def covers(self, piece: Heard, window: Window | None) -> float:
        assert isinstance(piece, WidthPiece)
        one = piece.latest
        meets = window is None or (window.low_hz <= one.high_hz and one.low_hz <= window.high_hz)
        return float("inf") if meets else 0.0

    def nothing(self, window: Window | None) -> str:
        return said("nothing.sweep")

    def judge(self, piece: Heard, window: Window | None) -> Judged:
        assert isinstance(piece, WidthPiece)
        one, book = piece.latest, self.dossier.book
        if not self.covers(piece, window):
            return Judged(self, piece, Verdict.NOT_SHOWN, self.nothing(window))
        gates = reading_gates(book, one.instrument_id, one.taken_on, window)
        blocked = obstacle(gates)
        if blocked:
            return Judged(self, piece, Verdict.NOT_SHOWN, as_sentence(blocked), gates=gates)
        figures, claimed = book.instruments[one.instrument_id].figures, 1e3 * (self.claim.limit or 0.0)
        verdict, reason = judge_width(one, claimed, figures, self.question.evaluation.rule, window)
        width = width_inside(one, window, claimed)
        figure = Figure(width, width_uncertainty(one, figures), width - claimed, f"{format_step(width)} wide")
        return Judged(self, piece, verdict, reason, figure, gates=gates)


class WidthPiece(Measurement[WidthReading]):
    """One pair of edges."""

    @property
    def name(self) -> str:
        one = self.latest
        return f"edges typed of {one.band}" + (f" on {one.taken_on[:10]}" if one.taken_on else "")
