"""Runs under power as evidence of what an article handles: each band by the runs on it, the hottest counts."""

from collections.abc import Sequence

from levelmoor.core.bench.gates import Gate, GateState
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.kinds import Figure, GatedKind, Question
from levelmoor.core.evidence.pieces import Measurement
from levelmoor.core.heat.heating import claimed_average, judge_run
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.bench_records import BenchRule
from levelmoor.core.model.through import HeatRun
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.figures import brief_mhz, format_mhz
from levelmoor.core.words.said import said


class Heated(GatedKind["HeatPiece"]):
    todo = "run"

    def __init__(self, question: Question, dossier: Dossier) -> None:
        super().__init__(question, dossier)
        self.average = claimed_average(self.claim)

    def _mine(self, aside: bool) -> list[HeatRun]:
        return self.of_sample(self.question.evaluation.heats, aside)

    def pieces(self) -> Sequence["HeatPiece"]:
        return [HeatPiece((r,)) for r in self._mine(False)]

    def set_aside(self) -> Sequence[tuple["HeatPiece", str]]:
        return [(HeatPiece((r,)), r.set_aside) for r in self._mine(True)]

    def covers(self, piece: "HeatPiece", window: Window | None) -> float:
        at = piece.latest.frequency_hz
        inside = window is None or (at is not None and window.low_hz <= at <= window.high_hz)
        return float("inf") if inside else 0.0

    def same_place(self, one: "HeatPiece", other: "HeatPiece") -> bool:
        """What got hot once was hot: a kinder run does not contradict it, and the hottest counts."""
        return False

    def nothing(self, window: Window | None) -> str:
        where = said("nothing.on", windows=window.name) if window else ""
        return said("nothing.heat", where=where)

    def lacking(self, piece: "HeatPiece", window: Window | None) -> str:
        return said("heat.no_frequency") if piece.latest.frequency_hz is None else self.nothing(window)

    def gates(self, piece: "HeatPiece", window: Window | None) -> Sequence[Gate]:
        book = self.dossier.book
        if book.rule is not BenchRule.PROVEN or piece.latest.instrument_id in book.instruments:
            return ()
        return (Gate("Thermometer", GateState.MISSING, said("gate.instrument_unsaid", what="the thermometer")),)

    def shown(self, piece: "HeatPiece", window: Window | None) -> tuple[Verdict, str, Figure | None]:
        assert self.average is not None
        run, runs = piece.latest, len(self._mine(False))
        found = judge_run(run, self.average.watts, self.question.evaluation.rule, runs)
        figure = None
        if found.hour_c is not None and run.limit_c is not None:
            at = f" at {format_mhz(run.frequency_hz)} MHz" if run.frequency_hz else ""
            words = f"{found.hour_c:.0f} °C after an hour{at}"
            figure = Figure(found.hour_c, found.u_c, run.limit_c - found.hour_c, words)
        return found.verdict, self.average.told(found.reason), figure


class HeatPiece(Measurement[HeatRun]):
    """One run under power."""

    @property
    def name(self) -> str:
        run = self.latest
        at = f" at {brief_mhz(run.frequency_hz)} MHz" if run.frequency_hz else ""
        return f"run with {run.power_w:g} W{at}"
