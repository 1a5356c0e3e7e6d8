"""What the Adjust page shows: the log of rounds of what is on the bench, the model it teaches, the next move."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from hashlib import sha256

from levelmoor.core.adjusting.next_move import Advice, foreseen_words
from levelmoor.core.adjusting.round_log import Round, RoundLog, State, Worth, states_of
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.adjusting import Element
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.words.figures import format_mhz, format_uncertainty
from levelmoor.figures.adjusting import dip_path, skylines
from levelmoor.services.findings import behind_of

AMOUNTS: Mapping[str, tuple[float, ...]] = {
    "cm": (0.2, 0.5, 1, 2, 5),
    "mm": (1, 2, 5, 10),
    "turns": (0.25, 0.5, 1, 2),
    "mark": (0.1, 0.2, 0.5, 1),
    "pF": (1, 2, 5, 10),
}
"""What is offered for one tap, by unit; of others one, two and five."""


@dataclass(frozen=True)
class SeenDip:
    """A dip of the latest round beside a band's figure: `said` that the person named it for the band, `is_it` that it
    is thought to be the band's."""

    sweep_id: str
    hz: float
    said: bool
    is_it: bool


MOST_OFFERED = 8
"""Dips that are offered for one tap beside a band's figure: those nearest to its target."""


@dataclass(frozen=True)
class AdjustPage:
    log: RoundLog
    advice: Advice
    nearer: bool
    state_words: str
    other_states: Sequence[tuple[State, str]]
    paths: Sequence[str]
    skylines: Sequence[str]
    dips: Sequence[Sequence[SeenDip]]
    foreseen: Sequence[str]
    worth: Sequence[Sequence[Worth]]

    @property
    def rounds(self) -> list[Round]:
        """The latest first, as one who comes back wants it."""
        return list(reversed(self.log.rounds))

    def shifted(self, k: int, round_: Round) -> str:
        """How a dip moved against the round before and against the first, in words."""
        before, first = self.log.before(round_), self.log.rounds[0]
        near = self.log.shift(k, round_, before)
        if near is None:
            return ""
        said = _shift(near.hz, near.u_hz)
        far = self.log.shift(k, round_, first) if before is not first else None
        return f"{said}, {_shift(far.hz, far.u_hz)} since the first" if far else said

    def helped(self, k: int, round_: Round) -> str:
        """Whether the moves before a round helped a band."""
        shift = self.log.shift(k, round_, self.log.before(round_))
        return "" if shift is None or shift.helped is None else "nearer" if shift.helped else "further away"

    def came(self, k: int, round_: Round) -> str:
        """Whether a dip came where it was expected."""
        foreseen, band = self.log.foreseen(round_)[k], round_.bands[k]
        if foreseen is None or band is None or band.dip_hz is None:
            return ""
        if foreseen.holds(band.dip_hz, band.u_hz):
            return "as expected"
        off = band.dip_hz - foreseen.hz
        return f"{format_uncertainty(abs(off))} {'above' if off > 0 else 'below'} what was expected"

    def amounts(self, element: Element) -> tuple[float, ...]:
        return AMOUNTS.get(element.unit, (1, 2, 5))

    @property
    def entry(self) -> str:
        """The name of the move that is proposed: whoever says first that it is done has done it, for everybody."""
        last = self.log.rounds[-1].number
        moves = [(m.element_id, m.by) for m in self.advice.moves]
        return sha256(repr((self.log.state, last, moves)).encode()).hexdigest()[:32]

    @property
    def head(self) -> str:
        """What the card says first."""
        if not self.advice.done:
            return "First"
        bands = self.log.last_swept.bands if self.log.last_swept else ()
        return "Done" if all(b and b.judged is Verdict.PASS for b in bands) else "Stop here"


def _shift(hz: float, u_hz: float) -> str:
    if abs(hz) <= 2 * u_hz:
        return "not moved"
    return f"{'+' if hz > 0 else '−'}{format_uncertainty(abs(hz))} ± {format_uncertainty(2 * u_hz)}"


def build(evaluation: Evaluation, state: State, draw: bool = True, nearer: bool = False) -> AdjustPage:
    """The page of the state in hand; without drawing only what the next move shows. `nearer` goes on where all is
    within its limits."""
    dossier = behind_of(evaluation)
    log = RoundLog(evaluation, dossier, state)
    bands = range(len(log.aims)) if draw else range(0)
    advice = log.advise(nearer)
    return AdjustPage(
        log,
        advice,
        nearer,
        _words(evaluation, state),
        [(s, _words(evaluation, s)) for s in states_of(evaluation) if s != state],
        [dip_path(log, k) for k in bands] if log.last_swept else [],
        [_skylines(log, dossier, k) for k in bands] if log.last_swept else [],
        [_dips(log, dossier, k) for k in bands],
        [foreseen_words(a, p) for a, p in zip(log.aims, advice.expected, strict=False) if p is not None],
        [[log.worth(k, e) for k in bands] for e in range(len(log.elements))] if log.last_swept else [],
    )


def _dips(log: RoundLog, dossier: Dossier, k: int) -> list[SeenDip]:
    """The dips of the latest round, those nearest to a band's target, by rising frequency."""
    last, band, aim = log.last_swept, None, log.aims[k]
    if last is None:
        return []
    band = last.bands[k]
    at_hz = band.dip_hz if band is not None else None
    mine = [p for p in dossier.pieces if p.latest.round == last.number and log.of_state(p.latest)]
    every = [(p.latest.id, d.frequency_hz) for p in mine for d in dossier.analysis(p, 50.0).dips if not d.at_edge]
    nearest = sorted(every, key=lambda d: abs(math.log(d[1] / aim.wanted_hz)))[:MOST_OFFERED]
    said = band is not None and band.said
    return [
        SeenDip(sweep_id, hz, said and hz == at_hz, hz == at_hz) for sweep_id, hz in sorted(nearest, key=lambda d: d[1])
    ]


def _skylines(log: RoundLog, dossier: Dossier, k: int) -> str:
    of = {e.id: p for p in dossier.pieces for e in p.members}
    shown = [of[b.sweep_id] for r in log.rounds if (b := r.bands[k]) is not None and b.sweep_id in of]
    return skylines(log, k, [dossier.analysis(p, log.aims[k].z0_ohm) for p in shown]) if shown else ""


def worth_words(worth: Worth) -> str:
    """What a step is worth in kHz with twice its uncertainty, both to the digits that mean something."""
    khz, spread = worth.hz / 1e3, 2 * worth.u_hz / 1e3
    digits = max(0, 1 - math.floor(math.log10(spread))) if spread > 0 else 3
    return f"{'+' if khz > 0 else '−'}{abs(khz):.{digits}f} ± {spread:.{digits}f}"


def _words(evaluation: Evaluation, state: State) -> str:
    named = {
        **{("sample", s.id): s.label for s in evaluation.samples},
        **{("setup", s.id): s.name for s in evaluation.setups},
        **{("setting", s.id): s.name for s in evaluation.settings},
    }
    of = (("sample", state.sample_id), ("setup", state.setup_id), ("setting", state.setting_id))
    return ", ".join(named[one] for one in of if one in named)


def wanted_text(wanted_hz: Sequence[float]) -> str:
    return ", ".join(format_mhz(hz, 6).rstrip("0").rstrip(".") for hz in wanted_hz)
