"""The log of rounds of one state: what was moved, and where each band's dip went.

Shifts are between rounds, often with one instrument minutes apart: what its figures leave open is common to both and
cancels, so that noise, the display's digits and the step between points are what is left [1]_.

References
----------
.. [1] JCGM 100:2008, 5.2, correlated input quantities (memory).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from levelmoor.core.adjusting.band_rounds import BandRound, Expected, band_rounds
from levelmoor.core.adjusting.divergence import led_away
from levelmoor.core.adjusting.element_modes import mode_of
from levelmoor.core.adjusting.next_move import Advice, Standing, advise
from levelmoor.core.adjusting.response import CERTAIN, MISFIT, Observation, Predicted, Response
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.adjusting import Adjustment, Element, Move, positions
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.verdict.targets import aims_of

LENGTH_TELLS = 0.2
"""How far off, in ln f, a dip may be of where a length puts it."""


@dataclass(frozen=True)
class State:
    """What is adjusted: a sample in a setup, in a setting or none."""

    sample_id: str
    setup_id: str
    setting_id: str = ""


@dataclass(frozen=True)
class Shift:
    """How a dip moved from one round to another, with its uncertainty; `helped` whether it came nearer, None where that
    is not known."""

    hz: float
    u_hz: float
    helped: bool | None

    @property
    def known(self) -> bool:
        return abs(self.hz) > 2 * self.u_hz


@dataclass(frozen=True)
class Worth:
    """What one unit of an element does to a band, in Hz, with its standard uncertainty; `learnt` by the rounds."""

    hz: float
    u_hz: float
    learnt: bool


@dataclass(frozen=True)
class Round:
    """One round: the moves before it, where the elements then stand, and what each band shows, in the aims' order."""

    number: int
    adjustments: tuple[Adjustment, ...]
    at: dict[str, float]
    bands: tuple[BandRound | None, ...]

    @property
    def swept(self) -> bool:
        return any(self.bands)

    @property
    def dips_hz(self) -> dict[int, float]:
        """The dips that were seen, by the aims' places."""
        return {k: b.dip_hz for k, b in enumerate(self.bands) if b is not None and b.dip_hz is not None}


