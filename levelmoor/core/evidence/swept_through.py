"""Sweeps through an article as evidence of choking impedance, loss or attenuation."""

from collections.abc import Sequence
from functools import cached_property

import numpy as np

from levelmoor.core.bench.gates import Gate, calibration_gates, figures_gates
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.kinds import Figure, GatedKind, Question
from levelmoor.core.evidence.pieces import Measurement, in_time
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.bench_records import BenchRule, hours_apart, moment
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.through import Fixture, Through
from levelmoor.core.rf.two_port import TwoPort, mean_of
from levelmoor.core.rf.windows import Window
from levelmoor.core.through.through_verdict import curve_for, judge_through
from levelmoor.core.words.said import said

AGREE_DB = 0.3
"""Sweeps through one article in one state that differ by no more than this at most points are repeats (common practice,
no source)."""


def wanted_fixture(claim: Claim) -> Fixture:
    """How an article stands between the ports for a claim."""
    return Fixture.SERIES if claim.quantity is Quantity.CHOKING else Fixture.THROUGH


def empty_of(evaluation: Evaluation, instrument_id: str) -> Through | None:
    """The sweep of the empty fixture with this instrument, the latest."""
    every = (x for x in evaluation.throughs if x.fixture is Fixture.OPEN and x.instrument_id == instrument_id)
    empty = in_time(x for x in every if not x.set_aside)
    return empty[-1] if empty else None


class SweptThrough(GatedKind["ThroughPiece"]):
    todo = "sweep"

    def __init__(self, question: Question, dossier: Dossier) -> None:
        super().__init__(question, dossier)
        self.fixture = wanted_fixture(self.claim)

    def _mine(self, aside: bool) -> list[Through]:
        mine = self.of_sample(self.question.evaluation.throughs, aside)
        return in_time(x for x in mine if x.fixture is self.fixture)

    def pieces(self) -> Sequence["ThroughPiece"]:
        groups: list[list[Through]] = []
        for one in self._mine(False):
            home = next((g for g in groups if all(are_repeats(one, other) for other in g)), None)
            if home is None:
                groups.append([one])
            else:
                home.append(one)
        return [ThroughPiece(tuple(g)) for g in groups]

    def set_aside(self) -> Sequence[tuple["ThroughPiece", str]]:
        return [(ThroughPiece((x,)), x.set_aside) for x in self._mine(True)]

    def covers(self, piece: "ThroughPiece", window: Window | None) -> float:
        if window is None:
            return float("inf")
        f = piece.two_port.frequency_hz
        low, high = max(float(f[0]), window.low_hz), min(float(f[-1]), window.high_hz)
        if piece.two_port.covers(window.low_hz, window.high_hz):
            return float("inf")
        return max(high - low, 1.0) if low <= high else 0.0

    def nothing(self, window: Window | None) -> str:
        series = self.claim.quantity is Quantity.CHOKING
        return said("nothing.through", how="in the series fixture" if series else "from one port to the other")

    def lacking(self, piece: "ThroughPiece", window: Window | None) -> str:
        return self.shown(piece, window)[1]

    def shown(self, piece: "ThroughPiece", window: Window | None) -> tuple[Verdict, str, Figure | None]:
        one, z0 = piece.latest, self.claim.z0_ohm
        if self.fixture is Fixture.THROUGH and not piece.two_port.can_be_referred_to(z0):
            return Verdict.NOT_SHOWN, said("through.impedance", read=piece.two_port.z0_ohm, claimed=z0), None
        empty = empty_of(self.question.evaluation, one.instrument_id) if self.fixture is Fixture.SERIES else None
        figures = self.dossier.book.instruments[one.instrument_id].figures
        curve = curve_for(self.claim, piece.two_port, figures, empty.two_port if empty else None)
        found = judge_through(self.claim, curve, window, self.question.evaluation.rule)
        figure = None
        if found.value is not None:
            figure = Figure(found.value, found.u, found.margin, found.words)
        return found.verdict, found.reason, figure

    def gates(self, piece: "ThroughPiece", window: Window | None) -> Sequence[Gate]:
        one, book = piece.latest, self.dossier.book
        if book.rule is not BenchRule.PROVEN:
            return figures_gates(book, one.instrument_id)
        f = piece.two_port.frequency_hz
        low, high = float(f[0]), float(f[-1])
        if window is not None:
            low, high = max(low, window.low_hz), min(high, window.high_hz)
        span = (low, max(low, high))
        empty = empty_of(self.question.evaluation, one.instrument_id)
        held = empty is not None and empty.two_port.covers(*span) and self._same_day(empty, one)
        fixture_on = empty.taken_on if empty is not None and held else ""
        return calibration_gates(book, one.instrument_id, one.calibration_id, one.taken_on, span, fixture_on)

    def _same_day(self, one: Through, other: Through) -> bool:
        a, b = moment(one.taken_on), moment(other.taken_on)
        return a is not None and b is not None and hours_apart(a, b) <= self.dossier.book.age_limit_h


class ThroughPiece(Measurement[Through]):
    """A sweep through an article, or repeats that agree."""

    @cached_property
    def two_port(self) -> TwoPort:
        return mean_of([x.two_port for x in self.members])


def are_repeats(one: Through, other: Through) -> bool:
    """Sweeps of one state with one instrument on one day that agree in dB over what both cover."""
    state = ("sample_id", "setup_id", "setting_id", "round", "instrument_id", "fixture")
    kind = ("scalar", "z0_ohm")
    if any(getattr(one, n) != getattr(other, n) for n in state):
        return False
    if any(getattr(one.two_port, n) != getattr(other.two_port, n) for n in kind):
        return False
    if len({x.taken_on[:10] for x in (one, other) if x.taken_on}) > 1 or one.sha256 == other.sha256:
        return False
    a, b = one.two_port, other.two_port
    if a.frequency_hz.shape != b.frequency_hz.shape or not np.allclose(a.frequency_hz, b.frequency_hz, rtol=1e-6):
        return False
    return float(np.quantile(np.abs(a.loss_db - b.loss_db), 0.95)) <= AGREE_DB
