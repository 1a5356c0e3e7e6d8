"""Edges from a notebook as evidence of a bandwidth, beside the sweeps."""

from collections.abc import Sequence

from levelmoor.core.bench.gates import Gate, reading_gates
from levelmoor.core.evidence.kinds import Figure, GatedKind
from levelmoor.core.evidence.pieces import Measurement
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.widths import WidthReading
from levelmoor.core.readings.width_verdict import judge_width, width_inside, width_uncertainty
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.figures import format_step
from levelmoor.core.words.said import said

SAME_SWR = 0.005


class TypedWidths(GatedKind["WidthPiece"]):
    in_settings = True
    todo = "read"

    def _mine(self, aside: bool) -> list[WidthReading]:
        of = self.question
        return [
            w
            for w in self.of_sample(of.evaluation.widths, aside)
            if abs(w.swr - of.limit_swr) <= SAME_SWR
            and w.instrument_id in self.dossier.book.instruments
            and any(x.low_hz <= w.high_hz and w.low_hz <= x.high_hz for x in self.claim.windows)
        ]

    def pieces(self) -> Sequence["WidthPiece"]:
        return [WidthPiece((w,)) for w in self._mine(False)]

    def set_aside(self) -> Sequence[tuple["WidthPiece", str]]:
        return [(WidthPiece((w,)), w.set_aside) for w in self._mine(True)]

    def covers(self, piece: "WidthPiece", window: Window | None) -> float:
        one = piece.latest
        meets = window is None or (window.low_hz <= one.high_hz and one.low_hz <= window.high_hz)
        return float("inf") if meets else 0.0

    def nothing(self, window: Window | None) -> str:
        return said("nothing.sweep")

    def gates(self, piece: "WidthPiece", window: Window | None) -> Sequence[Gate]:
        one = piece.latest
        return reading_gates(self.dossier.book, one.instrument_id, one.taken_on, window)

    def shown(self, piece: "WidthPiece", window: Window | None) -> tuple[Verdict, str, Figure | None]:
        one, book = piece.latest, self.dossier.book
        figures, claimed = book.instruments[one.instrument_id].figures, 1e3 * (self.claim.limit or 0.0)
        verdict, reason = judge_width(one, claimed, figures, self.question.evaluation.rule, window)
        width = width_inside(one, window, claimed)
        figure = Figure(width, width_uncertainty(one, figures), width - claimed, f"{format_step(width)} wide")
        return verdict, reason, figure


class WidthPiece(Measurement[WidthReading]):
    """One pair of edges."""

    @property
    def name(self) -> str:
        one = self.latest
        return f"edges typed of {one.band}" + (f" on {one.taken_on[:10]}" if one.taken_on else "")