class RoundLog:
    """All rounds of a state, the model that they teach and the next move.

    `dossier` is what stands behind the evaluation's evidence.
    """

    def __init__(self, evaluation: Evaluation, dossier: Dossier, state: State) -> None:
        self.state = state
        self.elements: tuple[Element, ...] = evaluation.elements
        self.aims = aims_of(evaluation)
        self.adjustments = tuple(a for a in evaluation.adjustments if _state_of(a) == state)
        self.rounds = self._rounds(evaluation, dossier)
        self._foreseen: dict[int, tuple[Predicted | None, ...]] = {}

    def _rounds(self, evaluation: Evaluation, dossier: Dossier) -> tuple[Round, ...]:
        pieces = [p for p in dossier.pieces if _state_of(p.latest) == self.state]
        numbers = {p.latest.round for p in pieces} | {a.round for a in self.adjustments} | {1}
        found: list[Round] = []
        for number in sorted(numbers):
            at = positions(self.elements, self.adjustments, number)
            mine = [p for p in pieces if p.latest.round == number]
            bands = band_rounds(evaluation, dossier, self.aims, mine, self._expected(found, at))
            moves = tuple(a for a in self.adjustments if a.round == number)
            found.append(Round(number, moves, at, bands))
        return tuple(found)

    def _expected(self, earlier: Sequence[Round], at: dict[str, float]) -> list[Expected]:
        """Where each band's dip is expected before a round is looked at: by the rounds so far, by the length of what
        makes it, or else near its target."""
        taught = self._taught_by(earlier) if any(r.swept for r in earlier) else None
        found = []
        for k, aim in enumerate(self.aims):
            mode = mode_of(aim, self.aims, self.elements, at)
            if taught and any(k in o.dips_hz for o in taught.observations):
                told = taught.predict(k, at)
                found.append(Expected(told.hz, CERTAIN * told.u))
            elif mode:
                found.append(Expected(mode.dip_hz(at), LENGTH_TELLS))
            else:
                found.append(Expected(aim.wanted_hz))
        return found

    @cached_property
    def response(self) -> Response:
        """The model that all rounds so far teach."""
        return self._taught_by(self.rounds)

    def _taught_by(self, rounds: Sequence[Round]) -> Response:
        seen = []
        for r in (r for r in rounds if r.swept):
            told = {k: b.guess for k, b in enumerate(r.bands) if b is not None and b.guess is not None}
            dips = {k: (hz, u if self._is_guess(r, k) else min(u, 10 * MISFIT * hz)) for k, (hz, u) in told.items()}
            seen.append(Observation(r.at, dips))
        names, targets = [a.window.name for a in self.aims], [a.wanted_hz for a in self.aims]
        return Response(self.elements, names, targets, seen, self._bare(seen))

    def of_state(self, one: object) -> bool:
        """Whether evidence or a trip is of the state that the log is of."""
        return _state_of(one) == self.state

    def _is_guess(self, round_: Round, k: int) -> bool:
        band = round_.bands[k]
        return band is not None and band.dip_hz is None

    def _bare(self, seen: Sequence[Observation]) -> frozenset[tuple[int, str]]:
        """Where the length of the one part that moves is all that makes the dip, as the first dip has shown."""
        if len(self.elements) != 1:
            return frozenset()
        found = set()
        for k, aim in enumerate(self.aims):
            first = next((o for o in seen if k in o.dips_hz), None)
            mode = mode_of(aim, self.aims, self.elements, first.at) if first else None
            if first and mode and mode.agrees(first.at, first.dips_hz[k][0]):
                found.add((k, mode.element.id))
        return frozenset(found)

    @property
    def now(self) -> dict[str, float]:
        """Where the elements stand."""
        return self.rounds[-1].at

    @property
    def last_swept(self) -> Round | None:
        return next((r for r in reversed(self.rounds) if r.swept), None)

    @cached_property
    def advice(self) -> Advice:
        """The next move, or why there is none."""
        return self.advise()

    def advise(self, nearer: bool = False) -> Advice:
        """The next move; `nearer` goes on where all is within its limits."""
        last = self.last_swept
        if not self.aims:
            return Advice((), (), ("Enter the target frequencies, or add an SWR claim.",))
        if not self.elements:
            return Advice((), (), ("List the parts that move.",))
        if last is None:
            return Advice((), (), ("Sweep every band once before you move anything.",))
        if self.rounds[-1] is not last:
            return Advice((), (), (f"Sweep round {self.rounds[-1].number} to see what your move did.",))
        now = [_standing(b) for b in last.bands]
        away = led_away([(self.foreseen(r), r.dips_hz) for r in self.rounds if r.swept], self.aims)
        if away.just_now and not all(s.within for s in now) and (back := self._back_to(away.best)) is not None:
            return back
        return advise(self.response, self.aims, self.now, now, nearer, 0.5 if away.before else 1.0)

    def _back_to(self, best: int) -> Advice | None:
        """Back to the round that was best, as far as what was cut allows."""
        round_ = [r for r in self.rounds if r.swept][best]
        back = {e.id: round_.at[e.id] - self.now[e.id] for e in self.elements}
        moves = tuple(
            Move(e.id, round(back[e.id], 6)) for e in self.elements if back[e.id] and not (e.cut and back[e.id] > 0)
        )
        if not moves:
            return None
        to = {**self.now, **{m.element_id: self.now[m.element_id] + m.by for m in moves}}
        expected = tuple(
            self.response.predict(k, to) if b is not None and b.dip_hz else None for k, b in enumerate(round_.bands)
        )
        words = (
            f"The last two moves led away from the target and not where they were expected to: go back to round "
            f"{round_.number}, the best so far; smaller steps follow.",
        )
        return Advice(moves, expected, words)

    def shift(self, k: int, round_: Round, from_: Round | None) -> Shift | None:
        """How a band's dip moved from one round to another."""
        here, there = round_.bands[k], from_.bands[k] if from_ else None
        if here is None or there is None or here.dip_hz is None or there.dip_hz is None:
            return None
        u = math.hypot(here.u_hz, there.u_hz)
        if here.instrument_id != there.instrument_id:
            u = math.hypot(u, MISFIT * here.dip_hz)
        hz, wanted = here.dip_hz - there.dip_hz, self.aims[k].wanted_hz
        nearer = abs(here.dip_hz - wanted) < abs(there.dip_hz - wanted)
        return Shift(hz, u, nearer if abs(hz) > 2 * u else None)

    def before(self, round_: Round) -> Round | None:
        """The round swept before another."""
        return next((r for r in reversed(self.rounds) if r.number < round_.number and r.swept), None)

    def worth(self, k: int, e: int) -> Worth:
        """What one unit of an element does to a band where it stands now."""
        last = self.last_swept
        band = last.bands[k] if last else None
        at_hz = band.dip_hz if band and band.dip_hz else self.aims[k].wanted_hz
        slope, u = self.response.slope(k, e, self.now)
        return Worth(slope * at_hz, u * at_hz, self.response.learnt(k, e))

    def foreseen(self, round_: Round) -> tuple[Predicted | None, ...]:
        """Where the rounds before one put its dips, for a round that moves led to."""
        if round_.number not in self._foreseen:
            self._foreseen[round_.number] = self._foresee(round_)
        return self._foreseen[round_.number]

    def _foresee(self, round_: Round) -> tuple[Predicted | None, ...]:
        earlier = [r for r in self.rounds if r.number < round_.number]
        if not round_.adjustments or not any(r.swept for r in earlier):
            return (None,) * len(self.aims)
        response = self._taught_by(earlier)
        return tuple(response.predict(k, round_.at) for k in range(len(self.aims)))


def _state_of(one: object) -> State:
    return State(*(getattr(one, name) for name in ("sample_id", "setup_id", "setting_id")))


def _standing(band: BandRound | None) -> Standing:
    if band is None:
        return Standing(None)
    dip = band.guess
    return Standing(
        dip[0] if dip else None,
        dip[1] if dip else 0.0,
        band.judged is Verdict.PASS,
        band.best_swr,
        band.resistance_ohm,
        band.beyond_hz,
        band.look,
    )


def states_of(evaluation: Evaluation) -> tuple[State, ...]:
    """The states that were swept or adjusted, in the order of what came first."""
    return tuple(dict.fromkeys(_state_of(x) for x in (*evaluation.sweeps, *evaluation.adjustments)))
