"""Trials of a tuner as evidence of what it matches and how long that takes."""

from collections.abc import Sequence

from levelmoor.core.bench.gates import Gate, reading_gates
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.kinds import GatedKind, Question
from levelmoor.core.evidence.pieces import Measurement, in_time
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.trials import Trial
from levelmoor.core.rf.windows import Window
from levelmoor.core.trials.load_text import parse_load_range
from levelmoor.core.trials.trial_grid import cells_of
from levelmoor.core.trials.trial_verdict import TrialsFinding, judge_range, judge_time
from levelmoor.core.words.said import said


class Matched(GatedKind["TrialPiece"]):
    """All trials of one state stand together as one grid."""

    todo = "try"

    def __init__(self, question: Question, dossier: Dossier) -> None:
        super().__init__(question, dossier)
        self.of = parse_load_range(self.claim.stated)

    def _mine(self, aside: bool) -> list[Trial]:
        return in_time(t for t in self.of_sample(self.question.evaluation.trials, aside) if aside or t.tried)

    def pieces(self) -> Sequence["TrialPiece"]:
        states: dict[tuple[str, int], list[Trial]] = {}
        for trial in self._mine(False):
            states.setdefault((trial.setup_id, trial.round), []).append(trial)
        return [TrialPiece(tuple(of)) for of in states.values()]

    def set_aside(self) -> Sequence[tuple["TrialPiece", str]]:
        return [(TrialPiece((t,)), t.set_aside) for t in self._mine(True)]

    def _inside(self, piece: "TrialPiece", window: Window | None) -> list[Trial]:
        return [t for t in piece.members if window is None or window.low_hz <= t.frequency_hz <= window.high_hz]

    def covers(self, piece: "TrialPiece", window: Window | None) -> float:
        return float("inf") if self._inside(piece, window) else 0.0

    def nothing(self, window: Window | None) -> str:
        where = said("nothing.on", windows=window.name) if window and self.pieces() else ""
        return said("nothing.trial", where=where)

    def shown(self, piece: "TrialPiece", window: Window | None) -> tuple[Verdict, str, None]:
        found = self._found(self._inside(piece, window), window)
        return found.verdict, found.reason, None

    def gates(self, piece: "TrialPiece", window: Window | None) -> Sequence[Gate]:
        """What read the SWR behind the tuner; a time is taken by hand."""
        if self.claim.quantity is not Quantity.TUNER_RANGE:
            return ()
        inside = (t for t in self._inside(piece, window) if t.swr_after is not None and t.instrument_id)
        read = {t.instrument_id: t.taken_on for t in inside}
        return tuple(g for i, on in sorted(read.items()) for g in reading_gates(self.dossier.book, i, on, window))

    def _found(self, trials: Sequence[Trial], window: Window | None) -> TrialsFinding:
        evaluation, claim = self.question.evaluation, self.claim
        if claim.quantity is not Quantity.TUNER_RANGE:
            return judge_time(trials, claim.limit or 0.0, evaluation.rule, claim.quantity is Quantity.RECALL)
        assert self.of is not None and window is not None
        limit = claim.limit if claim.limit is not None else evaluation.profile.limit_swr
        figures = {i.id: i.figures for i in evaluation.instruments}
        sweeps = {e.id: e.sweep for e in evaluation.sweeps}
        return judge_range(cells_of(trials, sweeps), window, self.of, limit, figures, evaluation.rule, claim.power_w)

    def said(self, reason: str) -> str:
        if self.claim.quantity is not Quantity.TUNER_RANGE:
            return reason
        return said("trials.with_note", found=reason, note=said("trials.not_radiation"))


class TrialPiece(Measurement[Trial]):
    """The trials of one state."""

    @property
    def name(self) -> str:
        return "the trials"

    @property
    def names(self) -> str:
        return self.name
