"""What the sweeps of one round show of each band: its dip, where it would have to be looked for, and how its window is
judged."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from levelmoor.core.adjusting.coarse_dip import coarse_dip
from levelmoor.core.adjusting.dip_names import FARTHEST, assigned, parse_names, said_of
from levelmoor.core.comparison.features import dip_uncertainty
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.pieces import Piece
from levelmoor.core.metrology.decision import Verdict, worst_verdict
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.rf.dips import Dip
from levelmoor.core.rf.noise import noise_of_magnitude
from levelmoor.core.rf.reflection import gamma_from_swr, impedance_from_gamma, swr_from_gamma
from levelmoor.core.verdict.targets import Aim
from levelmoor.core.verdict.window_verdict import judge_window

Span = tuple[float, float]
BEYOND = 0.03
"""How far beyond the end of a sweep, in ln f, a dip is guessed that the curve falls to, and how uncertain that is."""
LOOK_BEYOND = 0.15
"""How much farther, in ln f, a sweep that falls to its end is to go."""
NARROWEST_LOOK = 0.1


@dataclass(frozen=True)
class Expected:
    """Where a band's dip is expected: its frequency, and how far off it may be in ln f; None where nothing tells."""

    hz: float
    within: float | None = None

    @property
    def farthest(self) -> float:
        """How far off a dip may be to be the band's."""
        return max(FARTHEST, min(self.within or 0.0, 1.0))

    @property
    def reach(self) -> float:
        """How far off it is looked for where none is seen: from half to twice where nothing tells."""
        return math.log(2) if self.within is None else max(self.within, NARROWEST_LOOK)


@dataclass(frozen=True)
class BandRound:
    """What a round shows of a band. `judged` is the verdict of the figures on the whole window, whatever the bench has
    shown; `swr` at the target; `low_hz` and `high_hz` the edges at the limit; the dip's `u_hz` is what noise leaves
    open, `instrument_id` what it was read with. Where the curve falls to the end of what was swept and away from the
    target, that end is `beyond_hz`, and `guessed` a dip with its standard uncertainty; `look` are the spans to sweep
    where no dip is seen; `said` that the person named the dip."""

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
    beyond_hz: float | None = None
    guessed: tuple[float, float] | None = None
    look: tuple[Span, ...] = ()
    said: bool = False

    @property
    def guess(self) -> tuple[float, float] | None:
        """Dip and standard uncertainty in Hz: as seen, or a guess where the curve falls to the end of the sweep."""
        return (self.dip_hz, self.u_hz) if self.dip_hz is not None else self.guessed


def band_rounds(
    evaluation: Evaluation, dossier: Dossier, aims: Sequence[Aim], pieces: Sequence[Piece], expected: Sequence[Expected]
) -> tuple[BandRound | None, ...]:
    """What the pieces of a round show of each aim; None where nothing was swept."""
    if not pieces:
        return (None,) * len(aims)
    every = [(d, p) for p in pieces for d in _dips(dossier, p)]
    dips = [(d, p) for d, p in every if not d.at_edge]
    named = _named(aims, dips, pieces)
    free = [i for i in range(len(dips)) if i not in named.values()]
    open_ = [k for k in range(len(aims)) if k not in named]
    places = assigned(
        [dips[i][0].frequency_hz for i in free],
        [expected[k].hz for k in open_],
        [expected[k].farthest for k in open_],
    )
    chosen = {**named, **{k: free[i] for k, i in zip(open_, places, strict=True) if i is not None}}
    found: list[BandRound | None] = []
    for k, aim in enumerate(aims):
        if k in chosen:
            band = _shown(evaluation, dossier, aim, *dips[chosen[k]])
            found.append(replace(band, said=k in named))
        else:
            found.append(_unseen(evaluation, dossier, aim, pieces, expected[k], [e for e in every if e[0].at_edge]))
    return tuple(found)


def _dips(dossier: Dossier, piece: Piece) -> list[Dip]:
    """The dips of a piece; of a few readings the one that they tell, which may lie a little beyond them."""
    told = coarse_dip(piece.evidence.sweep)
    if told is None:
        return list(dossier.analysis(piece, 50.0).dips)
    return [Dip(told.hz, complex(told.magnitude), 1.0 - told.magnitude, told.beyond)]


