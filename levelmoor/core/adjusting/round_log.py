"""The log of rounds of one state: what was moved, and where each band's dip went.

Shifts are between rounds, often with one instrument minutes apart: what its figures leave open is common to both and
cancels, so that noise, the display's digits and the step between points are what is left [1]_.

References
----------
.. [1] JCGM 100:2008, 5.2, correlated input quantities (memory).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from levelmoor.core.adjusting.next_move import Advice, Aim, Standing, advise
from levelmoor.core.adjusting.response import MISFIT, Observation, Predicted, Response
from levelmoor.core.comparison.features import dip_uncertainty
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.pieces import Piece
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.adjusting import Adjustment, Element, positions
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.rf.bandplan import band_plan
from levelmoor.core.rf.dips import Dip
from levelmoor.core.rf.noise import noise_of_magnitude
from levelmoor.core.rf.reflection import gamma_from_swr, impedance_from_gamma, swr_from_gamma
from levelmoor.core.rf.windows import Window
from levelmoor.core.verdict.limit import limit_for
from levelmoor.core.verdict.window_verdict import judge_window

FARTHEST = 0.35
"""How far, in ln f, a dip is looked for from where it is wanted."""
MOVED_TOGETHER = 0.3
"""What a common shift of all bands costs against shifts of each by itself."""
SPOT_SHARE = 0.005
"""Half of the window around a wanted frequency that lies in no band and no claim."""


@dataclass(frozen=True)
class State:
    """What is adjusted: a sample in a setup, in a setting or none."""

    sample_id: str
    setup_id: str
    setting_id: str = ""


@dataclass(frozen=True)
class BandRound:
    """What a round shows of a band. `judged` is the verdict of the figures on the whole window, whatever the bench has
    shown; `swr` at the wanted frequency; `low_hz` and `high_hz` the edges at the limit; the dip's `u_hz` is what noise
    leaves open, `instrument_id` what it was read with."""

    sweep_id: str
    instrument_id: str
    dip_hz: float | None = None
    u_hz: float = 0.0
    best_swr: float | None = None
    resistance_ohm: float | None = None
    swr: float | None = None
    low_hz: float | None = None
    high_hz: float | None = None
    share: float | None = None
    judged: Verdict = Verdict.NOT_SHOWN
    at_edge: bool = False


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


class RoundLog:
    """All rounds of a state, the model that they teach and the next move.

    `dossier` is what stands behind the evaluation's evidence.
    """

    def __init__(self, evaluation: Evaluation, dossier: Dossier, state: State) -> None:
        self.evaluation, self.dossier, self.state = evaluation, dossier, state
        self.elements: tuple[Element, ...] = evaluation.elements
        self.aims = aims_of(evaluation)
        self.adjustments = tuple(a for a in evaluation.adjustments if _state_of(a) == state)
        self.rounds = tuple(self._rounds())
        self._foreseen: dict[int, tuple[Predicted | None, ...]] = {}

    def _rounds(self) -> list[Round]:
        pieces = [p for p in self.dossier.pieces if _state_of(p.latest) == self.state]
        numbers = {p.latest.round for p in pieces} | {a.round for a in self.adjustments} | {1}
        found: list[Round] = []
        expected = [a.wanted_hz for a in self.aims]
        for number in sorted(numbers):
            bands = self._bands([p for p in pieces if p.latest.round == number], expected)
            for k, band in enumerate(bands):
                if band is not None and band.dip_hz is not None:
                    expected[k] = band.dip_hz
            moves = tuple(a for a in self.adjustments if a.round == number)
            found.append(Round(number, moves, positions(self.elements, self.adjustments, number), bands))
        return found

    def _bands(self, pieces: Sequence[Piece], expected: Sequence[float]) -> tuple[BandRound | None, ...]:
        dips = [(d, p) for p in pieces for d in self.dossier.analysis(p, 50.0).dips if not d.at_edge]
        places = assigned([d.frequency_hz for d, _ in dips], expected)
        found: list[BandRound | None] = []
        for k, aim in enumerate(self.aims):
            if (i := places[k]) is not None:
                found.append(self._band(aim, *dips[i]))
                continue
            low, high = aim.window.low_hz, aim.window.high_hz
            over = [p for p in pieces if p.evidence.sweep.cut(low, high) is not None]
            found.append(self._band(aim, None, over[-1]) if over else None)
        return tuple(found)

    def _band(self, aim: Aim, dip: Dip | None, piece: Piece) -> BandRound:
        analysis = self.dossier.analysis(piece, aim.z0_ohm)
        sweep, window, latest = analysis.sweep, aim.window, piece.latest
        figures = self.dossier.placed(piece).figures_at(float(gamma_from_swr(aim.limit_swr)))
        finding = judge_window(analysis, window, aim.limit_swr, figures, self.evaluation.rule, "", [sweep])
        covered = sweep.covers(aim.wanted_hz, aim.wanted_hz)
        part = sweep.cut(window.low_hz, window.high_hz) if sweep.covers(window.low_hz, window.high_hz) else None
        level = float(gamma_from_swr(aim.limit_swr))
        known = BandRound(
            latest.id,
            latest.instrument_id,
            swr=float(swr_from_gamma(sweep.gamma_at(aim.wanted_hz))) if covered else None,
            share=part.share_within(level) if part else None,
            judged=finding.verdict,
            at_edge=dip is None,
        )
        if dip is None:
            return known
        width = analysis.width(dip, level)
        ohm = None if sweep.scalar else float(impedance_from_gamma(sweep.gamma_at(dip.frequency_hz), sweep.z0_ohm).real)
        noise = Residuals(1000.0, 0.0, 1000.0, noise=noise_of_magnitude(sweep))
        return replace(
            known,
            dip_hz=dip.frequency_hz,
            u_hz=dip_uncertainty(analysis, dip, noise),
            best_swr=float(swr_from_gamma(dip.magnitude)),
            resistance_ohm=ohm,
            low_hz=width.low_hz if width and not width.low_open else None,
            high_hz=width.high_hz if width and not width.high_open else None,
        )

    @cached_property
    def response(self) -> Response:
        """The model that all rounds so far teach."""
        return self._taught_by(self.rounds)

    def _taught_by(self, rounds: Sequence[Round]) -> Response:
        seen = [
            Observation(
                r.at,
                {
                    k: (b.dip_hz, min(b.u_hz, MISFIT * b.dip_hz * 10))
                    for k, b in enumerate(r.bands)
                    if b is not None and b.dip_hz is not None
                },
            )
            for r in rounds
            if r.swept
        ]
        return Response(self.elements, [a.window.name for a in self.aims], [a.wanted_hz for a in self.aims], seen)

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
        last = self.last_swept
        if not self.aims:
            return Advice((), (), ("Enter the target frequencies, or add an SWR claim.",))
        if not self.elements:
            return Advice((), (), ("List the parts that move.",))
        if last is None:
            return Advice((), (), ("Sweep every band once before you move anything.",))
        if self.rounds[-1] is not last:
            return Advice((), (), (f"Sweep round {self.rounds[-1].number} to see what your move did.",))
        return advise(self.response, self.aims, self.now, [_standing(b) for b in last.bands])

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
    return Standing(band.dip_hz, band.u_hz, band.judged is Verdict.PASS, band.best_swr, band.resistance_ohm)


def states_of(evaluation: Evaluation) -> tuple[State, ...]:
    """The states that were swept or adjusted, in the order of what came first."""
    return tuple(dict.fromkeys(_state_of(x) for x in (*evaluation.sweeps, *evaluation.adjustments)))


def aims_of(evaluation: Evaluation) -> tuple[Aim, ...]:
    """The windows that claims of SWR without a tuner name, each once with its strictest limit, and what was said to be
    wanted; a window that only puts others together is left out."""
    limits: dict[Window, tuple[float, float]] = {}
    for claim in evaluation.claims:
        if claim.limit_swr is None or claim.tuner.value == "with":
            continue
        for window in claim.windows:
            limit = limit_for(claim, evaluation.profile)
            if window not in limits or limit < limits[window][0]:
                limits[window] = limit, claim.z0_ohm
    found = [Aim(w, (w.low_hz + w.high_hz) / 2, limit, z0) for w, (limit, z0) in limits.items()]
    found = [a for a in found if sum(_holds(a.window, b.window) for b in found) < 2 or a.window.spot]
    for hz in evaluation.wanted_hz:
        home = next((i for i, a in enumerate(found) if a.window.low_hz <= hz <= a.window.high_hz), None)
        if home is not None:
            found[home] = replace(found[home], wanted_hz=hz)
            continue
        band = next((b.window for b in band_plan(evaluation.region).bands if b.low_hz <= hz <= b.high_hz), None)
        window = band or Window(hz * (1 - SPOT_SHARE), hz * (1 + SPOT_SHARE))
        found.append(Aim(window, hz, evaluation.profile.limit_swr))
    return tuple(sorted(found, key=lambda a: a.wanted_hz))


def _holds(one: Window, other: Window) -> bool:
    """Whether a window lies over another that is not the same."""
    return one != other and one.low_hz <= other.low_hz and other.high_hz <= one.high_hz


def assigned(dips_hz: Sequence[float], expected_hz: Sequence[float]) -> tuple[int | None, ...]:
    """Which dip is which band's, by rising frequency, each used once: the bands may be off together, so every shift
    that brings some dip to some band is tried, and what is left over counts against it."""
    order = sorted(range(len(dips_hz)), key=lambda i: dips_hz[i])
    wanted = sorted(range(len(expected_hz)), key=lambda k: expected_hz[k])
    pairs = [math.log(dips_hz[i] / expected_hz[k]) for i in order for k in wanted]
    best: tuple[float, tuple[int | None, ...]] = (math.inf, (None,) * len(expected_hz))
    for common in (0.0, *(s for s in pairs if abs(s) <= FARTHEST)):
        cost, places = _matched(dips_hz, order, expected_hz, wanted, common)
        if (total := cost + MOVED_TOGETHER * abs(common)) < best[0] - 1e-12:
            best = total, places
    return best[1]


def _matched(
    dips_hz: Sequence[float], order: Sequence[int], expected_hz: Sequence[float], wanted: Sequence[int], common: float
) -> tuple[float, tuple[int | None, ...]]:
    """The cheapest way to give rising dips to rising bands: a band that is given none costs as much as the farthest."""
    table: dict[tuple[int, int], tuple[float, tuple[tuple[int, int], ...]]] = {}

    def cheapest(i: int, j: int) -> tuple[float, tuple[tuple[int, int], ...]]:
        if j == len(wanted):
            return 0.0, ()
        if i == len(order):
            return FARTHEST * (len(wanted) - j), ()
        if (i, j) not in table:
            tries = [cheapest(i + 1, j)]
            left = cheapest(i, j + 1)
            tries.append((left[0] + FARTHEST, left[1]))
            off = abs(math.log(dips_hz[order[i]] / expected_hz[wanted[j]]) - common)
            if off < FARTHEST:
                rest = cheapest(i + 1, j + 1)
                tries.append((rest[0] + off, ((order[i], wanted[j]), *rest[1])))
            table[i, j] = min(tries, key=lambda t: t[0])
        return table[i, j]

    cost, given = cheapest(0, 0)
    places: list[int | None] = [None] * len(expected_hz)
    for i, k in given:
        places[k] = i
    return cost, tuple(places)
