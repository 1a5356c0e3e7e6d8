"""Runs under power as evidence of what an article handles: each band by the runs on it, the hottest counts."""

from collections.abc import Sequence

from levelmoor.core.bench.gates import Gate, GateState, obstacle
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.kinds import EvidenceKind, Figure, Heard, Judged, Question
from levelmoor.core.evidence.pieces import Measurement
from levelmoor.core.heat.heating import claimed_average, judge_run
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.bench_records import BenchRule
from levelmoor.core.model.through import HeatRun
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.figures import format_mhz
from levelmoor.core.words.said import as_sentence, said


class Heated(EvidenceKind):
    todo = "run"

    def __init__(self, question: Question, dossier: Dossier) -> None:
        assert question.claim is not None
        self.question, self.dossier, self.claim = question, dossier, question.claim
        self.average = claimed_average(question.claim)

    def _mine(self, aside: bool) -> list[HeatRun]:
        of = self.question
        return [r for r in of.evaluation.heats if r.sample_id == of.sample_id and bool(r.set_aside) is aside]

    def pieces(self) -> Sequence[Heard]:
        return [HeatPiece((r,)) for r in self._mine(False)]

    def set_aside(self) -> Sequence[tuple[Heard, str]]:
        return [(HeatPiece((r,)), r.set_aside) for r in self._mine(True)]

    def covers(self, piece: Heard, window: Window | None) -> float:
        assert isinstance(piece, HeatPiece)
        at = piece.latest.frequency_hz
        inside = window is None or (at is not None and window.low_hz <= at <= window.high_hz)
        return float("inf") if inside else 0.0

    def same_place(self, one: Heard, other: Heard) -> bool:
        """What got hot once was hot: a kinder run does not contradict it, and the hottest counts."""
        return False

    def nothing(self, window: Window | None) -> str:
        where = said("nothing.on", windows=window.name) if window else ""
        return said("nothing.heat", where=where)

    def judge(self, piece: Heard, window: Window | None) -> Judged:
        assert isinstance(piece, HeatPiece)
        run = piece.latest
        if not self.covers(piece, window):
            unsaid = run.frequency_hz is None
            reason = said("heat.no_frequency") if unsaid else self.nothing(window)
            return Judged(self, piece, Verdict.NOT_SHOWN, reason)
        gates = tuple(self._gates(run))
        blocked = obstacle(gates)
        if blocked:
            return Judged(self, piece, Verdict.NOT_SHOWN, as_sentence(blocked), gates=gates)
        assert self.average is not None
        runs = len(self._mine(False))
        found = judge_run(run, self.average.watts, self.question.evaluation.rule, runs)
        figure = None
        if found.hour_c is not None and run.limit_c is not None:
            at = f" at {format_mhz(run.frequency_hz)} MHz" if run.frequency_hz else ""
            words = f"{found.hour_c:.0f} °C after an hour{at}"
            figure = Figure(found.hour_c, found.u_c, run.limit_c - found.hour_c, words)
        return Judged(self, piece, found.verdict, self.average.told(found.reason), figure, gates=gates)

    def _gates(self, run: HeatRun) -> Sequence[Gate]:
        if self.dossier.book.rule is not BenchRule.PROVEN or run.instrument_id in self.dossier.book.instruments:
            return ()
        return (Gate("Thermometer", GateState.MISSING, said("gate.instrument_unsaid", what="the thermometer")),)


class HeatPiece(Measurement[HeatRun]):
    """One run under power."""

    @property
    def name(self) -> str:
        run = self.latest
        at = f" at {format_mhz(run.frequency_hz)} MHz" if run.frequency_hz else ""
        return f"run with {run.power_w:g} W{at}"