def _named(aims: Sequence[Aim], dips: Sequence[tuple[Dip, Piece]], pieces: Sequence[Piece]) -> dict[int, int]:
    """The dips that the person named, by aim."""
    found: dict[int, int] = {}
    for piece in pieces:
        mine = [i for i, (_, p) in enumerate(dips) if p is piece]
        for band, hz in parse_names(piece.latest.dips).items():
            k = next((k for k, a in enumerate(aims) if a.window.name == band), None)
            i = said_of([dips[i][0].frequency_hz for i in mine], hz)
            if k is not None and i is not None:
                found[k] = mine[i]
    return found


def _unseen(
    evaluation: Evaluation,
    dossier: Dossier,
    aim: Aim,
    pieces: Sequence[Piece],
    expected: Expected,
    ends: Sequence[tuple[Dip, Piece]],
) -> BandRound:
    low, high = aim.window.ends
    over = [p for p in pieces if p.evidence.sweep.cut(low, high) is not None]
    band = _shown(evaluation, dossier, aim, None, over[-1] if over else pieces[-1])
    swept = [(p.evidence.sweep.low_hz, p.evidence.sweep.high_hz) for p in pieces]
    falls = [(d, p) for d, p in ends if abs(math.log(d.frequency_hz / expected.hz)) <= FARTHEST]
    if falls:
        dip, piece = min(falls, key=lambda e: abs(math.log(e[0].frequency_hz / expected.hz)))
        sweep = piece.evidence.sweep
        above = dip.frequency_hz > math.sqrt(sweep.low_hz * sweep.high_hz)
        end = sweep.high_hz if above else sweep.low_hz
        farthest = LOOK_BEYOND + max(0.0, math.log(expected.hz / end) * (1 if above else -1))
        on = (end, end * math.exp(farthest)) if above else (end * math.exp(-farthest), end)
        look = not_swept(*on, swept)
        if told := coarse_dip(sweep):
            return replace(band, beyond_hz=end, guessed=(told.hz, told.u_hz), look=look)
        if above != (end > aim.wanted_hz):  # it may lie on either side of its target
            return replace(band, look=look)
        off = max(BEYOND, farthest - LOOK_BEYOND)
        u = max(BEYOND, expected.reach / 2 if off > BEYOND else 0.0)
        hz = end * math.exp(off if above else -off)
        return replace(band, beyond_hz=end, guessed=(hz, u * hz), look=look)
    span = (expected.hz * math.exp(-expected.reach), expected.hz * math.exp(expected.reach))
    return replace(band, look=not_swept(*span, swept))


def not_swept(low_hz: float, high_hz: float, swept: Sequence[Span]) -> tuple[Span, ...]:
    """What is left of a span once what was swept is taken out, but for slivers."""
    left = [(low_hz, high_hz)]
    for a, b in swept:
        left = [part for low, high in left for part in ((low, min(high, a)), (max(low, b), high)) if part[0] < part[1]]
    return tuple((low, high) for low, high in left if high > 1.02 * low)


def _shown(evaluation: Evaluation, dossier: Dossier, aim: Aim, dip: Dip | None, piece: Piece) -> BandRound:
    analysis = dossier.analysis(piece, aim.z0_ohm)
    sweep, window, latest = analysis.sweep, aim.window, piece.latest
    figures = dossier.placed(piece).figures_at(float(gamma_from_swr(aim.limit_swr)))
    judged = [judge_window(analysis, w, limit, figures, evaluation.rule, "", [sweep]) for w, limit in aim.judged]
    covered = sweep.covers(aim.wanted_hz, aim.wanted_hz)
    part = sweep.cut(*window.ends) if sweep.covers(*window.ends) and not window.spot else None
    level = float(gamma_from_swr(aim.limit_swr))
    known = BandRound(
        latest.id,
        latest.instrument_id,
        swr=float(swr_from_gamma(sweep.gamma_at(aim.wanted_hz))) if covered else None,
        share=part.share_within(level) if part else None,
        judged=worst_verdict([f.verdict for f in judged]),
    )
    if dip is None:
        return known
    width = analysis.width(dip, level)
    ohm = None if sweep.scalar else float(impedance_from_gamma(sweep.gamma_at(dip.frequency_hz), sweep.z0_ohm).real)
    noise = Residuals(1000.0, 0.0, 1000.0, noise=noise_of_magnitude(sweep))
    told = coarse_dip(piece.evidence.sweep)
    return replace(
        known,
        dip_hz=dip.frequency_hz,
        u_hz=told.u_hz if told else dip_uncertainty(analysis, dip, noise),
        best_swr=float(swr_from_gamma(dip.magnitude)),
        resistance_ohm=ohm,
        low_hz=width.low_hz if width and not width.low_open else None,
        high_hz=width.high_hz if width and not width.high_open else None,
    )
