"""A kind of evidence: what it shows, its pieces, its gates, how one piece is judged, how far two of them are apart.

Everything else is the court's, and the same for all of them: roles, settings, rounds, what was set aside, what
contradicts, the worst of windows.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import hypot
from typing import Any, Generic, Protocol, TypeVar

from levelmoor.core.bench.gates import Gate, obstacle
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.pieces import Member, Row
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.limit import limit_for
from levelmoor.core.verdict.window_verdict import WindowFinding
from levelmoor.core.words.said import as_sentence


class Heard(Protocol):
    """A piece of evidence of any kind: one measurement of one state."""

    @property
    def key(self) -> tuple[str, ...]: ...
    @property
    def latest(self) -> Member: ...
    @property
    def name(self) -> str: ...
    @property
    def names(self) -> str: ...


@dataclass(frozen=True)
class Figure:
    """The figure that decides a piece: `value` with its standard uncertainty, how far it stands within its limit
    (below zero beyond it), all in one unit, and its words."""

    value: float
    u: float
    margin: float
    words: str


@dataclass(frozen=True)
class Judged:
    """What one piece says by itself in one window: verdict, reason, and the figure that decides it, if one does."""

    kind: "EvidenceKind[Any]"
    piece: Heard
    verdict: Verdict
    reason: str
    figure: Figure | None = None
    finding: WindowFinding | None = None
    gates: tuple[Gate, ...] = ()
    sweep_id: str | None = None
    """The sweep it is, where it is one."""
    curve: Sweep | None = None
    """What was judged, where it was moved to another plane."""


@dataclass(frozen=True)
class Question:
    """What evidence is asked: a claim of a sample; without one what a band is good for, against a profile's limit."""

    evaluation: Evaluation
    sample_id: str
    claim: Claim | None = None
    limit_swr: float = 2.0

    @classmethod
    def of(cls, evaluation: Evaluation, claim: Claim, sample_id: str) -> "Question":
        return cls(evaluation, sample_id, claim, limit_for(claim, evaluation.profile))


Of = TypeVar("Of", bound=Heard)


class EvidenceKind(Generic[Of]):
    """What a kind of evidence says for itself; the court asks nothing else of it."""

    in_settings = False
    """Whether it says of each piece in which setting of an adjustable article it was taken."""
    todo = "measure"

    def pieces(self) -> Sequence[Of]:
        """The pieces of the question's sample that are heard, each in its state."""
        raise NotImplementedError

    def set_aside(self) -> Sequence[tuple[Of, str]]:
        """The pieces that were set aside, each with its reason."""
        return ()

    def judge(self, piece: Of, window: Window | None) -> Judged:
        """One piece by itself in a window, or with none wherever it was measured; nothing of other pieces."""
        raise NotImplementedError

    def rank(self, judged: Judged, window: Window | None) -> float:
        """The less, the sooner a piece leads: by what is stated and proven of it, never by what it read."""
        return judged.figure.u if judged.figure else 0.0

    def covers(self, piece: Of, window: Window | None) -> float:
        """How much of a window a piece reaches, in Hz; 0 where none of it, infinite where all."""
        return float("inf")

    def same_place(self, one: Of, other: Of) -> bool:
        """Whether two pieces measured the same thing, so that they can contradict each other; else the worse counts."""
        return True

    def seen_apart(self, one: Judged, other: Judged, window: Window | None) -> float | None:
        """By how much two pieces are seen to differ, in the unit of their figures; None where they share nothing."""
        return abs(one.figure.value - other.figure.value) if one.figure and other.figure else None

    def nothing(self, window: Window | None) -> str:
        """What is said where there is no piece at all."""
        raise NotImplementedError

    def said(self, reason: str) -> str:
        """The reason of a claim as this kind words it."""
        return reason


class GatedKind(EvidenceKind[Of]):
    """A kind that shows a claim: a piece that reaches the window passes its gates, and then says what it shows."""

    def __init__(self, question: Question, dossier: Dossier) -> None:
        assert question.claim is not None
        self.question, self.dossier, self.claim = question, dossier, question.claim

    def of_sample(self, rows: Iterable[Row], aside: bool) -> list[Row]:
        """The records of the sample in question: those that are heard, or those that were set aside."""
        return [r for r in rows if r.sample_id == self.question.sample_id and bool(r.set_aside) is aside]

    def judge(self, piece: Of, window: Window | None) -> Judged:
        if not self.covers(piece, window):
            return Judged(self, piece, Verdict.NOT_SHOWN, self.lacking(piece, window))
        gates = tuple(self.gates(piece, window))
        if blocked := obstacle(gates):
            return Judged(self, piece, Verdict.NOT_SHOWN, as_sentence(blocked), gates=gates)
        return Judged(self, piece, *self.shown(piece, window), gates=gates)

    def gates(self, piece: Of, window: Window | None) -> Sequence[Gate]:
        """The gates of the bench that a piece has to pass."""
        return ()

    def lacking(self, piece: Of, window: Window | None) -> str:
        """What is said of a piece that reaches nothing of the window."""
        return self.nothing(window)

    def shown(self, piece: Of, window: Window | None) -> tuple[Verdict, str, Figure | None]:
        """What a piece that has passed its gates shows: verdict, reason, and the figure that decides it."""
        raise NotImplementedError


def uncertainties_apart(one: Judged, other: Judged) -> float:
    """By how many of their combined expanded uncertainties two figures are apart; 0 where they have none in common."""
    if one.kind is not other.kind or one.figure is None or other.figure is None:
        return 0.0
    u = 2 * hypot(one.figure.u, other.figure.u)
    away = abs(one.figure.value - other.figure.value)
    return away / u if u else float("inf") if away else 0.0
